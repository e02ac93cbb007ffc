/** Watches that the server is heard. A page that hears nothing knows nothing, and must not look as if it did. */
import { BEAT_EVERY_MS } from "../../core/live/beat.ts";

/** The server says something at least every second; one late beat is forgiven, as a page may be busy itself. */
export const LOST_AFTER_MS = BEAT_EVERY_MS + 500;
/** A connection on which nothing came for this long is opened anew, in ms. */
export const GIVEN_UP_AFTER_MS = 6000;
const LOOK_EVERY_MS = 100;

export interface HeardEvents {
  /** Nothing is heard any more: since when, by the clock on the wall, in ms; null = it is heard again. */
  lost(sinceMs: number | null): void;
  /** Nothing comes over this connection. */
  givenUp(): void;
}

export class Heard {
  readonly #events: HeardEvents;
  #heardAtMs = performance.now();
  #lookedAtMs = performance.now();
  #openedAtMs = performance.now();
  #isLost = false;
  readonly #timer = setInterval(() => this.#look(), LOOK_EVERY_MS);

  constructor(events: HeardEvents) {
    this.#events = events;
  }

  /** A connection is being opened. */
  opening(): void {
    this.#openedAtMs = performance.now();
  }

  /** Something came. */
  now(): void {
    this.#heardAtMs = performance.now();
    if (!this.#isLost) return;
    this.#isLost = false;
    this.#events.lost(null);
  }

  /** The connection has been closed. */
  closed(): void {
    if (this.#isLost) return;
    this.#isLost = true;
    this.#events.lost(Date.now() - (performance.now() - this.#heardAtMs));
  }

  stop(): void {
    clearInterval(this.#timer);
  }

  #look(): void {
    const nowMs = performance.now();
    // A page that was itself asleep has not listened; it listens first and then says what it misses.
    const wasAsleep = nowMs - this.#lookedAtMs > LOST_AFTER_MS;
    this.#lookedAtMs = nowMs;
    if (wasAsleep) {
      this.#heardAtMs = Math.max(this.#heardAtMs, nowMs - BEAT_EVERY_MS);
      return;
    }
    if (nowMs - this.#heardAtMs > LOST_AFTER_MS) this.closed();
    if (nowMs - Math.max(this.#heardAtMs, this.#openedAtMs) > GIVEN_UP_AFTER_MS) {
      this.#openedAtMs = nowMs;
      this.#events.givenUp();
    }
  }
}
