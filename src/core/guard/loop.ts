/**
 * Finds a way that hears itself (rule 19): a message that went out comes back in, and what it causes goes out again. Two
 * signs of it, each enough:
 *
 * - Generations. A message that comes back is one generation older than the one that went out, and what it causes to go
 *   out is as old as it is. Hands, clocks and instruments make messages of generation 0, however often they repeat them,
 *   also where each comes back once. Only a ring makes old ones. Any length, any period up to a second.
 * - Echoes. Lights come back within milliseconds, again and again, as no hand repeats a light's own message.
 *   This finds rings that lead over the answers of a desk, where nothing is known of what caused what.
 *
 * The route is then opened until somebody closes it by hand.
 */

/** In the place of a generation: it was not caused by a message but by what a desk says, or by time. */
export const NOT_CAUSED = -1;
/** A message that comes back within this time of being sent is the next generation of it, in ms. */
export const RETURN_WITHIN_MS = 1000;
/** So many generations trip the route, where they come at the pace of a cable or a network … */
export const TRIP_GENERATIONS = 8;
/** … that is, each as long after its sending as the one before, within this time in ms or this part of it. */
const PACE_MS = 6;
const PACE_PART = 0.05;
/** So many trip it at any pace. */
export const TRIP_GENERATIONS_ANY = 64;
/** A light that comes back within this time of being sent counts as its echo, in ms. */
export const ECHO_WITHIN_MS = 50;
/** Echoes within `WINDOW_MS` that trip the route. */
export const TRIP_AFTER = 24;
export const WINDOW_MS = 100;

/** Messages that are remembered; another that falls into the same slot takes its place. A power of two. */
const SLOTS = 1024;

export class LoopDetector {
  readonly #word = new Int32Array(SLOTS);
  readonly #sentAtMs = new Float64Array(SLOTS).fill(Number.NEGATIVE_INFINITY);
  readonly #generation = new Int32Array(SLOTS);
  /** How long the last return took, in ms, and how many before it took as long. */
  readonly #tookMs = new Float64Array(SLOTS);
  readonly #pace = new Int32Array(SLOTS);
  #windowStartMs = Number.NEGATIVE_INFINITY;
  #echoes = 0;
  #tripped = false;

  get tripped(): boolean {
    return this.#tripped;
  }

  /** A message went out; `generation`: of the message that caused it, 0 where none did, NOT_CAUSED of a light. */
  sent(word: number, generation: number, atMs: number): void {
    const slot = slotOf(word);
    if (this.#word[slot] !== word || generation <= 0) this.#pace[slot] = 0;
    this.#word[slot] = word;
    this.#sentAtMs[slot] = atMs;
    this.#generation[slot] = generation;
  }

  /** A message came in; answers its generation. Look at `tripped` before it is passed on. */
  heard(word: number, atMs: number): number {
    const slot = slotOf(word);
    if (this.#word[slot] !== word) return 0;
    const tookMs = atMs - this.#sentAtMs[slot]!;
    if (tookMs > RETURN_WITHIN_MS) return 0;
    const generation = this.#generation[slot]! + 1;
    if (generation === NOT_CAUSED + 1) {
      if (tookMs <= ECHO_WITHIN_MS) this.#echo(atMs);
      return 0;
    }
    const spread = Math.max(PACE_MS, PACE_PART * tookMs);
    this.#pace[slot] = Math.abs(tookMs - this.#tookMs[slot]!) <= spread ? this.#pace[slot]! + 1 : 0;
    this.#tookMs[slot] = tookMs;
    if (generation >= TRIP_GENERATIONS_ANY) this.#tripped = true;
    if (generation >= TRIP_GENERATIONS && this.#pace[slot]! >= TRIP_GENERATIONS - 1) this.#tripped = true;
    return generation;
  }

  #echo(atMs: number): void {
    if (atMs - this.#windowStartMs > WINDOW_MS) {
      this.#windowStartMs = atMs;
      this.#echoes = 0;
    }
    this.#echoes++;
    if (this.#echoes >= TRIP_AFTER) this.#tripped = true;
  }

  /** Closes the route again. */
  rearm(): void {
    this.#tripped = false;
    this.#echoes = 0;
    this.#windowStartMs = Number.NEGATIVE_INFINITY;
    this.#sentAtMs.fill(Number.NEGATIVE_INFINITY);
    this.#pace.fill(0);
  }
}

/** A message of up to three bytes as one number; those that are not there are 0. */
export function wordOf(status: number, data1: number, data2: number): number {
  return (status << 16) | (data1 << 8) | data2;
}

/** Any message as one number: short ones as they are, longer ones by FNV-1a, with the top bit set. */
export function wordOfBytes(bytes: Uint8Array, offset: number, length: number): number {
  if (length <= 3)
    return wordOf(bytes[offset]!, length > 1 ? bytes[offset + 1]! : 0, length > 2 ? bytes[offset + 2]! : 0);
  let hash = 0x811c_9dc5;
  for (let i = offset; i < offset + length; i++) hash = Math.imul(hash ^ bytes[i]!, 0x0100_0193);
  return hash | 0x8000_0000;
}

function slotOf(word: number): number {
  return (Math.imul(word, 0x9e37_79b1) >>> 22) & (SLOTS - 1);
}
