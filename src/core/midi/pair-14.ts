/**
 * A 14-bit value that comes in two 7-bit messages: MSB then LSB, LSB then MSB, or an MSB alone.
 *
 * Which of them a unit does is learned from what arrives together, so that no half-new value gets out: with
 * (MSB 10, LSB 127) followed by (11, 0), a reader that takes each byte at once would say 10.127, 11.127, 11.0.
 *
 * MIDI 1.0 Detailed Specification 4.2, "Control Change", controllers 0-31 (MSB) and 32-63 (LSB).
 */

/** How long one half waits for the other, in ms. Units send both in one go, three milliseconds on the slowest cable. */
export const PAIR_WITHIN_MS = 10;

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
  #waiting: "none" | "for-lsb" | "for-msb" = "none";
  #sinceMs = 0;

  /** True while one half waits for the other. */
  get isWaiting(): boolean {
    return this.#waiting !== "none";
  }

  /** The MSB, 0..127, at `atMs`. Answers the whole value, 0..16383, or NO_VALUE. */
  msb(value7: number, atMs: number): number {
    this.#msb = value7;
    if (this.#waiting === "for-msb" && atMs - this.#sinceMs <= PAIR_WITHIN_MS) {
      this.order = "lsb-first";
      this.#waiting = "none";
      return this.#whole();
    }
    // Two MSBs in a row: the first of them had no LSB.
    if (this.#waiting === "for-lsb") this.order = "msb-alone";
    this.#sinceMs = atMs;
    this.#waiting = this.order === "msb-alone" ? "none" : "for-lsb";
    return this.order === "msb-alone" ? widen7(value7) : NO_VALUE;
  }

  /** The LSB, 0..127, at `atMs`. Answers the whole value, 0..16383, or NO_VALUE. */
  lsb(value7: number, atMs: number): number {
    this.#lsb = value7;
    const soon = atMs - this.#sinceMs <= PAIR_WITHIN_MS;
    if (this.#waiting === "for-lsb" || (this.order === "msb-alone" && this.#waiting === "none" && soon)) {
      this.order = "msb-first";
      this.#waiting = "none";
      return this.#whole();
    }
    // A unit that sends the MSB first may leave it out while it stays the same.
    if (this.order === "msb-first" && this.#msb >= 0) return this.#whole();
    this.#waiting = "for-msb";
    this.#sinceMs = atMs;
    return NO_VALUE;
  }

  /** The value of a half that has waited long enough, or NO_VALUE. */
  due(atMs: number): number {
    if (this.#waiting === "none" || atMs - this.#sinceMs <= PAIR_WITHIN_MS) return NO_VALUE;
    const alone = this.#waiting === "for-lsb";
    this.#waiting = "none";
    this.order = alone ? "msb-alone" : "unknown";
    if (alone) return widen7(this.#msb);
    return this.#msb < 0 ? NO_VALUE : this.#whole();
  }

  #whole(): number {
    return (this.#msb << 7) | this.#lsb;
  }
}
