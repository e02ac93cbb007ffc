/** The show: everything that is saved together, as one versioned document. */
import { z } from "zod";
import { Colour, Id, Name } from "./ids.ts";

/** Where bytes go in or out. */
export const PortRef = z.discriminatedUnion("kind", [
  /** A surface drawn on the screen, whose bytes come and go over the live socket. */
  z.strictObject({ kind: z.literal("screen") }),
  /** A MIDI device of a browser, by its name and which of several with that name. */
  z.strictObject({ kind: z.literal("browser-midi"), device: z.string().min(1).max(200), nth: z.int().min(1).max(64) }),
  /** One MIDI message a datagram: in listens on the port, out sends to it. */
  z.strictObject({ kind: z.literal("midi-udp"), host: z.string().min(1).max(200), port: z.int().min(1).max(65_535) }),
  z.strictObject({ kind: z.literal("none") }),
]);
export type PortRef = z.infer<typeof PortRef>;

export const Surface = z.strictObject({ id: Id, name: Name, profile: Id, in: PortRef, out: PortRef });
export type Surface = z.infer<typeof Surface>;

export const Desk = z.strictObject({
  id: Id,
  name: Name,
  profile: Id,
  host: z.string().min(1).max(200),
  port: z.int().min(1).max(65_535),
  /** Where we listen for its answers. */
  listenPort: z.int().min(1).max(65_535),
});
export type Desk = z.infer<typeof Desk>;

export const Layer = z.strictObject({ id: Id, name: Name });
export type Layer = z.infer<typeof Layer>;

/** Where a parameter's number comes from, at the moment of the action. */
export const Binding = z.discriminatedUnion("from", [
  z.strictObject({ from: z.literal("fixed"), value: z.int() }),
  /** The page that is up at the action's desk. */
  z.strictObject({ from: z.literal("page") }),
]);
export type Binding = z.infer<typeof Binding>;

/** The steps a value goes through: from the part of the travel that counts, over invert, to the desk's unit. */
export const Shape = z.strictObject({
  /** Part of the travel, 0..1. Outside of it the nearer end holds. */
  input: z
    .tuple([z.number().min(0).max(1), z.number().min(0).max(1)])
    .refine((r) => r[0] < r[1], { message: "an input range whose end is above its start", path: [1] }),
  invert: z.boolean(),
  /** In the function's own unit on the wire; left out, its whole range. */
  output: z.tuple([z.number(), z.number()]).optional(),
});
export type Shape = z.infer<typeof Shape>;

export const Action = z.strictObject({
  id: Id,
  on: z.boolean(),
  desk: Id,
  function: Id,
  bindings: z.record(Id, Binding),
  shape: Shape,
});
export type Action = z.infer<typeof Action>;

export const Look = z.strictObject({
  /** Left out, the desk's own colour. */
  colour: Colour.optional(),
});

export const Gesture = z.enum(["press", "move"]);
export type Gesture = z.infer<typeof Gesture>;

export const Takeover = z.enum(["jump", "catch"]);
export type Takeover = z.infer<typeof Takeover>;

export const Mapping = z.strictObject({
  id: Id,
  name: z.string().trim().max(80),
  note: z.string().max(400),
  on: z.boolean(),
  surface: Id,
  control: Id,
  gesture: Gesture,
  /** Empty: every layer. */
  layers: z.array(Id).max(32),
  /** Left out: every page. */
  pages: z.strictObject({ desk: Id, in: z.array(z.int()).min(1).max(64) }).optional(),
  takeover: Takeover,
  look: Look,
  actions: z.array(Action).max(16),
});
export type Mapping = z.infer<typeof Mapping>;

export const SHOW_FORMAT = "velvet-hinge/show";

/** The layer that is always there. */
export const BASE_LAYER = "base";

export const Show = z.strictObject({
  format: z.literal(SHOW_FORMAT),
  version: z.literal(1),
  name: Name,
  settings: z.strictObject({ middleC: z.enum(["C3", "C4"]) }),
  surfaces: z.array(Surface).max(64),
  desks: z.array(Desk).max(64),
  layers: z.array(Layer).min(1).max(32),
  mappings: z.array(Mapping).max(20_000),
});
export type Show = z.infer<typeof Show>;

export const WHOLE_TRAVEL: Shape = { input: [0, 1], invert: false };

export function emptyShow(name: string): Show {
  return {
    format: SHOW_FORMAT,
    version: 1,
    name,
    settings: { middleC: "C3" },
    surfaces: [],
    desks: [],
    layers: [{ id: BASE_LAYER, name: "Base" }],
    mappings: [],
  };
}
