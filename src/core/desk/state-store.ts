/**
 * What is known of one desk: a value for every state and parameter, and how we know it.
 *
 * Reported: the desk said so. Assumed: we sent it, and the desk does not report this state. What we drive ourselves and
 * the desk reports is kept true by a `ValueTruth` of its own.
 */
import { IndexSet } from "../sets/index-set.ts";
import type { CompiledDesk } from "./compile-desk.ts";
import { DEFAULT_TIMING } from "./link.ts";
import { ValueTruth } from "./truth.ts";
import {
  CONFIRMED,
  type CommandKind,
  LEVEL_COMMAND,
  LOOK,
  ONCE_COMMAND,
  REST,
  SEND_AGAIN,
  SENT,
  SHOWN,
  shownLateMs,
  THEIRS,
  type Timing,
  UNREPORTED_AGAIN_MS,
  type ValueKind,
} from "./truth-terms.ts";

export const UNKNOWN = 0;
export const ASSUMED = 1;
export const REPORTED = 2;

/** How long a surface that lights itself is given before it is told otherwise, in ms. */
export const CONFIRM_WITHIN_MS = 250;

const VALUE_DOUBLES = 2;
const SENT_ROW = 1;
/** Overdue values without a report that nobody asked for, after which a desk counts as one that only answers. */
const MOST_OVERDUE = 8;

/** Longest text of a desk that is kept. */
const MOST_LETTERS = 200;
/** How often it is looked for values that became late, in ms. */
const LATE_LOOK_MS = 15;

/** Index and value, when it was sent, and what kind of command it was. */
export type UnderWay = readonly [index: number, value: number, sentAtMs: number, command: CommandKind];

/** What comes later after a question is said for another reason, in ms. */
const ANSWERS_WITHIN_MS = 2000;
const NONE: readonly number[] = [];

export class DeskStateStore {
  readonly texts: (string | undefined)[];
  readonly source: Uint8Array;
  /** What the profile says of each state, by the index of its first value, and that index for every value. */
  readonly #kinds: ReadonlyMap<number, ValueKind>;
  readonly #stateBase: Uint32Array;
  /** Two numbers for each value: the value as it is known, and the row of traffic that sent it last. */
  readonly #numbers: Float64Array;
  /** Of each value that we ever sent and the desk reports. */
  readonly #truths: ValueTruth;
  /** Indices that changed since the last `takeChanged`. */
  readonly #changed: IndexSet;
  /** Values that are not at rest. */
  readonly #moving: IndexSet;
  /** Values that were shown as late and came to rest: what shows them has to be drawn anew. */
  readonly #settledLate: IndexSet;
  /** For which sending (its time in ms) a value was told to be late; -1 = it is not. */
  readonly #toldLate: Float64Array;
  /** The action that sent each value last, by its index in the show as it was then; -1 = none. */
  readonly #sentBy: Int32Array;
  /** When something is due next, and when it is to be looked for what is late, in ms. */
  #nextDueMs = Number.POSITIVE_INFINITY;
  #nextLateMs = Number.NEGATIVE_INFINITY;
  /** Values that became overdue one after the other, without a report that nobody asked for. */
  #overdue = 0;
  #timing: Timing = DEFAULT_TIMING;
  /** Values that the desk does not report, to be said again: when each was sent, and how often it was said again. */
  readonly #unreported = new Map<number, { readonly sentAtMs: number; said: number }>();
  #nextUnreportedMs = Number.POSITIVE_INFINITY;
  #askedAllAtMs = Number.NEGATIVE_INFINITY;
  /** How often something was sent again. */
  sentAgain = 0;
  /** After a `report` that confirmed: how long ago the value was sent, in ms. */
  confirmedMs = -1;

  constructor(desk: CompiledDesk) {
    this.texts = new Array<string | undefined>(desk.valueCount);
    this.source = new Uint8Array(desk.valueCount);
    this.#numbers = new Float64Array(desk.valueCount * VALUE_DOUBLES);
    this.#kinds = kindsOf(desk);
    this.#truths = new ValueTruth(desk.valueCount, (index) => this.#kinds.get(this.#stateBase[index]!)!);
    this.#stateBase = new Uint32Array(desk.valueCount);
    for (const { base, count } of desk.states.values()) this.#stateBase.fill(base, base, base + count);
    this.#changed = new IndexSet(desk.valueCount);
    this.#moving = new IndexSet(desk.valueCount);
    this.#settledLate = new IndexSet(desk.valueCount);
    this.#toldLate = new Float64Array(desk.valueCount).fill(-1);
    this.#sentBy = new Int32Array(desk.valueCount).fill(-1);
  }

  /** What the line is like now. Whether the desk tells changes by itself is found out here. */
  setTiming(timing: Timing): void {
    this.#timing = this.#overdue < MOST_OVERDUE ? timing : { ...timing, tells: false };
  }

  /** The number as it is known, reported or assumed. */
  number(index: number): number {
    return this.#numbers[index * VALUE_DOUBLES]!;
  }

  /** The row of traffic that sent this value last; 0 = none. */
  sentRow(index: number): number {
    return this.#numbers[index * VALUE_DOUBLES + SENT_ROW]!;
  }

  /** The action that sent this value last; -1 = none, or its show is no longer there. */
  sentBy(index: number): number {
    return this.#sentBy[index]!;
  }

  /** Actions have other numbers now: each that sent something has the one that `now` answers, -1 = it is gone. */
  renumberActions(now: (action: number) => number): void {
    for (const index of [...this.#moving.list(), ...this.#unreported.keys()]) {
      const by = this.#sentBy[index]!;
      if (by >= 0) this.#sentBy[index] = now(by);
    }
  }

  /** Takes over what another store knew. */
  restore(index: number, value: number | string, source: number): void {
    if (typeof value === "string") this.texts[index] = value;
    else this.#numbers[index * VALUE_DOUBLES] = value;
    this.source[index] = source;
  }

  /** The desk said something of this value. Answers whether that was the first it said since it was asked for it. */
  said(index: number, atMs: number): boolean {
    const truth = this.#truths.of(index);
    const askedAtMs = Math.max(truth.askedAtMs, this.#askedAllAtMs);
    const isAnswer = askedAtMs > truth.saidAtMs && atMs - askedAtMs <= ANSWERS_WITHIN_MS;
    truth.saidAtMs = atMs;
    return isAnswer;
  }

  /** When the desk said something of this value last, and when it was asked for it, in ms; 0 = never. */
  saidAtMs(index: number): number {
    return this.#truths.of(index).saidAtMs;
  }
  askedAtMs(index: number): number {
    return this.#truths.of(index).askedAtMs;
  }

  /** The desk reported a number. Answers what that means, as bits of truth.ts. */
  report(index: number, value: number, atMs: number): number {
    const at = index * VALUE_DOUBLES;
    const wasKnown = this.source[index] === REPORTED;
    const truth = this.#truths.of(index);
    this.confirmedMs = -1;
    let bits: number;
    if (truth.isBegun) {
      const { wantAtMs, askedAtMs } = truth;
      // What nobody asked for shows that it tells by itself.
      if (atMs - askedAtMs > this.#timing.rtoMs) this.#overdue = 0;
      bits = truth.heard(value, atMs, this.#timing);
      if (bits & CONFIRMED) this.confirmedMs = atMs - wantAtMs;
      this.#show(index, truth.desk);
      this.#settle(index, truth);
    } else {
      bits = !wasKnown || this.#numbers[at] !== value ? SHOWN | THEIRS : 0;
      this.#numbers[at] = value;
      this.source[index] = REPORTED;
    }
    if (bits !== 0 || !wasKnown) this.#changed.add(index);
    return bits;
  }

  reportText(index: number, said: string): void {
    const text = said.length > MOST_LETTERS ? said.slice(0, MOST_LETTERS) : said;
    if (this.texts[index] === text && this.source[index] === REPORTED) return;
    this.texts[index] = text;
    this.source[index] = REPORTED;
    this.#changed.add(index);
  }

  /**
   * We sent a value with that row of traffic, by action `by`. Where the desk does not report this state, it is taken as
   * done.
   */
  sent(
    index: number,
    value: number,
    reported: boolean,
    row: number,
    atMs: number,
    command: CommandKind = LEVEL_COMMAND,
    by = -1,
  ): void {
    const at = index * VALUE_DOUBLES;
    this.#numbers[at + SENT_ROW] = row;
    this.#sentBy[index] = by;
    if (!reported) {
      this.#numbers[at] = value;
      this.source[index] = ASSUMED;
      this.#changed.add(index);
      if (this.#timing.isLossy && command !== ONCE_COMMAND) {
        this.#unreported.set(index, { sentAtMs: atMs, said: 0 });
        this.#nextUnreportedMs = Math.min(this.#nextUnreportedMs, atMs + UNREPORTED_AGAIN_MS[0]);
      }
      return;
    }
    const truth = this.#truths.of(index);
    if (!truth.isBegun) truth.begin(this.source[index] === REPORTED ? this.number(index) : Number.NaN);
    if (truth.phase === REST) this.#moving.add(index);
    truth.sent(value, command, atMs, this.#timing);
    if (atMs < this.#nextDueMs) this.#nextDueMs = Math.min(this.#nextDueMs, truth.dueAtMs);
    this.#nextLateMs = Math.min(this.#nextLateMs, this.#toldLate[index]! < 0 ? atMs + LATE_LOOK_MS : atMs);
  }

  /** What was sent and has not been answered, for a store that takes over: it is `sent` there with these. */
  underWay(): UnderWay[] {
    return this.#moving.list().flatMap((index) => {
      const { phase, want, command, sentAtMs } = this.#truths.of(index);
      return phase === SENT ? [[index, want, sentAtMs, command] as const] : [];
    });
  }

  /** The value as far as we know: what was just sent counts before what was reported earlier. */
  effective(index: number): number {
    const truth = this.#truths.of(index);
    return truth.phase !== REST ? truth.effective : this.#numbers[index * VALUE_DOUBLES]!;
  }

  isKnown(index: number): boolean {
    return this.source[index] !== UNKNOWN;
  }

  /** Sent, and the desk has not said yet what became of it. */
  isWaiting(index: number): boolean {
    return this.#truths.of(index).phase !== REST;
  }

  /**
   * On its way for longer than it should be. Only what `takeLate` told counts: whoever shows it hears of each change, so
   * that no light goes on saying what was so for a moment.
   */
  isUnconfirmed(index: number, atMs: number): boolean {
    return this.#toldLate[index]! >= 0 && atMs - this.#waitsSinceMs(index) > shownLateMs(this.#timing);
  }

  /**
   * Values that became unconfirmed by now, or waiting again because they were sent anew, or that came to rest without a
   * word of the desk. Each is told once.
   */
  takeLate(atMs: number): readonly number[] {
    if ((this.#moving.size === 0 && this.#settledLate.size === 0) || atMs < this.#nextLateMs) return NONE;
    this.#nextLateMs = atMs + LATE_LOOK_MS;
    const late = this.#moving.list().filter((index) => this.#becameLate(index, atMs));
    for (const index of late) this.#changed.add(index);
    if (this.#settledLate.size === 0) return late;
    const settled = this.#settledLate.list().filter((index) => !late.includes(index));
    this.#settledLate.clear();
    return [...late, ...settled];
  }

  #becameLate(index: number, atMs: number): boolean {
    const told = this.#toldLate[index]!;
    const sinceMs = this.#waitsSinceMs(index);
    const isLate = atMs - sinceMs > shownLateMs(this.#timing);
    if (isLate ? told === sinceMs : told < 0) return false;
    this.#toldLate[index] = isLate ? sinceMs : -1;
    return true;
  }

  /** Since when a value waits for the word that settles it, in ms; infinity = it does not. */
  #waitsSinceMs(index: number): number {
    const truth = this.#truths.of(index);
    switch (truth.phase) {
      case REST:
        return Number.POSITIVE_INFINITY;
      // What we wanted is over: since somebody else moved it, it is looked whether that holds.
      case LOOK:
        return truth.deskAtMs;
      default:
        return truth.wantAtMs;
    }
  }

  /** What is due by now: `due` is told of each value with what is to be done of it, as bits of truth.ts. */
  tick(atMs: number, canSend: (index: number) => boolean, due: (index: number, bits: number) => void): void {
    if (atMs >= this.#nextUnreportedMs) this.#sayUnreported(atMs, canSend, due);
    if (this.#moving.size === 0 || atMs < this.#nextDueMs) return;
    this.#nextDueMs = Number.POSITIVE_INFINITY;
    for (const index of this.#moving.list()) {
      if (atMs < this.#truths.of(index).dueAtMs) {
        this.#dueAt(this.#truths.dueAtMs);
        continue;
      }
      const may = canSend(index);
      const truth = this.#truths.of(index);
      if (truth.phase === SENT && truth.asks === 0) this.#overdue++;
      const bits = truth.due(atMs, this.#timing, may);
      if (bits !== 0) due(index, bits);
      else this.#settle(index, truth);
      this.#dueAt(this.#truths.of(index).dueAtMs);
    }
  }

  /** Nobody will ever say whether it arrived: it is said again, and newer news takes its place. */
  #sayUnreported(atMs: number, canSend: (index: number) => boolean, due: (index: number, bits: number) => void): void {
    this.#nextUnreportedMs = Number.POSITIVE_INFINITY;
    for (const [index, item] of this.#unreported) {
      if (atMs >= item.sentAtMs + UNREPORTED_AGAIN_MS[item.said]!) {
        item.said++;
        if (canSend(index)) due(index, SEND_AGAIN);
      }
      const next = UNREPORTED_AGAIN_MS[item.said];
      if (next === undefined) this.#unreported.delete(index);
      else this.#nextUnreportedMs = Math.min(this.#nextUnreportedMs, item.sentAtMs + next);
    }
  }

  #dueAt(atMs: number): void {
    if (atMs < this.#nextDueMs) this.#nextDueMs = atMs;
  }

  /** What we want of a value that is under way, or sent last of one that the desk does not report. */
  wanted(index: number): number {
    const truth = this.#truths.of(index);
    return truth.phase === REST ? this.number(index) : truth.want;
  }

  /** An answer decided that a value is to be sent again; to be looked at after a `report`. */
  takeResend(index: number): boolean {
    return this.#truths.of(index).takeResend();
  }

  /** The desk was asked for everything. */
  askedAll(atMs: number): void {
    this.#askedAllAtMs = atMs;
    for (const index of this.#moving.list()) this.#truths.of(index).asked(atMs);
  }

  /** The desk was asked for this value. */
  asked(index: number, atMs: number): void {
    this.#truths.of(index).asked(atMs);
  }

  /** The question for this value could not be put; it is due again then, in ms. */
  askLater(index: number, atMs: number): void {
    this.#truths.of(index).askLater(atMs);
  }

  /** The desk cannot be asked: what it says by itself has to do. */
  cannotAsk(index: number, atMs: number): void {
    const truth = this.#truths.of(index);
    truth.cannotAsk(atMs, this.#timing);
    this.#settle(index, truth);
  }

  /** The desk was away and is back: answers the values that are to be sent again. */
  back(atMs: number): number[] {
    this.#askedAllAtMs = atMs;
    const again: number[] = [];
    for (const index of this.#moving.list()) if (this.#truths.of(index).back(atMs, this.#timing)) again.push(index);
    this.#nextDueMs = atMs; // what is due has moved
    return again;
  }

  /** The desk refused what was sent: it is no longer waited for. */
  forgetSent(index: number): void {
    const truth = this.#truths.of(index);
    if (truth.phase === REST) return;
    truth.refused();
    this.#settle(index, truth);
  }

  takeChanged(): readonly number[] {
    const changed = this.#changed.list();
    this.#changed.clear();
    return changed;
  }

  get hasChanged(): boolean {
    return this.#changed.size > 0;
  }

  /** What the desk said of a value as far as it holds; NaN while it said nothing that does. */
  #show(index: number, desk: number): void {
    const at = index * VALUE_DOUBLES;
    if (Number.isNaN(desk) || (this.source[index] === REPORTED && this.#numbers[at] === desk)) return;
    this.#numbers[at] = desk;
    this.source[index] = REPORTED;
    this.#changed.add(index);
  }

  #settle(index: number, truth: ValueTruth): void {
    if (truth.phase !== REST) {
      this.#moving.add(index);
      this.#dueAt(truth.dueAtMs);
      return;
    }
    this.#moving.delete(index);
    this.#show(index, truth.desk);
    if (this.#toldLate[index]! < 0) return;
    this.#toldLate[index] = -1;
    this.#changed.add(index);
    this.#settledLate.add(index);
  }
}

function kindsOf({ states }: CompiledDesk): Map<number, ValueKind> {
  return new Map(
    [...states.values()].map(({ base, state }) => {
      const { value, step = 0, glides = false } = state;
      if (value.kind !== "number") return [base, { from: 0, travel: 0, step, glides }];
      const { from, to } = value.range;
      return [base, { from: Math.min(from, to), travel: Math.abs(to - from), step, glides }];
    }),
  );
}
