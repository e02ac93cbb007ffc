/** What one row of a table says of its mapping, where that differs from what the mapping is. */
import { GESTURE, type Gesture, gesturesOf } from "../format/gestures.ts";
import { parseNumberList } from "../format/number-list.ts";
import { Mapping } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import { type Cells, type Got, got, named, notValid, readYes, unknown, wrong } from "./csv-values.ts";
import type { MappingChange } from "./edit-kinds.ts";
import type { CsvColumn, CsvFaultKind, CsvInto } from "./mappings-csv.ts";

export interface Field {
  readonly column: CsvColumn;
  readonly key: keyof MappingChange;
  readonly value: MappingChange[keyof MappingChange];
}

/** One reader for each column; null = nothing is said, or what is so already. */
type Reader = (text: string, mapping: Mapping, control: Control, into: CsvInto) => Got<Omit<Field, "column"> | null>;

const READERS: readonly (readonly [CsvColumn, Reader])[] = [
  ["gesture", readGesture],
  ["layers", readLayers],
  ["pages", readPages],
  ["name", (text, mapping) => readText("name", text, mapping)],
  ["note", (text, mapping) => readText("note", text, mapping)],
  ["on", readOn],
  ["takeover", readTakeover],
  ["light", readLight],
];

export function readFields(
  cells: Cells,
  mapping: Mapping,
  control: Control,
  into: CsvInto,
): { fields: Field[]; faults: CsvFaultKind[] } {
  const fields: Field[] = [];
  const faults: CsvFaultKind[] = [];
  for (const [column, read] of READERS) {
    const text = cells.get(column);
    if (text === undefined) continue;
    const found = read(text, mapping, control, into);
    if (!found.ok) faults.push(found.fault);
    else if (found.value) fields.push({ column, ...found.value });
  }
  return { fields, faults };
}

function differs<K extends keyof MappingChange>(key: K, value: MappingChange[K], isSame: boolean) {
  return got(isSame ? null : { key, value });
}

function readGesture(text: string, mapping: Mapping, control: Control): ReturnType<Reader> {
  if (text === "") return got(null);
  const id = text.toLowerCase().replaceAll(" ", "-");
  if (!Object.hasOwn(GESTURE, id)) return unknown("gesture", text, Object.keys(GESTURE));
  const gesture = id as Gesture;
  // A range of messages has no kind of control, and says itself what it can.
  const can = control.behaviour === undefined ? [] : gesturesOf(control);
  if (can.length > 0 && !can.includes(gesture)) return wrong({ kind: "wrong-gesture", gesture, can });
  return differs("gesture", gesture, gesture === mapping.gesture);
}

function readLayers(text: string, mapping: Mapping, _control: Control, into: CsvInto): ReturnType<Reader> {
  const { layers } = into.show;
  const ids: string[] = [];
  for (const wanted of text.split(";").map((l) => l.trim())) {
    if (wanted === "") continue;
    const id = named(layers, wanted);
    if (id === undefined)
      return unknown(
        "layers",
        wanted,
        layers.map((l) => l.name),
      );
    ids.push(id);
  }
  return differs("layers", ids, ids.join() === mapping.layers.join());
}

function readPages(text: string, mapping: Mapping, _control: Control, into: CsvInto): ReturnType<Reader> {
  if (text === "") return differs("pages", null, mapping.pages === undefined);
  const pages = parseNumberList(text, 64);
  const desk = mapping.pages?.desk ?? into.pageDesk;
  if (!pages || desk === undefined) return notValid("pages", text);
  return differs("pages", { desk, in: pages }, pages.join() === mapping.pages?.in.join());
}

function readText(key: "name" | "note", text: string, mapping: Mapping): ReturnType<Reader> {
  if (!Mapping.shape[key].safeParse(text).success) return notValid(key, text);
  return differs(key, text, text === mapping[key]);
}

function readOn(text: string, mapping: Mapping): ReturnType<Reader> {
  const on = readYes(text, "on");
  if (!on.ok) return on;
  return on.value === null ? got(null) : differs("on", on.value, on.value === mapping.on);
}

function readTakeover(text: string, mapping: Mapping): ReturnType<Reader> {
  if (text === "") return got(null);
  const read = Mapping.shape.takeover.safeParse(text.toLowerCase());
  if (!read.success) return unknown("takeover", text, Mapping.shape.takeover.options);
  return differs("takeover", read.data, read.data === mapping.takeover);
}

function readLight(text: string, mapping: Mapping): ReturnType<Reader> {
  const look = text === "" ? {} : { colour: text };
  if (!Mapping.shape.look.safeParse(look).success) return notValid("light", text);
  return differs("look", look, text === (mapping.look.colour ?? ""));
}
