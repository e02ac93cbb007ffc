/**
 * What is held right now (rule 6): for every press that has not been let go, what its release has to do. The
 * release was made ready at the press, so no change of page, layer or show can make it go elsewhere.
 */

import type { HouseCall } from "../house/house-call.ts";

/** One thing to undo on release. `delayMs` is the wait its press had, so that the two stay in order. */
export type Release =
  | {
      kind: "desk";
      desk: string;
      mapping: string;
      action: string;
      state: number;
      /** The value the state has afterwards. */
      value: number;
      datagrams: Uint8Array[];
      delayMs: number;
    }
  | { kind: "layer"; desk: string; mapping: string; action: string; layer: string }
  | { kind: "house"; desk: string; mapping: string; action: string; call: HouseCall; delayMs: number }
  /** What a route passed on: `desk` is the desk or surface it went to, `mapping` the route, `bytes` its end. */
  | { kind: "route"; desk: string; mapping: string; action: string; bytes: Uint8Array };

export interface Held {
  readonly surface: string;
  readonly control: string;
  /** Which message of a control that stands for many; 0 for every other control. */
  readonly message: number;
  readonly sinceMs: number;
  /** Sequence number of the press in the traffic. */
  readonly cause: number;
  readonly releases: Release[];
}

export class HeldPresses {
  readonly #held = new Map<string, Held>();
  #changes = 0;

  /** Grows with each press that begins or ends, and with each thing that its release has to do. */
  get changes(): number {
    return this.#changes;
  }

  press(surface: string, control: string, atMs: number, cause: number, message = 0): Held {
    const held: Held = { surface, control, message, sinceMs: atMs, cause, releases: [] };
    this.#held.set(key(surface, control, message), held);
    this.#changes++;
    return held;
  }

  /** Its release has this to do too. */
  add(held: Held, release: Release): void {
    held.releases.push(release);
    this.#changes++;
  }

  isHeld(surface: string, control: string, message = 0): boolean {
    return this.#held.has(key(surface, control, message));
  }

  get(surface: string, control: string, message = 0): Held | undefined {
    return this.#held.get(key(surface, control, message));
  }

  /** Ends a press; what it answers must be carried out, in order. */
  release(surface: string, control: string, message = 0): Held | undefined {
    const held = this.#held.get(key(surface, control, message));
    if (held) this.#forget(held);
    return held;
  }

  /** Ends every press for which `gone` says yes. */
  releaseWhere(gone: (held: Held) => boolean): Held[] {
    const ended = [...this.#held.values()].filter(gone);
    for (const held of ended) this.#forget(held);
    return ended;
  }

  /** Takes over what another one held: an engine that follows a dead one. */
  restore(held: readonly Held[]): void {
    for (const h of held) this.#held.set(key(h.surface, h.control, h.message), h);
    this.#changes++;
  }

  #forget({ surface, control, message }: Held): void {
    this.#held.delete(key(surface, control, message));
    this.#changes++;
  }

  /** All presses, the oldest first. */
  list(): Held[] {
    return [...this.#held.values()];
  }
}

function key(surface: string, control: string, message: number): string {
  return `${surface} ${control} ${message}`;
}
