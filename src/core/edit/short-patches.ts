/**
 * Patches of an edit that took a mapping out of the middle of a long list, or put one in: immer tells each mapping behind it
 * anew, which may be twenty thousand. What came and went between those that stayed says the same.
 */
import type { Patch } from "immer";
import type { Show } from "../format/show.ts";

/** So few patches are short already. */
const SHORT = 16;

type List = Show["mappings"];

/** The patches there and back of `before` becoming `after`, as few as it takes for the list of mappings. */
export function shortPatches(
  before: Show,
  after: Show,
  patches: Patch[],
  inverse: Patch[],
): { patches: Patch[]; inverse: Patch[] } {
  const shorter = (list: Patch[], from: List, to: List) => {
    if (list.length <= SHORT) return list;
    const short = [...list.filter(({ path }) => path[0] !== "mappings"), ...steps(from, to)];
    return short.length < list.length ? short : list; // changes that lie far from each other
  };
  return {
    patches: shorter(patches, before.mappings, after.mappings),
    inverse: shorter(inverse, after.mappings, before.mappings),
  };
}

/** What leads from one list to the other: what lies between their common beginning and their common end. */
function steps(from: List, to: List): Patch[] {
  const shorter = Math.min(from.length, to.length);
  let first = 0;
  while (first < shorter && from[first] === to[first]) first++;
  let last = 0;
  while (last < shorter - first && from.at(-1 - last) === to.at(-1 - last)) last++;
  const gone = from.length - first - last;
  const come = to.slice(first, to.length - last);
  return [
    ...Array.from({ length: gone }, (): Patch => ({ op: "remove", path: ["mappings", first] })),
    ...come.map((value, i): Patch => ({ op: "add", path: ["mappings", first + i], value })),
  ];
}
