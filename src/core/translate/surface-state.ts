/** What is known of one surface while the show runs. It outlives edits as long as the surface keeps its profile. */
import { Budget } from "../guard/budget.ts";
import { LoopDetector } from "../guard/loop.ts";
import type { PortRef } from "../show/show.ts";
import type { CompiledSurface } from "../surface/compile-surface.ts";

/** A light that was never sent, so that the first look is always a difference. */
export const NEVER_SENT = -1;

/** Messages a second and burst towards a surface, by port: a cable is slow, a screen is not. */
const LIGHT_BUDGET: Record<PortRef["kind"], readonly [number, number]> = {
  screen: [20_000, 2048],
  "browser-midi": [1000, 32],
  "midi-udp": [20_000, 2048],
  none: [1000, 32],
};

export class SurfaceState {
  readonly id: string;
  readonly profileId: string;
  /** Where each fader stands, 0..1; -1 = not heard yet. */
  readonly position: Float64Array;
  /** Where each fader has to go to catch, 0..1; -1 = nothing to catch. */
  readonly target: Float64Array;
  readonly caught: Uint8Array;
  /** The state a fader caught, so that a page change with the same level under it is seen as a change. */
  readonly caughtState: Int32Array;
  readonly pressed: Uint8Array;
  readonly touchedAtMs: Float64Array;
  /** Palette value sent last. */
  readonly lightSent: Int16Array;
  readonly dirty: Uint8Array;
  dirtyCount = 0;
  readonly loop = new LoopDetector();
  budget: Budget;
  /** Controls whose position, target or press changed since they were last told. */
  readonly moved = new Set<number>();

  constructor(compiled: CompiledSurface) {
    const count = compiled.profile.controls.length;
    this.id = compiled.id;
    this.profileId = compiled.profile.id;
    this.position = new Float64Array(count).fill(-1);
    this.target = new Float64Array(count).fill(-1);
    this.caught = new Uint8Array(count);
    this.caughtState = new Int32Array(count).fill(-1);
    this.pressed = new Uint8Array(count);
    this.touchedAtMs = new Float64Array(count).fill(-1);
    this.lightSent = new Int16Array(count).fill(NEVER_SENT);
    this.dirty = new Uint8Array(count);
    this.budget = budgetFor(compiled.surface.out.kind);
  }

  setPort(kind: PortRef["kind"]): void {
    this.budget = budgetFor(kind);
  }

  markDirty(control: number): void {
    if (this.dirty[control]) return;
    this.dirty[control] = 1;
    this.dirtyCount++;
  }

  /** Draws everything again: forgets what was sent. */
  forgetLights(): void {
    this.lightSent.fill(NEVER_SENT);
    for (let c = 0; c < this.dirty.length; c++) this.markDirty(c);
  }
}

function budgetFor(kind: PortRef["kind"]): Budget {
  return new Budget(...LIGHT_BUDGET[kind]);
}
