/** Why an edit is refused, told from the side of the edit. */
import type { Profiles } from "./check.ts";
import { type Edit, PARTS } from "./edit-kinds.ts";
import type { Problem } from "./problem.ts";
import type { Show } from "./show.ts";

/** What the edit is about and the show does not have. */
export function missingTarget(show: Show, edit: Edit): Problem | null {
  const missing = (what: string, id: string): Problem => ({ code: "unknown-id", path: [what], what, id });
  switch (edit.kind) {
    case "rename-surface":
    case "set-surface-ports":
    case "replace-surface":
    case "remove-surface":
      return show.surfaces.some((s) => s.id === edit.id) ? null : missing("surface", edit.id);
    case "rename-desk":
    case "set-desk-address":
    case "set-desk-midi":
    case "set-desk-when-silent":
    case "replace-desk":
    case "remove-desk":
      return show.desks.some((d) => d.id === edit.id) ? null : missing("desk", edit.id);
    case "remove-desk-profile":
      return show.profiles?.desks.some((p) => p.id === edit.id) ? null : missing("desk profile", edit.id);
    case "remove-surface-profile":
      return show.profiles?.surfaces.some((p) => p.id === edit.id) ? null : missing("surface profile", edit.id);
    case "remove-part": {
      const list: readonly { id: string }[] = show[edit.list] ?? [];
      return list.some((x) => x.id === edit.id) ? null : missing(PARTS[edit.list], edit.id);
    }
    case "change-mapping":
    case "remove-mapping":
      return show.mappings.some((m) => m.id === edit.id) ? null : missing("mapping", edit.id);
    case "add-action":
      return show.mappings.some((m) => m.id === edit.mapping) ? null : missing("mapping", edit.mapping);
    case "change-action":
    case "remove-action": {
      const mapping = show.mappings.find((m) => m.id === edit.mapping);
      if (!mapping) return missing("mapping", edit.mapping);
      return mapping.actions.some((a) => a.id === edit.id) ? null : missing("action", edit.id);
    }
    default:
      return null;
  }
}

/** A replacement by a profile that nobody has. */
export function unknownProfile(edit: Edit, profiles: Profiles): Problem | null {
  const side = edit.kind === "replace-surface" ? "surface" : edit.kind === "replace-desk" ? "desk" : null;
  if (!side || !("profile" in edit) || typeof edit.profile !== "string") return null;
  const known = side === "surface" ? profiles.surfaces.has(edit.profile) : profiles.desks.has(edit.profile);
  return known ? null : { code: "unknown-id", path: ["profile"], what: `${side} profile`, id: edit.profile };
}

/** Removing something that mappings stand on is told from the side of what was to be removed. */
export function inUse(problem: Problem, edit: Edit, next: Show): Problem {
  if (edit.kind === "put-desk-profile" || edit.kind === "put-surface-profile") return lost(problem, next);
  const removed =
    edit.kind === "remove-surface"
      ? "surface"
      : edit.kind === "remove-desk"
        ? "desk"
        : edit.kind === "remove-mapping"
          ? "mapping"
          : edit.kind === "remove-desk-profile"
            ? "desk profile"
            : edit.kind === "remove-surface-profile"
              ? "surface profile"
              : edit.kind === "remove-part"
                ? PARTS[edit.list]
                : null;
  if (
    !removed ||
    problem.code !== "unknown-id" ||
    (problem.what !== removed && problem.what !== `surface or ${removed}`)
  )
    return problem;
  const by = USERS[String(problem.path[0])] ?? "a mapping";
  return { code: "in-use", path: problem.path, what: removed, id: problem.id, by };
}

/** A profile lost something that a mapping stands on. */
function lost(problem: Problem, show: Show): Problem {
  const mapping = problem.path[0] === "mappings" ? show.mappings[Number(problem.path[1])] : undefined;
  if (problem.code !== "unknown-id" || !mapping) return problem;
  const by = `the mapping of ${mapping.control}${mapping.name ? ` “${mapping.name}”` : ""}`;
  return { code: "in-use", path: problem.path, what: problem.what, id: problem.id, by };
}

const USERS: Record<string, string> = {
  surfaces: "a surface",
  desks: "a desk",
  layers: "a layer",
  groups: "a group",
  routes: "a route",
};
