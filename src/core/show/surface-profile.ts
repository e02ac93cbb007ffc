/**
 * A surface profile: a *kind* of surface. What it has, where it lies, what it sends and what lights it.
 * Lengths are in units of one pad; channels count 1..16; numbers and values 0..127.
 */
import { z } from "zod";
import { Colour, Id, Name } from "./ids.ts";

const Channel = z.int().min(1).max(16);
const Value7 = z.int().min(0).max(127);

/** What a control sends. Controllers 120..127 are channel mode messages and cannot be controls. */
export const ControlMessage = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("note"), channel: Channel, number: Value7 }),
  z.strictObject({ kind: z.literal("controller"), channel: Channel, number: z.int().min(0).max(119) }),
  z.strictObject({ kind: z.literal("bend"), channel: Channel }),
]);
export type ControlMessage = z.infer<typeof ControlMessage>;

/** How a light is set: a note or controller whose value is a place in the palette. */
export const LightMessage = z.strictObject({
  kind: z.enum(["note", "controller"]),
  channel: Channel,
  number: Value7,
  palette: Id,
});

export const Control = z.strictObject({
  id: Id,
  name: Name,
  kind: z.enum(["pad", "button", "fader", "knob"]),
  /** Springs back: press and release. Latches: on and off alternate in hardware. Absolute: it stands where it is put. */
  behaviour: z.enum(["springs-back", "latches", "absolute"]),
  place: z.strictObject({ x: z.number(), y: z.number(), width: z.number().positive(), height: z.number().positive() }),
  sends: ControlMessage,
  light: LightMessage.optional(),
});
export type Control = z.infer<typeof Control>;

/** One colour of a palette and the value that shows it: dim, full, or pulsing. */
export const PaletteColour = z.strictObject({ name: Name, colour: Colour, dim: Value7, full: Value7, pulse: Value7 });
export type PaletteColour = z.infer<typeof PaletteColour>;

export const Palette = z.strictObject({ id: Id, off: Value7, colours: z.array(PaletteColour).min(1).max(127) });
export type Palette = z.infer<typeof Palette>;

export const SURFACE_PROFILE_FORMAT = "velvet-hinge/surface-profile";

export const SurfaceProfile = z.strictObject({
  format: z.literal(SURFACE_PROFILE_FORMAT),
  version: z.literal(1),
  id: Id,
  name: Name,
  about: z.string().max(400),
  size: z.strictObject({ width: z.number().positive(), height: z.number().positive() }),
  /** True where the surface lights its own press and must not be sent the same value back. */
  lightsItself: z.boolean(),
  controls: z.array(Control).min(1).max(1024),
  palettes: z.array(Palette).max(16),
});
export type SurfaceProfile = z.infer<typeof SurfaceProfile>;
