/**
 * Mappings as rows of a table, one for each action: the columns, what is written, and what may be wrong with what is read
 * (csv-reader.ts). What a table has no column for (shapes, conditions, times) is not in it.
 */
import type { DeskFunction, Parameter } from "../format/desk-profile.ts";
import type { Gesture } from "../format/gestures.ts";
import type { Binding } from "../format/shape.ts";
import type { Action, Mapping, Show } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import type { OneEdit } from "./edit-kinds.ts";

export const CSV_COLUMNS = [
  "mapping",
  "action",
  "surface",
  "control",
  "gesture",
  "layers",
  "pages",
  "name",
  "note",
  "on",
  "takeover",
  "light",
  "desk",
  "function",
  "numbers",
  "action on",
  "delay ms",
  "target",
  "message",
  "text",
] as const;
export type CsvColumn = (typeof CSV_COLUMNS)[number];
/** Without these nobody knows what a row is of. */
export const NEEDED_COLUMNS: readonly CsvColumn[] = ["mapping", "surface", "control", "desk", "function"];

/** Rows beyond this are more than any show has. */
export const MOST_CSV_ROWS = 40_000;

export type CsvFaultKind =
  | { readonly kind: "no-column"; readonly column: CsvColumn }
  | { readonly kind: "unknown-column"; readonly text: string }
  | { readonly kind: "too-many-rows"; readonly most: number }
  | { readonly kind: "nothing-in-it" }
  /** `among`: what there is, where that is few enough to be told. */
  | { readonly kind: "unknown"; readonly column: CsvColumn; readonly text: string; readonly among: readonly string[] }
  | { readonly kind: "not-valid"; readonly column: CsvColumn; readonly text: string }
  | { readonly kind: "missing"; readonly column: CsvColumn }
  | { readonly kind: "out-of-range"; readonly parameter: Parameter; readonly number: number }
  | { readonly kind: "no-number"; readonly parameter: Parameter }
  | { readonly kind: "wrong-gesture"; readonly gesture: Gesture; readonly can: readonly Gesture[] }
  | { readonly kind: "twice"; readonly id: string; readonly row: number }
  /** An earlier row of the same mapping says something else. */
  | { readonly kind: "contradicts"; readonly column: CsvColumn; readonly row: number };

/** `row`: as a spreadsheet counts, so that the heads are row 1. */
export interface CsvFault {
  readonly row: number;
  readonly fault: CsvFaultKind;
}

export interface CsvChange {
  readonly row: number;
  readonly how: "new" | "changed" | "removed";
  readonly surface: string;
  readonly control: string;
  /** Columns that differ. */
  readonly columns: readonly CsvColumn[];
}

export interface CsvRead {
  readonly edits: readonly OneEdit[];
  readonly changes: readonly CsvChange[];
  /** Rows that say what is so already. */
  readonly same: number;
  readonly faults: readonly CsvFault[];
}

/** Where a row's mapping lies. */
export interface CsvPlace {
  readonly surface: string;
  readonly control: Control;
}

/** What of the show decides about it. */
export interface CsvInto {
  readonly show: Show;
  controlsOf(surface: string): readonly Control[];
  functionsOf(desk: string): readonly DeskFunction[];
  parameterOf(desk: string, id: string): Parameter | undefined;
  deskIds(): readonly { readonly id: string; readonly name: string }[];
  /** The desk whose pages mappings hold on. */
  readonly pageDesk: string | undefined;
  /** The parameter of a desk that is its page. */
  pageParameter(desk: string): string | undefined;
  newMapping(surface: string, control: Control): Mapping;
  /** null where the show has nothing that such an action could act on. */
  newAction(desk: string, fn: DeskFunction, surface: string, control: Control): Action | null;
}

/** Every action of the show as a row, under the heads. A mapping without actions has one row. */
export function csvRows(show: Show): string[][] {
  const rows = show.mappings.flatMap((mapping) =>
    (mapping.actions.length === 0 ? [null] : mapping.actions).map((action) =>
      CSV_COLUMNS.map((column) => cellOf(column, mapping, action)),
    ),
  );
  return [[...CSV_COLUMNS], ...rows];
}

function cellOf(column: CsvColumn, mapping: Mapping, action: Action | null): string {
  switch (column) {
    case "mapping":
      return mapping.id;
    case "action":
      return action?.id ?? "";
    case "layers":
      return mapping.layers.join("; ");
    case "pages":
      return mapping.pages?.in.join(" ") ?? "";
    case "on":
      return yes(mapping.on);
    case "light":
      return mapping.look.colour ?? "";
    case "desk":
    case "function":
    case "target":
    case "message":
    case "text":
      return action?.[column] ?? "";
    case "numbers":
      return action ? numbersText(action.bindings) : "";
    case "action on":
      return action ? yes(action.on) : "";
    case "delay ms":
      return action?.delayMs === undefined ? "" : String(action.delayMs);
    default:
      return mapping[column];
  }
}

const yes = (on: boolean) => (on ? "yes" : "no");

/** "page=up; playback=4". What has no short form is written as the show has it. */
export function numbersText(bindings: Action["bindings"]): string {
  return Object.entries(bindings)
    .map(([id, binding]) => `${id}=${bindingText(binding)}`)
    .join("; ");
}

function bindingText(binding: Binding): string {
  if (binding.from === "fixed") return String(binding.value);
  if (binding.from === "list") return binding.values.join(" ");
  if (binding.from === "page") return "up";
  return binding.from === "selection" ? "selected" : JSON.stringify(binding);
}
