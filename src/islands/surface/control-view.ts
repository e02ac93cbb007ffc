/**
 * What a control shows on the screen. Its light is read from the MIDI bytes that went out to it and from
 * nothing else; its words come from the show and the desk's state.
 */

import type { Acts } from "../../core/format/desk-profile.ts";
import { nearestMapping, shownAction, shownMapping } from "../../core/from-desk/lights.ts";
import { JUMP } from "../../core/mapping/mapping-tables.ts";
import { NO_MESSAGE, OUT_OF_RANGE, READY } from "../../core/run-state/context.ts";
import { takeoverState } from "../../core/shape/takeover.ts";
import { lightSlot } from "../../core/surface/light-slot.ts";
import { type ControlState, controlState } from "../../core/surface/look.ts";
import { DARK, lightOf } from "../../core/surface/palette.ts";
import { valueWords } from "../../core/surface/value-words.ts";
import { scopeWords } from "../../words/mappings.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { mappingLabel } from "../live/mapping-label.ts";

export interface ControlView {
  readonly state: ControlState | "elsewhere" | "asleep" | "bypassed";
  /** The state in a word: "on", "72 %", "silent". */
  readonly word: string;
  readonly label: string;
  /** What it does in one word, for where there is no room for more. */
  readonly does: string;
  readonly lightMode: string;
  readonly lightColour: string;
  readonly acts: Acts | "none";
  /** How many actions run. */
  readonly actions: number;
  /** 0..1; -1 = not known. */
  readonly position: number;
  /** How far the ring of lights around it goes, 0..1; -1 = dark, or it has none. */
  readonly ring: number;
  readonly target: number;
  readonly catching: "raise" | "lower" | "";
  readonly pressed: boolean;
}

/** Which way a hand has to go to take the level over. */
const WAYS = { below: "raise", above: "lower", caught: "" } as const;

const STATE_WORDS: Record<ControlView["state"], string> = {
  free: "free",
  available: "off",
  on: "on",
  held: "held",
  unconfirmed: "not confirmed",
  silent: "no answer",
  "switched-off": "off for now",
  elsewhere: "not here",
  asleep: "asleep",
  bypassed: "out of service",
};

export function controlView(live: LiveState, surfaceIndex: number, controlIndex: number): ControlView {
  const { compiled, context } = live;
  const surface = compiled.surfaces[surfaceIndex]!;
  const now = live.controls[surface.id]?.[controlIndex];
  const lamp = lightNow(live, surfaceIndex, controlIndex);
  const own = surface.firstControl + controlIndex;
  const m = shownMapping(context, own);
  const base = {
    lightMode: lamp.mode,
    lightColour: lamp.colour,
    position: positionOf(live, surfaceIndex, controlIndex),
    ring: ringOf(live, surfaceIndex, controlIndex),
    target: now?.target ?? -1,
    pressed: now?.pressed ?? false,
  };
  const away = outOfService(live, surface, own, controlIndex);
  if (away) {
    const label = m < 0 ? "" : mappingLabel(live, m);
    return { ...base, state: away, word: STATE_WORDS[away], label, does: "", acts: "none", actions: 0, catching: "" };
  }
  if (m < 0) {
    const near = nearestMapping(context, own);
    const state = near.mapping < 0 ? "free" : near.off ? "switched-off" : "elsewhere";
    const label = near.mapping < 0 ? "" : mappingLabel(live, near.mapping);
    const word =
      near.mapping >= 0 && !near.off ? scopeWords(live.show.mappings[near.mapping]!, live.show) : STATE_WORDS[state];
    return { ...base, state, word, label, does: "", acts: "none", actions: 0, catching: "" };
  }
  const a = shownAction(context, m);
  const action = a < 0 ? null : compiled.actions[a]!;
  const desk = action ? live.desks[action.desk.id] : undefined;
  const status = a >= 0 ? context.look(a) : READY;
  const ready = a >= 0 && status === READY;
  const index = ready ? context.table.state(a) : -1;
  const values = action ? live.values[action.desk.id] : undefined;
  const raw = index >= 0 ? values?.value[index] : null;
  const known = typeof raw === "number" ? raw : null;
  const chosen = ready ? context.chosen(a) : null;
  const value = known === null || chosen === null ? known : Number(known === chosen);
  const notThere = a >= 0 && status === OUT_OF_RANGE;
  const found = controlState({
    mapped: true,
    held: base.pressed,
    silent: desk?.health === "silent" || desk?.health === "refusing" || (a >= 0 && !ready && status !== NO_MESSAGE),
    unconfirmed: index >= 0 && values?.unconfirmed[index] === 1,
    value,
  });
  const state = notThere ? "switched-off" : found;
  const catches = compiled.mappingTakeover[m] !== JUMP && now !== undefined && !now.caught && now.target >= 0;
  const range = action?.range;
  const plain = state === "on" || state === "available";
  return {
    ...base,
    state,
    word: notThere
      ? "not there"
      : plain && range && value !== null
        ? valueWords(value, range)
        : plain && value === null
          ? ""
          : STATE_WORDS[state],
    label: mappingLabel(live, m),
    does: action?.fn.fn.name.split(" ")[0] ?? "",
    acts: action?.fn.fn.acts ?? "none",
    actions: compiled.actionStart[m + 1]! - compiled.actionStart[m]!,
    catching: WAYS[takeoverState(now?.position ?? -1, catches ? now.target : -1, !catches).state],
  };
}

/** Whether it sleeps, or its group is bypassed: what hands do there leaves for no desk. */
function outOfService(
  { compiled, values, show }: LiveState,
  surface: LiveState["compiled"]["surfaces"][number],
  own: number,
  controlIndex: number,
): "asleep" | "bypassed" | null {
  const { asleep } = show.surfaces.find((s) => s.id === surface.id) ?? {};
  if (asleep?.includes(surface.profile.controls[controlIndex]!.id)) return "asleep";
  const house = compiled.desks[compiled.house];
  const base = house?.states.get("bypass")?.base;
  const told = house && values[house.id]?.value;
  if (base === undefined || !told) return null;
  const isIt = compiled.groupControls.some((controls, g) => Number(told[base + g] ?? 0) & 1 && controls.includes(own));
  return isIt ? "bypassed" : null;
}

const BEND = 0xe0;

/** Where a fader stands: where its motor was sent, by the bytes that went out, or where the hand has put it since. */
function positionOf(live: LiveState, surfaceIndex: number, controlIndex: number): number {
  const { id, profile } = live.compiled.surfaces[surfaceIndex]!;
  const now = live.controls[id]?.[controlIndex];
  const motor = profile.controls[controlIndex]!.motor;
  const seen = motor?.kind === "bend" ? live.motors[id]?.get(lightSlot(BEND | (motor.channel - 1), 0)) : undefined;
  return seen && seen.atMs >= (now?.movedAtMs ?? 0) ? seen.position : (now?.position ?? -1);
}

/** The ring by the byte that went out to it. */
function ringOf(live: LiveState, surfaceIndex: number, controlIndex: number): number {
  const { id, profile } = live.compiled.surfaces[surfaceIndex]!;
  const { ring } = profile.controls[controlIndex]!;
  if (!ring) return -1;
  const value = live.lights[id]?.get(lightSlot((ring.kind === "note" ? 0x90 : 0xb0) | (ring.channel - 1), ring.number));
  return value === undefined || value === ring.off ? -1 : (value - ring.from) / (ring.to - ring.from);
}

function lightNow(live: LiveState, surfaceIndex: number, controlIndex: number) {
  const surface = live.compiled.surfaces[surfaceIndex]!;
  const palette = surface.lightPalette[controlIndex];
  if (!palette) return DARK;
  const key = lightSlot(surface.lightStatus[controlIndex]!, surface.lightNumber[controlIndex]!);
  const value = live.lights[surface.id]?.get(key);
  return value === undefined ? DARK : lightOf(palette, value);
}
