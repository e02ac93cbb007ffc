/**
 * What is known of one desk: a value for every state and parameter, and how we know it.
 *
 * Reported: the desk said so. Assumed: we sent it, and the desk does not report this state. Sent: we sent it
 * and wait for the desk to confirm.
 */
import { IndexSet } from "../sets/index-set.ts";
import type { CompiledDesk } from "./compile-desk.ts";

export const UNKNOWN = 0;
export const ASSUMED = 1;
export const REPORTED = 2;

/** How long a sent value may stay unconfirmed before the screen and the lights say so, in ms. */
export const CONFIRM_WITHIN_MS = 250;
/** How many of our own last values are remembered, to tell an echo from a change at the desk. */
const ECHO_MEMORY = 32;
/** How long an answer may take and still count as the echo of what we sent, in ms. */
export const ECHO_WITHIN_MS = 1000;

const VALUE_DOUBLES = 4;
const SENT_AT_MS = 1;
const SENT_VALUE = 2;
const SENT_ROW = 3;
const ECHO_DOUBLES = 3;

const NONE: readonly number[] = [];

export class DeskStateStore {
  readonly texts: (string | undefined)[];
  readonly source: Uint8Array;
  /**
   * Four numbers for each value, side by side because sending touches all of them: the value as it is known; when a
   * still unconfirmed one was sent, in ms (-1 = nothing is waiting); that one; and the row of traffic that sent it.
   */
  readonly #numbers: Float64Array;
  /** Indices that changed since the last `takeChanged`. */
  readonly #changed: IndexSet;
  readonly #waiting: IndexSet;
  /** For which sending (its time in ms) a value was told to be late; -1 = it is not. */
  readonly #toldLate: Float64Array;
  /** Index, value and time of our own last values. */
  readonly #echoes = new Float64Array(ECHO_MEMORY * ECHO_DOUBLES).fill(-1);
  #echoAt = 0;

  constructor(desk: CompiledDesk) {
    this.texts = new Array<string | undefined>(desk.valueCount);
    this.source = new Uint8Array(desk.valueCount);
    this.#numbers = new Float64Array(desk.valueCount * VALUE_DOUBLES);
    for (let i = 0; i < desk.valueCount; i++) this.#numbers[i * VALUE_DOUBLES + SENT_AT_MS] = -1;
    this.#changed = new IndexSet(desk.valueCount);
    this.#waiting = new IndexSet(desk.valueCount);
    this.#toldLate = new Float64Array(desk.valueCount).fill(-1);
  }

  /** The number as it is known, reported or assumed. */
  number(index: number): number {
    return this.#numbers[index * VALUE_DOUBLES]!;
  }

  /** The row of traffic that sent this value last; 0 = none. */
  sentRow(index: number): number {
    return this.#numbers[index * VALUE_DOUBLES + SENT_ROW]!;
  }

  /** Takes over what another store knew. */
  restore(index: number, value: number | string, source: number): void {
    if (typeof value === "string") this.texts[index] = value;
    else this.#numbers[index * VALUE_DOUBLES] = value;
    this.source[index] = source;
  }

  /** The desk reported a number. Answers how long ago this very value was sent, or -1. */
  report(index: number, value: number, atMs: number): number {
    const at = index * VALUE_DOUBLES;
    const changed = this.#numbers[at] !== value || this.source[index] !== REPORTED;
    this.#numbers[at] = value;
    this.source[index] = REPORTED;
    let confirmedMs = -1;
    const sentAt = this.#numbers[at + SENT_AT_MS]!;
    if (sentAt >= 0) {
      if (sameNumber(this.#numbers[at + SENT_VALUE]!, value)) {
        confirmedMs = atMs - sentAt;
        this.#settle(index);
      } else if (!this.isEcho(index, value, atMs)) this.#settle(index); // the desk decided otherwise
    }
    if (changed || confirmedMs >= 0) this.#changed.add(index);
    return confirmedMs;
  }

  reportText(index: number, text: string): void {
    if (this.texts[index] === text && this.source[index] === REPORTED) return;
    this.texts[index] = text;
    this.source[index] = REPORTED;
    this.#changed.add(index);
  }

  /** We sent a value with that row of traffic. Where the desk does not report this state, it is taken as done. */
  sent(index: number, value: number, reported: boolean, row: number, atMs: number): void {
    const numbers = this.#numbers;
    const at = index * VALUE_DOUBLES;
    numbers[at + SENT_ROW] = row;
    if (!reported) {
      numbers[at] = value;
      this.source[index] = ASSUMED;
      this.#changed.add(index);
      return;
    }
    if (numbers[at + SENT_AT_MS]! < 0) this.#waiting.add(index);
    numbers[at + SENT_AT_MS] = atMs;
    numbers[at + SENT_VALUE] = value;
    const echoes = this.#echoes;
    const echo = this.#echoAt;
    echoes[echo] = index;
    echoes[echo + 1] = value;
    echoes[echo + 2] = atMs;
    this.#echoAt = (echo + ECHO_DOUBLES) % (ECHO_MEMORY * ECHO_DOUBLES);
  }

  /** True if we ourselves sent this value a moment ago: the report is an echo, not a change at the desk. */
  isEcho(index: number, value: number, atMs: number): boolean {
    const echoes = this.#echoes;
    for (let i = 0; i < echoes.length; i += ECHO_DOUBLES)
      if (echoes[i] === index && atMs - echoes[i + 2]! <= ECHO_WITHIN_MS && sameNumber(echoes[i + 1]!, value))
        return true;
    return false;
  }

  /** The value as far as we know: what was just sent counts before what was reported earlier. */
  effective(index: number, atMs: number): number {
    const at = index * VALUE_DOUBLES;
    const sentAt = this.#numbers[at + SENT_AT_MS]!;
    const fresh = sentAt >= 0 && atMs - sentAt <= CONFIRM_WITHIN_MS;
    return this.#numbers[fresh ? at + SENT_VALUE : at]!;
  }

  isKnown(index: number): boolean {
    return this.source[index] !== UNKNOWN;
  }

  /** Sent, and the desk has not said yet what became of it. */
  isWaiting(index: number): boolean {
    return this.#numbers[index * VALUE_DOUBLES + SENT_AT_MS]! >= 0;
  }

  /** Sent longer ago than the desk should need to confirm it. */
  isUnconfirmed(index: number, atMs: number): boolean {
    const sentAt = this.#numbers[index * VALUE_DOUBLES + SENT_AT_MS]!;
    return sentAt >= 0 && atMs - sentAt > CONFIRM_WITHIN_MS;
  }

  /** Values that became unconfirmed by now, or waiting again because they were sent anew. Each is told once. */
  takeLate(atMs: number): readonly number[] {
    if (this.#waiting.size === 0) return NONE;
    const late = this.#waiting.list().filter((index) => this.#becameLate(index, atMs));
    for (const index of late) this.#changed.add(index);
    return late;
  }

  #becameLate(index: number, atMs: number): boolean {
    const told = this.#toldLate[index]!;
    const sentAt = this.#numbers[index * VALUE_DOUBLES + SENT_AT_MS]!;
    const isLate = this.isUnconfirmed(index, atMs);
    if (isLate ? told === sentAt : told < 0) return false;
    this.#toldLate[index] = isLate ? sentAt : -1;
    return true;
  }

  /** After a reset of the desk, what was sent before is no longer waited for. */
  forgetWaiting(): void {
    for (const index of this.#waiting.list()) this.#settle(index);
  }

  /** The desk refused what was sent: it is no longer waited for. */
  forgetSent(index: number): void {
    if (this.isWaiting(index)) this.#settle(index);
  }

  takeChanged(): readonly number[] {
    const changed = this.#changed.list();
    this.#changed.clear();
    return changed;
  }

  get hasChanged(): boolean {
    return this.#changed.size > 0;
  }

  #settle(index: number): void {
    this.#numbers[index * VALUE_DOUBLES + SENT_AT_MS] = -1;
    this.#waiting.delete(index);
    this.#toldLate[index] = -1;
    this.#changed.add(index);
  }
}

/** Equal after the trip through a 32-bit float on the wire. */
function sameNumber(a: number, b: number): boolean {
  return a === b || Math.fround(a) === Math.fround(b);
}
