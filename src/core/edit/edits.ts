/**
 * Carries out edits (edit-kinds.ts, edit-rules.ts): a pure function applies one, and answers with patches there and back,
 * from which undo, redo and history follow.
 */
import { enablePatches, type Patch, produceWithPatches } from "immer";
import type { Problem } from "../format/problem.ts";
import { type Profiles, profilesWith } from "../format/profiles.ts";
import type { Show } from "../format/show.ts";
import { checkShow } from "./check-show.ts";
import type { Edit, OneEdit } from "./edit-kinds.ts";
import { ruleOf } from "./edit-rules.ts";
import { changeMappings, isOfMapping } from "./mapping-edits.ts";
import { patched } from "./patched.ts";
import { inUse, missing } from "./refusals.ts";
import { shortPatches } from "./short-patches.ts";

enablePatches();

export type EditResult =
  | { ok: true; show: Show; patches: Patch[]; inverse: Patch[] }
  /** `refused`: the show as it would have been, which the places of the problems lead into. */
  | { ok: false; problems: Problem[]; refused: Show };

/** Applies an edit. A show that would not be valid afterwards is refused, and nothing has changed. */
export function applyEdit(show: Show, edit: Edit, profiles: Profiles): EditResult {
  const steps = edit.kind === "together" ? edit.edits : [edit];
  let next = show;
  const patches: Patch[] = [];
  const inverse: Patch[] = [];
  for (const run of runsOf(steps)) {
    const all = profilesWith(profiles, next); // a step may stand on what the one before it brought
    const [step] = run;
    if (isOfMapping(step)) {
      const made = changeMappings(next, run, all);
      if ("lacks" in made) return { ok: false, problems: [made.lacks], refused: show };
      next = made.show;
      patches.push(...made.patches);
      inverse.unshift(...made.inverse);
      continue;
    }
    const lacks = missing(next, step, all);
    if (lacks) return { ok: false, problems: [lacks], refused: show };
    const [then, there, back] = produceWithPatches(next, (draft) => ruleOf(step).change(draft, step, all));
    next = then;
    patches.push(...there);
    inverse.unshift(...back);
  }
  const problems = checkShow(next, profiles).map((p) => steps.reduce((told, step) => inUse(told, step, next), p));
  if (problems.length > 0) return { ok: false, problems, refused: next };
  return { ok: true, show: next, ...shortPatches(show, next, patches, inverse) };
}

/** Steps one after the other that are all of mappings are carried out together, others each alone. */
function runsOf(steps: readonly OneEdit[]): [OneEdit, ...OneEdit[]][] {
  const runs: [OneEdit, ...OneEdit[]][] = [];
  for (const step of steps) {
    const last = runs.at(-1);
    if (last && isOfMapping(last[0]) && isOfMapping(step)) last.push(step);
    else runs.push([step]);
  }
  return runs;
}

/** Applies stored patches to a document as it was stored, for undo and redo. What comes out may be anything: read it. */
export function applyStoredPatches(document: object, patches: Patch[]): unknown {
  return patched(document, patches);
}
