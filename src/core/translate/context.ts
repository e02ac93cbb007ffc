/**
 * Which mapping holds where, right now: pages and layers resolved to one mapping per control and gesture.
 * Made anew when a page, a layer or the show changes; per event it is one look-up.
 */

import { stateIndex } from "../desk/compile-desk.ts";
import { PreparedMessages } from "../desk/prepared-messages.ts";
import type { ActionTable } from "../mapping/action-table.ts";
import { type CompiledShow, FROM_PAGE, GESTURES, MAX_PARAMETERS } from "../mapping/compile.ts";

export const READY = 0;
export const OUT_OF_RANGE = 1;
export const PAGE_UNKNOWN = 2;

export class Context {
  readonly compiled: CompiledShow;
  readonly messages: PreparedMessages;
  /** For control * GESTURES + gesture: the mapping that holds; -1 = none. */
  readonly active: Int32Array;
  readonly table: ActionTable;
  layer = 0;
  readonly #pages: (number | null)[];
  readonly #values: number[] = [0, 0, 0];
  /** Counts refreshes: what was resolved in an earlier one is stale. */
  generation = 1;

  constructor(compiled: CompiledShow) {
    this.compiled = compiled;
    this.table = compiled.actionTable.copy();
    this.messages = new PreparedMessages(compiled.actions, this.table);
    this.active = new Int32Array(compiled.controlCount * GESTURES).fill(-1);
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
    this.generation++;
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
    if (this.table.resolvedIn(a) !== this.generation) this.#resolveAnew(a);
    return this.table.status(a);
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
    const action = this.compiled.actions[a]!;
    const parameters = action.fn.parameters;
    const page = this.#pages[this.table.desk(a)] ?? null;
    for (let k = 0; k < parameters.length; k++) {
      let value = this.compiled.actionBindings[a * MAX_PARAMETERS + k]!;
      if (value === FROM_PAGE) {
        if (page === null) {
          this.table.setResolved(a, this.generation, PAGE_UNKNOWN, -1);
          return;
        }
        value = page;
      }
      if (value < parameters[k]!.from || value > parameters[k]!.to) {
        this.table.setResolved(a, this.generation, OUT_OF_RANGE, -1);
        this.table.setWrong(a, k, value);
        return;
      }
      this.#values[k] = value;
    }
    const { state } = action.fn;
    const index = state ? stateIndex(state, this.#valuesFor(action.fn.fn.parameters, state.state.parameters)) : -1;
    this.table.setResolved(a, this.generation, READY, index);
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
    const page = this.#pages[this.table.desk(a)] ?? 0;
    fn.parameters.forEach((_, k) => {
      const bound = this.compiled.actionBindings[a * MAX_PARAMETERS + k]!;
      this.#values[k] = bound === FROM_PAGE ? page : bound;
    });
    return stateIndex(state, this.#valuesFor(fn.fn.parameters, state.state.parameters));
  }
}
