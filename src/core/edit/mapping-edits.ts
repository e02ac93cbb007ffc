/**
 * Edits of mappings, of which one may bring thousands: each is carried out on its own mapping in a list that is copied
 * once. A draft of the whole show goes through all mappings at every step, and through all behind one that is removed.
 */
import { type Patch, produceWithPatches } from "immer";
import type { Problem } from "../format/problem.ts";
import type { Profiles } from "../format/profiles.ts";
import type { Show } from "../format/show.ts";
import type { OneEdit } from "./edit-kinds.ts";
import { ruleOf } from "./edit-rules.ts";
import { missing } from "./refusals.ts";

type List = Show["mappings"];

/** The mapping that an edit is of, by its id; null where it adds one, undefined where it is of something else. */
function mappingOf(edit: OneEdit): string | null | undefined {
  switch (edit.kind) {
    case "add-mapping":
      return null;
    case "change-mapping":
    case "remove-mapping":
      return edit.id;
    case "add-action":
    case "change-action":
    case "remove-action":
    case "move-action":
      return edit.mapping;
    default:
      return undefined;
  }
}

export const isOfMapping = (edit: OneEdit) => mappingOf(edit) !== undefined;

export type Run =
  | { readonly show: Show; readonly patches: Patch[] /** The last step first. */; readonly inverse: Patch[] }
  | { readonly lacks: Problem };

/** Carries out edits that are all of mappings. */
export function changeMappings(show: Show, edits: readonly OneEdit[], all: Profiles): Run {
  const list: List = [...show.mappings];
  const patches: Patch[] = [];
  const back: Patch[][] = [];
  for (const edit of edits) {
    const id = mappingOf(edit);
    const at = id === null ? -1 : list.findIndex((m) => m.id === id);
    const one = list[at];
    const lacks = missing({ ...show, mappings: one ? [one] : [] }, edit, all);
    if (lacks) return { lacks };
    if (edit.kind === "add-mapping") {
      patches.push({ op: "add", path: ["mappings", list.length], value: edit.mapping });
      back.push([{ op: "remove", path: ["mappings", list.length] }]);
      list.push(edit.mapping);
    } else if (edit.kind === "remove-mapping") {
      patches.push({ op: "remove", path: ["mappings", at] });
      back.push([{ op: "add", path: ["mappings", at], value: one }]);
      list.splice(at, 1);
    } else {
      const alone = { ...show, mappings: [one!] };
      const [next, there, then] = produceWithPatches(alone, (draft) => ruleOf(edit).change(draft, edit, all));
      list[at] = next.mappings[0]!;
      const placed = (p: Patch): Patch => ({ ...p, path: ["mappings", at, ...p.path.slice(2)] });
      patches.push(...there.map(placed));
      back.push(then.map(placed));
    }
  }
  return { show: { ...show, mappings: list }, patches, inverse: back.reverse().flat() };
}
