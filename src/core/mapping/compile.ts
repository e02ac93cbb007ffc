/**
 * A show and its profiles as flat tables, made once per edit. Per message the work depends on the actions
 * that fire, never on the number of mappings.
 *
 * Hot tables are typed arrays with one entry per control, mapping or action: ten thousand mappings as objects
 * spread over memory and cost a cache miss for each field that is read (bench row `core.scale`).
 */
import { type CompiledDesk, compileDesk } from "../desk/compile-desk.ts";
import { type Profiles, profilesWith } from "../show/check.ts";
import { HOUSE } from "../show/ids.ts";
import type { Mapping, Show } from "../show/show.ts";
import type { Control } from "../show/surface-profile.ts";
import { type CompiledSurface, compileSurface } from "../surface/compile-surface.ts";
import { expandBanks } from "../surface/internal-banks.ts";
import { rangeControl } from "../surface/range-control.ts";
import type { ActionTable } from "./action-table.ts";
import { fixedStateIndex } from "./bindings.ts";
import { ActionCompiler, type CompiledAction } from "./compile-actions.ts";
import { GESTURE_OF, GESTURES } from "./gestures.ts";
import { houseProfile } from "./house-profile.ts";
import { type CompiledRoute, compileRoutes } from "./routes.ts";

export const JUMP = 0;
export const CATCH = 1;
export const CONVERGE = 2;
const TAKEOVERS = { jump: JUMP, catch: CATCH, converge: CONVERGE } as const;

export const ALL = 0;
export const IN_TURN = 1;
export const IN_TURN_STOP = 2;
export const RANDOM = 3;
const ORDERS = { all: ALL, "in-turn": IN_TURN, "in-turn-stop": IN_TURN_STOP, random: RANDOM } as const;

export const DEFAULT_HOLD_MS = 400;
export const DEFAULT_DOUBLE_MS = 250;

export interface CompiledCondition {
  readonly desk: number;
  readonly index: number;
  readonly from: number;
  readonly to: number;
}

export interface CompiledShow {
  readonly show: Show;
  readonly surfaces: readonly CompiledSurface[];
  readonly desks: readonly CompiledDesk[];
  /** Place of the house among the desks. */
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
  readonly mappingOf: ReadonlyMap<string, number>;
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
  const surfaces: CompiledSurface[] = [];
  const ranges = rangeControls(show);
  let controlCount = 0;
  for (const s of show.surfaces) {
    const kind = profiles.surfaces.get(s.profile)!;
    const profile = expandBanks(kind);
    const own = ranges.get(s.id);
    const whole = own ? { ...profile, controls: [...profile.controls, ...own] } : profile;
    const compiled = compileSurface(s, whole, controlCount, kind);
    surfaces.push(compiled);
    controlCount += whole.controls.length;
  }
  const controlSurface = new Int16Array(controlCount);
  surfaces.forEach((s, i) => {
    controlSurface.fill(i, s.firstControl, s.firstControl + s.profile.controls.length);
  });
  const motors = new Set<number>();
  for (const s of surfaces)
    s.profile.controls.forEach((c, i) => {
      if (c.motor) motors.add(s.firstControl + i);
    });
  const desks = show.desks.map((d) => compileDesk(d, profiles.desks.get(d.profile)!));
  const house = profiles.desks.get(HOUSE);
  if (house) desks.push(compileDesk(houseDesk, houseProfile(house, show)));

  const surfaceIndex = new Map(surfaces.map((s, i) => [s.id, i]));
  const deskIndex = new Map(desks.map((d, i) => [d.id, i]));
  const layerOf = new Map(show.layers.map((l, i) => [l.id, i]));
  const mappingOf = new Map(show.mappings.map((m, i) => [m.id, i]));
  const controlAt = (surface: string, control: string) => {
    const s = surfaces[surfaceIndex.get(surface)!];
    const own = s?.indexOf.get(control);
    return s && own !== undefined ? s.firstControl + own : -1;
  };
  const count = show.mappings.length;
  const mappingControl = new Int32Array(count);
  const mappingLayers = new Int32Array(count);
  const mappingPageDesk = new Int16Array(count).fill(-1);
  const mappingPages = new Array<ReadonlySet<number> | null>(count).fill(null);
  const mappingTakeover = new Uint8Array(count);
  const mappingOn = new Uint8Array(count);
  const mappingChord = new Int32Array(count).fill(-1);
  const mappingWhen = new Array<readonly CompiledCondition[] | null>(count).fill(null);
  const mappingOrder = new Uint8Array(count);
  const mappingSets = new Array<readonly number[] | null>(count).fill(null);
  const mappingRadio = new Int16Array(count).fill(-1);
  const mappingHoldMs = new Int32Array(count);
  const mappingDoubleMs = new Int32Array(count);
  const radioOf = new Map<string, number>();
  const radioGroups: number[][] = [];
  const compiler = new ActionCompiler({ show, desks, deskIndex, mappingOf, controlAt });
  const { actions, modifiers } = compiler;
  const actionStart = new Int32Array(count + 1);
  const slots: number[][] = Array.from({ length: controlCount * GESTURES }, () => []);
  const said = new Map<string, number>();
  const clashes: [number, number][] = [];

  show.mappings.forEach((m, i) => {
    const control = controlAt(m.surface, m.control);
    mappingControl[i] = control;
    for (const layer of m.layers) mappingLayers[i]! |= 1 << layerOf.get(layer)!;
    if (m.pages) {
      mappingPageDesk[i] = deskIndex.get(m.pages.desk)!;
      mappingPages[i] = new Set(m.pages.in);
    }
    // A motor has already gone where the level is (rule 9).
    mappingTakeover[i] = control >= 0 && motors.has(control) ? JUMP : TAKEOVERS[m.takeover];
    mappingOn[i] = m.on ? 1 : 0;
    if (m.whileHeld) {
      mappingChord[i] = controlAt(m.whileHeld.surface, m.whileHeld.control);
      modifiers.add(mappingChord[i]!);
    }
    mappingWhen[i] =
      m.when?.map((c) => {
        const desk = deskIndex.get(c.desk)!;
        return { desk, index: fixedStateIndex(desks[desk]!, c.state, c.parameters), from: c.from, to: c.to };
      }) ?? null;
    mappingOrder[i] = ORDERS[m.order ?? "all"];
    mappingHoldMs[i] = m.times?.holdMs ?? show.settings.times?.holdMs ?? DEFAULT_HOLD_MS;
    mappingDoubleMs[i] = m.times?.doubleMs ?? show.settings.times?.doubleMs ?? DEFAULT_DOUBLE_MS;
    if (m.radio !== undefined) {
      let group = radioOf.get(m.radio);
      if (group === undefined) {
        group = radioGroups.push([]) - 1;
        radioOf.set(m.radio, group);
      }
      mappingRadio[i] = group;
      radioGroups[group]!.push(i);
    }
    slots[control * GESTURES + GESTURE_OF[m.gesture]]!.push(i);
    const key = identity(m);
    const first = said.get(key);
    if (first === undefined) said.set(key, i);
    else clashes.push([first, i]);
    actionStart[i] = actions.length;
    let place = 0;
    for (const action of m.actions) {
      if (action.on) compiler.add(action, i, place++);
    }
    if (m.order !== undefined && m.order !== "all") {
      const sets = new Set(m.actions.filter((a) => a.on).map((a) => a.set ?? 1));
      mappingSets[i] = [...sets].sort((a, b) => a - b);
    }
  });
  actionStart[count] = actions.length;

  const candidateStart = new Int32Array(slots.length + 1);
  const candidates = new Int32Array(count);
  let at = 0;
  slots.forEach((slot, k) => {
    candidateStart[k] = at;
    // Array.sort is stable: among equally specific mappings the first in the show stays first (rule 12).
    if (slot.length > 1) slot.sort((a, b) => specificity(show.mappings[b]!) - specificity(show.mappings[a]!));
    for (const m of slot) candidates[at++] = m;
  });
  candidateStart[slots.length] = at;

  const groups = show.groups ?? [];
  const groupControls = groups.map((g) => g.controls.map((c) => controlAt(g.surface, c)).filter((c) => c >= 0));
  const groupOf = new Map(groups.map((g, i) => [g.id, i]));
  return {
    show,
    surfaces,
    desks,
    house: deskIndex.get(HOUSE) ?? -1,
    controlCount,
    controlSurface,
    candidateStart,
    candidates,
    mappingControl,
    mappingLayers,
    mappingPageDesk,
    mappingPages,
    mappingTakeover,
    mappingOn,
    mappingChord,
    mappingWhen,
    mappingOrder,
    mappingSets,
    mappingRadio,
    radioGroups,
    mappingHoldMs,
    mappingDoubleMs,
    mappingOf,
    actionStart,
    actionBindings: compiler.bindings(),
    actionTable: compiler.table(),
    actions,
    layerOf,
    layerCovers: show.layers.map((l) =>
      l.group === undefined ? null : new Set(groupControls[groupOf.get(l.group) ?? -1] ?? []),
    ),
    groupControls,
    routes: compileRoutes(show.routes ?? [], surfaceIndex, deskIndex),
    modifiers,
    followsValues: compiler.followsValues || modifiers.size > 0 || mappingWhen.some((w) => w !== null),
    clashes,
  };
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

/** A mapping for one layer, page, condition or chord goes before one that holds more widely. */
function specificity(m: Mapping): number {
  return (m.whileHeld ? 8 : 0) + (m.when ? 4 : 0) + (m.layers.length > 0 ? 2 : 0) + (m.pages ? 1 : 0);
}

function identity(m: Mapping): string {
  let key = `${m.surface} ${m.control} ${m.gesture}`;
  if (m.layers.length > 0) key += ` layers ${[...m.layers].sort().join(",")}`;
  if (m.pages) key += ` pages ${m.pages.desk} ${[...m.pages.in].sort((a, b) => a - b).join(",")}`;
  if (m.whileHeld) key += ` with ${m.whileHeld.surface} ${m.whileHeld.control}`;
  if (m.when) key += ` when ${JSON.stringify(m.when)}`;
  return key;
}
