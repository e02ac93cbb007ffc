/**
 * Rows of traffic on the live socket, as one binary message: the length of a JSON head (u32, little-endian), the head,
 * zeros up to a multiple of eight, the rows as the engine wrote them, and what they had no room for.
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
  /** Bytes of what the rows had no room for, at the end of the message; left out = none. */
  rests: z.int().min(1).optional(),
  /** There is one row, and no rows follow: a browser's message that was refused, with its reason. */
  refused: z.strictObject({ atMs: z.number(), reason: z.string(), hex: z.string(), length: z.int() }).optional(),
});
export type TrafficHead = z.infer<typeof TrafficHead>;

const HEAD_AT = 4;
const ALIGN = 8;

export function encodeTrafficFrame(
  head: TrafficHead,
  blocks: readonly Uint8Array[],
  rests: readonly ArrayBuffer[],
): Uint8Array {
  const restBytes = bytesOf(rests);
  const text = new TextEncoder().encode(JSON.stringify(restBytes > 0 ? { ...head, rests: restBytes } : head));
  let at = rowsAfter(text.length);
  const frame = new Uint8Array(at + bytesOf(blocks) + restBytes);
  new DataView(frame.buffer).setUint32(0, text.length, true);
  frame.set(text, HEAD_AT);
  for (const part of [...blocks, ...rests.map((rest) => new Uint8Array(rest))]) {
    frame.set(part, at);
    at += part.byteLength;
  }
  return frame;
}

function bytesOf(parts: readonly { byteLength: number }[]): number {
  return parts.reduce((n, part) => n + part.byteLength, 0);
}

function rowsAfter(headBytes: number): number {
  return Math.ceil((HEAD_AT + headBytes) / ALIGN) * ALIGN;
}

export interface TrafficFrame {
  head: TrafficHead;
  rows: Uint8Array;
  rests: ArrayBuffer | null;
}

/** Null where the bytes are no such message. */
export function decodeTrafficFrame(frame: ArrayBuffer): TrafficFrame | null {
  if (frame.byteLength < HEAD_AT) return null;
  const length = new DataView(frame).getUint32(0, true);
  if (HEAD_AT + length > frame.byteLength) return null;
  try {
    const data: unknown = JSON.parse(new TextDecoder().decode(new Uint8Array(frame, HEAD_AT, length)));
    const head = TrafficHead.safeParse(data);
    if (!head.success) return null;
    const restsAt = frame.byteLength - (head.data.rests ?? 0);
    const rowsAt = rowsAfter(length);
    if (restsAt < rowsAt) return null;
    return {
      head: head.data,
      rows: new Uint8Array(frame.slice(rowsAt, restsAt)),
      rests: restsAt < frame.byteLength ? frame.slice(restsAt) : null,
    };
  } catch {
    return null;
  }
}
