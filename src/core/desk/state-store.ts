/**
 * What is known of one desk: a value for every state and parameter, and how we know it.
 *
 * Reported: the desk said so. Assumed: we sent it, and the desk does not report this state. Sent: we sent it
 * and wait for the desk to confirm.
 */
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

export type StateText = string | number;

export class DeskStateStore {
  readonly numbers: Float64Array;
  readonly texts: (string | undefined)[];
  readonly source: Uint8Array;
  /** When a still unconfirmed value was sent, in ms; -1 = nothing is waiting. */
  readonly sentAtMs: Float64Array;
  readonly sentValue: Float64Array;
  /** Indices that changed since the last `takeChanged`. */
  #changed = new Set<number>();
  #waiting = new Set<number>();
  readonly #echoIndex = new Int32Array(ECHO_MEMORY).fill(-1);
  readonly #echoValue = new Float64Array(ECHO_MEMORY);
  readonly #echoAtMs = new Float64Array(ECHO_MEMORY);
  #echoAt = 0;

  constructor(desk: CompiledDesk) {
    this.numbers = new Float64Array(desk.valueCount);
    this.texts = new Array<string | undefined>(desk.valueCount);
    this.source = new Uint8Array(desk.valueCount);
    this.sentAtMs = new Float64Array(desk.valueCount).fill(-1);
    this.sentValue = new Float64Array(desk.valueCount);
  }

  /** The desk reported a number. Answers how long ago this very value was sent, or -1. */
  report(index: number, value: number, atMs: number): number {
    const changed = this.numbers[index] !== value || this.source[index] !== REPORTED;
    this.numbers[index] = value;
    this.source[index] = REPORTED;
    let confirmedMs = -1;
    const sentAt = this.sentAtMs[index]!;
    if (sentAt >= 0) {
      if (sameNumber(this.sentValue[index]!, value)) {
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

  /** We sent a value. Where the desk does not report this state, it is taken as done. */
  sent(index: number, value: number, reported: boolean, atMs: number): void {
    if (!reported) {
      this.numbers[index] = value;
      this.source[index] = ASSUMED;
      this.#changed.add(index);
      return;
    }
    if (this.sentAtMs[index]! < 0) this.#waiting.add(index);
    this.sentAtMs[index] = atMs;
    this.sentValue[index] = value;
    this.#echoIndex[this.#echoAt] = index;
    this.#echoValue[this.#echoAt] = value;
    this.#echoAtMs[this.#echoAt] = atMs;
    this.#echoAt = (this.#echoAt + 1) % ECHO_MEMORY;
  }

  /** True if we ourselves sent this value a moment ago: the report is an echo, not a change at the desk. */
  isEcho(index: number, value: number, atMs: number): boolean {
    for (let i = 0; i < ECHO_MEMORY; i++)
      if (
        this.#echoIndex[i] === index &&
        atMs - this.#echoAtMs[i]! <= ECHO_WITHIN_MS &&
        sameNumber(this.#echoValue[i]!, value)
      )
        return true;
    return false;
  }

  /** The value as far as we know: what was just sent counts before what was reported earlier. */
  effective(index: number, atMs: number): number {
    const sentAt = this.sentAtMs[index]!;
    return sentAt >= 0 && atMs - sentAt <= CONFIRM_WITHIN_MS ? this.sentValue[index]! : this.numbers[index]!;
  }

  isKnown(index: number): boolean {
    return this.source[index] !== UNKNOWN;
  }

  /** Sent longer ago than the desk should need to confirm it. */
  isUnconfirmed(index: number, atMs: number): boolean {
    const sentAt = this.sentAtMs[index]!;
    return sentAt >= 0 && atMs - sentAt > CONFIRM_WITHIN_MS;
  }

  /** Values whose confirmation is due by now; each is told once, by a change. */
  get waiting(): ReadonlySet<number> {
    return this.#waiting;
  }

  /** After a reset of the desk, what was sent before is no longer waited for. */
  forgetWaiting(): void {
    for (const index of [...this.#waiting]) this.#settle(index);
  }

  markChanged(index: number): void {
    this.#changed.add(index);
  }

  takeChanged(): ReadonlySet<number> {
    const changed = this.#changed;
    if (changed.size > 0) this.#changed = new Set();
    return changed;
  }

  get hasChanged(): boolean {
    return this.#changed.size > 0;
  }

  #settle(index: number): void {
    this.sentAtMs[index] = -1;
    this.#waiting.delete(index);
    this.#changed.add(index);
  }
}

/** Equal after the trip through a 32-bit float on the wire. */
export function sameNumber(a: number, b: number): boolean {
  return a === b || Math.fround(a) === Math.fround(b);
}
