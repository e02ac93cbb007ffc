/**
 * A port that is opened again by itself: after pauses that grow, and vary, so that many that wait do not all come at once.
 * Whoever drops what it had open says `again`; `worked` makes the next pause a short one; `stop` is for good.
 */

/** First and longest pause, in ms; each varies by up to a quarter. */
const FIRST_MS = 250;
const LONGEST_MS = 8000;
const JITTER = 0.25;

export class Retrying {
  readonly #open: () => void;
  readonly #failed: (error: Error) => void;
  readonly #random: () => number;
  #ms = FIRST_MS;
  #timer: NodeJS.Timeout | null = null;
  #isStopped = false;

  /**
   * `open` is called anew after each pause; what it throws is given to `failed`, and it is tried again. `random`: 0..1,
   * anew each time.
   */
  constructor(open: () => void, failed: (error: Error) => void, random: () => number = Math.random) {
    this.#open = open;
    this.#failed = failed;
    this.#random = random;
  }

  /** Opens it at once. What the system refuses in this very call is as good as what it refuses later. */
  now(): void {
    try {
      this.#open();
    } catch (error) {
      this.#failed(error as Error);
      this.again();
    }
  }

  /** True once the port was closed: nothing is opened or told any more. */
  get isStopped(): boolean {
    return this.#isStopped;
  }

  /** It failed or was lost: it is opened again after a pause. */
  again(): void {
    if (this.#isStopped) return;
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = setTimeout(() => {
      this.#timer = null;
      this.now();
    }, this.nextPauseMs());
  }

  /** It is open: the next pause is a short one again. */
  worked(): void {
    this.#ms = FIRST_MS;
  }

  stop(): void {
    this.#isStopped = true;
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
  }

  /** The pause before the next attempt, in ms; each is twice the one before, up to the longest. */
  nextPauseMs(): number {
    const pauseMs = this.#ms * (1 + JITTER * (this.#random() * 2 - 1));
    this.#ms = Math.min(this.#ms * 2, LONGEST_MS);
    return pauseMs;
  }
}
