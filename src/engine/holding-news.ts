/** What hands hold, told when it changes: an engine that follows a dead one has to carry out the releases (rule 6). */
import type { World } from "../core/run-state/world.ts";
import type { Holding } from "./messages.ts";

export class HoldingNews {
  readonly #tell: (holding: Holding) => void;
  #told = "";
  #changes = 0;
  #soon: NodeJS.Immediate | null = null;

  /** `tell` is called at the end of a turn in which a press began, ended or did something. */
  constructor(tell: (holding: Holding) => void) {
    this.#tell = tell;
  }

  /** Looks whether there is something to tell. It does not wait for the next batch: an engine may die before. */
  look(world: World): void {
    if (world.held.changes === this.#changes || this.#soon) return;
    this.#changes = world.held.changes;
    this.#soon = setImmediate(() => {
      this.#soon = null;
      const holding = this.take(world);
      if (holding) this.#tell(holding);
    });
  }

  /** What is held, layers that are up and commands that are kept, where one of them is not as it was told last. */
  take({ held, layers, desks }: World): Holding | undefined {
    const key = [held.changes, ...layers.locked, "", ...layers.held, "", ...desks.map((d) => d.kept.changes)].join("|");
    if (key === this.#told) return undefined;
    this.#told = key;
    return { held: held.list(), layers, kept: desks.flatMap((d) => d.kept.list()) };
  }
}
