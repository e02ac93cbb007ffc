/** A row of traffic as the protocol of the live socket tells it. */
import { z } from "zod";
import { OUTCOME, type OutcomeCode } from "./outcome.ts";

const Code = z.literal(Object.values(OUTCOME) as [OutcomeCode, ...OutcomeCode[]]);

export const TrafficEntry = z.strictObject({
  seq: z.number(),
  atMs: z.number(),
  out: z.boolean(),
  /** On which side: a surface or a desk, by its id; or a browser whose message was refused. */
  side: z.enum(["surface", "desk", "browser"]),
  device: z.string(),
  code: Code,
  mapping: z.string().optional(),
  /** Of a row to or from a surface. */
  control: z.string().optional(),
  /** Of a row to a desk. */
  action: z.string().optional(),
  a: z.number(),
  b: z.number(),
  cause: z.number(),
  /** The first bytes, as hex pairs without spaces, and the whole length. */
  hex: z.string(),
  length: z.int(),
  /** Why a browser's message was refused. */
  reason: z.string().optional(),
});
export type TrafficEntry = z.infer<typeof TrafficEntry>;
