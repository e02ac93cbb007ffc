/**
 * A show and its profiles as flat tables, made once per edit. Per message the work depends on the actions
 * that fire, never on the number of mappings.
 *
 * Hot tables are typed arrays with one entry per control, mapping or action: ten thousand mappings as objects
 * spread over memory and cost a cache miss for each field that is read (bench row `core.scale`).
 */
import { type CompiledDesk, type CompiledFunction, compileDesk } from "../desk/compile-desk.ts";
import { compileShape } from "../shape/linear.ts";
import { HOUSE, type Profiles } from "../show/check.ts";
import type { Acts } from "../show/desk-profile.ts";
import type { Action, Mapping, Show } from "../show/show.ts";
import { type CompiledSurface, compileSurface } from "../surface/compile-surface.ts";
import { ActionTable } from "./action-table.ts";

export const PRESS = 0;
export const MOVE = 1;
/** Gestures a control can have: the stride of the tables by control and gesture. */
export const GESTURES = 2;

export const ACTS: Record<Acts, number> = { level: 0, trigger: 1, toggle: 2, flash: 3 };
export const LEVEL = 0;
export const TRIGGER = 1;
export const TOGGLE = 2;
export const FLASH = 3;

/** A binding to the page that is up, in the table of bindings. */
export const FROM_PAGE = -0x8000_0000;
/** Parameters a function can have: the stride of the table of bindings. */
export const MAX_PARAMETERS = 3;

export interface CompiledAction {
  readonly action: Action;
  readonly mapping: number;
  readonly desk: CompiledDesk;
  readonly fn: CompiledFunction;
}

export interface CompiledShow {
  readonly show: Show;
  readonly surfaces: readonly CompiledSurface[];
  readonly desks: readonly CompiledDesk[];
  readonly controlCount: number;
  readonly controlSurface: Int16Array;
  /** For control * GESTURES + gesture: the mappings that may hold, the most specific first. */
  readonly candidateStart: Int32Array;
  readonly candidates: Int32Array;
  /** For each mapping: the layers it holds in as bits, 0 = every layer. */
  readonly mappingLayers: Int32Array;
  readonly mappingPageDesk: Int16Array;
  readonly mappingPages: readonly (ReadonlySet<number> | null)[];
  readonly mappingCatches: Uint8Array;
  readonly mappingOn: Uint8Array;
  /** Actions of mapping m: from actionStart[m] to actionStart[m + 1]. Those switched off are left out. */
  readonly actionStart: Int32Array;
  readonly actionBindings: Int32Array;
  readonly actionTable: ActionTable;
  readonly actions: readonly CompiledAction[];
  readonly layerOf: ReadonlyMap<string, number>;
  /** Pairs of mappings that say the same: the first wins. */
  readonly clashes: readonly (readonly [number, number])[];
}

/** Compiles a show that `checkShow` has accepted. */
export function compileShow(show: Show, profiles: Profiles): CompiledShow {
  const surfaces: CompiledSurface[] = [];
  let controlCount = 0;
  for (const s of show.surfaces) {
    const compiled = compileSurface(s, profiles.surfaces.get(s.profile)!, controlCount);
    surfaces.push(compiled);
    controlCount += compiled.profile.controls.length;
  }
  const controlSurface = new Int16Array(controlCount);
  surfaces.forEach((s, i) => {
    controlSurface.fill(i, s.firstControl, s.firstControl + s.profile.controls.length);
  });
  const desks = show.desks.map((d) => compileDesk(d, profiles.desks.get(d.profile)!));
  const house = profiles.desks.get(HOUSE);
  if (house) desks.push(compileDesk(houseDesk, house));

  const surfaceIndex = new Map(surfaces.map((s, i) => [s.id, i]));
  const deskIndex = new Map(desks.map((d, i) => [d.id, i]));
  const layerOf = new Map(show.layers.map((l, i) => [l.id, i]));
  const count = show.mappings.length;
  const mappingLayers = new Int32Array(count);
  const mappingPageDesk = new Int16Array(count).fill(-1);
  const mappingPages = new Array<ReadonlySet<number> | null>(count).fill(null);
  const mappingCatches = new Uint8Array(count);
  const mappingOn = new Uint8Array(count);
  const actionStart = new Int32Array(count + 1);
  const actions: CompiledAction[] = [];
  const slots: number[][] = Array.from({ length: controlCount * GESTURES }, () => []);
  const said = new Map<string, number>();
  const clashes: [number, number][] = [];

  show.mappings.forEach((m, i) => {
    const surface = surfaces[surfaceIndex.get(m.surface)!]!;
    const control = surface.firstControl + surface.indexOf.get(m.control)!;
    for (const layer of m.layers) mappingLayers[i]! |= 1 << layerOf.get(layer)!;
    if (m.pages) {
      mappingPageDesk[i] = deskIndex.get(m.pages.desk)!;
      mappingPages[i] = new Set(m.pages.in);
    }
    mappingCatches[i] = m.takeover === "catch" ? 1 : 0;
    mappingOn[i] = m.on ? 1 : 0;
    slots[control * GESTURES + (m.gesture === "press" ? PRESS : MOVE)]!.push(i);
    const key = identity(m);
    const first = said.get(key);
    if (first === undefined) said.set(key, i);
    else clashes.push([first, i]);
    actionStart[i] = actions.length;
    for (const action of m.actions) {
      if (!action.on) continue;
      const desk = desks[deskIndex.get(action.desk)!]!;
      actions.push({ action, mapping: i, desk, fn: desk.functions.get(action.function)! });
    }
  });
  actionStart[count] = actions.length;

  const candidateStart = new Int32Array(slots.length + 1);
  const candidates = new Int32Array(count);
  let at = 0;
  slots.forEach((slot, k) => {
    candidateStart[k] = at;
    // Array.sort is stable: among equally specific mappings the first in the show stays first (rule 12).
    slot.sort((a, b) => specificity(show.mappings[b]!) - specificity(show.mappings[a]!));
    for (const m of slot) candidates[at++] = m;
  });
  candidateStart[slots.length] = at;

  return {
    show,
    surfaces,
    desks,
    controlCount,
    controlSurface,
    candidateStart,
    candidates,
    mappingLayers,
    mappingPageDesk,
    mappingPages,
    mappingCatches,
    mappingOn,
    actionStart,
    actionBindings: compileBindings(actions),
    actionTable: tableOf(actions, deskIndex, actionStart),
    actions,
    layerOf,
    clashes,
  };
}

const houseDesk = { id: HOUSE, name: "House", profile: HOUSE, host: "inside", port: 1, listenPort: 1 };

/** A mapping for one layer or page goes before one for every layer or page. */
function specificity(m: Mapping): number {
  return (m.layers.length > 0 ? 2 : 0) + (m.pages ? 1 : 0);
}

function identity(m: Mapping): string {
  const pages = m.pages ? `${m.pages.desk} ${[...m.pages.in].sort((a, b) => a - b).join(",")}` : "";
  return `${m.surface} ${m.control} ${m.gesture} ${[...m.layers].sort().join(",")} | ${pages}`;
}

function tableOf(
  actions: readonly CompiledAction[],
  deskIndex: ReadonlyMap<string, number>,
  actionStart: Int32Array,
): ActionTable {
  const table = new ActionTable(actions.length);
  actions.forEach(({ action, mapping, desk, fn }, a) => {
    table.set(a, {
      desk: deskIndex.get(action.desk)!,
      acts: ACTS[fn.fn.acts],
      mapping,
      place: a - actionStart[mapping]!,
      inside: desk.inside,
      reported: fn.state?.reported ?? false,
    });
    compileShape(table.doubles, table.shapeAt(a), action.shape, fn.fn.range);
  });
  return table;
}

function compileBindings(actions: readonly CompiledAction[]): Int32Array {
  const table = new Int32Array(actions.length * MAX_PARAMETERS);
  actions.forEach((a, i) => {
    a.fn.parameters.forEach((p, k) => {
      const binding = a.action.bindings[p.id]!;
      table[i * MAX_PARAMETERS + k] = binding.from === "page" ? FROM_PAGE : binding.value;
    });
  });
  return table;
}
