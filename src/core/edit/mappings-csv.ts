/**
 * Mappings as rows of a table, out and in: one row for each action. Rows that name a mapping change it, and only what they
 * say differently; rows that name none are new. What a table has no column for (shapes, conditions, times) stays as it is.
 * Nothing is changed here: what comes out are edits, or faults with the row they stand in.
 */
import type { DeskFunction, Parameter } from "../format/desk-profile.ts";
import { GESTURE, type Gesture, gesturesOf } from "../format/gestures.ts";
import { parseNumberList } from "../format/number-list.ts";
import { Binding } from "../format/shape.ts";
import { Action, Mapping, type Show } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import type { ActionChange, MappingChange, OneEdit } from "./edit-kinds.ts";

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
const NEEDED: readonly CsvColumn[] = ["mapping", "surface", "control", "desk", "function"];

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
  | { readonly kind: "twice"; readonly id: string; readonly row: number };

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

/** `removes`: mappings that no row names are removed. */
export function readCsvRows(rows: readonly (readonly string[])[], into: CsvInto, removes: boolean): CsvRead {
  const head = readHead(rows);
  if ("fault" in head) return { edits: [], changes: [], same: 0, faults: [{ row: 1, fault: head.fault }] };
  if (rows.length - 1 > MOST_CSV_ROWS)
    return {
      edits: [],
      changes: [],
      same: 0,
      faults: [{ row: 1, fault: { kind: "too-many-rows", most: MOST_CSV_ROWS } }],
    };
  const reader = new Reader(head.columns, into);
  for (let i = 1; i < rows.length; i++) reader.row(i + 1, rows[i]!);
  return reader.read(removes);
}

function readHead(rows: readonly (readonly string[])[]): { columns: (CsvColumn | null)[] } | { fault: CsvFaultKind } {
  const [head] = rows;
  if (!head || rows.length < 2) return { fault: { kind: "nothing-in-it" } };
  const columns: (CsvColumn | null)[] = [];
  for (const cell of head) {
    const text = cell.trim().toLowerCase();
    const column = CSV_COLUMNS.find((c) => c === text);
    if (!column && text !== "") return { fault: { kind: "unknown-column", text: cell.trim().slice(0, 60) } };
    columns.push(column ?? null);
  }
  const missing = NEEDED.find((c) => !columns.includes(c));
  return missing ? { fault: { kind: "no-column", column: missing } } : { columns };
}

type Cells = ReadonlyMap<CsvColumn, string>;

interface Place {
  readonly surface: string;
  readonly control: Control;
}

class Reader {
  readonly #columns: readonly (CsvColumn | null)[];
  readonly #into: CsvInto;
  readonly #mappings: ReadonlyMap<string, Mapping>;
  readonly #edits: OneEdit[] = [];
  readonly #changes: CsvChange[] = [];
  readonly #faults: CsvFault[] = [];
  /** Mappings that were named, with the row that named them first, and what that said of them. */
  readonly #named = new Map<string, number>();
  readonly #actions = new Map<string, number>();
  /** New ones, by the word that their rows name them by. */
  readonly #fresh = new Map<string, Mapping>();
  #same = 0;
  #row = 0;
  #hasFault = false;

  constructor(columns: readonly (CsvColumn | null)[], into: CsvInto) {
    this.#columns = columns;
    this.#into = into;
    this.#mappings = new Map(into.show.mappings.map((m) => [m.id, m]));
  }

  row(number: number, texts: readonly string[]): void {
    this.#row = number;
    this.#hasFault = false;
    const cells = new Map<CsvColumn, string>();
    this.#columns.forEach((column, i) => {
      if (column) cells.set(column, (texts[i] ?? "").trim());
    });
    if ([...cells.values()].every((text) => text === "")) return; // an empty line
    const id = cells.get("mapping")!;
    const mapping = this.#mappings.get(id);
    if (mapping) this.#change(mapping, cells);
    else this.#add(id, cells);
  }

  read(removes: boolean): CsvRead {
    const changes = [...this.#changes];
    const edits = [...this.#edits];
    for (const mapping of this.#fresh.values()) edits.push({ kind: "add-mapping", mapping });
    if (removes)
      for (const { id, surface, control } of this.#mappings.values())
        if (!this.#named.has(id)) {
          edits.push({ kind: "remove-mapping", id });
          changes.push({ row: 0, how: "removed", surface, control, columns: [] });
        }
    return this.#faults.length > 0
      ? { edits: [], changes: [], same: 0, faults: this.#faults }
      : { edits, changes, same: this.#same, faults: [] };
  }

  #change(mapping: Mapping, cells: Cells): void {
    const { surface, control } = mapping;
    const isFirst = !this.#named.has(mapping.id);
    if (isFirst) this.#named.set(mapping.id, this.#row);
    const columns: CsvColumn[] = [];
    const place = this.#place(cells, mapping);
    if (!place) return;
    const set: MappingChange = {};
    if (isFirst) {
      if (place.surface !== surface || place.control.id !== control) {
        columns.push("control");
        Object.assign(set, { surface: place.surface, control: place.control.id });
      }
      this.#fields(cells, mapping, place.control, set, columns);
    }
    const edits: OneEdit[] = [];
    if (Object.keys(set).length > 0) edits.push({ kind: "change-mapping", id: mapping.id, set });
    this.#action(cells, mapping, place, edits, columns);
    if (this.#hasFault) return;
    if (edits.length === 0) {
      this.#same++;
      return;
    }
    this.#edits.push(...edits);
    this.#changes.push({ row: this.#row, how: "changed", surface: place.surface, control: place.control.id, columns });
  }

  /** Rows that name the same mapping, which the show has not, are the actions of one new mapping. */
  #add(id: string, cells: Cells): void {
    const place = this.#place(cells, null);
    if (!place) return;
    const key = id === "" ? `row ${this.#row}` : id;
    const before = this.#fresh.get(key);
    const mapping = before ?? this.#into.newMapping(place.surface, place.control);
    const set: MappingChange = {};
    if (!before) this.#fields(cells, mapping, place.control, set, []);
    const edits: OneEdit[] = [];
    this.#action(cells, { ...mapping, actions: [] }, place, edits, []);
    if (this.#hasFault) return;
    const added = edits.flatMap((e) => (e.kind === "add-action" ? [e.action] : []));
    const changed = applied(mapping, set);
    this.#fresh.set(key, { ...changed, actions: [...changed.actions, ...added] });
    this.#changes.push({ row: this.#row, how: "new", surface: place.surface, control: place.control.id, columns: [] });
  }

  /** Where it lies: by the ids or by the names of surface and control. */
  #place(cells: Cells, mapping: Mapping | null): Place | null {
    const { show } = this.#into;
    const text = cells.get("surface")!;
    const surface = text === "" && mapping ? mapping.surface : named(show.surfaces, text);
    if (surface === undefined) {
      this.#unknown(
        "surface",
        text,
        show.surfaces.map((s) => s.name),
      );
      return null;
    }
    const controls = this.#into.controlsOf(surface);
    const wanted = cells.get("control")!;
    // A range of messages is a control of the mapping's own.
    if (mapping?.message && (wanted === "" || wanted === mapping.control) && surface === mapping.surface) {
      const own = { id: mapping.control, name: mapping.control, sends: mapping.message } as unknown as Control;
      return { surface, control: own };
    }
    const id = wanted === "" && mapping ? mapping.control : named(controls, wanted);
    const control = controls.find((c) => c.id === id);
    if (!control) {
      this.#unknown("control", wanted, []);
      return null;
    }
    return { surface, control };
  }

  #fields(cells: Cells, mapping: Mapping, control: Control, set: MappingChange, columns: CsvColumn[]): void {
    const put = <K extends keyof MappingChange>(
      column: CsvColumn,
      key: K,
      value: MappingChange[K],
      isSame: boolean,
    ) => {
      if (isSame) return;
      set[key] = value;
      columns.push(column);
    };
    const said = (column: CsvColumn) => cells.get(column);
    const gesture = said("gesture");
    if (gesture !== undefined && gesture !== "") {
      const id = gesture.toLowerCase().replaceAll(" ", "-");
      if (!(id in GESTURE)) this.#unknown("gesture", gesture, Object.keys(GESTURE));
      else {
        const can = control.behaviour === undefined ? [] : gesturesOf(control);
        if (can.length > 0 && !can.includes(id as Gesture))
          this.#fault({ kind: "wrong-gesture", gesture: id as Gesture, can });
        else put("gesture", "gesture", id as Gesture, id === mapping.gesture);
      }
    }
    const layers = said("layers");
    if (layers !== undefined) {
      const all = this.#into.show.layers;
      const wanted = layers
        .split(";")
        .map((l) => l.trim())
        .filter((l) => l !== "");
      const ids = wanted.map((l) => named(all, l));
      const at = ids.indexOf(undefined);
      if (at >= 0)
        this.#unknown(
          "layers",
          wanted[at]!,
          all.map((l) => l.name),
        );
      else put("layers", "layers", ids as string[], ids.join() === mapping.layers.join());
    }
    this.#pages(said("pages"), mapping, put);
    for (const column of ["name", "note"] as const) {
      const text = said(column);
      if (text === undefined) continue;
      if (!Mapping.shape[column].safeParse(text).success) this.#fault({ kind: "not-valid", column, text: short(text) });
      else put(column, column, text, text === mapping[column]);
    }
    const on = this.#yes(said("on"), "on");
    if (on !== null) put("on", "on", on, on === mapping.on);
    const takeover = said("takeover");
    if (takeover !== undefined && takeover !== "") {
      const read = Mapping.shape.takeover.safeParse(takeover.toLowerCase());
      if (read.success) put("takeover", "takeover", read.data, read.data === mapping.takeover);
      else this.#unknown("takeover", takeover, Mapping.shape.takeover.options);
    }
    const light = said("light");
    if (light !== undefined) {
      const look = light === "" ? {} : { colour: light };
      if (!Mapping.shape.look.safeParse(look).success)
        this.#fault({ kind: "not-valid", column: "light", text: short(light) });
      else put("light", "look", look, light === (mapping.look.colour ?? ""));
    }
  }

  #pages(
    text: string | undefined,
    mapping: Mapping,
    put: (column: CsvColumn, key: "pages", value: MappingChange["pages"], isSame: boolean) => void,
  ): void {
    if (text === undefined) return;
    if (text === "") {
      put("pages", "pages", null, mapping.pages === undefined);
      return;
    }
    const pages = parseNumberList(text);
    const desk = mapping.pages?.desk ?? this.#into.pageDesk;
    if (!pages || pages.length > 64 || desk === undefined)
      this.#fault({ kind: "not-valid", column: "pages", text: short(text) });
    else put("pages", "pages", { desk, in: pages }, pages.join() === mapping.pages?.in.join());
  }

  #action(cells: Cells, mapping: Mapping, { surface, control }: Place, edits: OneEdit[], columns: CsvColumn[]): void {
    const deskText = cells.get("desk")!;
    const fnText = cells.get("function")!;
    const id = cells.get("action") ?? "";
    if (deskText === "" && fnText === "" && id === "") return; // a mapping without actions
    const before = mapping.actions.find((a) => a.id === id);
    if (before) {
      const key = `${mapping.id} ${id}`;
      const row = this.#actions.get(key);
      if (row !== undefined) {
        this.#fault({ kind: "twice", id, row });
        return;
      }
      this.#actions.set(key, this.#row);
    }
    const desks = this.#into.deskIds();
    const desk = deskText === "" && before ? before.desk : named(desks, deskText);
    if (desk === undefined) {
      this.#unknown(
        "desk",
        deskText,
        desks.map((d) => d.name),
      );
      return;
    }
    const functions = this.#into.functionsOf(desk);
    const fnId = fnText === "" && before ? before.function : named(functions, fnText);
    const fn = functions.find((f) => f.id === fnId);
    if (!fn) {
      this.#unknown("function", fnText, []);
      return;
    }
    const isOther = before !== undefined && (before.desk !== desk || before.function !== fn.id);
    const base = !before || isOther ? this.#into.newAction(desk, fn, surface, control) : before;
    if (!base) {
      this.#unknown("function", fn.name, []);
      return;
    }
    const bindings = this.#numbers(cells.get("numbers"), desk, fn, base);
    if (!bindings) return;
    const on = this.#yes(cells.get("action on"), "action on") ?? base.on;
    const more = this.#more(cells, base);
    if (!more) return;
    if (!before) {
      edits.push({ kind: "add-action", mapping: mapping.id, action: { ...base, ...more.values, bindings, on } });
      columns.push("action");
      return;
    }
    const set: ActionChange = {};
    if (isOther) {
      Object.assign(set, { desk, function: fn.id, bindings });
      columns.push("function");
    } else if (numbersText(bindings) !== numbersText(before.bindings)) {
      set.bindings = bindings;
      columns.push("numbers");
    }
    if (on !== before.on) {
      set.on = on;
      columns.push("action on");
    }
    for (const [column, key] of MORE) {
      const value = more.values[key];
      if (!more.said.has(column) || value === before[key]) continue;
      Object.assign(set, { [key]: value ?? null });
      columns.push(column);
    }
    if (Object.keys(set).length > 0) edits.push({ kind: "change-action", mapping: mapping.id, id, set });
  }

  /** The numbers of an action; those that are not named stay. */
  #numbers(text: string | undefined, desk: string, fn: DeskFunction, base: Action): Action["bindings"] | null {
    const bindings = { ...base.bindings };
    if (text !== undefined && text !== "") {
      for (const part of parts(text)) {
        const [, name = "", value = ""] = /^([^=]*)=(.*)$/s.exec(part) ?? [];
        const id = fn.parameters.find(
          (p) => p === name.trim() || this.#into.parameterOf(desk, p)?.name === name.trim(),
        );
        if (id === undefined) {
          this.#unknown("numbers", part, fn.parameters);
          return null;
        }
        const binding = this.#binding(value.trim(), id === this.#into.pageParameter(desk));
        if (!binding) {
          this.#fault({ kind: "not-valid", column: "numbers", text: short(part) });
          return null;
        }
        bindings[id] = binding;
      }
    }
    for (const id of fn.parameters) {
      const parameter = this.#into.parameterOf(desk, id);
      const binding = bindings[id];
      if (!parameter) continue;
      if (!binding) {
        this.#fault({ kind: "no-number", parameter });
        return null;
      }
      const values = binding.from === "fixed" ? [binding.value] : binding.from === "list" ? binding.values : [];
      const number = values.find((v) => v < parameter.from || v > parameter.to);
      if (number !== undefined) {
        this.#fault({ kind: "out-of-range", parameter, number });
        return null;
      }
    }
    return bindings;
  }

  #binding(text: string, isPage: boolean): Binding | null {
    if (text === "up") return isPage ? { from: "page" } : null;
    if (text === "selected") return { from: "selection" };
    if (text.startsWith("{")) {
      try {
        const read = Binding.safeParse(JSON.parse(text));
        return read.success ? read.data : null;
      } catch {
        return null;
      }
    }
    const values = parseNumberList(text);
    if (!values) return null;
    return values.length === 1 ? { from: "fixed", value: values[0]! } : { from: "list", values };
  }

  /** What else an action carries, where the file has columns for it. */
  #more(cells: Cells, base: Action) {
    const values: Pick<Action, "delayMs" | "target" | "message" | "text"> = {};
    const said = new Set<CsvColumn>();
    for (const [column, key] of MORE) {
      const text = cells.get(column);
      if (text === undefined) {
        if (base[key] !== undefined) Object.assign(values, { [key]: base[key] });
        continue;
      }
      said.add(column);
      // What a new action needs and the file leaves empty is as for one made by hand.
      if (text === "") continue;
      const value = key === "delayMs" ? Number(text) : text;
      const read = Action.shape[key].safeParse(value);
      if (!read.success) {
        this.#fault({ kind: "not-valid", column, text: short(text) });
        return null;
      }
      Object.assign(values, { [key]: value });
    }
    return { values, said };
  }

  #yes(text: string | undefined, column: CsvColumn): boolean | null {
    if (text === undefined || text === "") return null;
    if (/^(yes|on|true|1)$/i.test(text)) return true;
    if (/^(no|off|false|0)$/i.test(text)) return false;
    this.#unknown(column, text, ["yes", "no"]);
    return null;
  }

  #unknown(column: CsvColumn, text: string, among: readonly string[]): void {
    this.#fault(text === "" ? { kind: "missing", column } : { kind: "unknown", column, text: short(text), among });
  }

  #fault(fault: CsvFaultKind): void {
    this.#hasFault = true;
    this.#faults.push({ row: this.#row, fault });
  }
}

const MORE = [
  ["delay ms", "delayMs"],
  ["target", "target"],
  ["message", "message"],
  ["text", "text"],
] as const satisfies readonly (readonly [CsvColumn, keyof Action])[];

const short = (text: string) => (text.length > 60 ? `${text.slice(0, 59)}…` : text);

/** By its id, or by its name whatever its capitals, where no other has that. */
function named(all: readonly { readonly id: string; readonly name: string }[], text: string): string | undefined {
  if (all.some((x) => x.id === text)) return text;
  const found = all.filter((x) => x.name.toLowerCase() === text.toLowerCase());
  return found.length === 1 ? found[0]!.id : undefined;
}

/** Between semicolons; what stands in braces is one part. */
function parts(text: string): string[] {
  const found: string[] = [];
  let depth = 0;
  let part = "";
  for (const sign of text) {
    if (sign === "{") depth++;
    if (sign === "}") depth--;
    if (sign === ";" && depth === 0) {
      found.push(part);
      part = "";
    } else part += sign;
  }
  return [...found, part].map((p) => p.trim()).filter((p) => p !== "");
}

function applied(mapping: Mapping, set: MappingChange): Mapping {
  const next: Record<string, unknown> = { ...mapping };
  for (const [key, value] of Object.entries(set)) {
    if (value === null) delete next[key];
    else next[key] = value;
  }
  return next as Mapping;
}
