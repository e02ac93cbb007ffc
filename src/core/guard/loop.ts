/**
 * Finds a port that hears itself (rule 19): the very message that just went out comes back in, again and
 * again. The route is then opened until somebody closes it by hand.
 */

/** A message that comes back within this time of being sent counts as its echo, in ms. */
export const ECHO_WITHIN_MS = 50;
/** Echoes within `WINDOW_MS` that trip the route. A hand cannot repeat a light's own message that often. */
export const TRIP_AFTER = 24;
export const WINDOW_MS = 100;

const SLOTS = 1024;

export class LoopDetector {
  readonly #sentAtMs = new Float64Array(SLOTS).fill(Number.NEGATIVE_INFINITY);
  readonly #sentWord = new Int32Array(SLOTS);
  #windowStartMs = Number.NEGATIVE_INFINITY;
  #echoes = 0;
  #tripped = false;

  get tripped(): boolean {
    return this.#tripped;
  }

  sent(status: number, data1: number, data2: number, atMs: number): void {
    const word = (status << 16) | (data1 << 8) | data2;
    const slot = slotOf(word);
    this.#sentWord[slot] = word;
    this.#sentAtMs[slot] = atMs;
  }

  /** Call for each message that comes in; true while the route is open. */
  heard(status: number, data1: number, data2: number, atMs: number): boolean {
    if (this.#tripped) return true;
    const word = (status << 16) | (data1 << 8) | data2;
    const slot = slotOf(word);
    if (this.#sentWord[slot] !== word || atMs - this.#sentAtMs[slot]! > ECHO_WITHIN_MS) return false;
    if (atMs - this.#windowStartMs > WINDOW_MS) {
      this.#windowStartMs = atMs;
      this.#echoes = 0;
    }
    this.#echoes++;
    if (this.#echoes >= TRIP_AFTER) this.#tripped = true;
    return this.#tripped;
  }

  /** Closes the route again. */
  rearm(): void {
    this.#tripped = false;
    this.#echoes = 0;
    this.#windowStartMs = Number.NEGATIVE_INFINITY;
  }
}

function slotOf(word: number): number {
  return (Math.imul(word, 0x9e37_79b1) >>> 22) & (SLOTS - 1);
}
