/**
 * Rows of traffic on the live socket, as one binary message: the length of a JSON head (u32, little-endian), the head,
 * zeros up to a multiple of eight, and the rows as the engine wrote them.
 */
import { z } from "zod";

export const TrafficHead = z.strictObject({
  /** Which list it belongs to: a server that was started anew counts from 0 again. */
  log: z.number(),
  /** Number of the first row among all of that list. */
  first: z.int().min(0),
  /** Under which load of the show they were written. */
  load: z.int(),
  /** Names of that load, the first time it is told: `TrafficNames`, as the same server made them. */
  names: z.unknown().optional(),
  /** There is one row, and no rows follow: a browser's message that was refused, with its reason. */
  refused: z.strictObject({ atMs: z.number(), reason: z.string(), hex: z.string(), length: z.int() }).optional(),
});
export type TrafficHead = z.infer<typeof TrafficHead>;

const HEAD_AT = 4;
const ALIGN = 8;

export function encodeTrafficFrame(head: TrafficHead, rows: ArrayBuffer | null): Uint8Array {
  const text = new TextEncoder().encode(JSON.stringify(head));
  const rowsAt = Math.ceil((HEAD_AT + text.length) / ALIGN) * ALIGN;
  const frame = new Uint8Array(rowsAt + (rows?.byteLength ?? 0));
  new DataView(frame.buffer).setUint32(0, text.length, true);
  frame.set(text, HEAD_AT);
  if (rows) frame.set(new Uint8Array(rows), rowsAt);
  return frame;
}

/** Null where the bytes are no such message. */
export function decodeTrafficFrame(frame: ArrayBuffer): { head: TrafficHead; rows: ArrayBuffer } | null {
  if (frame.byteLength < HEAD_AT) return null;
  const length = new DataView(frame).getUint32(0, true);
  if (HEAD_AT + length > frame.byteLength) return null;
  const rowsAt = Math.ceil((HEAD_AT + length) / ALIGN) * ALIGN;
  try {
    const data: unknown = JSON.parse(new TextDecoder().decode(new Uint8Array(frame, HEAD_AT, length)));
    const head = TrafficHead.safeParse(data);
    return head.success ? { head: head.data, rows: frame.slice(rowsAt) } : null;
  } catch {
    return null;
  }
}
