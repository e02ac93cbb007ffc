/**
 * Actions that wait. What they do was made ready when the hand moved, so it goes where it was meant to go whatever
 * changes in between; actions that are due at the same time run in the order in which they were started.
 */

import type { HouseCall } from "../house/house-call.ts";
import type { Release } from "./held-presses.ts";

export type Waiting = ({ kind: "send"; what: Release } | { kind: "house"; call: HouseCall }) & {
  readonly dueMs: number;
  readonly cause: number;
  /** True where it lets something go: that must happen, whatever else is called off. */
  readonly lettingGo: boolean;
};

/** Actions that may wait at once; past it the oldest of them runs at once. */
export const MAX_WAITING = 4096;

export class Delays {
  #waiting: Waiting[] = [];
  #changes = 0;

  /** Grows with each action that begins or ends to wait. */
  get changes(): number {
    return this.#changes;
  }

  list(): readonly Waiting[] {
    return this.#waiting;
  }

  get size(): number {
    return this.#waiting.length;
  }

  /** Adds one; answers what has to run at once because too many wait. */
  add(item: Waiting): Waiting | undefined {
    let at = this.#waiting.length;
    while (at > 0 && this.#waiting[at - 1]!.dueMs > item.dueMs) at--;
    this.#waiting.splice(at, 0, item);
    this.#changes++;
    return this.#waiting.length > MAX_WAITING ? this.#waiting.shift() : undefined;
  }

  /** What is due by now, in order. */
  take(atMs: number): Waiting[] {
    let n = 0;
    while (n < this.#waiting.length && this.#waiting[n]!.dueMs <= atMs) n++;
    if (n === 0) return [];
    this.#changes++;
    return this.#waiting.splice(0, n);
  }

  /** Everything that lets something go, in order, whenever it is due. */
  takeLettingGo(): Waiting[] {
    const out = this.#waiting.filter((w) => w.lettingGo);
    if (out.length > 0) this.#changes++;
    this.#waiting = this.#waiting.filter((w) => !w.lettingGo);
    return out;
  }
}
