/**
 * Carries out edits (edit-kinds.ts): a pure function applies one, and answers with patches there and back, from which
 * undo, redo and history follow.
 */
import { applyPatches, enablePatches, type Patch, produceWithPatches } from "immer";
import { checkShow, type Profiles, profilesWith } from "./check.ts";
import type { ActionChange, Edit } from "./edit-kinds.ts";
import { inUse, missingTarget, unknownProfile } from "./edit-refusals.ts";
import { editLabel } from "./edit-words.ts";
import type { Problem } from "./problem.ts";
import { replaceDesk, replaceSurface } from "./replace.ts";
import type { Action, Desk, Show } from "./show.ts";

enablePatches();

export type EditResult =
  | { ok: true; show: Show; label: string; patches: Patch[]; inverse: Patch[] }
  | { ok: false; problems: Problem[] };

/** Applies one edit. A show that would not be valid afterwards is refused, and nothing has changed. */
export function applyEdit(show: Show, edit: Edit, profiles: Profiles): EditResult {
  const missing = missingTarget(show, edit);
  if (missing) return { ok: false, problems: [missing] };
  const all = profilesWith(profiles, show);
  const unknown = unknownProfile(edit, all);
  if (unknown) return { ok: false, problems: [unknown] };
  const [next, patches, inverse] = produceWithPatches(show, (draft) => change(draft, edit, all));
  const problems = checkShow(next, profiles).map((p) => inUse(p, edit, next));
  return problems.length > 0
    ? { ok: false, problems }
    : { ok: true, show: next, label: editLabel(edit, show), patches, inverse };
}

/** Applies patches that `applyEdit` gave, for undo and redo. */
export function applyShowPatches(show: Show, patches: Patch[]): Show {
  return applyPatches(show, patches);
}

function change(draft: Show, edit: Edit, profiles: Profiles): void {
  switch (edit.kind) {
    case "rename-show":
      draft.name = edit.name;
      return;
    case "set-middle-c":
      draft.settings.middleC = edit.middleC;
      return;
    case "add-surface":
      draft.surfaces.push(edit.surface);
      return;
    case "rename-surface":
      byId(draft.surfaces, edit.id).name = edit.name;
      return;
    case "set-surface-ports":
      Object.assign(byId(draft.surfaces, edit.id), { in: edit.in, out: edit.out });
      return;
    case "remove-surface":
      drop(draft.surfaces, edit.id);
      return;
    case "add-desk":
      draft.desks.push(edit.desk);
      return;
    case "rename-desk":
      byId(draft.desks, edit.id).name = edit.name;
      return;
    case "set-desk-address":
      setAddress(byId(draft.desks, edit.id), edit);
      return;
    case "set-desk-midi":
      byId(draft.desks, edit.id).midi = { in: edit.in, out: edit.out };
      return;
    case "replace-surface":
      replaceSurface(draft, edit.id, edit.profile, edit.becomes);
      return;
    case "replace-desk": {
      const old = profiles.desks.get(byId(draft.desks, edit.id).profile)!;
      replaceDesk(draft, edit.id, profiles.desks.get(edit.profile)!, old, edit.becomes);
      return;
    }
    case "set-desk-when-silent":
      byId(draft.desks, edit.id).whenSilent = edit.whenSilent;
      return;
    case "put-desk-profile":
      put(ownProfiles(draft).desks, edit.profile);
      return;
    case "put-surface-profile":
      put(ownProfiles(draft).surfaces, edit.profile);
      return;
    case "remove-desk-profile":
      drop(ownProfiles(draft).desks, edit.id);
      return;
    case "remove-surface-profile":
      drop(ownProfiles(draft).surfaces, edit.id);
      return;
    case "remove-desk":
      drop(draft.desks, edit.id);
      return;
    case "add-layer":
      draft.layers.push(edit.layer);
      return;
    case "set-times":
      draft.settings.times = edit.times;
      return;
    case "set-takeover":
      draft.settings.takeover = edit.takeover;
      return;
    case "put-layer":
      put(draft.layers, edit.item);
      return;
    case "put-group":
      draft.groups ??= [];
      put(draft.groups, edit.item);
      return;
    case "put-bank":
      draft.banks ??= [];
      put(draft.banks, edit.item);
      return;
    case "put-variable":
      draft.variables ??= [];
      put(draft.variables, edit.item);
      return;
    case "put-route":
      draft.routes ??= [];
      put(draft.routes, edit.item);
      return;
    case "put-session":
      draft.sessions ??= [];
      put(draft.sessions, edit.item);
      return;
    case "remove-part":
      drop((draft[edit.list] ?? []) as { id: string }[], edit.id);
      return;
    case "add-mapping":
      draft.mappings.push(edit.mapping);
      return;
    case "change-mapping":
      assign(byId(draft.mappings, edit.id), edit.set);
      return;
    case "remove-mapping":
      drop(draft.mappings, edit.id);
      return;
    case "add-action":
      byId(draft.mappings, edit.mapping).actions.push(edit.action);
      return;
    case "change-action":
      changeAction(byId(byId(draft.mappings, edit.mapping).actions, edit.id), edit.set);
      return;
    case "remove-action":
      drop(byId(draft.mappings, edit.mapping).actions, edit.id);
      return;
    default:
      edit satisfies never;
  }
}

function ownProfiles(draft: Show): NonNullable<Show["profiles"]> {
  draft.profiles ??= { surfaces: [], desks: [] };
  return draft.profiles;
}

function changeAction(action: Action, { shape, bindings, ...set }: ActionChange): void {
  // Another function has other parameters; with the same, the bindings that are given join those that stand.
  if (bindings) action.bindings = set.function === undefined ? { ...action.bindings, ...bindings } : bindings;
  assign(action, set);
  if (shape) assign(action.shape, shape);
}

/** Takes over what is given; null takes the field away. */
function assign(target: object, set: object): void {
  for (const [key, value] of Object.entries(set)) {
    if (value === null) delete (target as Record<string, unknown>)[key];
    else if (value !== undefined) (target as Record<string, unknown>)[key] = value;
  }
}

function put<T extends { id: string }>(list: T[], item: T): void {
  const at = list.findIndex((x) => x.id === item.id);
  if (at < 0) list.push(item);
  else list[at] = item;
}

function setAddress(
  desk: Desk,
  { kind: _kind, id: _id, ...address }: Extract<Edit, { kind: "set-desk-address" }>,
): void {
  assign(desk, { over: null, login: null, ...address });
}

function byId<T extends { id: string }>(list: T[], id: string): T {
  return list.find((item) => item.id === id)!;
}

function drop<T extends { id: string }>(list: T[], id: string): void {
  list.splice(
    list.findIndex((item) => item.id === id),
    1,
  );
}
