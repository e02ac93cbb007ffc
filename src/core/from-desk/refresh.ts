/**
 * Which value of a desk is asked for next though nobody moved it: a lost report would else leave a lamp wrong until
 * somebody does. What surfaces show now comes first, the oldest before all; then the rest of what is known, in turn.
 */
import { type CompiledDesk, type CompiledState, stateOfIndex } from "../desk/compile-desk.ts";
import { UNKNOWN } from "../desk/state-store.ts";
import type { DeskRuntime } from "../run-state/desk-runtime.ts";

/** What is shown is asked for once in this time, in ms, as far as the pace below allows. */
const ROUND_MS = 10_000;
/** Pauses between two questions, in ms. */
const LONGEST_PAUSE_MS = 250;
const SHORTEST_PAUSE_MS = 50;
/** What was said so lately, in ms, need not be asked. */
const FRESH_MS = 5000;
/** A desk that leaves so many questions in a row without an answer does not know them; then it is asked this seldom. */
const MOST_UNANSWERED = 8;
const SELDOM_MS = 2000;
/** A desk that can only be asked for everything is asked this often, in ms. */
const WHOLE_EVERY_MS = 10_000;
const LONG_AGO = Number.NEGATIVE_INFINITY;

export class Refresh {
  readonly #compiled: CompiledDesk;
  /** Values of states that can be asked for alone, from and up to (itself left out). */
  readonly #ranges: readonly (readonly [number, number])[];
  #nextMs = 0;
  #nextWholeMs = LONG_AGO;
  #cursor = 0;
  /** The newest questions, for whether they are answered: index and time in turn. */
  #open: { index: number; atMs: number }[] = [];
  #unanswered = 0;

  constructor(compiled: CompiledDesk) {
    this.#compiled = compiled;
    this.#ranges = [...compiled.states.values()]
      .filter(isAskable)
      .map(({ base, count }) => [base, base + count] as const);
  }

  /** The value to ask for now; -1 = none. */
  next(desk: DeskRuntime, atMs: number): number {
    if (this.#ranges.length === 0 || atMs < this.#nextMs) return -1;
    const shown = this.#shown(desk);
    const pauseMs = Math.min(LONGEST_PAUSE_MS, Math.max(SHORTEST_PAUSE_MS, ROUND_MS / Math.max(1, shown.length)));
    this.#count(desk, atMs);
    this.#nextMs = atMs + (this.#unanswered >= MOST_UNANSWERED ? SELDOM_MS : pauseMs);
    const index = this.#oldest(desk, shown, atMs) ?? this.#inTurn(desk, atMs) ?? -1;
    if (index >= 0) this.#open.push({ index, atMs });
    return index;
  }

  /** Whether it is time to ask for everything, because something shown cannot be asked for alone. */
  isWholeDue(desk: DeskRuntime, atMs: number): boolean {
    if (atMs < this.#nextWholeMs || this.#compiled.profile.query.length === 0) return false;
    // It was asked for everything when it began to answer.
    const isFirst = this.#nextWholeMs === LONG_AGO;
    this.#nextWholeMs = atMs + WHOLE_EVERY_MS;
    if (isFirst) return false;
    for (const index of desk.watchers.keys()) {
      const state = stateOfIndex(this.#compiled, index);
      if (state && !isAskable(state) && !state.state.stream && atMs - desk.store.saidAtMs(index) > FRESH_MS)
        return true;
    }
    return false;
  }

  #shown(desk: DeskRuntime): number[] {
    const own = [...desk.watchers.keys()];
    const page = this.#compiled.page;
    if (page) own.push(page.base);
    return own.filter((index) => this.#ranges.some(([from, to]) => index >= from && index < to));
  }

  #oldest(desk: DeskRuntime, shown: readonly number[], atMs: number): number | null {
    let oldest: number | null = null;
    let oldestMs = atMs - FRESH_MS;
    for (const index of shown) {
      if (desk.store.isWaiting(index)) continue; // it is asked for anyway
      const ms = Math.max(desk.store.saidAtMs(index), desk.store.askedAtMs(index));
      if (ms >= oldestMs) continue;
      oldestMs = ms;
      oldest = index;
    }
    return oldest;
  }

  /** The next of what is known, shown or not: a page that is turned to should be as true as the one that is up. */
  #inTurn(desk: DeskRuntime, atMs: number): number | null {
    const { store } = desk;
    let left = this.#ranges.reduce((sum, [from, to]) => sum + to - from, 0);
    while (left-- > 0) {
      const index = this.#step();
      const isDue = atMs - Math.max(store.saidAtMs(index), store.askedAtMs(index)) > ROUND_MS;
      if (isDue && store.source[index] !== UNKNOWN && !store.isWaiting(index)) return index;
    }
    return null;
  }

  #step(): number {
    const range = this.#ranges.find(([, to]) => this.#cursor < to) ?? this.#ranges[0]!;
    const index = this.#cursor >= range[0] && this.#cursor < range[1] ? this.#cursor : range[0];
    this.#cursor = index + 1;
    return index;
  }

  #count(desk: DeskRuntime, atMs: number): void {
    const overdueMs = 2 * desk.link.timing.rtoMs;
    while (this.#open[0] !== undefined && atMs - this.#open[0].atMs > overdueMs) {
      const { index, atMs: askedMs } = this.#open.shift()!;
      this.#unanswered = desk.store.saidAtMs(index) >= askedMs ? 0 : this.#unanswered + 1;
    }
  }
}

function isAskable({ state }: CompiledState): boolean {
  return state.ask !== undefined && state.stream !== true;
}
