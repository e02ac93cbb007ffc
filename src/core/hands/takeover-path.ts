/** Takeover while the show runs (rule 9): whether a fader has hold of its level, and where the level goes meanwhile. */
import { LEVEL } from "../mapping/compile-actions.ts";
import { READY } from "../run-state/context.ts";
import type { SurfaceState } from "../run-state/surface-state.ts";
import type { World } from "../run-state/world.ts";
import { CATCH_WITHIN, meets } from "../shape/takeover.ts";
import { converged } from "../shape/timed.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { travelOf } from "./shaping.ts";

export class TakeoverPath {
  readonly #world: World;

  constructor(world: World) {
    this.#world = world;
  }

  /** Rule 9: true if the fader has hold of the level. */
  catches(surface: SurfaceState, control: number, m: number, before: number, value: number, row: number): boolean {
    if (surface.caught[control]) return true;
    const target = this.target(m);
    surface.setTarget(control, target);
    if (target >= 0 && !meets(before, value, target)) {
      this.#world.ring.outcome(row, OUTCOME.waitingToCatch, m, control, value, target, 0);
      return false;
    }
    surface.caught[control] = 1;
    return true;
  }

  /** Rule 9, converge: where the level goes; NaN where the fader was never heard, so it has not moved yet. */
  converge(surface: SurfaceState, control: number, m: number, before: number, value: number): number {
    if (surface.caught[control]) return value;
    const known = surface.target(control);
    const level = known >= 0 ? known : this.target(m);
    if (level < 0 || Math.abs(level - value) <= CATCH_WITHIN) {
      surface.caught[control] = 1;
      return value;
    }
    surface.setTarget(control, level);
    if (before < 0) return Number.NaN;
    const next = converged(before, value, level);
    surface.setTarget(control, next);
    if (Math.abs(next - value) <= CATCH_WITHIN) surface.caught[control] = 1;
    return surface.caught[control] ? value : next;
  }

  /** Where a fader has to go to catch mapping m, 0..1; -1 where there is nothing to catch. */
  target(m: number): number {
    const { context, desks } = this.#world;
    const { table } = context;
    const { actionStart } = context.compiled;
    for (let a = actionStart[m]!; a < actionStart[m + 1]!; a++) {
      if (table.acts(a) !== LEVEL || context.look(a) !== READY) continue;
      const state = table.state(a);
      const { store } = desks[table.desk(a)]!;
      if (state >= 0 && store.isKnown(state)) return travelOf(context, a, store.effective(state));
    }
    return -1;
  }
}
