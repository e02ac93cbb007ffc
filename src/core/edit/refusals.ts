/** Why an edit is refused, told from the side of the edit. */
import type { Problem, Thing } from "../format/problem.ts";
import type { Profiles } from "../format/profiles.ts";
import type { Show } from "../format/show.ts";
import type { OneEdit } from "./edit-kinds.ts";
import { ruleOf } from "./edit-rules.ts";

/** The first thing that the edit needs and nobody has; null where all is there. */
export function missing(show: Show, edit: OneEdit, all: Profiles): Problem | null {
  const lacks = ruleOf(edit)
    .needs?.(show, edit, all)
    .find((n) => !n.isThere);
  return lacks ? { code: "unknown-id", path: [], what: lacks.what, id: lacks.id } : null;
}

/** Removing something that other things stand on is told from the side of what was to be removed. */
export function inUse(problem: Problem, edit: OneEdit, next: Show): Problem {
  if (problem.code !== "unknown-id") return problem;
  const { path, what, id } = problem;
  const mapping = path[0] === "mappings" ? next.mappings[Number(path[1])] : undefined;
  const user = mapping
    ? { by: "mapping" as const, control: mapping.control, name: mapping.name }
    : { by: USERS[String(path[0])] ?? "mapping" };
  if (edit.kind === "put-desk-profile" || edit.kind === "put-surface-profile")
    // A profile lost something that a mapping stands on.
    return mapping ? { code: "in-use", path, what, id, ...user } : problem;
  const removed = ruleOf(edit).removes?.(edit);
  const isMeant = what === removed || (what === "surface-or-desk" && (removed === "surface" || removed === "desk"));
  return removed && isMeant ? { code: "in-use", path, what: removed, id, ...user } : problem;
}

const USERS: Readonly<Record<string, Thing>> = {
  surfaces: "surface",
  desks: "desk",
  layers: "layer",
  groups: "group",
  routes: "route",
};
