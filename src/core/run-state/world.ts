/** Everything the parts of the path share: the compiled show and what is known while it runs. */

import { UNKNOWN } from "../desk/state-store.ts";
import type { Mapping } from "../format/show.ts";
import { keepLayers, type LayersUp, layerStack, NO_LAYERS } from "../gesture/layers.ts";
import { NOT_CAUSED } from "../guard/loop.ts";
import { Delays } from "../held/delays.ts";
import { HeldPresses } from "../held/held-presses.ts";
import { ListPlaces } from "../held/list-places.ts";
import { RoutedHolds } from "../held/routed.ts";
import {
  type HouseValues,
  houseIndex,
  keptValue,
  type NamedHouseValue,
  namedValues,
  startValues,
  valuesIn,
} from "../house/house-values.ts";
import type { CompiledShow } from "../mapping/compile.ts";
import { PreparedMessages } from "../mapping/prepared-messages.ts";
import type { MappingChange } from "../mapping/recompile.ts";
import { NO_PART, newMessageParts } from "../midi/message-parts.ts";
import type { TimedState } from "../shape/timed.ts";
import { TrafficRing } from "../trace/traffic-ring.ts";
import { Context, type Facts } from "./context.ts";
import { addressOf, DeskRuntime } from "./desk-runtime.ts";
import type { Outbox } from "./outbox.ts";
import { SurfaceState } from "./surface-state.ts";
import { watchedOutbox } from "./watched-outbox.ts";

export interface World {
  context: Context<PreparedMessages>;
  surfaces: SurfaceState[];
  desks: DeskRuntime[];
  layers: LayersUp;
  readonly held: HeldPresses;
  readonly ring: TrafficRing;
  readonly outbox: Outbox;
  readonly delays: Delays;
  /** The numbers of the message in hand (midi/message-parts.ts). */
  readonly message: Int32Array;
  /** The time of day, in seconds since midnight, at `atMs`. */
  readonly secondsOfDay: (atMs: number) => number;
  /** The position of the control in hand, 0..1. In a typed array for the same reason as `now`. */
  readonly travel: Float64Array;
  /** For each control of the show: bit 0 = commands bypassed, bit 1 = feedback bypassed. */
  bypassed: Uint8Array;
  readonly places: ListPlaces;
  /** What shapes remember, by action and the value it changes. */
  shapes: Map<number, TimedState>;
  /** Times of the last taps of the tempo, in ms. */
  taps: number[];
  /** State of the random numbers; the same seed gives the same run. */
  random: number;
  /**
   * Generation of the message in hand (guard/loop.ts): how often it came back already. In a typed array for the same
   * reason as `now`.
   */
  readonly generation: Int32Array;
  /** Hands teach and do not play (rule 26): what they do is heard and told, and nothing of it leaves. */
  teaches: boolean;
  /** The present time in ms. In a typed array, because a number in a field is boxed anew each time it is passed on. */
  readonly now: Float64Array;
}

export const COMMANDS_BYPASSED = 1;
export const FEEDBACK_BYPASSED = 2;

const DEFAULT_SEED = 0x2545_f491;

export interface WorldOptions {
  ring?: TrafficRing | undefined;
  /** Any whole number but 0. */
  seed?: number | undefined;
  /** The time of day, in seconds since midnight, at `atMs`; left out, that of UTC. */
  secondsOfDay?: ((atMs: number) => number) | undefined;
  /** The world of a translator that failed, of the same tables. */
  from?: World | undefined;
}

export function newWorld(compiled: CompiledShow, outbox: Outbox, options: WorldOptions = {}): World {
  if (options.from) return goingOn(compiled, outbox, options.from);
  const world: Omit<World, "context"> & { context?: World["context"] } = {
    surfaces: compiled.surfaces.map((s, i) => new SurfaceState(s, i)),
    desks: compiled.desks.map((d) => new DeskRuntime(d)),
    layers: NO_LAYERS,
    held: new HeldPresses(),
    ring: options.ring ?? new TrafficRing(),
    outbox: watchedOutbox(outbox, () => whole),
    delays: new Delays(),
    message: newMessageParts(),
    bypassed: new Uint8Array(compiled.controlCount),
    places: new ListPlaces(),
    shapes: new Map(),
    taps: [],
    secondsOfDay: options.secondsOfDay ?? ((atMs) => (atMs / 1000) % 86_400),
    random: options.seed ?? DEFAULT_SEED,
    generation: new Int32Array(1).fill(NOT_CAUSED),
    teaches: false,
    now: new Float64Array(1),
    travel: new Float64Array(1),
  };
  const whole = world as World;
  whole.context = newContext(compiled, factsOf(whole));
  tellPlain(whole);
  startHouse(whole);
  return whole;
}

/**
 * All that was known, with nothing of the message that was in hand. What hands hold, gestures that are not decided yet,
 * what waits, and what is known of desks and surfaces go on as they were.
 */
function goingOn(compiled: CompiledShow, outbox: Outbox, from: World): World {
  const world: World = {
    ...from,
    outbox: watchedOutbox(outbox, () => world),
    generation: new Int32Array(1).fill(NOT_CAUSED),
    message: newMessageParts(),
    travel: new Float64Array(1),
  };
  world.context = newContext(compiled, factsOf(world));
  tellPlain(world);
  settleBypass(world);
  return world;
}

/** Puts a newly compiled show in the place of the old one; what is known of surfaces and desks that stay is kept. */
export function replaceShow(world: World, compiled: CompiledShow): void {
  const surfaces = new Map(world.surfaces.map((s) => [s.id, s]));
  const desks = new Map(world.desks.map((d) => [d.id, d]));
  const old = world.context.compiled;
  const oldHouse = houseOf(world);
  const before = new Map(world.context.compiled.surfaces.map((s) => [s.id, s.surface.out.kind]));
  const renumbered = (m: number) => sameMapping(old.show.mappings[m], compiled);
  world.surfaces = compiled.surfaces.map((s, i) => {
    const known = surfaces.get(s.id);
    if (known?.kind !== s.kind || known.controlCount !== s.profile.controls.length)
      return new SurfaceState(s, i, known);
    if (before.get(s.id) !== s.surface.out.kind) known.setPort(s.surface.out.kind);
    known.index = i;
    known.compiled = s;
    if (known.reader) known.reader.compiled = s;
    known.renumberGestures(renumbered);
    return known;
  });
  world.desks = compiled.desks.map((d) => {
    const known = desks.get(d.id);
    const same = known?.profile === d.profile && known.address === addressOf(d) && !d.inside;
    if (same) {
      known.setWhenSilent(d);
      known.store.renumberActions((a) => sameAction(old, a, compiled));
    }
    return same ? known : new DeskRuntime(d);
  });
  world.layers = keepLayers(world.layers, compiled.show.layers);
  world.bypassed = new Uint8Array(compiled.controlCount);
  world.shapes = new Map();
  world.context = newContext(compiled, factsOf(world));
  tellPlain(world);
  if (oldHouse) takeHouseValues(world, namedValues(oldHouse, old.show));
  startHouse(world);
}

/**
 * Puts a show in the place of the old one of which a few mappings changed. Surfaces, desks, layers and the house are as they
 * were.
 */
export function replaceMappings(world: World, compiled: CompiledShow, change: MappingChange): void {
  const old = world.context.compiled;
  const renumbered = (m: number) => sameMapping(old.show.mappings[m], compiled);
  for (const surface of world.surfaces) surface.renumberGestures(renumbered);
  for (const desk of world.desks) desk.store.renumberActions((a) => sameAction(old, a, compiled));
  world.shapes = new Map();
  world.context = world.context.goingOn(compiled, change);
}

/** The number of this mapping in another show, where it is on and still listens to the same; else -1. */
function sameMapping(mapping: Mapping | undefined, compiled: CompiledShow): number {
  const m = mapping ? (compiled.mappingOf.get(mapping.id) ?? -1) : -1;
  const now = compiled.show.mappings[m];
  const isSame =
    now?.on && now.surface === mapping?.surface && now.control === mapping.control && now.gesture === mapping.gesture;
  return isSame ? m : -1;
}

/** The number of this action in another show, where it is on and still does the same; else -1. */
function sameAction(before: CompiledShow, a: number, compiled: CompiledShow): number {
  const was = before.actions[a];
  const m = was ? (compiled.mappingOf.get(before.show.mappings[before.actionTable.mapping(a)]!.id) ?? -1) : -1;
  if (!was || m < 0) return -1;
  for (let now = compiled.actionStart[m]!; now < compiled.actionStart[m + 1]!; now++) {
    const { action } = compiled.actions[now]!;
    if (action.id === was.action.id) return action.function === was.action.function ? now : -1;
  }
  return -1;
}

/** Surfaces from which nothing is routed and that have no ranges: every message is a control by itself, or nobody's. */
/** Which surfaces need nothing but the plain tables: no ranges, no routes, nothing that routes still hold. */
export function tellPlain({ surfaces, context, held }: World): void {
  const holds = new RoutedHolds(held);
  surfaces.forEach((surface, s) => {
    const routed = context.compiled.routes.some((r) => r.fromSurface === s);
    surface.isPlain = surface.compiled.ranges === null && !routed && !holds.any(surface.id);
  });
}

function newContext(compiled: CompiledShow, facts: Facts): World["context"] {
  return new Context(compiled, facts, (table) => new PreparedMessages(table, () => facts.clockS()));
}

function factsOf(world: World): Facts {
  return {
    page: (d) => world.desks[d]!.pageUp(world.context.compiled.desks[d]!),
    selection: (d) => {
      const { selection } = world.context.compiled.desks[d]!;
      const { store } = world.desks[d]!;
      return selection && store.source[selection.base] !== UNKNOWN ? store.number(selection.base) : null;
    },
    value: (d, index) => {
      const { store } = world.desks[d]!;
      return store.isKnown(index) ? store.effective(index) : Number.NaN;
    },
    bankFirst: (bank) => houseValue(world, "bank", bank) ?? world.context.compiled.show.banks![bank]!.first,
    isPressed: (control) => {
      const { surfaces, controlSurface } = world.context.compiled;
      const s = controlSurface[control]!;
      return world.surfaces[s]!.pressed[control - surfaces[s]!.firstControl] === 1;
    },
    clockS: () => world.secondsOfDay(world.now[0]!),
    messagePart: (part) => (world.message[part]! === NO_PART ? Number.NaN : world.message[part]!),
  };
}

function houseOf({ context, desks }: World): HouseValues | null {
  const { compiled } = context;
  const desk = compiled.desks[compiled.house];
  return desk ? { states: desk.states, store: desks[compiled.house]!.store } : null;
}

/** A value the house keeps, by its index among those of its kind, counted from 0; undefined = not known. */
export function houseValue(world: World, state: string, index: number): number | undefined {
  const house = houseOf(world);
  return house ? keptValue(house, state, index) : undefined;
}

/** Sets a value of the house and marks every control that shows it. */
export function setHouseValue(world: World, state: string, index: number, value: number): void {
  const house = houseOf(world);
  const at = house ? houseIndex(house, state, index) : -1;
  if (at < 0) return;
  house!.store.report(at, value, world.now[0]!);
  markWatchers(world, world.context.compiled.house, at);
}

/** All that the house keeps, by the ids of what it is of. */
export function houseValues(world: World): NamedHouseValue[] {
  const house = houseOf(world);
  return house ? namedValues(house, world.context.compiled.show) : [];
}

export function takeHouseValues(world: World, named: readonly NamedHouseValue[]): void {
  for (const { state, index, value } of valuesIn(world.context.compiled.show, named))
    setHouseValue(world, state, index, value);
}

/** Gives every value of the house that was never set the one it starts with, and takes over what was set. */
function startHouse(world: World): void {
  for (const { state, index, value } of startValues(world.context.compiled.show))
    if (houseValue(world, state, index) === undefined) setHouseValue(world, state, index, value);
  tellLayers(world);
  settleBypass(world);
}

/** Tells the house's state which layers are up. */
export function tellLayers(world: World): void {
  const up = new Set(layerStack(world.layers));
  world.context.compiled.show.layers.forEach((layer, i) => {
    const on = up.has(layer.id) ? 1 : 0;
    if (houseValue(world, "layer", i) !== on) setHouseValue(world, "layer", i, on);
  });
}

/** Works out which controls are bypassed from the groups that are, and from those that sleep. */
export function settleBypass(world: World): void {
  world.bypassed.fill(0);
  for (const control of world.context.compiled.asleep) world.bypassed[control] = COMMANDS_BYPASSED | FEEDBACK_BYPASSED;
  world.context.compiled.groupControls.forEach((controls, g) => {
    const bits = houseValue(world, "bypass", g) ?? 0;
    for (const control of controls) world.bypassed[control]! |= bits;
  });
}

/** Layers that are up, as indexes in the show, the lowest first. */
export function layersUp(world: World): number[] {
  const { layerOf } = world.context.compiled;
  return layerStack(world.layers).flatMap((id) => layerOf.get(id) ?? []);
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

/** The next random number, 0 to below 1 (xorshift, 32 bits). */
export function nextRandom(world: World): number {
  let x = world.random;
  x ^= x << 13;
  x ^= x >>> 17;
  x ^= x << 5;
  world.random = x;
  return (x >>> 0) / 0x1_0000_0000;
}
