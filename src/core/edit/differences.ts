/** What is different between two states of a show, as data: which things came, went or changed, and what of them. */
import type { Thing } from "../format/problem.ts";
import type { Mapping, Show } from "../format/show.ts";

export interface Difference {
  readonly how: "new" | "gone" | "changed";
  /** "show" is what belongs to all of it: its name and settings. */
  readonly what: Thing | "show";
  /** What it is called now, or was; of a mapping its name, which may be empty. */
  readonly name: string;
  /** Of a mapping: where it lies. */
  readonly at?: { readonly surface: string; readonly control: string };
  /** Which of its fields changed; empty unless `how` is "changed". */
  readonly fields: readonly string[];
}

const LISTS = [
  ["surfaces", "surface"],
  ["desks", "desk"],
  ["layers", "layer"],
  ["groups", "group"],
  ["banks", "bank"],
  ["variables", "variable"],
  ["bundles", "bundle"],
  ["routes", "route"],
  ["sessions", "session"],
] as const satisfies readonly (readonly [keyof Show, Thing])[];

interface Item {
  readonly id: string;
  readonly name?: string | undefined;
}

/** All differences, in the order of the show: itself, what it stands on, its mappings, its kinds. */
export function differences(before: Show, after: Show): Difference[] {
  const all: Difference[] = [];
  const head = changedFields(
    { name: before.name, ...before.settings } as Fields,
    { name: after.name, ...after.settings } as Fields,
  );
  if (head.length > 0) all.push({ how: "changed", what: "show", name: after.name, fields: head });
  for (const [list, what] of LISTS) all.push(...ofList(before[list] ?? [], after[list] ?? [], what));
  all.push(...ofMappings(before.mappings, after.mappings));
  all.push(...ofList(before.profiles?.surfaces ?? [], after.profiles?.surfaces ?? [], "surface-profile"));
  all.push(...ofList(before.profiles?.desks ?? [], after.profiles?.desks ?? [], "desk-profile"));
  return all;
}

function ofList(before: readonly Item[], after: readonly Item[], what: Thing): Difference[] {
  return pairs(before, after).map(([was, is]) => ({
    how: howOf(was, is),
    what,
    name: (is ?? was)!.name ?? (is ?? was)!.id,
    fields: was && is ? changedFields(was as unknown as Fields, is as unknown as Fields) : [],
  }));
}

function ofMappings(before: readonly Mapping[], after: readonly Mapping[]): Difference[] {
  return pairs(before, after).map(([was, is]) => {
    const { name, surface, control } = (is ?? was)!;
    return {
      how: howOf(was, is),
      what: "mapping",
      name,
      at: { surface, control },
      fields: was && is ? changedFields(was as unknown as Fields, is as unknown as Fields) : [],
    };
  });
}

function howOf(was: unknown, is: unknown): Difference["how"] {
  if (was === undefined) return "new";
  return is === undefined ? "gone" : "changed";
}

/** What is in one list and not in the other, or in both and not the same; in the order of the second, what went last. */
function pairs<T extends { readonly id: string }>(
  before: readonly T[],
  after: readonly T[],
): [was: T | undefined, is: T | undefined][] {
  const old = new Map(before.map((item) => [item.id, item]));
  const found: [T | undefined, T | undefined][] = [];
  for (const is of after) {
    const was = old.get(is.id);
    old.delete(is.id);
    if (!isSame(was, is)) found.push([was, is]);
  }
  for (const was of old.values()) found.push([was, undefined]);
  return found;
}

type Fields = Readonly<Record<string, unknown>>;

function changedFields(was: Fields, is: Fields): string[] {
  return [...new Set([...Object.keys(was), ...Object.keys(is)])].filter((key) => !isSame(was[key], is[key]));
}

/** Equal in content. Objects with the same fields in another order are the same; what is undefined is not there. */
function isSame(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== "object" || typeof b !== "object" || a === null || b === null) return false;
  if (Array.isArray(a) || Array.isArray(b))
    return Array.isArray(a) && Array.isArray(b) && a.length === b.length && a.every((item, i) => isSame(item, b[i]));
  return changedFields(a as Fields, b as Fields).length === 0;
}
