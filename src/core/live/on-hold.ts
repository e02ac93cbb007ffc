/** Edits on hold: what pages are told of them, and what can be done with them. */
import { z } from "zod";

export const OnHold = z.strictObject({
  /** Edits since they are held, undone ones too. */
  edits: z.int().min(0),
  sinceMs: z.number(),
  /** They are put in as soon as nobody has a hand on anything. */
  waitsForQuiet: z.boolean(),
});
export type OnHold = z.infer<typeof OnHold>;

export const HoldCommand = z.strictObject({
  do: z.enum(["hold", "put-in", "put-in-when-quiet", "wait-on", "throw-away"]),
});
export type HoldCommand = z.infer<typeof HoldCommand>;
