/** Where controls that are added as they are touched lie: pads above, knobs and faders below, each in the next free hole. */
import { emptySurfaceKind } from "../format/empty-surface.ts";
import type { Box, Control, ControlMessage, SurfaceProfile } from "../format/surface-profile.ts";
import { firstPalette } from "../surface/first-palette.ts";
import type { LearnCandidate } from "../surface/learn.ts";
import { learntControl, nextName, overlap } from "../surface/learnt-control.ts";
import type { Shown } from "./teacher.ts";

/** Holes in a row, and rows of pads before the knobs and faders, in pads. */
const HOLES = 8;
const PAD_ROWS = 4;

type Kind = Control["kind"];
const SIZES: Record<Kind, readonly [width: number, height: number]> = {
  pad: [1, 1],
  button: [1, 1],
  key: [1, 1],
  knob: [1, 1],
  fader: [1, 2],
};

/** A kind of surface of which nothing is known yet. */
export function unknownKind(id: string, name: string, identity?: string): SurfaceProfile {
  return {
    ...emptySurfaceKind(id, name, { width: HOLES, height: PAD_ROWS }),
    palettes: [firstPalette("lit")],
    ...(identity === undefined ? {} : { identity }),
  };
}

/** The next free hole for a control of this kind. */
export function hole(controls: readonly Control[], kind: Kind): Box {
  const [width, height] = SIZES[kind];
  const isFree = (box: Box) => !controls.some((c) => overlap(c.box, box));
  const first = kind === "knob" ? PAD_ROWS : kind === "fader" ? PAD_ROWS + 1 : 0;
  for (let y = first; ; y++) {
    // Pads that fill their rows go on below everything.
    const row = first === 0 && y >= PAD_ROWS ? y + PAD_ROWS : y;
    for (let x = 0; x < HOLES; x++) {
      const box = { x, y: row, width, height };
      if (isFree(box)) return box;
    }
  }
}

/** A control for what was shown, in the next free hole, with the light that answers its own message. */
export function taughtControl(
  profile: SurfaceProfile,
  found: LearnCandidate,
  behaviour: Shown["behaviour"] = found.behaviour,
): Control {
  // What springs back or latches and sends notes is struck: until somebody says otherwise it is a pad.
  const asKind = found.sends.kind === "note" ? { ...found, kind: "pad" as const } : found;
  const control = learntControl(profile, asKind);
  const light = lightOf(profile, control.sends);
  return {
    ...control,
    behaviour: control.behaviour === "absolute" || control.behaviour === "relative" ? control.behaviour : behaviour,
    box: hole(profile.controls, control.kind),
    ...(light && control.behaviour !== "absolute" && control.behaviour !== "relative" ? { light } : {}),
  };
}

/** Its light, as long as nothing else is known: the value back to the same message. */
export function lightOf(profile: SurfaceProfile, sends: ControlMessage): Control["light"] {
  const palette = profile.palettes[0];
  if (!palette || (sends.kind !== "note" && sends.kind !== "controller")) return undefined;
  return { kind: sends.kind, channel: sends.channel, number: sends.number, palette: palette.id };
}

/** The others of a row, like the last of those that were touched. */
export function restOfRow(profile: SurfaceProfile, like: Control, rest: readonly ControlMessage[]): Control[] {
  const controls = [...profile.controls];
  const { kind, behaviour, acceleration } = like;
  for (const sends of rest) {
    const light = like.light && lightOf(profile, sends);
    controls.push({
      ...nextName(kind, controls),
      kind,
      behaviour,
      box: hole(controls, kind),
      sends,
      ...(light ? { light: { ...light, palette: like.light!.palette } } : {}),
      ...(acceleration === undefined ? {} : { acceleration }),
    });
  }
  return controls.slice(profile.controls.length);
}

/** The boards of controls moved together: rows where nothing lies are taken out. Null = there is no such row. */
export function tidied(controls: readonly Control[]): Control[] | null {
  const bottom = Math.max(0, ...controls.map((c) => Math.ceil(c.box.y + c.box.height)));
  const empty: number[] = [];
  for (let y = 0; y < bottom; y++)
    if (!controls.some((c) => c.box.y < y + 1 && c.box.y + c.box.height > y)) empty.push(y);
  if (empty.length === 0) return null;
  return controls.map((c) => ({ ...c, box: { ...c.box, y: c.box.y - empty.filter((y) => y < c.box.y).length } }));
}
