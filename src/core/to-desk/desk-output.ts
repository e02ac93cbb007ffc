/** The way out to the desks: budgets, prepared datagrams, and what a release has to do. */

import { stateOfIndex, stateParameters } from "../desk/compile-desk.ts";
import { functionBytes } from "../desk/function-bytes.ts";
import {
  type CommandKind,
  LEVEL_COMMAND,
  OFF_COMMAND,
  ON_COMMAND,
  ONCE_COMMAND,
  RELEASE_COMMAND,
} from "../desk/truth-terms.ts";
import type { DeskFunction } from "../format/desk-profile.ts";
import { leave } from "../gesture/layers.ts";
import type { Held, Release } from "../held/held-presses.ts";
import type { DeskCommand } from "../held/kept-commands.ts";
import type { HouseCall } from "../house/house-call.ts";
import { LEVEL } from "../mapping/compile-actions.ts";
import { READY } from "../run-state/context.ts";
import type { HeldBack } from "../run-state/desk-runtime.ts";
import { markWatchers, type World } from "../run-state/world.ts";
import { OUTCOME, type OutcomeCode } from "../trace/outcome.ts";
import { DIRECTION_OUT, SIDE_DESK } from "../trace/traffic-ring.ts";

const TO_DESK = DIRECTION_OUT | SIDE_DESK;

export class DeskOutput {
  readonly #world: World;
  /** Whether each function may be sent twice, as far as that was looked at. */
  readonly #repeats = new Map<DeskFunction, boolean>();
  readonly #layersChanged: () => void;
  readonly #house: (call: HouseCall, cause: number) => void;

  /** The layers that a release ends are told by `layersChanged`; what it does to the house is given to `house`. */
  constructor(world: World, layersChanged: () => void, house: (call: HouseCall, cause: number) => void) {
    this.#world = world;
    this.#layersChanged = layersChanged;
    this.#house = house;
  }

  /**
   * Sends the value of action a; a continuous one may be held back by the budget, and then the newest wins. Answers why
   * it did not leave, as an outcome, where its desk does not answer; else null.
   */
  send(a: number, value: number, cause: number, continuous: boolean): OutcomeCode | null {
    const { context, desks, now } = this.#world;
    const desk = desks[context.table.desk(a)]!;
    if (desk.isBlocked) {
      if (!continuous || desk.whenSilent !== "keep") return OUTCOME.deskSilent;
      desk.kept.keep(this.prepare(a, value, 0), cause);
      return OUTCOME.keptForDesk;
    }
    if (continuous) {
      if (desk.heldBack.size > 0 || !desk.budget.take(now[0]!)) {
        this.#holdBack(desk.heldBack, a, value, cause);
        return null;
      }
    } else {
      this.#flush(desk.heldBack); // values that wait go before the press that follows them
      desk.budget.force(now[0]!);
    }
    this.#write(a, value, cause);
    return null;
  }

  /** Desk d answers again: the newest of each value goes out. */
  deskReturned(d: number): void {
    for (const { what, cause } of this.#world.desks[d]!.kept.take()) this.carryOut(what, cause, OUTCOME.action);
  }

  // Newest wins. What an action is bound to by the message itself is made ready now: later there is another message.
  #holdBack(heldBack: Map<number | string, HeldBack>, a: number, value: number, cause: number): void {
    const { context } = this.#world;
    if (context.table.dynamic(a)) {
      const prepared = this.prepare(a, value, 0);
      heldBack.set(`${a} ${context.numbers(a).join(" ")}`, { a, value, cause, prepared });
    } else heldBack.set(a, { a, value, cause, prepared: null });
  }

  #write(a: number, value: number, cause: number): void {
    const { context, ring, outbox, now } = this.#world;
    const { messages, table } = context;
    const d = table.desk(a);
    const state = table.state(a);
    const off = value <= 0 && table.offs(a) > 0 && table.acts(a) !== LEVEL;
    const start = table.firstMessage(a) + (off ? table.sends(a) : 0);
    const count = off ? table.offs(a) : table.sends(a);
    const known = context.chosen(a) ?? value;
    const desk = this.#world.desks[d]!;
    let row = 0;
    for (let k = start; k < start + count; k++) {
      messages.setValue(k, value);
      const offset = messages.offset(k);
      const length = messages.length(k);
      row = ring.toDesk(
        now[0]!,
        d,
        messages.words,
        offset,
        length,
        OUTCOME.action,
        table.mapping(a),
        table.nth(a),
        value,
        state,
        cause,
      );
      desk.asked(row, state, now[0]!);
      outbox.toDesk(d, messages.bytes, offset, length);
    }
    this.#known(d, state, known, table.reported(a), row, this.#kindOf(a, value), a);
  }

  #known(d: number, state: number, value: number, reported: boolean, row: number, kind: CommandKind, by: number): void {
    if (state < 0) return;
    this.#world.desks[d]!.store.sent(state, value, reported, row, this.#world.now[0]!, kind, by);
    if (!reported) markWatchers(this.#world, d, state);
  }

  /** What a value of action a is to the desk, and so whether it may be sent twice. */
  #kindOf(a: number, value: number): CommandKind {
    const { acts } = this.#world.context.compiled.actions[a]!.fn.fn;
    if (acts === "level") return LEVEL_COMMAND;
    if (!this.#mayRepeat(a)) return ONCE_COMMAND;
    return value > 0 ? ON_COMMAND : OFF_COMMAND;
  }

  /** A message without its value says "the other one", or "now": said twice it says something else. */
  #mayRepeat(a: number): boolean {
    const { fn } = this.#world.context.compiled.actions[a]!.fn;
    let may = this.#repeats.get(fn);
    if (may === undefined) {
      const saysValue = fn.off !== undefined || JSON.stringify(fn.send).includes("{value}");
      may = fn.again !== "never" && (fn.acts === "level" || (fn.acts !== "trigger" && saysValue));
      this.#repeats.set(fn, may);
    }
    return may;
  }

  /** Whether the newest value of a state can be made again from what sent it. */
  canAgain(d: number, index: number): boolean {
    return this.#againBytes(d, index) !== null;
  }

  /** Sends again what we want of a value: it may have been lost. */
  again(d: number, index: number): void {
    const { ring, outbox, desks, now, context } = this.#world;
    const made = this.#againBytes(d, index);
    if (!made) return;
    const desk = desks[d]!;
    const { a } = made;
    const value = desk.store.wanted(index);
    desk.budget.force(now[0]!);
    desk.store.sentAgain++;
    for (const bytes of made.bytes(value)) {
      const row = ring.long(now[0]!, TO_DESK, d, bytes, 0, bytes.length);
      const { table } = context;
      ring.outcome(row, OUTCOME.sentAgain, table.mapping(a), table.nth(a), value, index, 0);
      desk.asked(row, index, now[0]!);
      outbox.toDesk(d, bytes, 0, bytes.length);
    }
  }

  /** The action that sent a value, where its numbers are those of the state: whatever page is up by now. */
  #againBytes(d: number, index: number): { a: number; bytes(value: number): Uint8Array[] } | null {
    const { compiled } = this.#world.context;
    const a = this.#world.desks[d]!.store.sentBy(index);
    const action = compiled.actions[a];
    const state = stateOfIndex(compiled.desks[d]!, index);
    if (!action || !state || action.fn.state !== state || !this.#mayRepeat(a)) return null;
    const said = stateParameters(state, index);
    const numbers = action.fn.parameters.map((p) => said[state.parameters.findIndex((s) => s.id === p.id)]);
    if (numbers.some((n) => n === undefined)) return null;
    return {
      a,
      bytes: (value) => {
        const { context } = this.#world;
        return functionBytes(action.fn, numbers as number[], value, context.facts.clockS(), context.textOf(a)?.(value));
      },
    };
  }

  /** Sends what the budgets held back, as far as they have filled again. */
  tick(): void {
    for (const desk of this.#world.desks) {
      for (const [key, item] of desk.heldBack) {
        if (!desk.budget.take(this.#world.now[0]!)) break;
        desk.heldBack.delete(key);
        this.#writeHeldBack(item);
      }
    }
  }

  /** Sends everything the budgets held back: its tables are about to go. */
  flushAll(): void {
    for (const desk of this.#world.desks) this.#flush(desk.heldBack);
  }

  #flush(heldBack: Map<number | string, HeldBack>): void {
    for (const [key, item] of heldBack) {
      heldBack.delete(key);
      this.#writeHeldBack(item);
    }
  }

  #writeHeldBack({ a, value, cause, prepared }: HeldBack): void {
    if (prepared) this.carryOut(prepared, cause, OUTCOME.action);
    else if (this.#world.context.resolve(a) === READY) this.#write(a, value, cause);
  }

  /** What action a does for a value, made ready now (rule 6): for its release, or for later. */
  prepare(a: number, value: number, delayMs: number): DeskCommand {
    const { context } = this.#world;
    const { action, desk } = context.compiled.actions[a]!;
    const { messages, table } = context;
    const off = value <= 0 && table.offs(a) > 0 && table.acts(a) !== LEVEL;
    const start = table.firstMessage(a) + (off ? table.sends(a) : 0);
    const count = off ? table.offs(a) : table.sends(a);
    const datagrams: Uint8Array[] = [];
    for (let k = start; k < start + count; k++) {
      messages.setValue(k, value);
      datagrams.push(messages.bytes.slice(messages.offset(k), messages.offset(k) + messages.length(k)));
    }
    return {
      kind: "desk",
      desk: desk.id,
      mapping: context.compiled.show.mappings[table.mapping(a)]!.id,
      action: action.id,
      state: table.state(a),
      value: context.chosen(a) ?? value,
      datagrams,
      delayMs,
    };
  }

  /** Carries out what a press left to be done at its release; what was pressed with a delay is let go with it. */
  letGo(held: Held, cause = 0): void {
    const { delays, now } = this.#world;
    for (const what of held.releases) {
      if (what.kind === "layer" || what.kind === "route" || what.delayMs === 0) {
        this.carryOut(what, cause, OUTCOME.letGo);
        continue;
      }
      const early = delays.add({ kind: "send", what, dueMs: now[0]! + what.delayMs, cause, lettingGo: true });
      if (early?.kind === "send") this.carryOut(early.what, early.cause, OUTCOME.letGo);
    }
  }

  /** MIDI as it is, to a desk or a surface by its id. */
  passOn(target: string, bytes: Uint8Array, length: number, cause: number, code: OutcomeCode): void {
    const { ring, outbox, now, desks, surfaces } = this.#world;
    const d = desks.findIndex((x) => x.id === target);
    const s = d < 0 ? surfaces.findIndex((x) => x.id === target) : -1;
    if (d < 0 && s < 0) return;
    const row = ring.long(now[0]!, d >= 0 ? TO_DESK : DIRECTION_OUT, d >= 0 ? d : s, bytes, 0, length);
    ring.outcome(row, code, -1, -1, 0, 0, cause);
    if (d >= 0) {
      desks[d]!.budget.force(now[0]!);
      outbox.toDesk(d, bytes, 0, length);
    } else outbox.toSurface(s, bytes, 0, length);
  }

  /** Does what was made ready; `code` says in the traffic why. */
  carryOut(what: Release, cause: number, code: OutcomeCode): void {
    const world = this.#world;
    if (what.kind === "layer") {
      world.layers = leave(world.layers, what.layer);
      this.#layersChanged();
      return;
    }
    if (what.kind === "house") {
      this.#house(what.call, cause);
      return;
    }
    if (what.kind === "route") {
      this.passOn(what.desk, what.bytes, what.bytes.length, cause, code);
      return;
    }
    const d = world.desks.findIndex((x) => x.id === what.desk);
    if (d < 0) return;
    const desk = world.desks[d]!;
    if (desk.isBlocked) {
      // A release is kept whatever the setting: what hangs at the desk must not hang for ever.
      if (code === OUTCOME.letGo || desk.whenSilent === "keep") desk.kept.keep(what, cause);
      return;
    }
    this.#flush(desk.heldBack);
    desk.budget.force(world.now[0]!);
    const { mappingOf, actions, actionStart } = world.context.compiled;
    const m = mappingOf.get(what.mapping) ?? -1;
    let nth = -1;
    for (let a = actionStart[m] ?? 0; m >= 0 && a < actionStart[m + 1]! && nth < 0; a++)
      if (actions[a]!.action.id === what.action) nth = actions[a]!.nth;
    let row = 0;
    for (const bytes of what.datagrams) {
      row = world.ring.long(world.now[0]!, TO_DESK, d, bytes, 0, bytes.length);
      world.ring.outcome(row, code, m, nth, what.value, what.state, cause);
      desk.asked(row, what.state, world.now[0]!);
      world.outbox.toDesk(d, bytes, 0, bytes.length);
    }
    if (what.state < 0) return;
    const reported = stateOfIndex(world.context.compiled.desks[d]!, what.state)?.reported ?? false;
    const a = nth < 0 ? -1 : actionStart[m]! + nth;
    let kind: CommandKind = a < 0 ? ONCE_COMMAND : this.#kindOf(a, what.value);
    if (code === OUTCOME.letGo && kind !== ONCE_COMMAND) kind = RELEASE_COMMAND;
    this.#known(d, what.state, what.value, reported, row, kind, a);
  }
}
