/**
 * Our own values that may still be under way to a desk, or come back from it as echoes. All values of a desk share one ring,
 * to which each sending is appended; each value knows its newest, and each entry the one before it of the same value.
 */

/** Entries of the ring: at 5,000 messages a second they last thirteen seconds. A power of two. */
const ENTRIES = 65_536;
/** Of one value so many are looked at: more than two seconds of a fast fader. */
const MOST = 256;

const VALUE = 0;
const AT_MS = 1;
const BEFORE = 2;
const DOUBLES = 3;

/** In the place of a number of an entry: there is none. */
export const NO_ENTRY = -1;

export class OwnValues {
  readonly #entries = new Float64Array(ENTRIES * DOUBLES);
  readonly #seen = new Uint8Array(ENTRIES);
  #count = 0;

  /** Appends a value whose newest entry was `before`; answers the number of the new one. */
  push(value: number, atMs: number, before: number): number {
    const n = this.#count++;
    const slot = n & (ENTRIES - 1);
    const at = slot * DOUBLES;
    this.#entries[at + VALUE] = value;
    this.#entries[at + AT_MS] = atMs;
    this.#entries[at + BEFORE] = before;
    this.#seen[slot] = 0;
    return n;
  }

  /** An entry that was written over, or is older than `sinceMs`, is no longer there. */
  #isThere(n: number, sinceMs: number): boolean {
    return n >= 0 && n > this.#count - ENTRIES && this.#entries[(n & (ENTRIES - 1)) * DOUBLES + AT_MS]! >= sinceMs;
  }

  #before(n: number): number {
    return this.#entries[(n & (ENTRIES - 1)) * DOUBLES + BEFORE]!;
  }

  #value(n: number): number {
    return this.#entries[(n & (ENTRIES - 1)) * DOUBLES + VALUE]!;
  }

  /**
   * Of the entries from `newest` back to `sinceMs`: the newest that a report fits within `tolerance` and that was not seen,
   * else the newest seen.
   */
  find(newest: number, sinceMs: number, value: number, tolerance: number): number {
    let seen = NO_ENTRY;
    for (let n = newest, k = 0; k < MOST && this.#isThere(n, sinceMs); n = this.#before(n), k++) {
      const own = this.#value(n);
      if (!(Math.abs(own - value) <= tolerance || Math.fround(own) === Math.fround(value))) continue;
      if (this.#seen[n & (ENTRIES - 1)] === 0) return n;
      if (seen < 0) seen = n;
    }
    return seen;
  }

  see(n: number): void {
    this.#seen[n & (ENTRIES - 1)] = 1;
  }

  allSeen(newest: number, sinceMs: number): boolean {
    for (let n = newest, k = 0; k < MOST && this.#isThere(n, sinceMs); n = this.#before(n), k++)
      if (this.#seen[n & (ENTRIES - 1)] === 0) return false;
    return true;
  }

  /** How long after another value the newest was sent, in ms; infinite where it stands alone. */
  newestAfterMs(newest: number, sinceMs: number): number {
    if (!this.#isThere(newest, sinceMs)) return Number.POSITIVE_INFINITY;
    const atMs = this.#entries[(newest & (ENTRIES - 1)) * DOUBLES + AT_MS]!;
    for (let n = newest, k = 0; k < MOST && this.#isThere(n, sinceMs); n = this.#before(n), k++)
      if (this.#value(n) !== this.#value(newest)) return atMs - this.#entries[(n & (ENTRIES - 1)) * DOUBLES + AT_MS]!;
    return Number.POSITIVE_INFINITY;
  }
}
