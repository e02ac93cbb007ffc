/** Rows of traffic as they come over the live socket, for everybody on the page who wants them. */

import type { ClientMessage } from "../../core/live/protocol.ts";

type FrameListener = (frame: ArrayBuffer) => void;

export class TrafficFeed {
  readonly #send: (message: ClientMessage) => void;
  readonly #listeners = new Map<FrameListener, boolean>();

  constructor(send: (message: ClientMessage) => void) {
    this.#send = send;
  }

  /** Calls back with every message; with `history` also for the rows before. Answers how to stop. */
  watch(listener: FrameListener, history: boolean): () => void {
    const was = this.#asked();
    this.#listeners.set(listener, history);
    if (was === null || history) this.#ask();
    return () => {
      this.#listeners.delete(listener);
      if (this.#listeners.size === 0) this.#send({ kind: "watch-traffic", on: false, history: false });
    };
  }

  frame(frame: ArrayBuffer): void {
    for (const listener of [...this.#listeners.keys()]) listener(frame);
  }

  /** The connection is there again: what is watched is asked for anew. */
  opened(): void {
    if (this.#listeners.size > 0) this.#ask();
  }

  #ask(): void {
    this.#send({ kind: "watch-traffic", on: true, history: this.#asked() === true });
  }

  /** Null = nobody watches. */
  #asked(): boolean | null {
    return this.#listeners.size === 0 ? null : [...this.#listeners.values()].some((history) => history);
  }
}
