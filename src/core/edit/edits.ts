/**
 * Carries out edits (edit-kinds.ts, edit-rules.ts): a pure function applies one, and answers with patches there and back,
 * from which undo, redo and history follow.
 */
import { applyPatches, enablePatches, type Patch, produceWithPatches } from "immer";
import type { Problem } from "../format/problem.ts";
import { type Profiles, profilesWith } from "../format/profiles.ts";
import type { Show } from "../format/show.ts";
import { checkShow } from "./check-show.ts";
import type { Edit } from "./edit-kinds.ts";
import { ruleOf } from "./edit-rules.ts";
import { inUse, missing } from "./refusals.ts";
import { shortPatches } from "./short-patches.ts";

enablePatches();

export type EditResult =
  | { ok: true; show: Show; patches: Patch[]; inverse: Patch[] }
  /** `refused`: the show as it would have been, which the places of the problems lead into. */
  | { ok: false; problems: Problem[]; refused: Show };

/** Applies one edit. A show that would not be valid afterwards is refused, and nothing has changed. */
export function applyEdit(show: Show, edit: Edit, profiles: Profiles): EditResult {
  const all = profilesWith(profiles, show);
  const lacks = missing(show, edit, all);
  if (lacks) return { ok: false, problems: [lacks], refused: show };
  const [next, patches, inverse] = produceWithPatches(show, (draft) => ruleOf(edit).change(draft, edit, all));
  const problems = checkShow(next, profiles).map((p) => inUse(p, edit, next));
  if (problems.length > 0) return { ok: false, problems, refused: next };
  return { ok: true, show: next, ...shortPatches(show, next, patches, inverse) };
}

/** Applies stored patches to a document as it was stored, for undo and redo. What comes out may be anything: read it. */
export function applyStoredPatches(document: object, patches: Patch[]): unknown {
  return applyPatches(document, patches);
}
