/** Numbers of an action typed in one cell: "up, 7" or "3, 1 to 4". Pure. */

import type { Parameter } from "../../../core/format/desk-profile.ts";
import { parseNumberList } from "../../../core/format/number-list.ts";
import type { Binding } from "../../../core/format/shape.ts";
import type { Action, Show } from "../../../core/format/show.ts";
import { typedWords } from "./table-rows.ts";

export type Typed =
  | { readonly kind: "numbers"; readonly bindings: Readonly<Record<string, Binding>> }
  /** What is wrong, as a sentence. */
  | { readonly kind: "wrong"; readonly why: string };

/** As the cell is typed: one part for each number, between commas; a list has its commas as blanks. */
export function asTyped(action: Action, parameters: readonly Parameter[], show: Show): string {
  return parameters.map((p) => partOf(action.bindings[p.id], show)).join(", ");
}

function partOf(binding: Binding | undefined, show: Show): string {
  return binding ? typedWords(binding, show).replaceAll(", ", " ") : "";
}

/** Reads what was typed. A part that was left as it stood keeps its binding, also where it could not be typed anew. */
export function readNumbers(
  text: string,
  action: Action,
  parameters: readonly Parameter[],
  page: string | undefined,
  show: Show,
): Typed {
  const parts = text.split(",").map((part) => part.trim());
  if (parts.length !== parameters.length)
    return {
      kind: "wrong",
      why: `Type ${parameters.length === 1 ? "one number" : `${parameters.length} numbers with commas between`}: ${parameters.map((p) => p.name).join(", ")}.`,
    };
  const bindings: Record<string, Binding> = {};
  for (const [i, parameter] of parameters.entries()) {
    const part = parts[i]!;
    const before = action.bindings[parameter.id];
    if (before && part === partOf(before, show)) {
      bindings[parameter.id] = before;
      continue;
    }
    const read = readPart(part, parameter, page);
    if (typeof read === "string") return { kind: "wrong", why: read };
    bindings[parameter.id] = read;
  }
  return { kind: "numbers", bindings };
}

function readPart(part: string, { id, name, from, to }: Parameter, page: string | undefined): Binding | string {
  if (part === "up") return id === page ? { from: "page" } : `“up” is for the page: ${name} is a number.`;
  const values = parseNumberList(part);
  if (!values) return `“${part}” is no ${name}. Type ${from} to ${to}${id === page ? ", or “up”" : ""}.`;
  const out = values.find((v) => v < from || v > to);
  if (out !== undefined) return `There is no ${name} ${out}. The desk has ${from} to ${to}.`;
  return values.length === 1 ? { from: "fixed", value: values[0]! } : { from: "list", values };
}
