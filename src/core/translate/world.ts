/** Everything the two halves of the path share: the compiled show and what is known while it runs. */

import { HeldPresses } from "../gesture/held.ts";
import type { CompiledShow } from "../mapping/compile.ts";
import { TrafficRing } from "../trace/traffic-ring.ts";
import { Context } from "./context.ts";
import { addressOf, DeskRuntime } from "./desk-runtime.ts";
import type { Outbox } from "./outbox.ts";
import { SurfaceState } from "./surface-state.ts";

export interface World {
  context: Context;
  surfaces: SurfaceState[];
  desks: DeskRuntime[];
  /** Layers that are held, the newest last. Empty = base. */
  layers: string[];
  readonly held: HeldPresses;
  readonly ring: TrafficRing;
  readonly outbox: Outbox;
}

export function newWorld(compiled: CompiledShow, outbox: Outbox, ring = new TrafficRing()): World {
  return {
    context: new Context(compiled),
    surfaces: compiled.surfaces.map((s, i) => new SurfaceState(s, i)),
    desks: compiled.desks.map((d) => new DeskRuntime(d)),
    layers: [],
    held: new HeldPresses(),
    ring,
    outbox,
  };
}

/** Puts a newly compiled show in the place of the old one; what is known of surfaces and desks that stay is kept. */
export function replaceShow(world: World, compiled: CompiledShow): void {
  const surfaces = new Map(world.surfaces.map((s) => [s.id, s]));
  const desks = new Map(world.desks.map((d) => [d.id, d]));
  const before = new Map(world.context.compiled.surfaces.map((s) => [s.id, s.surface.out.kind]));
  world.surfaces = compiled.surfaces.map((s, i) => {
    const old = surfaces.get(s.id);
    if (old?.profileId !== s.profile.id) return new SurfaceState(s, i);
    if (before.get(s.id) !== s.surface.out.kind) old.setPort(s.surface.out.kind);
    old.index = i;
    old.compiled = s;
    return old;
  });
  world.desks = compiled.desks.map((d) => {
    const old = desks.get(d.id);
    return old?.profileId === d.profile.id && old.address === addressOf(d) ? old : new DeskRuntime(d);
  });
  const layers = new Set(compiled.show.layers.map((l) => l.id));
  world.layers = world.layers.filter((l) => layers.has(l));
  world.context = new Context(compiled);
}

/** Marks every control that shows or drives this value of desk d. */
export function markWatchers(world: World, d: number, index: number): void {
  const watchers = world.desks[d]!.watchers.get(index);
  if (!watchers) return;
  for (let i = 0; i < watchers.length; i += 2) {
    const surface = world.surfaces[watchers[i]!]!;
    surface.dirty.add(watchers[i + 1]!);
    surface.moved.add(watchers[i + 1]!);
  }
}
