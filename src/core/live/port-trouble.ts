/** Why a port is not open, as data; the sentences are in src/words. */
import { z } from "zod";

const NetPort = z.int();
export const PortTrouble = z.discriminatedUnion("code", [
  /** The system does not open the port: another program has it, or it may not be opened, or the address is not ours. */
  z.strictObject({ code: z.literal("port-in-use"), port: NetPort }),
  z.strictObject({ code: z.literal("port-forbidden"), port: NetPort }),
  z.strictObject({ code: z.literal("not-our-address") }),
  z.strictObject({ code: z.literal("unknown-name") }),
  z.strictObject({ code: z.literal("no-route") }),
  /** Nobody listens there, or no broker does. */
  z.strictObject({ code: z.literal("nobody-listens"), port: NetPort, broker: z.boolean() }),
  z.strictObject({ code: z.literal("closed-by-peer"), broker: z.boolean() }),
  z.strictObject({ code: z.literal("not-framed") }),
  z.strictObject({ code: z.literal("nobody-connected"), port: NetPort }),
  z.strictObject({ code: z.literal("not-let-in") }),
  z.strictObject({ code: z.literal("no-answer-in-time") }),
  z.strictObject({ code: z.literal("answer-too-long") }),
  z.strictObject({ code: z.literal("not-in-browser"), device: z.string() }),
  z.strictObject({ code: z.literal("not-on-computer"), device: z.string() }),
  z.strictObject({ code: z.literal("no-computer-midi"), reason: z.string() }),
  z.strictObject({ code: z.literal("nobody-in-session") }),
  z.strictObject({ code: z.literal("nothing-heard"), universe: z.int() }),
  /** Whatever else the system says, in its own word. */
  z.strictObject({ code: z.literal("system"), reason: z.string() }),
]);
export type PortTrouble = z.infer<typeof PortTrouble>;
export type TroubleCode = PortTrouble["code"];
