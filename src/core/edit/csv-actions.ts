/** What one row of a table says of its action: a new one, or what of it differs. */
import { Action, type Mapping } from "../format/show.ts";
import { type Cells, type Got, got, named, notValid, readNumbers, readYes, unknown } from "./csv-values.ts";
import type { ActionChange, OneEdit } from "./edit-kinds.ts";
import { type CsvColumn, type CsvInto, type CsvPlace, numbersText } from "./mappings-csv.ts";

/** Optional fields of an action, which a file may have columns for. */
const MORE = [
  ["delay ms", "delayMs"],
  ["target", "target"],
  ["message", "message"],
  ["text", "text"],
] as const satisfies readonly (readonly [CsvColumn, keyof Action])[];
type More = Pick<Action, (typeof MORE)[number][1]>;

export interface ActionRow {
  readonly edit: Extract<OneEdit, { kind: "add-action" | "change-action" }>;
  readonly columns: readonly CsvColumn[];
}

/** null = the row has no action, or says what is so already. */
export function readAction(cells: Cells, mapping: Mapping, place: CsvPlace, into: CsvInto): Got<ActionRow | null> {
  const deskText = cells.get("desk")!;
  const fnText = cells.get("function")!;
  const id = cells.get("action") ?? "";
  if (deskText === "" && fnText === "" && id === "") return got(null); // a mapping without actions
  const before = mapping.actions.find((a) => a.id === id);
  const desks = into.deskIds();
  const desk = deskText === "" && before ? before.desk : named(desks, deskText);
  if (desk === undefined)
    return unknown(
      "desk",
      deskText,
      desks.map((d) => d.name),
    );
  const functions = into.functionsOf(desk);
  const fnId = fnText === "" && before ? before.function : named(functions, fnText);
  const fn = functions.find((f) => f.id === fnId);
  if (!fn) return unknown("function", fnText);
  const isOther = before !== undefined && (before.desk !== desk || before.function !== fn.id);
  const base = !before || isOther ? into.newAction(desk, fn, place.surface, place.control) : before;
  if (!base) return unknown("function", fn.name);
  const bindings = readNumbers(cells.get("numbers") ?? "", desk, fn, base.bindings, into);
  if (!bindings.ok) return bindings;
  const on = readYes(cells.get("action on"), "action on");
  if (!on.ok) return on;
  const more = readMore(cells, before !== undefined);
  if (!more.ok) return more;
  const next: Action = { ...base, ...more.value, bindings: bindings.value, on: on.value ?? base.on };
  if (!before) return got({ edit: { kind: "add-action", mapping: mapping.id, action: next }, columns: ["action"] });
  const { set, columns } = changes(before, next, isOther, cells);
  return got(columns.length > 0 ? { edit: { kind: "change-action", mapping: mapping.id, id, set }, columns } : null);
}

function changes(
  before: Action,
  next: Action,
  isOther: boolean,
  cells: Cells,
): { set: ActionChange; columns: CsvColumn[] } {
  const set: ActionChange = {};
  const columns: CsvColumn[] = [];
  if (isOther) {
    Object.assign(set, { desk: next.desk, function: next.function, bindings: next.bindings });
    columns.push("function");
  } else if (numbersText(next.bindings) !== numbersText(before.bindings)) {
    set.bindings = next.bindings;
    columns.push("numbers");
  }
  if (next.on !== before.on) {
    set.on = next.on;
    columns.push("action on");
  }
  for (const [column, key] of MORE) {
    if (!cells.has(column) || next[key] === before[key]) continue;
    Object.assign(set, { [key]: next[key] ?? null });
    columns.push(column);
  }
  return { set, columns };
}

/** A column that is there and empty takes its field away; what a new action needs is then as for one made by hand. */
function readMore(cells: Cells, isThere: boolean): Got<Partial<More>> {
  const values: Partial<More> = {};
  for (const [column, key] of MORE) {
    const text = cells.get(column);
    if (text === undefined || (text === "" && !isThere)) continue;
    if (text === "") {
      values[key] = undefined;
      continue;
    }
    const value = key === "delayMs" ? Number(text) : text;
    if (!Action.shape[key].safeParse(value).success) return notValid(column, text);
    Object.assign(values, { [key]: value });
  }
  return got(values);
}
