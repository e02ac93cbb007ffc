/** Where an action's numbers come from, and the steps its value goes through. */
import { z } from "zod";
import { MESSAGE_PARTS } from "../midi/message-parts.ts";
import { Id } from "./ids.ts";
import { rule } from "./rules.ts";

const WholeNumbers = z.array(z.int()).min(1).max(128);

/** Where a parameter's number comes from, at the moment of the action. */
export const Binding = z.discriminatedUnion("from", [
  z.strictObject({ from: z.literal("fixed"), value: z.int() }),
  /** The page that is up at the action's desk. */
  z.strictObject({ from: z.literal("page") }),
  /** Several numbers: the action is done for each, in this order. */
  z.strictObject({ from: z.literal("list"), values: WholeNumbers }),
  /** What is selected at the action's desk. */
  z.strictObject({ from: z.literal("selection") }),
  /** The strip, counted from 1, of a bank that moves. */
  z.strictObject({ from: z.literal("strip"), bank: Id, strip: z.int().min(1).max(128) }),
  /** A number of the very message, plus `offset`; which of them a message has depends on its kind. */
  z.strictObject({ from: z.literal("message"), part: z.enum(MESSAGE_PARTS), offset: z.int() }),
  /** The number of the layer that is up for the control, counted from 1, plus `offset`. */
  z.strictObject({ from: z.literal("layer"), offset: z.int() }),
  /** The value of a state without parameters of its own, or with fixed ones, at any desk, plus `offset`. */
  z.strictObject({
    from: z.literal("state"),
    desk: Id,
    state: Id,
    parameters: z.record(Id, z.int()).optional(),
    offset: z.int(),
  }),
]);
export type Binding = z.infer<typeof Binding>;

const Unit01 = z.number().min(0).max(1);

/** How the value bends between its ends. The laws are stated in docs/formats. */
export const Curve = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("audio") }),
  z.strictObject({ kind: z.literal("s") }),
  /** `amount` above 0 starts slowly, below 0 starts fast. */
  z.strictObject({
    kind: z.literal("exponential"),
    amount: z
      .number()
      .min(-10)
      .max(10)
      .refine((a) => a !== 0, rule("exponent-not-0")),
  }),
  z.strictObject({
    kind: z.literal("points"),
    points: z
      .array(z.tuple([Unit01, Unit01]))
      .min(2)
      .max(64)
      .refine(
        (p) => p[0]?.[0] === 0 && p.at(-1)?.[0] === 1 && p.every((q, i) => i === 0 || q[0] > p[i - 1]![0]),
        rule("curve-points"),
      ),
  }),
]);
export type Curve = z.infer<typeof Curve>;

/** A control by its surface and its own name. */
export const ControlRef = z.strictObject({ surface: Id, control: Id });
export type ControlRef = z.infer<typeof ControlRef>;

/**
 * The steps a value goes through, in this order: the part of the travel that counts, invert, curve, steps, dead band,
 * threshold, slew, the desk's unit, rounding, rate. Travel is 0..1; what is left out is not done.
 */
export const Shape = z.strictObject({
  /** Part of the travel, 0..1. */
  input: z.tuple([Unit01, Unit01]).refine((r) => r[0] < r[1], rule("input-rising", 1)),
  /** Outside of the input range: the nearer end holds (clamp, the default), or nothing is sent. */
  outside: z.enum(["clamp", "ignore"]).optional(),
  invert: z.boolean(),
  curve: Curve.optional(),
  /** Number of values the way has, ends included. */
  steps: z.int().min(2).max(1024).optional(),
  /** Travel around `at` that counts as `at`. */
  deadBand: z.strictObject({ at: Unit01, width: z.number().gt(0).max(0.9) }).optional(),
  /** Moves count this much while a control is held or a layer is up. */
  fine: z
    .strictObject({
      factor: z.number().gt(0).max(1),
      while: z.union([z.strictObject({ layer: Id }), ControlRef]),
    })
    .optional(),
  /** Becomes a switch: on above `at` + half the hysteresis, off below `at` - half of it. */
  threshold: z.strictObject({ at: Unit01, hysteresis: z.number().min(0).max(0.5) }).optional(),
  /** The value follows no faster than this part of its range in a second. */
  slewPerS: z.number().gt(0).max(1000).optional(),
  /** For worn encoders: a change faster than this many steps (or ways from end to end) in a second is thrown away. */
  jumpLimitPerS: z.number().gt(0).max(10_000).optional(),
  /** Part of the way that one step of an endless control moves; left out, 1/100. */
  stepSize: z.number().gt(0).max(1).optional(),
  /**
   * In the function's own unit on the wire; left out, its whole range. Or a base and a step: base + step x 0..127, as
   * tempos are often said.
   */
  output: z
    .union([z.tuple([z.number(), z.number()]), z.strictObject({ base: z.number(), step: z.number() })])
    .optional(),
  /** Rounded to multiples of this, in the output's unit. */
  roundTo: z.number().gt(0).max(1_000_000).optional(),
  /** Messages a second at the most; the last value always follows. */
  ratePerS: z.number().min(1).max(1000).optional(),
});
export type Shape = z.infer<typeof Shape>;
