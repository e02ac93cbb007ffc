/**
 * A surface profile: a *kind* of surface. What it has, where it lies, what it sends and what lights it.
 * Lengths are in units of one pad; channels count 1..16; numbers and values 0..127.
 */
import { z } from "zod";
import { MACHINE_COMMANDS, type MachineCommand } from "../midi/machine-control.ts";
import { RELATIVE_ENCODINGS } from "../midi/relative.ts";
import { isCueNumber, SHOW_COMMANDS, SHOW_FORMATS, type ShowCommand, type ShowFormat } from "../midi/show-control.ts";
import { Colour, Id, Name } from "./ids.ts";
import { rule } from "./rules.ts";
import { NEWEST, SURFACE_PROFILE_FORMAT } from "./versions.ts";

const Channel = z.int().min(1).max(16);
const Value7 = z.int().min(0).max(127);

/** Where it lies on the surface, in units of one pad from the upper left corner. */
export const Box = z.strictObject({
  x: z.number(),
  y: z.number(),
  width: z.number().positive(),
  height: z.number().positive(),
});
export type Box = z.infer<typeof Box>;

const Span = z.tuple([z.int(), z.int()]).refine((r) => r[0] <= r[1], rule("range-not-falling", 1));

/** Any message of a kind on these channels, with these numbers: a keyboard, or a range of controllers. */
export const AnyMessage = z.strictObject({
  kind: z.literal("any"),
  of: z.enum(["note", "controller", "program"]),
  channels: Span.refine((r) => r[0] >= 1 && r[1] <= 16, rule("channels-1-to-16")),
  numbers: Span.refine((r) => r[0] >= 0 && r[1] <= 127, rule("numbers-0-to-127")),
});
export type AnyMessage = z.infer<typeof AnyMessage>;

/** Bytes as hexadecimal pairs. */
const HexBytes = z
  .string()
  .max(600)
  .regex(/^([0-9a-fA-F]{2} ?)+$/, rule("hex-bytes"));

/** What a control sends. Controllers 120..127 are channel mode messages and cannot be controls. */
export const ControlMessage = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("note"), channel: Channel, number: Value7 }),
  z.strictObject({ kind: z.literal("controller"), channel: Channel, number: z.int().min(0).max(119) }),
  z.strictObject({ kind: z.literal("bend"), channel: Channel }),
  /** Controller 0..31 with its LSB 32 above, in either order. */
  z.strictObject({ kind: z.literal("controller-14"), channel: Channel, number: z.int().min(0).max(31) }),
  z.strictObject({ kind: z.literal("nrpn"), channel: Channel, number: z.int().min(0).max(16_382) }),
  z.strictObject({ kind: z.literal("rpn"), channel: Channel, number: z.int().min(0).max(16_382) }),
  z.strictObject({
    kind: z.literal("relative"),
    channel: Channel,
    number: z.int().min(0).max(119),
    encoding: z.enum(RELATIVE_ENCODINGS),
  }),
  /** An encoder that says only which way: one value for each click to the right, another for one to the left. */
  z.strictObject({
    kind: z.literal("clicks"),
    channel: Channel,
    number: z.int().min(0).max(119),
    right: Value7,
    left: Value7,
  }),
  z.strictObject({ kind: z.literal("poly-pressure"), channel: Channel, number: Value7 }),
  z.strictObject({ kind: z.literal("channel-pressure"), channel: Channel }),
  /** With a number it is a button that sends this program; without, a selector whose position is the program. */
  z.strictObject({ kind: z.literal("program"), channel: Channel, number: Value7.optional() }),
  /** A SysEx message by its beginning. `valueAt` counts bytes after it; two bytes are MSB first. */
  z.strictObject({
    kind: z.literal("sysex"),
    prefix: HexBytes,
    valueAt: z.int().min(0).max(255).optional(),
    bits: z.union([z.literal(7), z.literal(14)]).optional(),
  }),
  z.strictObject({ kind: z.literal("transport"), message: z.enum(["clock", "start", "continue", "stop"]) }),
  z.strictObject({ kind: z.literal("song-position") }),
  /** Time code, quarter and full frames; its position is the part of the day that has passed. */
  z.strictObject({ kind: z.literal("time-code") }),
  /** What is left out may be anything. */
  z.strictObject({
    kind: z.literal("show-control"),
    command: z.enum(Object.keys(SHOW_COMMANDS) as [ShowCommand, ...ShowCommand[]]),
    format: z.enum(Object.keys(SHOW_FORMATS) as [ShowFormat, ...ShowFormat[]]).optional(),
    device: z.int().min(0).max(127).optional(),
    cue: z.string().refine(isCueNumber, rule("cue-number")).optional(),
    list: z.string().refine(isCueNumber, rule("cue-number")).optional(),
    path: z.string().refine(isCueNumber, rule("cue-number")).optional(),
  }),
  z.strictObject({
    kind: z.literal("machine-control"),
    command: z.enum(Object.keys(MACHINE_COMMANDS) as [MachineCommand, ...MachineCommand[]]),
    device: z.int().min(0).max(127).optional(),
  }),
  AnyMessage,
]);
export type ControlMessage = z.infer<typeof ControlMessage>;

/** How a light is set: a note or controller whose value is one of the palette. */
const LightMessage = z.strictObject({
  kind: z.enum(["note", "controller"]),
  channel: Channel,
  number: Value7,
  palette: Id,
});

/** How a motor is told where to go. */
export const MotorMessage = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("bend"), channel: Channel }),
  z.strictObject({ kind: z.literal("controller"), channel: Channel, number: z.int().min(0).max(119) }),
  z.strictObject({ kind: z.literal("controller-14"), channel: Channel, number: z.int().min(0).max(31) }),
]);
export type MotorMessage = z.infer<typeof MotorMessage>;

/** How a ring of lights around a knob is told the level: from one value to another, and a value that darkens it. */
const RingMessage = z
  .strictObject({
    kind: z.enum(["note", "controller"]),
    channel: Channel,
    number: Value7,
    from: Value7,
    to: Value7,
    off: Value7,
  })
  .refine((r) => r.from < r.to, rule("ring-rising", "to"));
export type RingMessage = z.infer<typeof RingMessage>;

/** SysEx with `{text}` in the place of the text, which is ASCII and filled up with spaces to its length. */
const DisplayBytes = z
  .string()
  .max(600)
  .refine((t) => {
    const parts = t.trim().split(/\s+/);
    const bytes = parts.filter((p) => p !== "{text}");
    return (
      parts.length - bytes.length === 1 &&
      bytes.every((p) => /^[0-9a-fA-F]{2}$/.test(p)) &&
      /^f0$/i.test(bytes[0] ?? "") &&
      /^f7$/i.test(bytes.at(-1) ?? "")
    );
  }, rule("display-bytes"));

/** A text on the surface: the name of what a control drives, or its value in words. */
export const Display = z.strictObject({
  id: Id,
  name: Name,
  box: Box,
  /** The control it speaks of. */
  of: Id,
  shows: z.enum(["name", "value"]),
  /** Characters it has room for. */
  length: z.int().min(1).max(64),
  bytes: DisplayBytes,
});
export type Display = z.infer<typeof Display>;

const TouchMessage = z.strictObject({
  kind: z.enum(["note", "controller"]),
  channel: Channel,
  number: z.int().min(0).max(127),
});

const PressureMessage = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("poly-pressure"), channel: Channel, number: Value7 }),
  z.strictObject({ kind: z.literal("channel-pressure"), channel: Channel }),
]);

/** A bank that the surface's own button reaches: what its banked controls send is shifted by this much. */
export const InternalBank = z.strictObject({
  id: Id,
  name: Name,
  channels: z.int().min(-15).max(15),
  numbers: z.int().min(-127).max(127),
});
export type InternalBank = z.infer<typeof InternalBank>;

export const Control = z.strictObject({
  id: Id,
  name: Name,
  kind: z.enum(["pad", "button", "key", "fader", "knob"]),
  /**
   * Springs back: press and release. Latches: on and off alternate in hardware. Latches-both-on: the same, but both are
   * sent as on. One-shot: a press without a release. Absolute: it stands where it is put. Relative: it tells steps.
   */
  behaviour: z.enum(["springs-back", "latches", "latches-both-on", "one-shot", "absolute", "relative"]),
  box: Box,
  sends: ControlMessage,
  light: LightMessage.optional(),
  /** It has a motor, which follows the desk. */
  motor: MotorMessage.optional(),
  /** Lights around it that show the level. */
  ring: RingMessage.optional(),
  /** Sent while fingers rest on it. */
  touch: TouchMessage.optional(),
  /** Sent while it is pressed harder. */
  pressure: PressureMessage.optional(),
  /** How much faster an endless control gets when it is turned fast, 0 (not at all) to 10. */
  acceleration: z.number().min(0).max(10).optional(),
  /**
   * Keys of the computer that play it where it is drawn on the screen, by their position on the keyboard as browsers name it
   * ("KeyQ", "Digit1", "ArrowUp"): one that presses it, or one that turns it down and one that turns it up.
   */
  keys: z
    .array(z.string().regex(/^[A-Z][A-Za-z0-9]{0,31}$/, rule("computer-key")))
    .min(1)
    .max(2)
    .optional(),
  /** True where the surface's own bank button shifts what it sends. */
  banked: z.boolean().optional(),
  /** The surface's own bank in which it lies; written by the program. */
  bank: Id.optional(),
});
export type Control = z.infer<typeof Control>;

/** One colour of a palette and the value that shows it: dim, full, or pulsing. */
export const PaletteColour = z.strictObject({ name: Name, colour: Colour, dim: Value7, full: Value7, pulse: Value7 });
export type PaletteColour = z.infer<typeof PaletteColour>;

export const Palette = z.strictObject({ id: Id, off: Value7, colours: z.array(PaletteColour).min(1).max(127) });
export type Palette = z.infer<typeof Palette>;

export const SurfaceProfile = z.strictObject({
  format: z.literal(SURFACE_PROFILE_FORMAT),
  version: z.literal(NEWEST[SURFACE_PROFILE_FORMAT]),
  id: Id,
  name: Name,
  about: z.string().max(400),
  size: z.strictObject({ width: z.number().positive(), height: z.number().positive() }),
  /** True where the surface lights its own press and must not be sent the same value back. */
  lightsItself: z.boolean(),
  /** What such a unit answers to an identity request (MIDI 1.0): maker, family and member, as it is known by when plugged in. */
  identity: HexBytes.optional(),
  controls: z.array(Control).max(1024),
  palettes: z.array(Palette).max(16),
  displays: z.array(Display).max(128).optional(),
  /** Sent when its output is opened, before anything else, and when it is closed. */
  init: z.array(HexBytes).max(32).optional(),
  teardown: z.array(HexBytes).max(32).optional(),
  /** The first is the one the controls are written in; each further one makes controls of its own. */
  banks: z.array(InternalBank).max(16).optional(),
});
export type SurfaceProfile = z.infer<typeof SurfaceProfile>;
