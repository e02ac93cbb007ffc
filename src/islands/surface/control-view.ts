/**
 * What a control shows on the screen. Its light is read from the MIDI bytes that went out to it and from
 * nothing else; its words come from the show and the desk's state.
 */
import { JUMP } from "../../core/mapping/compile.ts";
import { placeWords, valueWords } from "../../core/mapping/describe.ts";
import { takeoverState } from "../../core/shape/takeover.ts";
import type { Acts } from "../../core/show/desk-profile.ts";
import { type ControlState, controlState } from "../../core/surface/look.ts";
import { DARK, lightOf } from "../../core/surface/palette.ts";
import { NO_MESSAGE, READY } from "../../core/translate/context.ts";
import { nearestMapping, shownAction, shownMapping } from "../../core/translate/lights.ts";
import { type LiveState, lampKey } from "../live/apply-changes.ts";

export interface ControlView {
  readonly state: ControlState | "elsewhere";
  /** The state in a word: "on", "72 %", "silent". */
  readonly word: string;
  readonly label: string;
  readonly lampMode: string;
  readonly lampColour: string;
  readonly acts: Acts | "none";
  /** How many actions run. */
  readonly actions: number;
  /** 0..1; -1 = not known. */
  readonly position: number;
  readonly target: number;
  readonly catching: "raise" | "lower" | "";
  readonly pressed: boolean;
}

/** Which way a hand has to go to take the level over. */
const WAYS = { below: "raise", above: "lower", caught: "" } as const;

export const STATE_WORDS: Record<ControlView["state"], string> = {
  free: "free",
  available: "off",
  on: "on",
  held: "held",
  unconfirmed: "not confirmed",
  silent: "no answer",
  "switched-off": "off for now",
  elsewhere: "not here",
};

export function controlView(live: LiveState, surfaceIndex: number, controlIndex: number): ControlView {
  const { compiled, context } = live;
  const surface = compiled.surfaces[surfaceIndex]!;
  const now = live.controls[surface.id]?.[controlIndex];
  const lamp = lampOf(live, surfaceIndex, controlIndex);
  const own = surface.firstControl + controlIndex;
  const m = shownMapping(context, own);
  const base = {
    lampMode: lamp.mode,
    lampColour: lamp.colour,
    position: now?.position ?? -1,
    target: now?.target ?? -1,
    pressed: now?.pressed ?? false,
  };
  if (m < 0) {
    const near = nearestMapping(context, own);
    const state = near.mapping < 0 ? "free" : near.off ? "switched-off" : "elsewhere";
    const label = near.mapping < 0 ? "" : mappingLabel(live, near.mapping);
    const word =
      near.mapping >= 0 && !near.off ? placeWords(live.show.mappings[near.mapping]!, live.show) : STATE_WORDS[state];
    return { ...base, state, word, label, acts: "none", actions: 0, catching: "" };
  }
  const a = shownAction(context, m);
  const action = a < 0 ? null : compiled.actions[a]!;
  const desk = action ? live.desks[action.desk.id] : undefined;
  const status = a >= 0 ? context.resolve(a) : READY;
  const ready = a >= 0 && status === READY;
  const index = ready ? context.table.state(a) : -1;
  const values = action ? live.values[action.desk.id] : undefined;
  const raw = index >= 0 ? values?.value[index] : null;
  const value = typeof raw === "number" ? raw : null;
  const state = controlState({
    mapped: true,
    held: base.pressed,
    silent: desk?.health === "silent" || desk?.health === "refusing" || (a >= 0 && !ready && status !== NO_MESSAGE),
    unconfirmed: index >= 0 && values?.unconfirmed[index] === 1,
    value,
  });
  const catches = compiled.mappingTakeover[m] !== JUMP && now !== undefined && !now.caught && now.target >= 0;
  const range = action?.range;
  const plain = state === "on" || state === "available";
  return {
    ...base,
    state,
    word:
      plain && range && value !== null ? valueWords(value, range) : plain && value === null ? "" : STATE_WORDS[state],
    label: mappingLabel(live, m),
    acts: action?.fn.fn.acts ?? "none",
    actions: compiled.actionStart[m + 1]! - compiled.actionStart[m]!,
    catching: WAYS[takeoverState(now?.position ?? -1, catches ? now.target : -1, !catches).state],
  };
}

/** The mapping's own name, or what the desk calls the thing it drives, or the function's name. */
export function mappingLabel(live: LiveState, m: number): string {
  const mapping = live.show.mappings[m]!;
  if (mapping.name) return mapping.name;
  const a = live.compiled.actionStart[m]!;
  if (a === live.compiled.actionStart[m + 1]) return "no action";
  const action = live.compiled.actions[a]!;
  const index = live.context.sibling(a, "label");
  const name = index >= 0 ? live.values[action.desk.id]?.value[index] : null;
  return typeof name === "string" && name !== "" ? name : action.fn.fn.name;
}

function lampOf(live: LiveState, surfaceIndex: number, controlIndex: number) {
  const surface = live.compiled.surfaces[surfaceIndex]!;
  const palette = surface.lightPalette[controlIndex];
  if (!palette) return DARK;
  const key = lampKey(surface.lightStatus[controlIndex]!, surface.lightNumber[controlIndex]!);
  const value = live.lights[surface.id]?.get(key);
  return value === undefined ? DARK : lightOf(palette, value);
}
