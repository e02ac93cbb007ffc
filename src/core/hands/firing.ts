/** Actions that fire: which of a mapping's sets, with which numbers and value, now or later, to a desk or the house. */

import { functionBytes } from "../desk/function-bytes.ts";
import { LEVEL_COMMAND } from "../desk/truth-terms.ts";
import type { Waiting } from "../held/delays.ts";
import type { Held } from "../held/held-presses.ts";
import type { HouseCall } from "../house/house-call.ts";
import {
  A_DESK_NTH,
  A_FIRST_MESSAGE,
  A_INTS,
  A_REPORTED,
  A_RESOLVED_IN,
  A_STATE,
  A_STATUS_ACTS_FLAGS,
  statusActsFlags,
} from "../mapping/action-table.ts";
import { type CompiledAction, FLASH, LEVEL, TOGGLE, TRIGGER } from "../mapping/compile-actions.ts";
import { ALL, IN_TURN, RANDOM } from "../mapping/mapping-tables.ts";
import { P_FLOAT, P_LENGTH, P_RECORD, P_VALUE_AT, P_VALUE_TYPE } from "../mapping/prepared-messages.ts";
import {
  NO_MESSAGE,
  OUT_OF_RANGE,
  PAGE_UNKNOWN,
  READY,
  SELECTION_UNKNOWN,
  VALUE_UNKNOWN,
} from "../run-state/context.ts";
import { nextRandom, tellLayers, type World } from "../run-state/world.ts";
import { shapeValue } from "../shape/linear.ts";
import { DeskOutput } from "../to-desk/desk-output.ts";
import { House, type HouseEvents } from "../to-desk/house.ts";
import { OUTCOME, type OutcomeCode } from "../trace/outcome.ts";
import { ROW_DATA_BYTES } from "../trace/traffic-ring.ts";
import { type OnItsWay, plainValue, Shaping, travelOf } from "./shaping.ts";

/** A level whose bindings are resolved and which the desk reports. */
const PLAIN_LEVEL = statusActsFlags(READY, LEVEL, A_REPORTED);

const STATUS_OUTCOME: Record<number, OutcomeCode> = {
  [OUT_OF_RANGE]: OUTCOME.outOfRange,
  [PAGE_UNKNOWN]: OUTCOME.pageUnknown,
  [SELECTION_UNKNOWN]: OUTCOME.selectionUnknown,
  [NO_MESSAGE]: OUTCOME.noSuchPart,
  [VALUE_UNKNOWN]: OUTCOME.valueUnknown,
};

/** How a mapping is fired, beside its value. */
export interface Firing {
  /** Collects what the release has to do; null = there is no release. */
  readonly held: Held | null;
  /** 1 or 0 where the hand itself says on or off, -1 where the function decides. */
  readonly edge: number;
  /** True where every action is on until the release, whatever its function. */
  readonly whileHeld: boolean;
  /** Steps of an endless control; 0 for everything else. */
  readonly steps: number;
  /** Which way a list of sets goes. */
  readonly by: 1 | -1;
}

/** A fader or anything else that has no release. */
export const MOVED: Firing = { held: null, edge: -1, whileHeld: false, steps: 0, by: 1 };
export class ActionFiring {
  readonly output: DeskOutput;
  readonly shaping: Shaping;
  readonly #world: World;
  readonly #house: House;
  /** The value an endless control sent last for an action, to tell it from one that was changed elsewhere. */
  readonly #turnedTo = new Map<number, { value: number; travel: number }>();

  constructor(world: World, events: Omit<HouseEvents, "run">) {
    this.#world = world;
    this.output = new DeskOutput(
      world,
      () => {
        tellLayers(world);
        events.changed();
      },
      (call, cause) => this.#house.run(call, cause),
    );
    this.shaping = new Shaping(world, (what, value, cause) => this.#follow(what, value, cause));
    this.#house = new House(world, { ...events, run: (m, by, row) => this.#run(m, by, row) });
  }

  /**
   * One action that follows the value, with its bindings resolved and one message: nearly all of the traffic, and
   * the same as `fire` in one piece, which is twice as fast (bench row `core.small`). False = it is not that plain,
   * and nothing was done.
   */
  drive(a: number, m: number, control: number, row: number): boolean {
    const { context, desks, ring, outbox, now } = this.#world;
    const { table, messages } = context;
    const { ints } = table;
    const at = a * A_INTS;
    if (ints[at + A_RESOLVED_IN] !== context.generation || ints[at + A_STATUS_ACTS_FLAGS] !== PLAIN_LEVEL) return false;
    if (table.sends(a) !== 1) return false;
    const { records } = messages;
    const k = ints[at + A_FIRST_MESSAGE]!;
    const record = k * P_RECORD;
    if (records[record + P_LENGTH]! > ROW_DATA_BYTES) return false; // the long way keeps what a row has no room for
    const atMs = now[0]!;
    const d = ints[at + A_DESK_NTH]!; // it is the only one, so its nth is 0
    const desk = desks[d]!;
    const state = ints[at + A_STATE]!;
    if (!desk.isPlain || desk.heldBack.size > 0 || !desk.budget.take(atMs)) return false;
    const out = shapeValue(table.doubles, table.shapeAt(a), this.#world.travel[0]!);
    if (records[record + P_VALUE_TYPE] === P_FLOAT) messages.view.setFloat32(records[record + P_VALUE_AT]!, out);
    else messages.setValue(k, out);
    const offset = records[record]!;
    const length = records[record + P_LENGTH]!;
    const sent = ring.toDeskAndCause(atMs, d, messages.words, offset, length, m, control, out, state, row);
    outbox.toDesk(d, messages.bytes, offset, length);
    desk.store.sent(state, out, true, sent, atMs, LEVEL_COMMAND, a);
    return true;
  }

  /** Runs a mapping's actions in order (rule 11). `value` is travel or velocity, 0..1. */
  fire(m: number, control: number, value: number, row: number, how: Firing): void {
    const { context, ring } = this.#world;
    const { table } = context;
    const { actionStart, mappingRadio } = context.compiled;
    const first = actionStart[m]!;
    const last = actionStart[m + 1]!;
    if (first === last) {
      ring.outcome(row, OUTCOME.noActions, m, control, 0, 0, 0);
      return;
    }
    const set = this.#setOf(m, how);
    if (set < 0) {
      ring.outcome(row, OUTCOME.endOfList, m, control, 0, 0, 0);
      return;
    }
    if (mappingRadio[m]! >= 0 && how.edge !== 0) this.#othersOff(m, row);
    let code: OutcomeCode = how.steps !== 0 || how.edge >= 0 || how.held ? OUTCOME.shaped : OUTCOME.noCrossing;
    let a0 = 0;
    let b0 = 0;
    for (let a = first; a < last; a++) {
      if (set > 0 && context.compiled.actions[a]!.set !== set) continue;
      const status = context.resolve(a);
      if (status !== READY) {
        if (code !== OUTCOME.sent) {
          code = STATUS_OUTCOME[status]!;
          const saysWhich = status === OUT_OF_RANGE || status === NO_MESSAGE;
          a0 = saysWhich ? table.wrongNumber(a) : 0;
          b0 = saysWhich ? table.wrongParameter(a) : 0;
        }
        continue;
      }
      const out = this.#valueOf(a, m, value, row, how);
      if (out === null) continue;
      if (Number.isNaN(out)) {
        if (code === OUTCOME.noCrossing) code = OUTCOME.shaped;
        continue;
      }
      const undelivered = this.#deliver(a, out, row, table.acts(a) === LEVEL && !how.whileHeld, how);
      if (undelivered !== null) {
        if (code !== OUTCOME.sent && code !== OUTCOME.delayed) code = undelivered;
        continue;
      }
      if (code !== OUTCOME.sent && code !== OUTCOME.delayed) a0 = out;
      const { delayMs = 0 } = context.compiled.actions[a]!.action;
      if (delayMs > 0 && code !== OUTCOME.sent) {
        code = OUTCOME.delayed;
        a0 = delayMs;
      } else code = OUTCOME.sent;
    }
    ring.outcome(row, code, m, control, a0, b0, 0);
  }

  /** A moment without a release of its own: it acts as a press does, and what it holds is let go at once. */
  fireOnce(m: number, control: number, value: number, row: number, by: 1 | -1 = 1): void {
    const { surface, control: id } = this.#world.context.compiled.show.mappings[m]!;
    const held: Held = { surface, control: id, message: 0, sinceMs: this.#world.now[0]!, cause: row, releases: [] };
    this.fire(m, control, value, row, { ...MOVED, held, by });
    this.output.letGo(held, row);
  }

  /** What is due by now: delayed actions, values on their way, what the budgets held back. */
  tick(): void {
    for (const item of this.#world.delays.take(this.#world.now[0]!)) this.#carryOut(item);
    this.shaping.tick();
    this.output.tick();
  }

  /** Lets go at once of what would have been let go later. */
  letGoDelayed(): void {
    for (const item of this.#world.delays.takeLettingGo()) this.#carryOut(item);
  }

  /** Pages, layers or banks are about to change: values the budgets held back were meant for those that are up. */
  beforeRefresh(): void {
    this.output.flushAll();
  }

  /** The tables are about to go: what is on its way arrives, and what they remember is forgotten. */
  beforeSwap(): void {
    this.shaping.flush();
    this.output.flushAll();
    this.#turnedTo.clear();
  }

  /** The value of action a, NaN where its shape sends nothing, null where it does not act on this at all. */
  #valueOf(a: number, m: number, value: number, row: number, how: Firing): number | null {
    const { context } = this.#world;
    const acts = context.table.acts(a);
    const { edge, held, steps } = how;
    if (steps !== 0) {
      if (acts === LEVEL) return this.#turn(a, steps, row);
      return acts === TOGGLE || acts === FLASH ? (steps > 0 ? 1 : 0) : 1;
    }
    if (acts === LEVEL) return how.whileHeld ? plainValue(context, a, 1) : this.shaping.value(a, value, row);
    if (held === null && edge < 0) return null; // a fader on a switch acts only where it crosses the middle
    if (acts === TOGGLE) return context.compiled.mappingRadio[m]! >= 0 && edge < 0 ? 1 : this.#toggleTo(a, edge, how);
    if (acts === FLASH) return edge === 0 ? 0 : 1;
    return edge === 0 ? null : 1; // a trigger has no "off"
  }

  /** Rule 8: the desk's own state decides; where nothing is known of it, on. */
  #toggleTo(a: number, edge: number, how: Firing): number {
    if (how.whileHeld) return 1;
    if (edge >= 0) return edge;
    const { context, desks } = this.#world;
    const state = context.table.state(a);
    const { store } = desks[context.table.desk(a)]!;
    return state >= 0 && store.effective(state) > 0 ? 0 : 1;
  }

  /** Moves the value of action a by steps from where the desk has it, or from where we left it. */
  #turn(a: number, steps: number, row: number): number {
    const { context, desks } = this.#world;
    const by = this.shaping.turned(a, steps);
    if (by === 0) return Number.NaN;
    const state = context.table.state(a);
    const { store } = desks[context.table.desk(a)]!;
    const last = this.#turnedTo.get(a);
    let travel = last?.travel ?? 0;
    if (state >= 0 && store.isKnown(state)) {
      const known = store.effective(state);
      // The desk may round what we sent; only what differs by more was changed by somebody else.
      const { range } = context.compiled.actions[a]!;
      const near = range ? Math.abs(range.to - range.from) / 200 : 0.5;
      if (!last || Math.abs(known - last.value) > near) travel = travelOf(context, a, known);
    }
    travel = Math.min(1, Math.max(0, travel + by));
    const plain = plainValue(context, a, travel);
    this.#turnedTo.set(a, { value: plain, travel });
    return this.shaping.turnedValue(a, travel, row);
  }

  /** Why the value did not leave, as an outcome; null = it did, or will by itself. */
  #deliver(a: number, value: number, row: number, continuous: boolean, how: Firing): OutcomeCode | null {
    const { context, held, now } = this.#world;
    const { table } = context;
    const action = context.compiled.actions[a]!;
    const delayMs = action.action.delayMs ?? 0;
    const acts = table.acts(a);
    if (table.inside(a)) {
      const mapping = context.compiled.show.mappings[table.mapping(a)]!.id;
      const call = callOf(action, context.numbers(a), value, mapping);
      if (delayMs === 0) this.#house.run(call, row);
      else this.#later({ kind: "house", call, dueMs: now[0]! + delayMs, cause: row, lettingGo: false });
      if (acts === FLASH && how.held && action.fn.fn.id === "layer")
        held.add(how.held, {
          kind: "layer",
          desk: "house",
          mapping,
          action: call.action,
          layer: context.compiled.show.layers[call.numbers[0]! - 1]!.id,
        });
      else if (how.held && how.whileHeld && acts !== TRIGGER) {
        const off = acts === LEVEL ? plainValue(context, a, 0) : 0;
        held.add(how.held, {
          kind: "house",
          desk: "house",
          mapping,
          action: call.action,
          call: { ...call, value: Number.isNaN(off) ? 0 : off },
          delayMs,
        });
      }
      return null;
    }
    if (delayMs === 0) {
      const undelivered = this.output.send(a, value, row, continuous);
      if (undelivered !== null) return undelivered; // what never went out has nothing to take back
    } else
      this.#later({
        kind: "send",
        what: this.output.prepare(a, value, 0),
        dueMs: now[0]! + delayMs,
        cause: row,
        lettingGo: false,
      });
    // A trigger has nothing to take back, unless its desk says what.
    const ends = acts === FLASH || (how.whileHeld && (acts !== TRIGGER || table.offs(a) > 0));
    if (how.held && ends) {
      const off = acts === LEVEL ? plainValue(context, a, 0) : 0;
      held.add(how.held, this.output.prepare(a, Number.isNaN(off) ? 0 : off, delayMs));
    }
    return null;
  }

  /** A value that slew or rate brings later: to the numbers of its move, whatever page is up by now. */
  #follow({ action, mapping, numbers, state, text }: OnItsWay, value: number, cause: number): void {
    const dueMs = this.#world.now[0]! + (action.action.delayMs ?? 0);
    const item: Waiting = action.desk.inside
      ? { kind: "house", call: callOf(action, numbers, value, mapping), dueMs, cause, lettingGo: false }
      : {
          kind: "send",
          what: {
            kind: "desk",
            desk: action.desk.id,
            mapping,
            action: action.action.id,
            state,
            value,
            datagrams: functionBytes(action.fn, numbers, value, this.#world.context.facts.clockS(), text?.(value)),
            delayMs: 0,
          },
          dueMs,
          cause,
          lettingGo: false,
        };
    if (action.action.delayMs) this.#later(item);
    else this.#carryOut(item);
  }

  #later(item: Waiting): void {
    const early = this.#world.delays.add(item);
    if (early) this.#carryOut(early);
  }

  #carryOut(item: Waiting): void {
    if (item.kind === "house") this.#house.run(item.call, item.cause);
    else this.output.carryOut(item.what, item.cause, item.lettingGo ? OUTCOME.letGo : OUTCOME.action);
  }

  /** The set of mapping m that fires now: 0 = all of its actions, -1 = none, its list is at its end. */
  #setOf(m: number, how: Firing): number {
    const { compiled } = this.#world.context;
    const sets = compiled.mappingSets[m];
    if (!sets || compiled.mappingOrder[m] === ALL) return 0;
    if (how.edge === 0) return 0;
    if (compiled.mappingOrder[m] === RANDOM) return sets[Math.floor(nextRandom(this.#world) * sets.length)]!;
    const { id } = compiled.show.mappings[m]!;
    const by = how.steps === 0 ? how.by : how.steps > 0 ? 1 : -1;
    const before = this.#world.places.get(id);
    let at = before === undefined ? (by > 0 ? 0 : sets.length - 1) : before + by;
    if (compiled.mappingOrder[m] === IN_TURN) at = (at + sets.length) % sets.length;
    else if (at < 0 || at >= sets.length) return -1;
    this.#world.places.set(id, at);
    return sets[at]!;
  }

  /** Switches off what is on among the other mappings of the radio group. */
  #othersOff(m: number, row: number): void {
    const { context, desks } = this.#world;
    const { compiled, table } = context;
    for (const other of compiled.radioGroups[compiled.mappingRadio[m]!]!) {
      if (other === m) continue;
      for (let a = compiled.actionStart[other]!; a < compiled.actionStart[other + 1]!; a++) {
        if (context.look(a) !== READY) continue;
        const state = table.state(a);
        if (state < 0 || this.#isOwn(m, a, state)) continue;
        const { store } = desks[table.desk(a)]!;
        if (!store.isKnown(state) || store.effective(state) <= 0) continue;
        context.resolve(a);
        this.#deliver(a, table.acts(a) === LEVEL ? plainValue(context, a, 0) : 0, row, false, MOVED);
      }
    }
  }

  /** True where mapping m itself acts on the same state: it is not switched off just to be switched on. */
  #isOwn(m: number, other: number, state: number): boolean {
    const { context } = this.#world;
    const { actionStart } = context.compiled;
    for (let a = actionStart[m]!; a < actionStart[m + 1]!; a++)
      if (
        context.look(a) === READY &&
        context.table.state(a) === state &&
        context.table.desk(a) === context.table.desk(other)
      )
        return true;
    return false;
  }

  /** Runs another mapping, as a press that is let go at once. */
  #run(m: number, by: 0 | 1 | -1, row: number): void {
    const { compiled } = this.#world.context;
    if (compiled.mappingOn[m] === 0) return;
    const own =
      compiled.mappingControl[m]! -
      compiled.surfaces[compiled.controlSurface[compiled.mappingControl[m]!]!]!.firstControl;
    this.fireOnce(m, own, 1, row, by < 0 ? -1 : 1);
  }
}

function callOf(action: CompiledAction, numbers: readonly number[], value: number, mapping: string): HouseCall {
  return {
    fn: action.fn.fn.id,
    numbers,
    value,
    target: action.action.target ?? "",
    bytes: action.message ? action.message.bytes(value) : null,
    mapping,
    action: action.action.id,
  };
}
