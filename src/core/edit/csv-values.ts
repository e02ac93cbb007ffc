/** Cells of a table of mappings as values: each is read, or it is told what is wrong with it. */
import type { DeskFunction } from "../format/desk-profile.ts";
import { parseNumberList } from "../format/number-list.ts";
import { Binding } from "../format/shape.ts";
import type { Action } from "../format/show.ts";
import type { CsvColumn, CsvFaultKind, CsvInto } from "./mappings-csv.ts";

export type Cells = ReadonlyMap<CsvColumn, string>;

export type Got<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly fault: CsvFaultKind };

export function got<T>(value: T): Got<T> {
  return { ok: true, value };
}

export function wrong(fault: CsvFaultKind): { readonly ok: false; readonly fault: CsvFaultKind } {
  return { ok: false, fault };
}

/** Nothing here is called so; or nothing is said where something has to be. */
export function unknown(column: CsvColumn, text: string, among: readonly string[] = []) {
  return wrong(text === "" ? { kind: "missing", column } : { kind: "unknown", column, text: short(text), among });
}

export function notValid(column: CsvColumn, text: string) {
  return wrong({ kind: "not-valid", column, text: short(text) });
}

const short = (text: string) => (text.length > 60 ? `${text.slice(0, 59)}…` : text);

/** By its id, or by its name whatever its capitals, where no other has that. */
export function named(
  all: readonly { readonly id: string; readonly name: string }[],
  text: string,
): string | undefined {
  if (all.some((x) => x.id === text)) return text;
  const found = all.filter((x) => x.name.toLowerCase() === text.toLowerCase());
  return found.length === 1 ? found[0]!.id : undefined;
}

/** null = nothing is said. */
export function readYes(text: string | undefined, column: CsvColumn): Got<boolean | null> {
  if (text === undefined || text === "") return got(null);
  if (/^(yes|on|true|1)$/i.test(text)) return got(true);
  return /^(no|off|false|0)$/i.test(text) ? got(false) : unknown(column, text, ["yes", "no"]);
}

/** The numbers of an action; those that are not named stay. */
export function readNumbers(
  text: string,
  desk: string,
  fn: DeskFunction,
  before: Action["bindings"],
  into: CsvInto,
): Got<Action["bindings"]> {
  const bindings = { ...before };
  for (const part of parts(text)) {
    const [, name = "", value = ""] = /^([^=]*)=(.*)$/s.exec(part) ?? [];
    const id = fn.parameters.find((p) => p === name.trim() || into.parameterOf(desk, p)?.name === name.trim());
    if (id === undefined) return unknown("numbers", part, fn.parameters);
    const binding = readBinding(value.trim(), id === into.pageParameter(desk));
    if (!binding) return notValid("numbers", part);
    bindings[id] = binding;
  }
  for (const id of fn.parameters) {
    const parameter = into.parameterOf(desk, id);
    const binding = bindings[id];
    if (!parameter) continue;
    if (!binding) return wrong({ kind: "no-number", parameter });
    const values = binding.from === "fixed" ? [binding.value] : binding.from === "list" ? binding.values : [];
    const number = values.find((v) => v < parameter.from || v > parameter.to);
    if (number !== undefined) return wrong({ kind: "out-of-range", parameter, number });
  }
  return got(bindings);
}

function readBinding(text: string, isPage: boolean): Binding | null {
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
