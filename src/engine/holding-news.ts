/** What hands hold, told when it changes: an engine that follows a dead one has to carry out the releases (rule 6). */
import { unfinishedChanges } from "../core/hands/unfinished.ts";
import type { World } from "../core/run-state/world.ts";
import { type Holding, holdingOf } from "../core/translate/taking-over.ts";

/** Where more actions wait than this, what is held is told with the next batch only: it would be told again and again. */
const MOST_AT_ONCE = 64;

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
    const changes = world.held.changes + unfinishedChanges(world);
    if (changes === this.#changes || this.#soon || world.delays.size > MOST_AT_ONCE) return;
    this.#changes = changes;
    this.#soon = setImmediate(() => {
      this.#soon = null;
      const holding = this.take(world);
      if (holding) this.#tell(holding);
    });
  }

  /** What is held, begun or kept and the layers that are up, where one of them is not as it was told last. */
  take(world: World): Holding | undefined {
    const { held, layers, desks } = world;
    const key = [
      held.changes,
      unfinishedChanges(world),
      ...layers.locked,
      "",
      ...layers.held,
      "",
      ...desks.map((d) => d.kept.changes),
    ].join("|");
    if (key === this.#told) return undefined;
    this.#told = key;
    return holdingOf(world);
  }
}
