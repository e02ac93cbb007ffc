/**
 * What an edit writes, as paths from the thing down to its field: "mapping m-1 name". Two edits are of one thing where the
 * path of one begins with that of the other. What only adds something is in nobody's way.
 */
import type { Edit, OneEdit } from "./edit-kinds.ts";

export type Path = readonly string[];

export function touchedBy(edit: Edit): Path[] {
  return edit.kind === "together" ? edit.edits.flatMap(touchedByOne) : touchedByOne(edit);
}

/** True where both write the same thing, or one a part of what the other writes as a whole. */
export function areOfOneThing(one: readonly Path[], other: readonly Path[]): boolean {
  if (one.length === 0 || other.length === 0) return false;
  // Edits of thousands are compared with edits of thousands: only what is of one thing is looked at closely.
  const byThing = new Map<string, Path[]>();
  for (const path of one) {
    const paths = byThing.get(thingOf(path));
    if (paths) paths.push(path);
    else byThing.set(thingOf(path), [path]);
  }
  return other.some((b) => byThing.get(thingOf(b))?.some((a) => begins(a, b) || begins(b, a)) ?? false);
}

/** Every path begins with what kind of thing it is of, and which. */
function thingOf(path: Path): string {
  return `${path[0]} ${path[1]}`;
}

function begins(path: Path, head: Path): boolean {
  return head.every((part, i) => path[i] === part);
}

function touchedByOne(edit: OneEdit): Path[] {
  const fields = (of: Path, set: object) => Object.keys(set).map((key) => [...of, key]);
  switch (edit.kind) {
    case "rename-show":
      return [["show", "name"]];
    case "set-middle-c":
      return [["show", "middle-c"]];
    case "set-times":
      return fields(["show", "times"], edit.times);
    case "set-takeover":
      return [["show", "takeover"]];
    case "rename-surface":
      return [["surface", edit.id, "name"]];
    case "set-surface-ports":
      return [...(edit.in ? [["surface", edit.id, "in"]] : []), ...(edit.out ? [["surface", edit.id, "out"]] : [])];
    case "set-asleep":
      return [["surface", edit.id, "asleep", edit.control]];
    case "name-control":
      return fields(["surface", edit.id, "control", edit.control], edit.set);
    case "name-page":
      return fields(["desk", edit.id, "page", String(edit.page)], edit.set);
    case "remove-surface":
    case "replace-surface":
      return [["surface", edit.id]];
    case "rename-desk":
      return [["desk", edit.id, "name"]];
    case "set-desk-address":
    case "set-desk-midi":
      return [["desk", edit.id, "address"]];
    case "set-desk-when-silent":
      return [["desk", edit.id, "when-silent"]];
    case "remove-desk":
    case "replace-desk":
      return [["desk", edit.id]];
    case "put-desk-profile":
      return [["desk-profile", edit.profile.id]];
    case "remove-desk-profile":
      return [["desk-profile", edit.id]];
    case "put-surface-profile":
      return [["surface-profile", edit.profile.id]];
    case "remove-surface-profile":
      return [["surface-profile", edit.id]];
    case "change-control":
      return fields(["surface-profile", edit.profile, "control", edit.id], edit.set);
    case "remove-control":
      return [["surface-profile", edit.profile, "control", edit.id]];
    case "change-surface-profile":
      return fields(["surface-profile", edit.id], edit.set);
    case "put-layer":
      return [["layers", edit.item.id]];
    case "put-group":
      return [["groups", edit.item.id]];
    case "put-bank":
      return [["banks", edit.item.id]];
    case "put-variable":
      return [["variables", edit.item.id]];
    case "put-bundle":
      return [["bundles", edit.item.id]];
    case "put-route":
      return [["routes", edit.item.id]];
    case "put-session":
      return [["sessions", edit.item.id]];
    case "change-part":
      return fields([edit.list, edit.id], edit.set);
    case "remove-part":
      return [[edit.list, edit.id]];
    case "change-mapping":
      return fields(["mapping", edit.id], edit.set);
    case "remove-mapping":
      return [["mapping", edit.id]];
    case "change-action": {
      const { shape, ...set } = edit.set;
      const action = ["mapping", edit.mapping, "action", edit.id];
      return [...fields(action, set), ...fields([...action, "shape"], shape ?? {})];
    }
    case "remove-action":
      return [["mapping", edit.mapping, "action", edit.id]];
    case "move-action":
      return [["mapping", edit.mapping, "action", edit.id, "place"]];
    case "add-surface":
    case "add-desk":
    case "add-functions":
    case "add-control":
    case "add-layer":
    case "add-mapping":
    case "add-action":
      return [];
    default:
      return edit satisfies never;
  }
}
