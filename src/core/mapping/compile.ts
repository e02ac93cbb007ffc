/**
 * A show and its profiles as flat tables, made once per edit. Per message the work depends on the actions
 * that fire, never on the number of mappings.
 *
 * Hot tables are typed arrays with one entry per control, mapping or action: ten thousand mappings as objects
 * spread over memory and cost a cache miss for each field that is read (bench row `core.scale`).
 */

import { type CompiledDesk, compileDesk } from "../desk/compile-desk.ts";
import { HOUSE } from "../format/givens.ts";
import { type Profiles, profilesWith } from "../format/profiles.ts";
import type { Show } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import { houseProfile } from "../house/house-profile.ts";
import { type CompiledSurface, compileSurface } from "../surface/compile-surface.ts";
import { expandBanks } from "../surface/internal-banks.ts";
import { withOwnNames } from "../surface/own-names.ts";
import { rangeControl } from "../surface/range-control.ts";
import type { ActionTable } from "./action-table.ts";
import type { CompiledAction } from "./compile-actions.ts";
import { type Feeds, feedsOf } from "./feeds.ts";
import { MappingIndexes } from "./mapping-indexes.ts";
import { type CompiledCondition, candidatesOf, clashesAmong, MappingTables } from "./mapping-tables.ts";
import { type CompiledRoute, compileRoutes } from "./routes.ts";
import { ShowIndexes } from "./show-indexes.ts";

export interface CompiledShow {
  readonly show: Show;
  /** The profiles that it was compiled with, beside its own. */
  readonly given: Profiles;
  readonly surfaces: readonly CompiledSurface[];
  readonly desks: readonly CompiledDesk[];
  /** Index of the house among the desks. */
  readonly house: number;
  readonly controlCount: number;
  readonly controlSurface: Int16Array;
  /** For control * GESTURES + gesture: the mappings that may hold, the most specific first. */
  readonly candidateStart: Int32Array;
  readonly candidates: Int32Array;
  /** For each mapping: its control among all of the show. */
  readonly mappingControl: Int32Array;
  /** The layers it holds in as bits, 0 = every layer. */
  readonly mappingLayers: Int32Array;
  readonly mappingPageDesk: Int16Array;
  readonly mappingPages: readonly (ReadonlySet<number> | null)[];
  /** JUMP, CATCH or CONVERGE. */
  readonly mappingTakeover: Uint8Array;
  readonly mappingOn: Uint8Array;
  /** The control that has to be held, among all of the show; -1 = none. */
  readonly mappingChord: Int32Array;
  readonly mappingWhen: readonly (readonly CompiledCondition[] | null)[];
  readonly mappingOrder: Uint8Array;
  /** The numbers of a mapping's sets in order, where it has more than one. */
  readonly mappingSets: readonly (readonly number[] | null)[];
  /** Its radio group, and the mappings of each group; -1 = none. */
  readonly mappingRadio: Int16Array;
  readonly radioGroups: readonly (readonly number[])[];
  readonly mappingHoldMs: Int32Array;
  readonly mappingDoubleMs: Int32Array;
  readonly mappingOf: MappingIndexes;
  /** Actions of mapping m: from actionStart[m] to actionStart[m + 1]. Those switched off are left out. */
  readonly actionStart: Int32Array;
  readonly actionBindings: Int32Array;
  readonly actionTable: ActionTable;
  readonly actions: readonly CompiledAction[];
  readonly layerOf: ReadonlyMap<string, number>;
  /** For each layer the controls it covers, among all of the show; null = all. */
  readonly layerCovers: readonly (ReadonlySet<number> | null)[];
  /** Controls of each group, among all of the show. */
  readonly groupControls: readonly (readonly number[])[];
  readonly feeds: Feeds;
  /** Controls that sleep, among all of the show. */
  readonly asleep: readonly number[];
  readonly routes: readonly CompiledRoute[];
  /** Controls whose press changes what others mean: those that chords and fine moves name. */
  readonly modifiers: ReadonlySet<number>;
  /** True where what holds, or what a number is, may change with a value of a desk or with a press. */
  readonly followsValues: boolean;
  /** Pairs of mappings that say the same: the first wins. */
  readonly clashes: readonly (readonly [number, number])[];
}

/** Compiles a show that `checkShow` has accepted. */
export function compileShow(show: Show, given: Profiles): CompiledShow {
  const profiles = profilesWith(given, show);
  const surfaces = compileSurfaces(show, profiles);
  const desks = compileDesks(show, profiles);
  const names = new ShowIndexes(show, surfaces, desks);
  const mappings = new MappingTables(show, names);
  show.mappings.forEach((m, i) => {
    mappings.add(m, i);
  });
  const tables = mappings.tables();
  const slots = candidatesOf(show.mappings, tables.mappingControl, names.controlCount);
  const { compiler } = mappings;
  const groups = show.groups ?? [];
  const groupControls = groups.map((g) => g.controls.map((c) => names.controlAt(g.surface, c)).filter((c) => c >= 0));
  const groupOf = new Map(groups.map((g, i) => [g.id, i]));
  return {
    show,
    given,
    surfaces,
    desks,
    house: names.deskIndex.get(HOUSE) ?? -1,
    controlCount: names.controlCount,
    controlSurface: controlSurfaces(surfaces, names.controlCount),
    ...tables,
    ...slots,
    clashes: clashesAmong(show.mappings, tables.mappingOn, slots),
    mappingOf: new MappingIndexes(show.mappings),
    actionBindings: compiler.bindings(),
    actionTable: compiler.table(),
    actions: compiler.actions,
    layerOf: names.layerOf,
    layerCovers: show.layers.map((l) =>
      l.group === undefined ? null : new Set(groupControls[groupOf.get(l.group) ?? -1] ?? []),
    ),
    groupControls,
    asleep: show.surfaces.flatMap((s) => (s.asleep ?? []).map((c) => names.controlAt(s.id, c)).filter((c) => c >= 0)),
    feeds: feedsOf(
      show.surfaces,
      desks.map((d) => d.desk),
    ),
    routes: compileRoutes(show.routes ?? [], names.surfaceIndex, names.deskIndex),
    modifiers: compiler.modifiers,
    followsValues: compiler.followsValues || compiler.modifiers.size > 0 || mappings.hasConditions,
  };
}

function compileSurfaces(show: Show, profiles: Profiles): CompiledSurface[] {
  const ranges = rangeControls(show);
  let controlCount = 0;
  return show.surfaces.map((s) => {
    const kind = profiles.surfaces.get(s.profile)!;
    const profile = withOwnNames(expandBanks(kind), s);
    const own = ranges.get(s.id);
    const whole = own ? { ...profile, controls: [...profile.controls, ...own] } : profile;
    const compiled = compileSurface(s, whole, controlCount, kind);
    controlCount += whole.controls.length;
    return compiled;
  });
}

/** The house comes last. */
function compileDesks(show: Show, profiles: Profiles): CompiledDesk[] {
  const desks = show.desks.map((d) => compileDesk(d, profiles.desks.get(d.profile)!));
  const house = profiles.desks.get(HOUSE);
  if (house) desks.push(compileDesk(houseDesk, houseProfile(house, show)));
  return desks;
}

function controlSurfaces(surfaces: readonly CompiledSurface[], count: number): Int16Array {
  const of = new Int16Array(count);
  surfaces.forEach((s, i) => {
    of.fill(i, s.firstControl, s.firstControl + s.profile.controls.length);
  });
  return of;
}

const houseDesk = { id: HOUSE, name: "House", profile: HOUSE, host: "inside", port: 1, listenPort: 1 };

/** Controls that mappings make for whole ranges of messages, by surface. Two mappings may share one. */
function rangeControls(show: Show): Map<string, Control[]> {
  const bySurface = new Map<string, Map<string, Control>>();
  for (const m of show.mappings) {
    if (!m.message) continue;
    const own = bySurface.get(m.surface) ?? new Map<string, Control>();
    bySurface.set(m.surface, own);
    if (!own.has(m.control)) own.set(m.control, rangeControl(m.control, m.message));
  }
  return new Map([...bySurface].map(([id, own]) => [id, [...own.values()]]));
}
