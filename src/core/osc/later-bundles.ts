/** Bundles that wait for the time of their tag (OSC 1.0, "Temporal Semantics and OSC Time Tags"). */
import { MOST_AHEAD_MS, timeTagMs } from "./time-tags.ts";
import { IMMEDIATELY, type OscBundle } from "./types.ts";

/** Bundles that may wait; beyond them one is carried out as it comes, and that is said. */
export const MOST_WAITING = 64;

/** What becomes of a bundle: it is carried out at once, or at `dueMs`; or at once although its tag says otherwise. */
export type BundleTime =
  | { readonly is: "now" | "too-far" | "no-room" }
  | { readonly is: "later"; readonly dueMs: number };

export interface WaitingBundle<Of> {
  readonly of: Of;
  readonly bundle: OscBundle;
  readonly dueMs: number;
  /** Row of the message that brought it. */
  readonly row: number;
}

export class LaterBundles<Of> {
  #waiting: WaitingBundle<Of>[] = [];

  get count(): number {
    return this.#waiting.length;
  }

  /** What a bundle of this tag that comes at `atMs` is to be. */
  timeOf(tag: bigint, atMs: number): BundleTime {
    if (tag === IMMEDIATELY) return { is: "now" };
    const dueMs = timeTagMs(tag);
    if (dueMs <= atMs) return { is: "now" };
    if (dueMs > atMs + MOST_AHEAD_MS) return { is: "too-far" };
    return this.#waiting.length < MOST_WAITING ? { is: "later", dueMs } : { is: "no-room" };
  }

  add(waiting: WaitingBundle<Of>): void {
    this.#waiting.push(waiting);
  }

  /** Takes out what is due at `atMs`, the earliest first. */
  takeDue(atMs: number): WaitingBundle<Of>[] {
    const due = this.#waiting.filter((w) => w.dueMs <= atMs);
    if (due.length === 0) return due;
    this.#waiting = this.#waiting.filter((w) => w.dueMs > atMs);
    return due.sort((a, b) => a.dueMs - b.dueMs);
  }
}
