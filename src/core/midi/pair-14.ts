/**
 * A 14-bit value that comes in two 7-bit messages: MSB then LSB, LSB then MSB, an MSB alone, or an LSB alone.
 *
 * Which of them a unit does, and how long it takes for it, is learned from what arrives together, so that no half-new
 * value gets out: with (MSB 10, LSB 127) followed by (11, 0), a reader that takes each byte at once would say 10.127,
 * 11.127, 11.0.
 *
 * MIDI 1.0 Detailed Specification 4.2, "Control Change", controllers 0-31 (MSB) and 32-63 (LSB): an MSB sets the LSB to
 * zero; an LSB alone is a fine movement within the MSB that was sent before.
 */

/** How long one half waits for the other, in ms, once it is known how a unit sends. Units send both in one go. */
export const PAIR_WITHIN_MS = 10;
/** How long the first half of all waits: nothing is known of the unit yet. */
export const FIRST_WITHIN_MS = 30;
/** A unit whose halves come further apart than this sends two values and not one. */
export const PAIR_AT_MOST_MS = 100;

export type PairOrder = "unknown" | "msb-first" | "lsb-first" | "msb-alone";

/** In the place of a value 0..16383: nothing is known yet, or the other half is waited for. */
export const NO_VALUE = -1;

/** A 7-bit value over the whole 14-bit range: 0 is 0 and 127 is 16383. */
export function widen7(value7: number): number {
  return (value7 << 7) | value7;
}

export class Pair14 {
  order: PairOrder = "unknown";
  #msb = NO_VALUE;
  #lsb = 0;
  /** An LSB has been heard: an MSB alone means that the LSB is zero. */
  #hasLsb = false;
  #waiting: "none" | "for-lsb" | "for-msb" = "none";
  #within = FIRST_WITHIN_MS;
  /** When the newest half came (-Infinity: none has), and whether it was an LSB. */
  #sinceMs = Number.NEGATIVE_INFINITY;
  #newestIsLsb = false;
  #further = NO_VALUE;
  /** How long after an MSB that was taken for alone an LSB came, in ms: whether it was that MSB's, the next half tells. */
  #lateMs = PAIR_AT_MOST_MS + 1;

  /** True while one half waits for the other. */
  get isWaiting(): boolean {
    return this.#waiting !== "none";
  }

  /** How long one half waits for the other now, in ms. */
  get withinMs(): number {
    return this.#within;
  }

  /**
   * The MSB, 0..127, at `atMs`. Answers a whole value, 0..16383, or NO_VALUE. Where an MSB before it waited for an LSB
   * that never came, that is the value answered, and the new one waits, or is told by `takeFurther`.
   */
  msb(value7: number, atMs: number): number {
    const gap = atMs - this.#sinceMs;
    const before = this.#msb;
    const wasWaiting = this.#waiting;
    // The other half of an LSB that was given up for alone: this unit takes longer than others.
    if (wasWaiting === "none" && this.order === "lsb-first" && this.#newestIsLsb) this.#learnGap(gap);
    this.#msb = value7;
    this.#sinceMs = atMs;
    this.#newestIsLsb = false;
    if (wasWaiting === "for-msb" && gap <= this.#within) {
      this.order = "lsb-first";
      this.#learnGap(gap);
      this.#waiting = "none";
      return this.#whole();
    }
    if (wasWaiting === "for-lsb" && !this.#hasLsb) {
      // Two in a row: both were alone, and a press and its release must not become one.
      this.order = "msb-alone";
      this.#waiting = "none";
      this.#further = widen7(value7);
      return widen7(before);
    }
    if (this.order === "msb-alone" && !this.#hasLsb) {
      this.#waiting = "none";
      return widen7(value7);
    }
    this.#lsb = 0;
    this.#waiting = "for-lsb";
    return wasWaiting === "for-lsb" ? before << 7 : NO_VALUE;
  }

  /** The value of the MSB that was told last, where `msb` has answered with the one before it; else NO_VALUE. */
  takeFurther(): number {
    const further = this.#further;
    this.#further = NO_VALUE;
    return further;
  }

  /** The LSB, 0..127, at `atMs`. Answers the whole value, 0..16383, or NO_VALUE. */
  lsb(value7: number, atMs: number): number {
    const gap = atMs - this.#sinceMs;
    const afterMsb = this.#msb >= 0 && !this.#newestIsLsb && this.order !== "lsb-first";
    // Of an MSB that was taken for alone, a little late, or the first LSB of all: the unit needs longer than was thought.
    const isLate = afterMsb && gap <= (this.#hasLsb ? this.#within * 1.5 : PAIR_AT_MOST_MS);
    this.#lateMs = afterMsb ? gap : PAIR_AT_MOST_MS + 1;
    this.#lsb = value7;
    this.#sinceMs = atMs;
    this.#newestIsLsb = true;
    this.#hasLsb = true;
    if (this.#waiting === "for-lsb" || isLate) {
      this.order = "msb-first";
      this.#learnGap(gap);
      this.#waiting = "none";
      return this.#whole();
    }
    // A unit that sends the MSB first may leave it out while it stays the same.
    if (this.order === "msb-first" && this.#msb >= 0) return this.#whole();
    this.#waiting = "for-msb";
    return NO_VALUE;
  }

  /** The value of a half that has waited long enough, or NO_VALUE. */
  due(atMs: number): number {
    if (this.#waiting === "none" || atMs - this.#sinceMs <= this.#within) return NO_VALUE;
    return this.flush();
  }

  /** The value of a half whose other half will not come any more, or NO_VALUE. */
  flush(): number {
    if (this.#waiting === "none") return NO_VALUE;
    const alone = this.#waiting === "for-lsb";
    this.#waiting = "none";
    if (alone) {
      // Where LSBs are known, which of them this MSB belongs to is not: what comes next is waited for.
      this.order = this.#hasLsb ? "unknown" : "msb-alone";
      return this.#hasLsb ? this.#msb << 7 : widen7(this.#msb);
    }
    if (this.#msb < 0) return NO_VALUE;
    if (this.#lateMs <= PAIR_AT_MOST_MS) {
      this.order = "msb-first"; // no MSB came after it: it belonged to the one before
      this.#learnGap(this.#lateMs);
    }
    return this.#whole();
  }

  /** A unit waits as long as it has shown to need, and half as much again; a shorter wait is learned slowly. */
  #learnGap(gapMs: number): void {
    if (gapMs > PAIR_AT_MOST_MS) return;
    const known = this.#within === FIRST_WITHIN_MS ? PAIR_WITHIN_MS : this.#within * 0.98;
    this.#within = Math.min(PAIR_AT_MOST_MS, Math.max(PAIR_WITHIN_MS, known, gapMs * 1.5));
  }

  #whole(): number {
    return (this.#msb << 7) | this.#lsb;
  }
}
