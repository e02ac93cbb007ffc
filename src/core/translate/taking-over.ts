/** What an engine that follows a dead one begins with, so that nobody at the surfaces can tell that there was another. */
import type { UnderWay } from "../desk/state-store.ts";
import { HOUSE } from "../format/givens.ts";
import type { Desk, Show, Surface } from "../format/show.ts";
import { keepLayers, type LayersUp } from "../gesture/layers.ts";
import { type Unfinished, unfinishedOf } from "../hands/unfinished.ts";
import type { Held } from "../held/held-presses.ts";
import type { DeskCommand } from "../held/kept-commands.ts";
import { entityIds, type NamedHouseValue } from "../house/house-values.ts";
import type { ControlChange, ValueChange } from "../live/protocol.ts";
import { houseValues, takeHouseValues, type World } from "../run-state/world.ts";
import type { Translator } from "./translator.ts";

/** What was sent longer ago than this, in ms, has been answered since, or is asked for with all the rest. */
const UNDER_WAY_MS = 1000;

/** What hands hold and have begun. */
export interface Holding {
  readonly held: readonly Held[];
  readonly layers: LayersUp;
  /** What waits for desks that are silent. */
  readonly kept: readonly DeskCommand[];
  /** By desk id: what was sent to it and has not been answered. Told with other news only. */
  readonly underWay: Readonly<Record<string, readonly UnderWay[]>>;
  /** Gestures that are not decided, actions that wait, places in lists. */
  readonly unfinished: Unfinished;
  /** What the house keeps: told by one that ends and can say so. It holds for another show too, as the values do not. */
  readonly house?: readonly NamedHouseValue[];
}

/** From whom releases may have been missed while there was no engine: from its own sockets, or from everybody. */
export type Missed = "by-sockets" | "all";

export interface Carried {
  /** By desk id: values by index, with 0 unknown 1 assumed 2 reported. */
  readonly values: Readonly<Record<string, readonly ValueChange[]>>;
  /** By surface id: where its faders stand. */
  readonly controls: Readonly<Record<string, readonly ControlChange[]>>;
  /** What hands hold: its release must still go where the press went (rule 6). */
  readonly holding: Holding;
  /** What is held by these is let go, as soon as the desks can be reached. */
  readonly missed: Missed;
}

export function holdingOf(world: World): Holding {
  const { held, layers, desks } = world;
  return {
    held: held.list(),
    layers,
    kept: desks.flatMap((d) => d.kept.list()),
    underWay: Object.fromEntries(
      desks.map(({ id, store }) => [id, store.underWay()] as const).filter(([, of]) => of.length > 0),
    ),
    unfinished: unfinishedOf(world),
  };
}

/** All of it, from an engine that ends in this turn. */
export function lastHolding(world: World): Holding {
  return { ...holdingOf(world), house: houseValues(world) };
}

/** Ids of desks and surfaces whose values and controls have the same numbers in both shows. */
export function sameInBoth(before: Show, now: Show): ReadonlySet<string> {
  const all = [...now.desks, ...now.surfaces];
  const isShared = before.desks === now.desks && before.surfaces === now.surfaces && before.profiles === now.profiles;
  const was = isShared ? null : new Set([...before.desks, ...before.surfaces].map((one) => nature(one, before)));
  const same = new Set(all.filter((one) => was === null || was.has(nature(one, now))).map(({ id }) => id));
  if (entityIds(before) === entityIds(now)) same.add(HOUSE);
  return same;
}

/** What of it fits another show. `before` is the show it was known of. */
export function fitting(carried: Carried, before: Show, now: Show): Carried {
  if (before === now) return carried;
  const same = sameInBoth(before, now);
  const ofThose = <V>(record: Readonly<Record<string, V>>) =>
    Object.fromEntries(Object.entries(record).filter(([id]) => same.has(id)));
  const { holding } = carried;
  return {
    ...carried,
    values: ofThose(carried.values),
    controls: ofThose(carried.controls),
    holding: {
      ...holding,
      kept: holding.kept.filter(({ desk }) => same.has(desk)),
      underWay: ofThose(holding.underWay),
    },
  };
}

/** What is said of a desk or a surface and its parts, and which controls sleep: their numbers do not hang on that. */
const SAID: ReadonlySet<string> = new Set(["name", "asleep", "controls", "pages"] satisfies (
  | keyof Desk
  | keyof Surface
)[]);

/** What numbers of values and controls depend on: another kind, another address, or a kind of its own that was changed. */
function nature(one: Desk | Surface, show: Show): string {
  const { desks = [], surfaces = [] } = show.profiles ?? {};
  const decides = Object.entries(one).filter(([field]) => !SAID.has(field));
  return JSON.stringify([
    Object.fromEntries(decides),
    [...desks, ...surfaces].find((p) => p.id === one.profile) ?? null,
  ]);
}

/** Goes on with what the dead one knew; of the desks it holds until they have been asked again. */
export function takeOver(translator: Translator, { values, controls, holding }: Carried, atMs: number): void {
  const { world } = translator;
  const { compiled } = world.context;
  compiled.desks.forEach((desk, d) => {
    const runtime = world.desks[d]!;
    for (const [index, value, source] of values[desk.id] ?? []) {
      if (index < desk.valueCount && value !== null) runtime.store.restore(index, value, source);
    }
    for (const [index, value, sentAtMs, command] of holding.underWay[desk.id] ?? [])
      if (index < desk.valueCount && atMs - sentAtMs < UNDER_WAY_MS)
        runtime.store.sent(index, value, true, 0, sentAtMs, command);
    runtime.restoreKept(holding.kept.filter((command) => command.desk === desk.id));
  });
  compiled.surfaces.forEach((surface, s) => {
    const state = world.surfaces[s]!;
    for (const [control, position] of controls[surface.id] ?? [])
      if (control < state.controlCount) state.restorePosition(control, position);
    for (const held of holding.held) {
      const control = held.surface === surface.id ? surface.indexOf.get(held.control) : undefined;
      if (control !== undefined) state.pressed[control] = 1;
    }
  });
  world.held.restore(holding.held);
  world.layers = keepLayers(holding.layers, compiled.show.layers);
  if (holding.house) takeHouseValues(world, holding.house);
  translator.takenOver(atMs);
  translator.restore(holding.unfinished, atMs);
}
