/** What each kind of edit is about and what it does to a draft of the show: one rule for each. */
import type { Thing } from "../format/problem.ts";
import type { Profiles } from "../format/profiles.ts";
import type { Action, Show } from "../format/show.ts";
import type { SurfaceProfile } from "../format/surface-profile.ts";
import { expandBanks } from "../surface/internal-banks.ts";
import { grown } from "../surface/learnt-control.ts";
import { type ActionChange, type OneEdit, PARTS, type PartList } from "./edit-kinds.ts";
import { keepOnly, putWords } from "./own-words.ts";
import { keepAsleep, replaceDesk, replaceSurface } from "./replace.ts";

type EditOf<K extends OneEdit["kind"]> = Extract<OneEdit, { kind: K }>;

/** Something that must be there for the edit to make sense. */
export interface Needed {
  readonly what: Thing;
  readonly id: string;
  readonly isThere: boolean;
}

interface EditRule<K extends OneEdit["kind"]> {
  /** What it acts on, the outer first; left out, nothing has to be there. `all`: the profiles that ship and the show's. */
  needs?(show: Show, edit: EditOf<K>, all: Profiles): readonly Needed[];
  /** What it takes away, so that whatever stands on that can be told from its side. */
  removes?(edit: EditOf<K>): Thing;
  change(draft: Show, edit: EditOf<K>, all: Profiles): void;
}

const needed = (list: readonly { id: string }[] | undefined, what: Thing, id: string): Needed => ({
  what,
  id,
  isThere: list?.some((x) => x.id === id) ?? false,
});
const aSurface = (show: Show, { id }: { id: string }) => [needed(show.surfaces, "surface", id)];
const aDesk = (show: Show, { id }: { id: string }) => [needed(show.desks, "desk", id)];
const aMapping = (show: Show, { id }: { id: string }) => [needed(show.mappings, "mapping", id)];
const anAction = (show: Show, { mapping, id }: { mapping: string; id: string }) => [
  needed(show.mappings, "mapping", mapping),
  needed(show.mappings.find((m) => m.id === mapping)?.actions, "action", id),
];

const ownSurfaceKind = (show: Show, { profile }: { profile: string }) => [
  needed(show.profiles?.surfaces, "surface-profile", profile),
];
const aControl = (show: Show, { profile, id }: { profile: string; id: string }) => [
  ...ownSurfaceKind(show, { profile }),
  needed(show.profiles?.surfaces.find((p) => p.id === profile)?.controls, "control", id),
];

/** Puts a part into its list: one of the lists that a show may lack. */
const putPart = <L extends PartList, K extends OneEdit["kind"]>(list: L) => ({
  change(draft: Show, { item }: EditOf<K> & { item: { id: string } }) {
    const parts: { id: string }[] = draft[list] ?? [];
    put(parts, item);
    Object.assign(draft, { [list]: parts });
  },
});

const EDIT_RULES: { readonly [K in OneEdit["kind"]]: EditRule<K> } = {
  "rename-show": {
    change(draft, { name }) {
      draft.name = name;
    },
  },
  "set-middle-c": {
    change(draft, { middleC }) {
      draft.settings.middleC = middleC;
    },
  },
  "set-times": {
    change(draft, { times }) {
      draft.settings.times = times;
    },
  },
  "set-takeover": {
    change(draft, { takeover }) {
      draft.settings.takeover = takeover;
    },
  },
  "add-surface": { change: (draft, { surface }) => void draft.surfaces.push(surface) },
  "rename-surface": {
    needs: aSurface,
    change(draft, { id, name }) {
      byId(draft.surfaces, id).name = name;
    },
  },
  "set-surface-ports": {
    needs: aSurface,
    change: (draft, { kind: _, id, ...ways }) => assign(byId(draft.surfaces, id), ways),
  },
  "set-asleep": {
    needs: aSurface,
    change(draft, { id, control, on }) {
      const others = (byId(draft.surfaces, id).asleep ?? []).filter((c) => c !== control);
      keepAsleep(byId(draft.surfaces, id), on ? [...others, control] : others);
    },
  },
  "name-control": {
    needs: (show, edit, all) => {
      const kind = show.surfaces.find((s) => s.id === edit.id)?.profile;
      const profile = kind === undefined ? undefined : all.surfaces.get(kind);
      const controls = profile ? expandBanks(profile).controls : [];
      return [
        ...aSurface(show, edit),
        { what: "control", id: edit.control, isThere: controls.some((c) => c.id === edit.control) },
      ];
    },
    change: (draft, { id, control, set }) => putWords(byId(draft.surfaces, id), "controls", control, set),
  },
  "replace-surface": {
    needs: (show, edit, all) => [
      ...aSurface(show, edit),
      { what: "surface-profile", id: edit.profile, isThere: all.surfaces.has(edit.profile) },
    ],
    change: (draft, { id, profile, becomes }) => replaceSurface(draft, id, profile, becomes),
  },
  "remove-surface": {
    needs: aSurface,
    removes: () => "surface",
    change: (draft, { id }) => drop(draft.surfaces, id),
  },
  "add-desk": { change: (draft, { desk }) => void draft.desks.push(desk) },
  "rename-desk": {
    needs: aDesk,
    change(draft, { id, name }) {
      byId(draft.desks, id).name = name;
    },
  },
  "set-desk-address": {
    needs: aDesk,
    // What is left out is taken away: it is as its kind has it by itself.
    change: (draft, { kind: _, id, ...address }) =>
      assign(byId(draft.desks, id), { over: null, login: null, ...address }),
  },
  "set-desk-midi": {
    needs: aDesk,
    change(draft, edit) {
      byId(draft.desks, edit.id).midi = { in: edit.in, out: edit.out };
    },
  },
  "set-desk-when-silent": {
    needs: aDesk,
    change(draft, { id, whenSilent }) {
      byId(draft.desks, id).whenSilent = whenSilent;
    },
  },
  "name-page": {
    needs: aDesk,
    change: (draft, { id, page, set }) => putWords(byId(draft.desks, id), "pages", String(page), set),
  },
  "replace-desk": {
    needs: (show, edit, all) => [
      ...aDesk(show, edit),
      { what: "desk-profile", id: edit.profile, isThere: all.desks.has(edit.profile) },
    ],
    change(draft, { id, profile, becomes }, all) {
      const old = all.desks.get(byId(draft.desks, id).profile)!;
      replaceDesk(draft, id, all.desks.get(profile)!, old, becomes);
    },
  },
  "remove-desk": { needs: aDesk, removes: () => "desk", change: (draft, { id }) => drop(draft.desks, id) },
  "put-desk-profile": { change: (draft, { profile }) => put(ownProfiles(draft).desks, profile) },
  "put-surface-profile": {
    change(draft, { profile }) {
      put(ownProfiles(draft).surfaces, profile);
      const controls = new Set(expandBanks(profile).controls.map((c) => c.id));
      for (const s of draft.surfaces) if (s.profile === profile.id) keepOnly(s, (c) => controls.has(c));
    },
  },
  "add-functions": {
    needs: (show, { profile }) => [needed(show.profiles?.desks, "desk-profile", profile)],
    change(draft, { profile, parameters, states, functions }) {
      const kind = byId(ownProfiles(draft).desks, profile);
      kind.parameters.push(...parameters);
      kind.states.push(...states);
      kind.functions.push(...functions);
    },
  },
  "add-control": {
    needs: ownSurfaceKind,
    change(draft, { profile, control }) {
      const kind = byId(ownProfiles(draft).surfaces, profile);
      kind.controls.push(control);
      grow(kind);
    },
  },
  "change-control": {
    needs: aControl,
    change(draft, { profile, id, set }) {
      const kind = byId(ownProfiles(draft).surfaces, profile);
      assign(byId(kind.controls, id), set);
      grow(kind);
    },
  },
  "remove-control": {
    needs: aControl,
    removes: () => "control",
    change(draft, { profile, id }) {
      drop(byId(ownProfiles(draft).surfaces, profile).controls, id);
      for (const s of draft.surfaces) if (s.profile === profile) keepOnly(s, (c) => c !== id);
    },
  },
  "change-surface-profile": {
    needs: (show, { id }) => ownSurfaceKind(show, { profile: id }),
    change: (draft, { id, set }) => assign(byId(ownProfiles(draft).surfaces, id), set),
  },
  "remove-desk-profile": {
    needs: (show, { id }) => [needed(show.profiles?.desks, "desk-profile", id)],
    removes: () => "desk-profile",
    change: (draft, { id }) => drop(ownProfiles(draft).desks, id),
  },
  "remove-surface-profile": {
    needs: (show, { id }) => [needed(show.profiles?.surfaces, "surface-profile", id)],
    removes: () => "surface-profile",
    change: (draft, { id }) => drop(ownProfiles(draft).surfaces, id),
  },
  "add-layer": { change: (draft, { layer }) => void draft.layers.push(layer) },
  "put-layer": putPart("layers"),
  "put-group": putPart("groups"),
  "put-bank": putPart("banks"),
  "put-variable": putPart("variables"),
  "put-bundle": putPart("bundles"),
  "put-route": putPart("routes"),
  "put-session": putPart("sessions"),
  "change-part": {
    needs: (show, { list, id }) => [needed(show[list], PARTS[list], id)],
    change: (draft, { list, id, set }) => assign(byId((draft[list] ?? []) as { id: string }[], id), set),
  },
  "remove-part": {
    needs: (show, { list, id }) => [needed(show[list], PARTS[list], id)],
    removes: ({ list }) => PARTS[list],
    change(draft, { list, id }) {
      drop((draft[list] ?? []) as { id: string }[], id);
      if (list === "bundles") for (const m of draft.mappings) if (m.bundle === id) delete m.bundle;
    },
  },
  "add-mapping": { change: (draft, { mapping }) => void draft.mappings.push(mapping) },
  "change-mapping": { needs: aMapping, change: (draft, { id, set }) => assign(byId(draft.mappings, id), set) },
  "remove-mapping": {
    needs: aMapping,
    removes: () => "mapping",
    change: (draft, { id }) => drop(draft.mappings, id),
  },
  "add-action": {
    needs: (show, { mapping }) => [needed(show.mappings, "mapping", mapping)],
    change: (draft, { mapping, action }) => void byId(draft.mappings, mapping).actions.push(action),
  },
  "change-action": {
    needs: anAction,
    change: (draft, { mapping, id, set }) => changeAction(byId(byId(draft.mappings, mapping).actions, id), set),
  },
  "remove-action": {
    needs: anAction,
    change: (draft, { mapping, id }) => drop(byId(draft.mappings, mapping).actions, id),
  },
  "move-action": {
    needs: (show, { mapping, id, before }) => [
      ...anAction(show, { mapping, id }),
      ...(before === null ? [] : anAction(show, { mapping, id: before }).slice(1)),
    ],
    change(draft, { mapping, id, before }) {
      const { actions } = byId(draft.mappings, mapping);
      if (before === id) return;
      const [action] = actions.splice(
        actions.findIndex((a) => a.id === id),
        1,
      );
      actions.splice(before === null ? actions.length : actions.findIndex((a) => a.id === before), 0, action!);
    },
  },
};

/** The rule of an edit, for whoever has the edit and not its kind. */
export function ruleOf<K extends OneEdit["kind"]>(edit: EditOf<K>): EditRule<K> {
  return EDIT_RULES[edit.kind] as unknown as EditRule<K>;
}

/** The board holds all of its controls. */
function grow(kind: SurfaceProfile): void {
  const { size } = grown(kind);
  if (size.width !== kind.size.width || size.height !== kind.size.height) kind.size = size;
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

function byId<T extends { id: string }>(list: T[], id: string): T {
  return list.find((item) => item.id === id)!;
}

function drop(list: { id: string }[], id: string): void {
  list.splice(
    list.findIndex((item) => item.id === id),
    1,
  );
}
