/**
 * A message of one's own, as the house's "send a message" takes it: MIDI as hexadecimal pairs, or an OSC address with
 * arguments behind it. `{value}` stands for the value: one MIDI byte 0..127, `{value:14}` two of them, or an OSC float.
 *
 *   B0 07 {value}            F0 7D 01 {value:14} F7           /scene/3/go            /level {value} 2 "quay" true
 */
import { wholeMidi } from "../midi/parser.ts";
import { encodeOsc } from "../osc/encode.ts";
import type { OscArgument } from "../osc/types.ts";

export interface FreeMessage {
  readonly kind: "midi" | "osc";
  /** The bytes for a value of 0..1. */
  bytes(value01: number): Uint8Array;
}

export type FreeMessageResult = { ok: true; message: FreeMessage } | { ok: false; detail: string };

/** Longest text of such a message, in characters. */
export const MAX_FREE_CHARS = 600;

export function parseFreeMessage(text: string): FreeMessageResult {
  const trimmed = text.trim();
  if (trimmed.length > MAX_FREE_CHARS)
    return { ok: false, detail: `a message of at most ${MAX_FREE_CHARS} characters` };
  return trimmed.startsWith("/") ? parseOsc(trimmed) : parseMidi(trimmed);
}

function parseMidi(text: string): FreeMessageResult {
  const wrong = { ok: false, detail: "whole MIDI messages as hexadecimal pairs, or an OSC address" } as const;
  const tokens: (number | "value" | "wide")[] = [];
  for (const part of text.split(/\s+/)) {
    if (part === "{value}") tokens.push("value");
    else if (part === "{value:14}") tokens.push("wide");
    else if (/^[0-9a-fA-F]{2}$/.test(part)) tokens.push(Number.parseInt(part, 16));
    else return wrong;
  }
  const bytes = (value01: number) => {
    const clamped = Math.min(1, Math.max(0, value01));
    const v14 = Math.round(clamped * 16_383);
    return Uint8Array.from(
      tokens.flatMap((t) => (t === "value" ? [Math.round(clamped * 127)] : t === "wide" ? [v14 >> 7, v14 & 127] : [t])),
    );
  };
  return wholeMidi(bytes(0)) ? { ok: true, message: { kind: "midi", bytes } } : wrong;
}

function parseOsc(text: string): FreeMessageResult {
  const parts = text.match(/"[^"]*"|\S+/g) ?? [];
  const [address, ...rest] = parts;
  if (!address || !/^\/[\x21-\x7e]*$/.test(address) || /[#*,?[\]{}]/.test(address))
    return { ok: false, detail: "an OSC address without signs that stand for others" };
  const args: (OscArgument | "value")[] = rest.map((part) => {
    if (part === "{value}") return "value";
    if (part === "true") return { type: "T" };
    if (part === "false") return { type: "F" };
    if (part.startsWith('"')) return { type: "s", value: part.slice(1, -1) };
    if (/^-?\d+$/.test(part) && Math.abs(Number(part)) < 2 ** 31) return { type: "i", value: Number(part) };
    if (/^-?\d*\.\d+$/.test(part)) return { type: "f", value: Number(part) };
    return { type: "s", value: part };
  });
  const bytes = (value01: number) =>
    encodeOsc({
      kind: "message",
      address,
      args: args.map((a) => (a === "value" ? { type: "f", value: value01 } : a)),
    });
  return { ok: true, message: { kind: "osc", bytes } };
}
