/** Pauses before a port is opened again: they grow, and vary, so that many that wait do not all come at once. */

/** First and longest pause, in ms; each varies by up to a quarter. */
const FIRST_MS = 250;
const LONGEST_MS = 8000;
const JITTER = 0.25;

export class Backoff {
  readonly #random: () => number;
  #ms = FIRST_MS;

  /** `random`: 0..1, anew each time. */
  constructor(random: () => number = Math.random) {
    this.#random = random;
  }

  /** The pause before the next attempt, in ms. */
  next(): number {
    const pauseMs = this.#ms * (1 + JITTER * (this.#random() * 2 - 1));
    this.#ms = Math.min(this.#ms * 2, LONGEST_MS);
    return pauseMs;
  }

  /** It worked: the next pause is a short one again. */
  reset(): void {
    this.#ms = FIRST_MS;
  }
}
