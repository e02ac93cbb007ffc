/**
 * A port's budget of messages: it fills with time up to a burst, and each message takes one. What may not
 * wait (a press, a release) goes out even from an empty budget and is paid back later.
 */

/** Messages a second over a DIN cable: 31,250 baud, ten bits a byte, three bytes a message (MIDI 1.0, "Hardware"). */
export const DIN_MESSAGES_PER_S = 31_250 / 10 / 3;

export class Budget {
  readonly #perMs: number;
  readonly #burst: number;
  #tokens: number;
  #atMs = Number.NEGATIVE_INFINITY;

  constructor(messagesPerS: number, burst: number) {
    if (!(messagesPerS > 0) || !(burst >= 1)) throw new RangeError(`budget ${messagesPerS}/s, burst ${burst}`);
    this.#perMs = messagesPerS / 1000;
    this.#burst = burst;
    this.#tokens = burst;
  }

  /** Takes one message if there is room for it, or one that is as long as `messages` of three bytes. */
  take(atMs: number, messages = 1): boolean {
    this.#fill(atMs);
    if (this.#tokens < Math.min(messages, this.#burst)) return false;
    this.#tokens -= messages;
    return true;
  }

  /** Takes one message that may not wait. The debt is bounded by one burst. */
  force(atMs: number): void {
    this.#fill(atMs);
    this.#tokens = Math.max(this.#tokens - 1, -this.#burst);
  }

  #fill(atMs: number): void {
    if (atMs > this.#atMs) {
      this.#tokens =
        this.#atMs === Number.NEGATIVE_INFINITY
          ? this.#burst
          : Math.min(this.#burst, this.#tokens + (atMs - this.#atMs) * this.#perMs);
      this.#atMs = atMs;
    }
  }
}
