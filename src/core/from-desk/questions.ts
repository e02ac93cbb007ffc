/**
 * What keeps the knowledge of a desk true when its line is not (desk/truth.ts): what is due is sent again, and the desk is
 * asked where what it said and what we want do not agree. One state is asked for by itself where the profile says how;
 * else the desk is asked for everything, for all that wait at once and not too often.
 */
import { stateOfIndex, stateParameters } from "../desk/compile-desk.ts";
import { NO_NETWORK } from "../desk/link.ts";
import { encodeMessage } from "../desk/message-template.ts";
import { ASK, SEND_AGAIN } from "../desk/truth-terms.ts";
import { saysFor } from "../desk/wire-numbers.ts";
import type { DeskRuntime } from "../run-state/desk-runtime.ts";
import type { World } from "../run-state/world.ts";
import type { DeskOutput } from "../to-desk/desk-output.ts";
import { Refresh } from "./refresh.ts";
import type { ReportPath } from "./reports.ts";

/** The desk is asked for everything no more often than this, in ms. */
const WHOLE_EVERY_MS = 400;
/** Questions for single states a second, over all of a desk. */
const QUESTIONS_PER_S = 50;

export class Questions {
  readonly #world: World;
  readonly #output: DeskOutput;
  readonly #reports: ReportPath;
  readonly #refreshing = new WeakMap<DeskRuntime, Refresh>();

  constructor(world: World, output: DeskOutput, reports: ReportPath) {
    this.#world = world;
    this.#output = output;
    this.#reports = reports;
  }

  /** Does what is due of the values of desk d. Without links, as in a dry run, nothing is asked or sent again. */
  tick(d: number, atMs: number, links: boolean): void {
    const desk = this.#world.desks[d]!;
    const { store, link } = desk;
    store.setTiming(links ? link.timing : NO_NETWORK);
    const compiled = this.#world.context.compiled.desks[d]!;
    const whole: number[] = [];
    const canSend = (index: number) => links && !desk.isBlocked && this.#output.canAgain(d, index);
    store.tick(atMs, canSend, (index, bits) => {
      if (bits & SEND_AGAIN) this.#output.again(d, index);
      if (!(bits & ASK) || desk.isBlocked) return;
      if (!links) {
        store.cannotAsk(index, atMs);
        return;
      }
      const state = stateOfIndex(compiled, index);
      if (state?.state.ask) this.#ask(d, index, atMs);
      else if (compiled.profile.query.length > 0) whole.push(index);
      else store.cannotAsk(index, atMs);
    });
    if (whole.length > 0) this.#askAll(d, whole, atMs);
    // A report that was lost of what nobody here moves is missed by nobody: what is shown is asked for now and then.
    if (links && desk.isLossy && link.state.health === "answering") this.#refresh(d, desk, atMs);
  }

  #refresh(d: number, desk: DeskRuntime, atMs: number): void {
    let refresh = this.#refreshing.get(desk);
    if (!refresh) {
      refresh = new Refresh(this.#world.context.compiled.desks[d]!);
      this.#refreshing.set(desk, refresh);
    }
    const index = refresh.next(desk, atMs);
    if (index >= 0) this.#ask(d, index, atMs);
    else if (refresh.isWholeDue(desk, atMs)) this.#askAll(d, [], atMs);
  }

  #ask(d: number, index: number, atMs: number): void {
    const desk = this.#world.desks[d]!;
    if (!desk.mayAsk(atMs, 1000 / QUESTIONS_PER_S)) {
      if (desk.store.isWaiting(index)) desk.store.askLater(index, atMs + 1000 / QUESTIONS_PER_S);
      return;
    }
    const state = stateOfIndex(this.#world.context.compiled.desks[d]!, index)!;
    const says = saysFor(state.parameters, stateParameters(state, index), 0);
    const send = state.state.ask!.map((message) => encodeMessage(message, says));
    this.#reports.upkeep(d, { send, returned: false }, atMs);
    desk.store.asked(index, atMs);
  }

  #askAll(d: number, indices: readonly number[], atMs: number): void {
    const desk = this.#world.desks[d]!;
    const everyMs = Math.max(WHOLE_EVERY_MS, desk.link.timing.rtoMs);
    if (!desk.mayAskAll(atMs, everyMs)) {
      for (const index of indices) desk.store.askLater(index, atMs + everyMs / 4);
      return;
    }
    this.#reports.upkeep(d, { send: desk.link.query(), returned: false }, atMs);
    desk.store.askedAll(atMs);
  }
}
