/**
 * Rows of a table of mappings read to edits. Rows that name a mapping change it, and only what they say differently; rows
 * that name none, or one that the show has not, are new. Nothing is changed here: what comes out are edits, or faults with
 * the rows they stand in.
 */
import type { Mapping } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import { readAction } from "./csv-actions.ts";
import { type Field, readFields } from "./csv-fields.ts";
import { type Cells, type Got, got, named, unknown } from "./csv-values.ts";
import type { MappingChange, OneEdit } from "./edit-kinds.ts";
import {
  CSV_COLUMNS,
  type CsvChange,
  type CsvColumn,
  type CsvFault,
  type CsvFaultKind,
  type CsvInto,
  type CsvPlace,
  type CsvRead,
  MOST_CSV_ROWS,
  NEEDED_COLUMNS,
} from "./mappings-csv.ts";

/** `removes`: mappings that no row names are removed. */
export function readCsvRows(rows: readonly (readonly string[])[], into: CsvInto, removes: boolean): CsvRead {
  const head = readHead(rows);
  if ("fault" in head) return refused([{ row: 1, fault: head.fault }]);
  const reader = new Reader(head.columns, into);
  for (let i = 1; i < rows.length; i++) reader.row(i + 1, rows[i]!);
  return reader.read(removes);
}

function refused(faults: readonly CsvFault[]): CsvRead {
  return { edits: [], changes: [], same: 0, faults };
}

function readHead(rows: readonly (readonly string[])[]): { columns: (CsvColumn | null)[] } | { fault: CsvFaultKind } {
  const [head] = rows;
  if (!head || rows.length < 2) return { fault: { kind: "nothing-in-it" } };
  if (rows.length - 1 > MOST_CSV_ROWS) return { fault: { kind: "too-many-rows", most: MOST_CSV_ROWS } };
  const columns: (CsvColumn | null)[] = [];
  for (const cell of head) {
    const text = cell.trim().toLowerCase();
    const column = CSV_COLUMNS.find((c) => c === text);
    if (!column && text !== "") return { fault: { kind: "unknown-column", text: cell.trim().slice(0, 60) } };
    columns.push(column ?? null);
  }
  const missing = NEEDED_COLUMNS.find((c) => !columns.includes(c));
  return missing ? { fault: { kind: "no-column", column: missing } } : { columns };
}

/** What rows have said of one mapping so far: each field, and the row that said it first. */
class Said {
  readonly set: MappingChange = {};
  readonly #rows = new Map<string, number>();

  /** What of a row's fields is new. A field that an earlier row said otherwise is a fault. */
  take(fields: readonly Field[], row: number): { fresh: Field[]; fault: CsvFaultKind | null } {
    const fresh: Field[] = [];
    for (const field of fields) {
      const { key, value, column } = field;
      const before = this.#rows.get(key);
      if (before === undefined) fresh.push(field);
      else if (JSON.stringify(this.set[key]) !== JSON.stringify(value))
        return { fresh: [], fault: { kind: "contradicts", column, row: before } };
    }
    for (const { key, value } of fresh) {
      this.#rows.set(key, row);
      Object.assign(this.set, { [key]: value });
    }
    return { fresh, fault: null };
  }
}

interface Fresh {
  readonly base: Mapping;
  readonly said: Said;
  readonly actions: Mapping["actions"];
  /** The first row of it. */
  readonly row: number;
}

class Reader {
  readonly #columns: readonly (CsvColumn | null)[];
  readonly #into: CsvInto;
  readonly #mappings: ReadonlyMap<string, Mapping>;
  readonly #edits: OneEdit[] = [];
  readonly #changes: CsvChange[] = [];
  readonly #faults: CsvFault[] = [];
  /** What was said of mappings that the show has. */
  readonly #said = new Map<string, Said>();
  /** The rows of their actions. */
  readonly #actions = new Map<string, number>();
  /** New ones, by the word that their rows name them by. */
  readonly #fresh = new Map<string, Fresh>();
  #same = 0;

  constructor(columns: readonly (CsvColumn | null)[], into: CsvInto) {
    this.#columns = columns;
    this.#into = into;
    this.#mappings = new Map(into.show.mappings.map((m) => [m.id, m]));
  }

  row(row: number, texts: readonly string[]): void {
    const cells = new Map<CsvColumn, string>();
    this.#columns.forEach((column, i) => {
      if (column) cells.set(column, (texts[i] ?? "").trim());
    });
    if ([...cells.values()].every((text) => text === "")) return; // an empty line
    const id = cells.get("mapping")!;
    const mapping = this.#mappings.get(id);
    const faults = mapping ? this.#change(mapping, cells, row) : this.#add(id || `row ${row}`, cells, row);
    this.#faults.push(...faults.map((fault) => ({ row, fault })));
  }

  read(removes: boolean): CsvRead {
    if (this.#faults.length > 0) return refused(this.#faults);
    const changes = [...this.#changes];
    const edits = [...this.#edits];
    for (const { base, said, actions } of this.#fresh.values())
      edits.push({ kind: "add-mapping", mapping: { ...applied(base, said.set), actions } });
    if (removes)
      for (const { id, surface, control } of this.#mappings.values())
        if (!this.#said.has(id)) {
          edits.push({ kind: "remove-mapping", id });
          changes.push({ row: 0, how: "removed", surface, control, columns: [] });
        }
    return { edits, changes, same: this.#same, faults: [] };
  }

  #change(mapping: Mapping, cells: Cells, row: number): readonly CsvFaultKind[] {
    const said = this.#said.get(mapping.id) ?? new Said();
    this.#said.set(mapping.id, said);
    const place = this.#place(cells, mapping);
    if (!place.ok) return [place.fault];
    const twice = this.#twice(mapping, cells.get("action") ?? "", row);
    if (twice) return [twice];
    const { fields, faults } = readFields(cells, mapping, place.value.control, this.#into);
    const { fresh, fault } = said.take([...moved(mapping, place.value), ...fields], row);
    if (fault) faults.push(fault);
    const action = readAction(cells, mapping, place.value, this.#into);
    if (!action.ok) faults.push(action.fault);
    if (faults.length > 0 || !action.ok) return faults;
    const columns = [...new Set([...fresh.map((f) => f.column), ...(action.value?.columns ?? [])])];
    if (columns.length === 0) {
      this.#same++;
      return [];
    }
    const set = Object.fromEntries(fresh.map((f) => [f.key, f.value])) as MappingChange;
    if (fresh.length > 0) this.#edits.push({ kind: "change-mapping", id: mapping.id, set });
    if (action.value) this.#edits.push(action.value.edit);
    this.#tell(row, "changed", place.value, columns);
    return [];
  }

  /** Rows that name the same mapping, which the show has not, are the actions of one new mapping. */
  #add(key: string, cells: Cells, row: number): readonly CsvFaultKind[] {
    const before = this.#fresh.get(key);
    const place = this.#place(cells, before?.base ?? null);
    if (!place.ok) return [place.fault];
    const { surface, control } = place.value;
    const base = before?.base ?? this.#into.newMapping(surface, control);
    const said = before?.said ?? new Said();
    const { fields, faults } = readFields(cells, base, control, this.#into);
    if (before)
      faults.push(
        ...moved(base, place.value).map(({ column }) => ({ kind: "contradicts" as const, column, row: before.row })),
      );
    const { fault } = said.take(fields, row);
    if (fault) faults.push(fault);
    const action = readAction(cells, { ...base, actions: [] }, place.value, this.#into);
    if (!action.ok) faults.push(action.fault);
    if (faults.length > 0 || !action.ok) return faults;
    const made = action.value?.edit.kind === "add-action" ? [action.value.edit.action] : [];
    this.#fresh.set(key, { base, said, actions: [...(before?.actions ?? []), ...made], row: before?.row ?? row });
    this.#tell(row, "new", place.value, []);
    return [];
  }

  /** Two rows of one action say twice what it is. */
  #twice(mapping: Mapping, id: string, row: number): CsvFaultKind | null {
    if (!mapping.actions.some((a) => a.id === id)) return null;
    const key = `${mapping.id} ${id}`;
    const before = this.#actions.get(key);
    if (before !== undefined) return { kind: "twice", id, row: before };
    this.#actions.set(key, row);
    return null;
  }

  /** Where it lies: by the ids or by the names of surface and control; left empty, where the mapping is. */
  #place(cells: Cells, mapping: Mapping | null): Got<CsvPlace> {
    const { surfaces } = this.#into.show;
    const text = cells.get("surface")!;
    const surface = text === "" && mapping ? mapping.surface : named(surfaces, text);
    if (surface === undefined)
      return unknown(
        "surface",
        text,
        surfaces.map((s) => s.name),
      );
    const wanted = cells.get("control")!;
    // A range of messages is a control of the mapping's own.
    if (mapping?.message && (wanted === "" || wanted === mapping.control) && surface === mapping.surface) {
      const own = { id: mapping.control, name: mapping.control, sends: mapping.message } as unknown as Control;
      return got({ surface, control: own });
    }
    const controls = this.#into.controlsOf(surface);
    const id = wanted === "" && mapping ? mapping.control : named(controls, wanted);
    const control = controls.find((c) => c.id === id);
    return control ? got({ surface, control }) : unknown("control", wanted);
  }

  #tell(row: number, how: CsvChange["how"], { surface, control }: CsvPlace, columns: readonly CsvColumn[]): void {
    this.#changes.push({ row, how, surface, control: control.id, columns });
  }
}

/** A mapping that goes to another control. */
function moved(mapping: Mapping, { surface, control }: CsvPlace): Field[] {
  if (surface === mapping.surface && control.id === mapping.control) return [];
  return [
    { column: "control", key: "surface", value: surface },
    { column: "control", key: "control", value: control.id },
  ];
}

function applied(mapping: Mapping, set: MappingChange): Mapping {
  const next: Record<string, unknown> = { ...mapping };
  for (const [key, value] of Object.entries(set)) {
    if (value === null) delete next[key];
    else next[key] = value;
  }
  return next as Mapping;
}
