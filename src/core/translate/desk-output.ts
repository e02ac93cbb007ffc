/** The way out to the desks: budgets, prepared datagrams, and what a release has to do. */

import type { Held, Release } from "../gesture/held.ts";
import { LEVEL } from "../mapping/compile.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { DIRECTION_OUT, SIDE_DESK } from "../trace/traffic-ring.ts";
import { READY } from "./context.ts";
import { markWatchers, type World } from "./world.ts";

const TO_DESK = DIRECTION_OUT | SIDE_DESK;

export class DeskOutput {
  readonly #world: World;
  readonly #now: Float64Array;
  readonly #layersChanged: (atMs: number) => void;

  /** `now` holds the present time in ms; the layers that a release ends are told by `layersChanged`. */
  constructor(world: World, now: Float64Array, layersChanged: (atMs: number) => void) {
    this.#world = world;
    this.#now = now;
    this.#layersChanged = layersChanged;
  }

  /** Sends the value of action a; a continuous one may be held back by the budget, and then the newest wins. */
  send(a: number, value: number, cause: number, continuous: boolean): void {
    const { context, desks } = this.#world;
    const desk = desks[context.table.desk(a)]!;
    if (continuous) {
      if (desk.heldBack.size > 0 || !desk.budget.take(this.#now[0]!)) {
        desk.heldBack.set(a, { value, cause }); // newest wins
        return;
      }
    } else {
      this.#flush(desk.heldBack); // values that wait go before the press that follows them
      desk.budget.force(this.#now[0]!);
    }
    this.#write(a, value, cause);
  }

  #write(a: number, value: number, cause: number): void {
    const { context, desks, ring, outbox } = this.#world;
    const { messages, table } = context;
    const d = table.desk(a);
    const desk = desks[d]!;
    const state = table.state(a);
    const off = value <= 0 && table.offs(a) > 0 && table.acts(a) !== LEVEL;
    const start = table.firstMessage(a) + (off ? table.sends(a) : 0);
    const count = off ? table.offs(a) : table.sends(a);
    let row = 0;
    for (let k = start; k < start + count; k++) {
      messages.setValue(k, value);
      const offset = messages.offset(k);
      const length = messages.length(k);
      row = ring.toDesk(
        this.#now[0]!,
        d,
        messages.words,
        offset,
        length,
        OUTCOME.action,
        table.mapping(a),
        table.place(a),
        value,
        state,
        cause,
      );
      outbox.toDesk(d, messages.bytes, offset, length);
    }
    if (state >= 0) {
      const reported = table.reported(a);
      desk.store.sent(state, value, reported, row, this.#now[0]!);
      if (!reported) markWatchers(this.#world, d, state);
    }
  }

  /** Sends what the budgets held back, as far as they have filled again. */
  tick(): void {
    for (const desk of this.#world.desks) {
      for (const [a, { value, cause }] of desk.heldBack) {
        if (!desk.budget.take(this.#now[0]!)) break;
        desk.heldBack.delete(a);
        this.#writeHeldBack(a, value, cause);
      }
    }
  }

  /** Sends everything the budgets held back: its tables are about to go. */
  flushAll(): void {
    for (const desk of this.#world.desks) this.#flush(desk.heldBack);
  }

  #flush(heldBack: Map<number, { value: number; cause: number }>): void {
    for (const [a, { value, cause }] of heldBack) {
      heldBack.delete(a);
      this.#writeHeldBack(a, value, cause);
    }
  }

  #writeHeldBack(a: number, value: number, cause: number): void {
    if (this.#world.context.resolve(a) === READY) this.#write(a, value, cause);
  }

  /** What the release of a press of action a has to do, made ready now (rule 6). */
  releaseOf(a: number): Release {
    const { context } = this.#world;
    const { action, desk, mapping } = context.compiled.actions[a]!;
    const { messages, table } = context;
    const off = table.offs(a) > 0;
    const start = table.firstMessage(a) + (off ? table.sends(a) : 0);
    const count = off ? table.offs(a) : table.sends(a);
    const datagrams: Uint8Array[] = [];
    for (let k = start; k < start + count; k++) {
      messages.setValue(k, 0);
      datagrams.push(messages.bytes.slice(messages.offset(k), messages.offset(k) + messages.length(k)));
    }
    return {
      kind: "desk",
      desk: desk.id,
      mapping: context.compiled.show.mappings[mapping]!.id,
      action: action.id,
      state: table.state(a),
      datagrams,
    };
  }

  /** Carries out what a press left to be done at its release. */
  letGo(held: Held, cause = 0): void {
    const world = this.#world;
    for (const release of held.releases) {
      if (release.kind === "layer") {
        world.layers = world.layers.filter((l) => l !== release.layer);
        this.#layersChanged(this.#now[0]!);
        continue;
      }
      const d = world.desks.findIndex((x) => x.id === release.desk);
      if (d < 0) continue;
      const desk = world.desks[d]!;
      desk.budget.force(this.#now[0]!);
      const m = world.context.compiled.show.mappings.findIndex((x) => x.id === release.mapping);
      let row = 0;
      for (const bytes of release.datagrams) {
        row = world.ring.long(this.#now[0]!, TO_DESK, d, bytes, 0, bytes.length);
        world.ring.outcome(row, OUTCOME.letGo, m, -1, 0, release.state, cause);
        world.outbox.toDesk(d, bytes, 0, bytes.length);
      }
      if (release.state < 0) continue;
      const reported = reportedAt(world, d, release.state);
      desk.store.sent(release.state, 0, reported, row, this.#now[0]!);
      if (!reported) markWatchers(world, d, release.state);
    }
  }
}

function reportedAt(world: World, d: number, index: number): boolean {
  for (const state of world.context.compiled.desks[d]!.states.values())
    if (index >= state.base && index < state.base + state.count) return state.reported;
  return false;
}
