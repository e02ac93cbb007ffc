/**
 * The way back to the hands: looks from the desk's state, as bytes, only where they differ from what the
 * surface already shows (rules 13, 14, 18).
 */

import { GESTURES, SHOWN_GESTURES } from "../format/gestures.ts";
import type { Palette } from "../format/surface-profile.ts";
import { type Context, NO_MESSAGE, OUT_OF_RANGE, READY } from "../run-state/context.ts";
import type { DeskRuntime } from "../run-state/desk-runtime.ts";
import type { SurfaceState } from "../run-state/surface-state.ts";
import { type ControlState, controlState, DEFAULT_COLOUR, LIGHT_MODE } from "../surface/look.ts";
import { lightValue } from "../surface/palette.ts";

export interface ControlLook {
  readonly state: ControlState;
  readonly colour: string;
}

const FREE: ControlLook = { state: "free", colour: DEFAULT_COLOUR };
/** Of a control whose numbers lead to what the desk does not have. */
const NOT_THERE: ControlLook = { state: "switched-off", colour: DEFAULT_COLOUR };
/** Of a control whose feedback is bypassed. */
export const DARK_LOOK: ControlLook = { state: "switched-off", colour: DEFAULT_COLOUR };

/** The mapping whose state a control of the show shows now; -1 = none. */
export function shownMapping(context: Context, control: number): number {
  for (const gesture of SHOWN_GESTURES) {
    const m = context.mappingAt(control * GESTURES + gesture);
    if (m >= 0) return m;
  }
  return -1;
}

/**
 * What the control with mapping m shows. The first action that changes a state of its desk decides; where
 * none does, the first action.
 */
export function lookOf(
  context: Context,
  desks: readonly DeskRuntime[],
  m: number,
  held: boolean,
  atMs: number,
): ControlLook {
  if (m < 0) return FREE;
  const a = shownAction(context, m);
  if (a < 0) return FREE;
  const deskIndex = context.table.desk(a);
  const desk = desks[deskIndex]!;
  const status = context.look(a);
  const ready = status === READY || status === NO_MESSAGE; // what the message decides is no fault of the desk
  if (status === OUT_OF_RANGE) return NOT_THERE;
  const state = status === READY ? context.table.state(a) : -1;
  const health = desk.link.state.health;
  const known = state >= 0 && desk.store.isKnown(state);
  const chosen = known ? context.chosen(a) : null;
  const value = known ? desk.store.number(state) : null;
  const found = controlState({
    mapped: true,
    held,
    silent: health === "silent" || health === "refusing" || !ready,
    unconfirmed: state >= 0 && desk.store.isUnconfirmed(state, atMs),
    value: chosen === null || value === null ? value : Number(value === chosen),
  });
  return { state: found, colour: colourOf(context, desk, m, a) };
}

/** Of a control where nothing holds: a mapping that is off, or one that holds elsewhere, by its gestures in order. */
export function nearestMapping(context: Context, control: number): { mapping: number; off: boolean } {
  for (const gesture of SHOWN_GESTURES) {
    const near = context.nearest(control * GESTURES + gesture);
    if (near.mapping >= 0) return near;
  }
  return { mapping: -1, off: false };
}

/** The action whose state a control shows. */
export function shownAction(context: Context, m: number): number {
  const { actionStart, actions } = context.compiled;
  const first = actionStart[m]!;
  const last = actionStart[m + 1]!;
  for (let a = first; a < last; a++) if (actions[a]!.fn.state) return a;
  return first < last ? first : -1;
}

function colourOf(context: Context, desk: DeskRuntime, m: number, a: number): string {
  const own = context.compiled.show.mappings[m]!.look.colour;
  if (own) return own;
  const layer = layerColour(context, a);
  if (layer) return layer;
  const colour = context.sibling(a, "colour");
  return (colour >= 0 ? desk.store.texts[colour] : undefined) ?? DEFAULT_COLOUR;
}

/** The look of a layer: the colour of the controls that enter it. */
function layerColour(context: Context, a: number): string | undefined {
  const { fn, desk } = context.compiled.actions[a]!;
  if (!desk.inside || fn.state?.state.id !== "layer" || context.look(a) !== READY) return undefined;
  return context.compiled.show.layers[context.numbers(a)[0]! - 1]?.colour;
}

/** Palette values by state and colour; a show has few of them, so the cache stays small. */
export class LightValues {
  readonly #byPalette = new Map<Palette, Map<string, number>>();

  value(palette: Palette, look: ControlLook): number {
    const mode = LIGHT_MODE[look.state];
    let values = this.#byPalette.get(palette);
    if (!values || values.size > 4096) {
      values = new Map();
      this.#byPalette.set(palette, values);
    }
    const key = `${mode} ${look.colour}`;
    let value = values.get(key);
    if (value === undefined) {
      value = lightValue(palette, mode, look.colour);
      values.set(key, value);
    }
    return value;
  }
}

/** Controls of a surface that may differ, in the order they are drawn: those touched last first. */
export function drawOrder(surface: SurfaceState): number[] {
  return surface.dirty.list().sort((x, y) => surface.touchedAtMs(y) - surface.touchedAtMs(x) || x - y);
}
