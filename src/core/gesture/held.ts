/**
 * What is held right now (rule 6): for every press that has not been let go, what its release has to do. The
 * release was made ready at the press, so no change of page, layer or show can make it go elsewhere.
 */

/** One thing to undo on release. */
export type Release =
  | { kind: "desk"; desk: string; mapping: string; action: string; state: number; datagrams: Uint8Array[] }
  | { kind: "layer"; desk: string; mapping: string; action: string; layer: string };

export interface Held {
  readonly surface: string;
  readonly control: string;
  readonly sinceMs: number;
  /** Sequence number of the press in the traffic. */
  readonly cause: number;
  readonly releases: Release[];
}

export class HeldPresses {
  readonly #held = new Map<string, Held>();

  press(surface: string, control: string, atMs: number, cause: number): Held {
    const held: Held = { surface, control, sinceMs: atMs, cause, releases: [] };
    this.#held.set(key(surface, control), held);
    return held;
  }

  isHeld(surface: string, control: string): boolean {
    return this.#held.has(key(surface, control));
  }

  /** Ends a press; what it answers must be carried out, in order. */
  release(surface: string, control: string): Held | undefined {
    const held = this.#held.get(key(surface, control));
    if (held) this.#held.delete(key(surface, control));
    return held;
  }

  /** Ends every press for which `gone` says yes. */
  releaseWhere(gone: (held: Held) => boolean): Held[] {
    const ended = [...this.#held.values()].filter(gone);
    for (const held of ended) this.#held.delete(key(held.surface, held.control));
    return ended;
  }

  /** Takes over what another one held: an engine that follows a dead one. */
  restore(held: readonly Held[]): void {
    for (const h of held) this.#held.set(key(h.surface, h.control), h);
  }

  /** All presses, the oldest first. */
  list(): Held[] {
    return [...this.#held.values()];
  }
}

function key(surface: string, control: string): string {
  return `${surface} ${control}`;
}
