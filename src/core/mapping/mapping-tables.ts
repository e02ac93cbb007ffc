/**
 * Mappings as flat tables: one entry for each mapping, and for each control and gesture the mappings that may hold, the
 * most specific first.
 */

import { GESTURE, GESTURES } from "../format/gestures.ts";
import type { Mapping, Show } from "../format/show.ts";
import { fixedStateIndex } from "./bindings.ts";
import { ActionCompiler } from "./compile-actions.ts";
import type { ShowIndexes } from "./show-indexes.ts";

export const JUMP = 0;
export const CATCH = 1;
export const CONVERGE = 2;
const TAKEOVERS = { jump: JUMP, catch: CATCH, converge: CONVERGE } as const;

export const ALL = 0;
export const IN_TURN = 1;
const IN_TURN_STOP = 2;
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

/** The tables that have one entry for each mapping. */
export class MappingTables {
  readonly compiler: ActionCompiler;
  readonly #show: Show;
  readonly #names: ShowIndexes;
  readonly #control: Int32Array;
  readonly #layers: Int32Array;
  readonly #pageDesk: Int16Array;
  readonly #pages: (ReadonlySet<number> | null)[];
  readonly #takeover: Uint8Array;
  readonly #on: Uint8Array;
  readonly #chord: Int32Array;
  readonly #when: (readonly CompiledCondition[] | null)[];
  readonly #order: Uint8Array;
  readonly #sets: (readonly number[] | null)[];
  readonly #radio: Int16Array;
  readonly #radioOf = new Map<string, number>();
  readonly #radioGroups: number[][] = [];
  readonly #holdMs: Int32Array;
  readonly #doubleMs: Int32Array;
  readonly #actionStart: Int32Array;

  constructor(show: Show, names: ShowIndexes) {
    const count = show.mappings.length;
    this.#show = show;
    this.#names = names;
    this.compiler = new ActionCompiler(names);
    this.#control = new Int32Array(count);
    this.#layers = new Int32Array(count);
    this.#pageDesk = new Int16Array(count).fill(-1);
    this.#pages = new Array<ReadonlySet<number> | null>(count).fill(null);
    this.#takeover = new Uint8Array(count);
    this.#on = new Uint8Array(count);
    this.#chord = new Int32Array(count).fill(-1);
    this.#when = new Array<readonly CompiledCondition[] | null>(count).fill(null);
    this.#order = new Uint8Array(count);
    this.#sets = new Array<readonly number[] | null>(count).fill(null);
    this.#radio = new Int16Array(count).fill(-1);
    this.#holdMs = new Int32Array(count);
    this.#doubleMs = new Int32Array(count);
    this.#actionStart = new Int32Array(count + 1);
  }

  /** One after the other, in the order of the show. */
  add(m: Mapping, i: number): void {
    const control = this.#names.controlAt(m.surface, m.control);
    this.#control[i] = control;
    this.#on[i] = m.on && !(m.bundle !== undefined && this.#names.bundlesOff.has(m.bundle)) ? 1 : 0;
    // A motor has already gone where the level is (rule 9).
    this.#takeover[i] = control >= 0 && this.#names.motors.has(control) ? JUMP : TAKEOVERS[m.takeover];
    this.#addScope(m, i);
    this.#addTimes(m, i);
    this.#addRadio(m, i);
    this.#addActions(m, i);
  }

  /** Where and when it holds. */
  #addScope(m: Mapping, i: number): void {
    const { layerOf, deskIndex, desks } = this.#names;
    for (const layer of m.layers) this.#layers[i]! |= 1 << layerOf.get(layer)!;
    if (m.pages) {
      this.#pageDesk[i] = deskIndex.get(m.pages.desk)!;
      this.#pages[i] = new Set(m.pages.in);
    }
    if (m.whileHeld) {
      this.#chord[i] = this.#names.controlAt(m.whileHeld.surface, m.whileHeld.control);
      this.compiler.modifiers.add(this.#chord[i]!);
    }
    this.#when[i] =
      m.when?.map((c) => {
        const desk = deskIndex.get(c.desk)!;
        return { desk, index: fixedStateIndex(desks[desk]!, c.state, c.parameters), from: c.from, to: c.to };
      }) ?? null;
  }

  #addTimes(m: Mapping, i: number): void {
    const { times } = this.#show.settings;
    this.#holdMs[i] = m.times?.holdMs ?? times?.holdMs ?? DEFAULT_HOLD_MS;
    this.#doubleMs[i] = m.times?.doubleMs ?? times?.doubleMs ?? DEFAULT_DOUBLE_MS;
  }

  #addRadio(m: Mapping, i: number): void {
    if (m.radio === undefined) return;
    let group = this.#radioOf.get(m.radio);
    if (group === undefined) {
      group = this.#radioGroups.push([]) - 1;
      this.#radioOf.set(m.radio, group);
    }
    this.#radio[i] = group;
    this.#radioGroups[group]!.push(i);
  }

  #addActions(m: Mapping, i: number): void {
    const { actions } = this.compiler;
    this.#actionStart[i] = actions.length;
    let nth = 0;
    for (const action of m.actions) if (action.on) this.compiler.add(action, i, nth++);
    this.#actionStart[i + 1] = actions.length;
    this.#order[i] = ORDERS[m.order ?? "all"];
    if (m.order === undefined || m.order === "all") return;
    const sets = new Set(m.actions.filter((a) => a.on).map((a) => a.set ?? 1));
    this.#sets[i] = [...sets].sort((a, b) => a - b);
  }

  get hasConditions(): boolean {
    return this.#when.some((w) => w !== null);
  }

  tables() {
    return {
      mappingControl: this.#control,
      mappingLayers: this.#layers,
      mappingPageDesk: this.#pageDesk,
      mappingPages: this.#pages,
      mappingTakeover: this.#takeover,
      mappingOn: this.#on,
      mappingChord: this.#chord,
      mappingWhen: this.#when,
      mappingOrder: this.#order,
      mappingSets: this.#sets,
      mappingRadio: this.#radio,
      radioGroups: this.#radioGroups,
      mappingHoldMs: this.#holdMs,
      mappingDoubleMs: this.#doubleMs,
      actionStart: this.#actionStart,
    };
  }
}

export interface Slots {
  /** For control * GESTURES + gesture: where its mappings start among the candidates, and behind all the end of the last. */
  readonly candidateStart: Int32Array;
  readonly candidates: Int32Array;
}

/** The mappings that may hold at each slot, the most specific first. `controls`: of each mapping. */
export function candidatesOf(mappings: readonly Mapping[], controls: Int32Array, controlCount: number): Slots {
  const slotCount = controlCount * GESTURES;
  const slotOf = new Int32Array(mappings.length);
  const candidateStart = new Int32Array(slotCount + 1);
  for (let m = 0; m < mappings.length; m++) {
    slotOf[m] = controls[m]! * GESTURES + GESTURE[mappings[m]!.gesture].code;
    candidateStart[slotOf[m]! + 1]!++;
  }
  for (let slot = 0; slot < slotCount; slot++) candidateStart[slot + 1]! += candidateStart[slot]!;
  const at = candidateStart.slice();
  const candidates = new Int32Array(mappings.length);
  for (let m = 0; m < mappings.length; m++) candidates[at[slotOf[m]!]!++] = m;
  for (let slot = 0; slot < slotCount; slot++)
    sortSlot(mappings, candidates, candidateStart[slot]!, candidateStart[slot + 1]!);
  return { candidateStart, candidates };
}

/** Sorts the mappings of one slot, which stand in the order of the show, the most specific first. */
export function sortSlot(mappings: readonly Mapping[], candidates: Int32Array, from: number, to: number): void {
  if (to - from < 2) return;
  // Sorting is stable: among equally specific mappings the first in the show stays first (rule 12).
  const own = Array.from(candidates.subarray(from, to));
  own.sort((x, y) => specificity(mappings[y]!) - specificity(mappings[x]!));
  candidates.set(own, from);
}

/** Pairs of mappings that are on and say the same, each with the first that does, in the order of the show. */
export function clashesAmong(
  mappings: readonly Mapping[],
  isOn: Uint8Array,
  { candidateStart, candidates }: Slots,
): [number, number][] {
  const clashes: [number, number][] = [];
  // What says the same stands at the same slot.
  for (let slot = 0; slot + 1 < candidateStart.length; slot++)
    clashesOfSlot(mappings, isOn, candidates, candidateStart[slot]!, candidateStart[slot + 1]!, clashes);
  return inOrder(clashes);
}

export function clashesOfSlot(
  mappings: readonly Mapping[],
  isOn: Uint8Array,
  candidates: Int32Array,
  from: number,
  to: number,
  clashes: [number, number][],
): void {
  if (to - from < 2) return;
  const said = new Map<string, number>();
  for (const m of candidates.slice(from, to).sort()) {
    if (isOn[m] === 0) continue;
    const key = identity(mappings[m]!);
    const first = said.get(key);
    if (first === undefined) said.set(key, m);
    else clashes.push([first, m]);
  }
}

export function inOrder(clashes: [number, number][]): [number, number][] {
  return clashes.sort((x, y) => x[1] - y[1]);
}

/** A mapping for one layer, page, condition or chord goes before one that holds more widely. */
function specificity(m: Mapping): number {
  return (m.whileHeld ? 8 : 0) + (m.when ? 4 : 0) + (m.layers.length > 0 ? 2 : 0) + (m.pages ? 1 : 0);
}

/** What tells where and when a mapping holds: two of which it is the same clash. */
function identity(m: Mapping): string {
  let key = `${m.surface} ${m.control} ${m.gesture}`;
  if (m.layers.length > 0) key += ` layers ${[...m.layers].sort().join(",")}`;
  if (m.pages) key += ` pages ${m.pages.desk} ${[...m.pages.in].sort((a, b) => a - b).join(",")}`;
  if (m.whileHeld) key += ` with ${m.whileHeld.surface} ${m.whileHeld.control}`;
  if (m.when) key += ` when ${JSON.stringify(m.when)}`;
  return key;
}
