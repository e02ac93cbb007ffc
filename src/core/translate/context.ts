/**
 * Which mapping holds where, right now: pages and layers resolved to one mapping per control and gesture.
 * Made anew when a page, a layer or the show changes; per event it is one look-up.
 */

import { stateIndex } from "../desk/compile-desk.ts";
import { PreparedMessages } from "../desk/prepared-messages.ts";
import { type CompiledShow, FROM_PAGE, GESTURES, MAX_PARAMETERS } from "../mapping/compile.ts";

export const READY = 0;
export const OUT_OF_RANGE = 1;
export const PAGE_UNKNOWN = 2;

/** How an action stands with its bindings. */
export interface Resolved {
  readonly status: number;
  /** Index of the state it changes, -1 = none. */
  readonly state: number;
}

export class Context {
  readonly compiled: CompiledShow;
  readonly messages: PreparedMessages;
  /** For control * GESTURES + gesture: the mapping that holds; -1 = none. */
  readonly active: Int32Array;
  /** For each action, valid while `#resolvedIn[a]` is the present generation. */
  readonly status: Uint8Array;
  readonly state: Int32Array;
  /** Parameter and number that are out of range, for the trace. */
  readonly wrongParameter: Uint8Array;
  readonly wrongNumber: Int32Array;
  layer = 0;
  readonly #pages: (number | null)[];
  readonly #resolvedIn: Int32Array;
  readonly #values: number[] = [0, 0, 0];
  #generation = 1;

  constructor(compiled: CompiledShow) {
    this.compiled = compiled;
    this.messages = new PreparedMessages(compiled.actions);
    this.active = new Int32Array(compiled.controlCount * GESTURES).fill(-1);
    const actions = compiled.actions.length;
    this.status = new Uint8Array(actions);
    this.state = new Int32Array(actions);
    this.wrongParameter = new Uint8Array(actions);
    this.wrongNumber = new Int32Array(actions);
    this.#resolvedIn = new Int32Array(actions);
    this.#pages = compiled.desks.map(() => null);
  }

  pageOf(desk: number): number | null {
    return this.#pages[desk] ?? null;
  }

  /** Takes over pages and layer, and resolves every control again. */
  refresh(pages: readonly (number | null)[], layer: number): void {
    pages.forEach((p, i) => {
      this.#pages[i] = p;
    });
    this.layer = layer;
    this.#generation++;
    const { candidateStart, candidates } = this.compiled;
    for (let slot = 0; slot < this.active.length; slot++) {
      let found = -1;
      for (let k = candidateStart[slot]!; k < candidateStart[slot + 1]! && found < 0; k++)
        if (this.compiled.mappingOn[candidates[k]!] && this.#holds(candidates[k]!)) found = candidates[k]!;
      this.active[slot] = found;
    }
  }

  /** Makes action a ready for the present pages; only the first call after a change does any work. */
  resolve(a: number): number {
    if (this.#resolvedIn[a] !== this.#generation) this.#resolveAnew(a);
    return this.status[a]!;
  }

  /** Why nothing holds at this slot: a mapping of it that is off, or one for another place; -1 = none at all. */
  nearest(slot: number): { mapping: number; off: boolean } {
    const { candidateStart, candidates, mappingOn } = this.compiled;
    let elsewhere = -1;
    for (let k = candidateStart[slot]!; k < candidateStart[slot + 1]!; k++) {
      const m = candidates[k]!;
      if (!mappingOn[m] && this.#holds(m)) return { mapping: m, off: true };
      if (elsewhere < 0) elsewhere = m;
    }
    return { mapping: elsewhere, off: false };
  }

  #holds(m: number): boolean {
    const layers = this.compiled.mappingLayers[m]!;
    if (layers !== 0 && (layers & (1 << this.layer)) === 0) return false;
    const pages = this.compiled.mappingPages[m];
    if (!pages) return true;
    const page = this.#pages[this.compiled.mappingPageDesk[m]!];
    return page !== null && page !== undefined && pages.has(page);
  }

  #resolveAnew(a: number): void {
    this.#resolvedIn[a] = this.#generation;
    const action = this.compiled.actions[a]!;
    const parameters = action.fn.parameters;
    const page = this.#pages[this.compiled.actionDesk[a]!] ?? null;
    this.state[a] = -1;
    for (let k = 0; k < parameters.length; k++) {
      let value = this.compiled.actionBindings[a * MAX_PARAMETERS + k]!;
      if (value === FROM_PAGE) {
        if (page === null) {
          this.status[a] = PAGE_UNKNOWN;
          return;
        }
        value = page;
      }
      if (value < parameters[k]!.from || value > parameters[k]!.to) {
        this.status[a] = OUT_OF_RANGE;
        this.wrongParameter[a] = k;
        this.wrongNumber[a] = value;
        return;
      }
      this.#values[k] = value;
    }
    this.status[a] = READY;
    const state = action.fn.state;
    if (state) this.state[a] = stateIndex(state, this.#valuesFor(action.fn.fn.parameters, state.state.parameters));
    this.messages.encode(a, action, this.#values);
  }

  /** Numbers of the function's parameters, in the order a state counts them. */
  #valuesFor(own: readonly string[], wanted: readonly string[]): number[] {
    return wanted.map((id) => this.#values[own.indexOf(id)]!);
  }

  /** Index of another state with the parameters of action a: its colour or name. -1 where there is none. */
  sibling(a: number, which: "colour" | "label"): number {
    if (this.resolve(a) !== READY) return -1;
    const fn = this.compiled.actions[a]!.fn;
    const state = fn[which];
    if (!state) return -1;
    const page = this.#pages[this.compiled.actionDesk[a]!] ?? 0;
    fn.parameters.forEach((_, k) => {
      const bound = this.compiled.actionBindings[a * MAX_PARAMETERS + k]!;
      this.#values[k] = bound === FROM_PAGE ? page : bound;
    });
    return stateIndex(state, this.#valuesFor(fn.fn.parameters, state.state.parameters));
  }
}
