/** Commands that wait for a silent desk: the newest for each value, what was moved last at the end (rule 20). */
import type { Release } from "./held-presses.ts";

export type DeskCommand = Extract<Release, { kind: "desk" }>;

export interface KeptCommand {
  readonly what: DeskCommand;
  /** Sequence number of the message in the traffic that caused it; 0 = it is no longer there. */
  readonly cause: number;
}

export class KeptCommands {
  readonly #kept = new Map<number | string, KeptCommand>();
  /** Counts changes, so that it can be seen that there was one. */
  changes = 0;

  keep(what: DeskCommand, cause: number): void {
    const key = what.state >= 0 ? what.state : `${what.mapping} ${what.action}`;
    this.#kept.delete(key);
    this.#kept.set(key, { what, cause });
    this.changes++;
  }

  get size(): number {
    return this.#kept.size;
  }

  /** All of them, in the order in which they are to be sent; none is kept any longer. */
  take(): KeptCommand[] {
    const all = [...this.#kept.values()];
    if (all.length > 0) this.changes++;
    this.#kept.clear();
    return all;
  }

  list(): DeskCommand[] {
    return Array.from(this.#kept.values(), (k) => k.what);
  }

  /** Takes over what another one kept: an engine that follows a dead one. */
  restore(commands: readonly DeskCommand[]): void {
    for (const what of commands) this.keep(what, 0);
  }
}
