/**
 * What is begun and not over, as an engine that follows a dead one needs it: gestures that are not decided, actions that
 * wait, places in lists. Mappings and controls stand in it by their names, because the next engine may number them anew.
 */
import { TIMED_GESTURES, type TimedGesture } from "../format/gestures.ts";
import type { GestureRecogniser, PressPlan } from "../gesture/recogniser.ts";
import type { Waiting } from "../held/delays.ts";
import type { SurfaceState } from "../run-state/surface-state.ts";
import type { World } from "../run-state/world.ts";
import { controlOfRelease, messageOfRelease, releaseKey } from "./release-key.ts";

/** An action that is due for longer than this comes as a surprise, in ms; what lets something go never does. */
const LATE_MS = 5000;

export interface UnfinishedGesture {
  readonly control: string;
  readonly phase: number;
  readonly value: number;
  /** Null: time alone decides nothing. */
  readonly dueMs: number | null;
  readonly pressedAtMs: number;
  /** The numbers of the message that pressed it (midi/message-parts.ts). */
  readonly parts: readonly number[];
  readonly holdMs: number;
  readonly doubleMs: number;
  /** Ids of the mappings that may fire; null = none. */
  readonly mappings: Readonly<Record<TimedGesture, string | null>>;
}

export interface UnfinishedOfSurface {
  readonly surface: string;
  readonly gestures: readonly UnfinishedGesture[];
  /** What fires when a control is let go: its id, which of its messages, and the mapping. */
  readonly onRelease: readonly (readonly [control: string, message: number, mapping: string])[];
}

export interface Unfinished {
  readonly places: readonly (readonly [mapping: string, place: number])[];
  readonly waiting: readonly Waiting[];
  readonly surfaces: readonly UnfinishedOfSurface[];
}

export const NOTHING_UNFINISHED: Unfinished = { places: [], waiting: [], surfaces: [] };

/** Grows whenever what is unfinished changes. */
export function unfinishedChanges({ places, delays, surfaces }: World): number {
  let changes = places.changes + delays.changes;
  for (const { gestures } of surfaces) if (gestures) changes += gestures.changes;
  return changes;
}

export function unfinishedOf(world: World): Unfinished {
  const { places, delays, surfaces, context } = world;
  const { mappings } = context.compiled.show;
  const idOf = (m: number) => mappings[m]?.id ?? null;
  return {
    places: places.list(),
    waiting: delays.list(),
    surfaces: surfaces.flatMap((surface) => {
      const controls = surface.compiled.profile.controls;
      const gestures = (surface.gestures?.list() ?? []).map(
        ({ key, plan, dueMs, phase, value, pressedAtMs, parts }) => ({
          control: controls[key]!.id,
          phase,
          value,
          pressedAtMs,
          parts,
          dueMs: Number.isFinite(dueMs) ? dueMs : null,
          holdMs: plan.holdMs,
          doubleMs: plan.doubleMs,
          mappings: ofEach((gesture) => idOf(plan[gesture])),
        }),
      );
      const onRelease = [...surface.onRelease].flatMap(([key, m]) => {
        const id = idOf(m);
        return id === null ? [] : [[controls[controlOfRelease(key)]!.id, messageOfRelease(key), id] as const];
      });
      return gestures.length + onRelease.length === 0 ? [] : [{ surface: surface.id, gestures, onRelease }];
    }),
  };
}

/** Goes on with it at `atMs`. What the show has no more, or no more so, is left out. */
export function restoreUnfinished(
  world: World,
  { places, waiting, surfaces }: Unfinished,
  gesturesOf: (surface: SurfaceState) => GestureRecogniser,
  atMs: number,
): void {
  const { compiled } = world.context;
  for (const [mapping, place] of places) {
    const sets = compiled.mappingSets[compiled.mappingOf.get(mapping) ?? -1];
    if (sets && place < sets.length) world.places.set(mapping, place);
  }
  for (const item of waiting)
    if (item.lettingGo || item.dueMs > atMs - LATE_MS) world.delays.add({ ...item, cause: 0 });
  for (const { surface: id, gestures, onRelease } of surfaces) {
    const surface = world.surfaces.find((s) => s.id === id);
    if (!surface) continue;
    const first = surface.compiled.firstControl;
    /** The number of a mapping, where it still listens to this control; else -1. */
    const ownOf = (mapping: string | null, control: number) => {
      const m = mapping === null ? -1 : (compiled.mappingOf.get(mapping) ?? -1);
      return m >= 0 && compiled.mappingOn[m] === 1 && compiled.mappingControl[m] === first + control ? m : -1;
    };
    for (const { control, mappings, holdMs, doubleMs, ...rest } of gestures) {
      const key = surface.compiled.indexOf.get(control) ?? -1;
      if (key < 0) continue;
      const plan: PressPlan = { ...ofEach((gesture) => ownOf(mappings[gesture], key)), holdMs, doubleMs };
      gesturesOf(surface).restore({ ...rest, key, plan, row: 0, dueMs: rest.dueMs ?? Number.POSITIVE_INFINITY });
    }
    for (const [control, message, mapping] of onRelease) {
      const c = surface.compiled.indexOf.get(control) ?? -1;
      const m = c < 0 ? -1 : ownOf(mapping, c);
      if (m >= 0) surface.onRelease.set(releaseKey(c, message), m);
    }
  }
}

function ofEach<V>(of: (gesture: TimedGesture) => V): Record<TimedGesture, V> {
  return Object.fromEntries(TIMED_GESTURES.map((gesture) => [gesture, of(gesture)])) as Record<TimedGesture, V>;
}
