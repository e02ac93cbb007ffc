/** Shapes while the show runs: what a value becomes on its way, and the part of it that takes time. */

import { isUp } from "../gesture/layers.ts";
import { bentOf, type CompiledAction } from "../mapping/compile-actions.ts";
import type { Context } from "../run-state/context.ts";
import type { World } from "../run-state/world.ts";
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

/** A value on its way, with everything it needs: the pages and bindings of its move hold for it to the end (rule 10). */
export interface OnItsWay {
  readonly action: CompiledAction;
  /** The id of its mapping. */
  readonly mapping: string;
  /** Numbers of the function's parameters, in order. */
  readonly numbers: readonly number[];
  /** Index of the state at the desk that it changes; -1 = none. */
  readonly state: number;
  readonly memory: TimedState;
  /** What it says in words for a value; null = nothing. */
  readonly text: ((value: number) => string) | null;
}

/** More than the states one desk can have: the stride of the keys of what shapes remember. */
const STATES = 2 ** 17;

export class Shaping {
  readonly #world: World;
  readonly #send: (what: OnItsWay, value: number, cause: number) => void;
  /** Values that slew has not brought home yet, or that wait for their rate. */
  readonly #busy = new Map<TimedState, OnItsWay>();

  constructor(world: World, send: (what: OnItsWay, value: number, cause: number) => void) {
    this.#world = world;
    this.#send = send;
  }

  /** The value action a sends now for a control at this travel; NaN = nothing, or later. */
  value(a: number, travel01: number, row: number): number {
    const action = this.#world.context.compiled.actions[a]!;
    if (!action.timed) return plainValue(this.#world.context, a, travel01);
    const memory = this.#memoryOf(a);
    const { shape } = action.action;
    const atMs = this.#world.now[0]!;
    if (shape.jumpLimitPerS !== undefined && !plausibleMove(memory, travel01, shape.jumpLimitPerS, atMs))
      return NOTHING;
    let travel = travel01;
    if (shape.fine) travel = fineTravel(memory, travel01, shape.fine.factor, this.#isFine(a));
    else memory.travel = travel01;
    memory.movedAtMs = atMs;
    return this.#timed(a, memory, travel, row);
  }

  /** Steps of an endless control that count for action a, as travel; 0 where they are not plausible. */
  turned(a: number, steps: number): number {
    const { action, timed } = this.#world.context.compiled.actions[a]!;
    const { shape } = action;
    let counted = steps;
    if (timed && shape.jumpLimitPerS !== undefined)
      counted = plausibleSteps(this.#memoryOf(a), steps, shape.jumpLimitPerS, this.#world.now[0]!);
    const fine = timed && shape.fine && this.#isFine(a) ? shape.fine.factor : 1;
    return counted * (shape.stepSize ?? DEFAULT_STEP) * fine;
  }

  /** The value of action a for the travel an endless control has brought it to. */
  turnedValue(a: number, travel01: number, row: number): number {
    const { timed } = this.#world.context.compiled.actions[a]!;
    return timed ? this.#timed(a, this.#memoryOf(a), travel01, row) : plainValue(this.#world.context, a, travel01);
  }

  /** Moves on what is on its way, and sends what waited for its rate. */
  tick(): void {
    for (const what of this.#busy.values()) this.#moveOn(what);
  }

  /** Sends where everything is going, at once: the tables are about to go. */
  flush(): void {
    for (const what of this.#busy.values()) {
      const { part, goal, waiting, cause } = what.memory;
      if (part !== goal) this.#send(what, bentOutput(bentOf(what.action), goal), cause);
      else if (!Number.isNaN(waiting)) this.#send(what, waiting, cause);
    }
    this.#busy.clear();
  }

  /** Threshold, slew, output and rate: what depends on what was before, and on time. */
  #timed(a: number, memory: TimedState, travel01: number, row: number): number {
    const action = this.#world.context.compiled.actions[a]!;
    const { shape } = action.action;
    const bent = bentOf(action);
    const atMs = this.#world.now[0]!;
    let part = bentPart(bent, travel01);
    if (shape.threshold && !Number.isNaN(part)) part = thresholdPart(memory, part, shape.threshold);
    if (Number.isNaN(part)) return NOTHING;
    memory.cause = row;
    if (shape.slewPerS !== undefined) {
      part = slewPart(memory, part, shape.slewPerS, atMs);
      if (part !== memory.goal) this.#keepGoing(a, memory);
    }
    const value = bentOutput(bent, part);
    if (shape.ratePerS === undefined || rateAllows(memory, shape.ratePerS, atMs)) {
      memory.waiting = Number.NaN;
      return value;
    }
    memory.waiting = value;
    this.#keepGoing(a, memory);
    return NOTHING;
  }

  #keepGoing(a: number, memory: TimedState): void {
    if (this.#busy.has(memory)) return;
    const { context } = this.#world;
    const action = context.compiled.actions[a]!;
    const mapping = context.compiled.show.mappings[context.table.mapping(a)]!.id;
    const [numbers, state, text] = [context.numbers(a), context.table.state(a), context.textOf(a)];
    this.#busy.set(memory, { action, mapping, numbers, state, memory, text });
  }

  #moveOn(what: OnItsWay): void {
    const { action, memory } = what;
    const atMs = this.#world.now[0]!;
    const { slewPerS, ratePerS } = action.action.shape;
    let value = memory.waiting;
    if (slewPerS !== undefined && memory.part !== memory.goal)
      value = bentOutput(bentOf(action), slewPart(memory, memory.goal, slewPerS, atMs));
    const arrived = memory.part === memory.goal;
    if (!Number.isNaN(value) && ratePerS !== undefined && !rateAllows(memory, ratePerS, atMs)) {
      memory.waiting = value; // the newest wins
      return;
    }
    memory.waiting = Number.NaN;
    if (arrived) this.#busy.delete(memory);
    if (!Number.isNaN(value)) this.#send(what, value, memory.cause);
  }

  #isFine(a: number): boolean {
    const { fineControl, action } = this.#world.context.compiled.actions[a]!;
    if (fineControl >= 0) return this.#world.context.facts.isPressed(fineControl);
    const by = action.shape.fine?.while;
    return by !== undefined && "layer" in by && isUp(this.#world.layers, by.layer);
  }

  /** What the shape of action a remembers of the very value it stands for now: on another page it is another one. */
  #memoryOf(a: number): TimedState {
    const key = a * STATES + this.#world.context.table.state(a) + 1;
    let memory = this.#world.shapes.get(key);
    if (!memory) {
      memory = newTimedState();
      this.#world.shapes.set(key, memory);
    }
    return memory;
  }
}
