/** Shapes while the show runs: what a value becomes on its way, and the part of it that takes time. */

import { isUp } from "../gesture/layers.ts";
import { bentOf } from "../mapping/compile-actions.ts";
import { bentOutput, bentPart, bentTravel, bentValue, NOTHING } from "../shape/bent.ts";
import { shapeValue, travelFor } from "../shape/linear.ts";
import {
  fineTravel,
  newTimedState,
  plausibleMove,
  plausibleSteps,
  rateAllows,
  slewPart,
  type TimedState,
  thresholdPart,
} from "../shape/timed.ts";
import type { Context } from "./context.ts";
import type { World } from "./world.ts";

/** Part of the way that one step of an endless control moves unless the shape says otherwise. */
const DEFAULT_STEP = 1 / 100;

/** The value of action a for a travel of 0..1 by everything but time; NaN = nothing is to be sent. */
export function plainValue(context: Context, a: number, travel01: number): number {
  if (context.table.bent(a)) return bentValue(bentOf(context.compiled.actions[a]!), travel01);
  return shapeValue(context.table.doubles, context.table.shapeAt(a), travel01);
}

/** Where a control would stand for a value of action a, 0..1: for takeover. */
export function travelOf(context: Context, a: number, value: number): number {
  if (context.table.bent(a)) return bentTravel(bentOf(context.compiled.actions[a]!), value);
  return travelFor(context.table.doubles, context.table.shapeAt(a), value);
}

export class Shaping {
  readonly #world: World;
  readonly #send: (a: number, value: number, cause: number) => void;
  /** Actions whose value is still on its way, or waits for its rate. */
  readonly #busy = new Set<number>();

  constructor(world: World, send: (a: number, value: number, cause: number) => void) {
    this.#world = world;
    this.#send = send;
  }

  /** The value action a sends now for a control at this travel; NaN = nothing, or later. */
  value(a: number, travel01: number, row: number): number {
    const action = this.#world.context.compiled.actions[a]!;
    if (!action.timed) return plainValue(this.#world.context, a, travel01);
    const state = this.#stateOf(a);
    const { shape } = action.action;
    const atMs = this.#world.now[0]!;
    if (shape.jumpLimitPerS !== undefined && !plausibleMove(state, travel01, shape.jumpLimitPerS, atMs)) return NOTHING;
    let travel = travel01;
    if (shape.fine) travel = fineTravel(state, travel01, shape.fine.factor, this.#isFine(a));
    else state.travel = travel01;
    state.movedAtMs = atMs;
    let part = bentPart(bentOf(action), travel);
    if (Number.isNaN(part)) return NOTHING;
    if (shape.threshold) part = thresholdPart(state, part, shape.threshold);
    if (Number.isNaN(part)) return NOTHING;
    state.cause = row;
    if (shape.slewPerS !== undefined) {
      part = slewPart(state, part, shape.slewPerS, atMs);
      if (part !== state.goal) this.#busy.add(a);
    }
    return this.#rated(a, state, bentOutput(bentOf(action), part));
  }

  /** Steps of an endless control that count for action a, as travel; 0 where they are not plausible. */
  turned(a: number, steps: number): number {
    const { action, timed } = this.#world.context.compiled.actions[a]!;
    const { shape } = action;
    let counted = steps;
    if (timed && shape.jumpLimitPerS !== undefined)
      counted = plausibleSteps(this.#stateOf(a), steps, shape.jumpLimitPerS, this.#world.now[0]!);
    const fine = timed && shape.fine && this.#isFine(a) ? shape.fine.factor : 1;
    return counted * (shape.stepSize ?? DEFAULT_STEP) * fine;
  }

  /** The value of action a for the travel an endless control has brought it to. */
  turnedValue(a: number, travel01: number, row: number): number {
    const action = this.#world.context.compiled.actions[a]!;
    if (!action.timed) return plainValue(this.#world.context, a, travel01);
    const state = this.#stateOf(a);
    const { shape } = action.action;
    let part = bentPart(bentOf(action), travel01);
    if (shape.threshold && !Number.isNaN(part)) part = thresholdPart(state, part, shape.threshold);
    if (Number.isNaN(part)) return NOTHING;
    state.cause = row;
    if (shape.slewPerS !== undefined) {
      part = slewPart(state, part, shape.slewPerS, this.#world.now[0]!);
      if (part !== state.goal) this.#busy.add(a);
    }
    return this.#rated(a, state, bentOutput(bentOf(action), part));
  }

  /** Moves on what is on its way, and sends what waited for its rate. */
  tick(): void {
    for (const a of this.#busy) this.#moveOn(a);
  }

  /** Sends where everything is going, at once: the tables are about to go. */
  flush(): void {
    for (const a of this.#busy) {
      const state = this.#world.shapes.get(a);
      if (!state) continue;
      const bent = bentOf(this.#world.context.compiled.actions[a]!);
      const slews = state.part !== state.goal;
      if (slews) this.#send(a, bentOutput(bent, state.goal), state.cause);
      else if (!Number.isNaN(state.waiting)) this.#send(a, state.waiting, state.cause);
    }
    this.#busy.clear();
  }

  #moveOn(a: number): void {
    const state = this.#world.shapes.get(a);
    if (!state) {
      this.#busy.delete(a);
      return;
    }
    const compiled = this.#world.context.compiled.actions[a]!;
    const { action } = compiled;
    const bent = bentOf(compiled);
    const atMs = this.#world.now[0]!;
    const { slewPerS, ratePerS } = action.shape;
    let value = state.waiting;
    if (slewPerS !== undefined && state.part !== state.goal)
      value = bentOutput(bent, slewPart(state, state.goal, slewPerS, atMs));
    const arrived = state.part === state.goal;
    if (Number.isNaN(value)) {
      if (arrived) this.#busy.delete(a);
      return;
    }
    if (ratePerS !== undefined && !rateAllows(state, ratePerS, atMs)) {
      state.waiting = value; // the newest wins
      return;
    }
    state.waiting = Number.NaN;
    if (arrived) this.#busy.delete(a);
    this.#send(a, value, state.cause);
  }

  #rated(a: number, state: TimedState, value: number): number {
    const { ratePerS } = this.#world.context.compiled.actions[a]!.action.shape;
    if (ratePerS === undefined || rateAllows(state, ratePerS, this.#world.now[0]!)) {
      state.waiting = Number.NaN;
      return value;
    }
    state.waiting = value;
    this.#busy.add(a);
    return NOTHING;
  }

  #isFine(a: number): boolean {
    const { fineControl, action } = this.#world.context.compiled.actions[a]!;
    if (fineControl >= 0) return this.#world.context.facts.isPressed(fineControl);
    const by = action.shape.fine?.while;
    return by !== undefined && "layer" in by && isUp(this.#world.layers, by.layer);
  }

  #stateOf(a: number): TimedState {
    let state = this.#world.shapes.get(a);
    if (!state) {
      state = newTimedState();
      this.#world.shapes.set(a, state);
    }
    return state;
  }
}
