/**
 * A message of one's own, as the house's "send a message" takes it, written as what it goes to speaks: MIDI as hexadecimal
 * pairs, an OSC address with arguments behind it, or a line of text. `{value}` stands for the value: one MIDI byte
 * 0..127, `{value:14}` two of them, an OSC float, or digits in a line (RFC 6570, level 1).
 *
 *   B0 07 {value}          F0 7D 01 {value:14} F7          /level {value} 2 "quay" true          fade {value}
 */
import type { Rule } from "../format/rules.ts";
import { type MessageKind, WIRES, type Wire } from "../format/wires.ts";
import { wholeMidi } from "../midi/parser.ts";
import { isOscAddress } from "../osc/address.ts";
import { encodeOsc } from "../osc/encode.ts";
import type { OscArgument } from "../osc/types.ts";
import { numberText } from "../stream/byte-text.ts";
import { fillTemplate, parseTemplate } from "./template.ts";
import { valueText } from "./wire-numbers.ts";

const utf8 = new TextEncoder();
const VALUE = "value";

export interface FreeMessage {
  readonly kind: MessageKind;
  /** The bytes for a value of 0..1. */
  bytes(value01: number): Uint8Array;
}

export type FreeMessageResult = { ok: true; message: FreeMessage } | { ok: false; rule: Rule };

/** Longest text of such a message, in characters. */
const MAX_FREE_CHARS = 600;

/** What a message to a desk of this wire is made of, and whether its lines have bytes; surfaces take MIDI. */
export interface FreeTarget {
  readonly kind: MessageKind;
  readonly isBytes: boolean;
}

export const TO_SURFACE: FreeTarget = { kind: "midi", isBytes: false };

export function toDesk({ kind, lineBytes }: { kind: Wire; lineBytes?: boolean | undefined }): FreeTarget {
  return { kind: WIRES[kind].message, isBytes: lineBytes ?? false };
}

/** A message to begin with, for each kind. */
export const FREE_EXAMPLES: Readonly<Record<MessageKind, string>> = {
  osc: "/example {value}",
  midi: "B0 07 {value}",
  line: "example {value}",
};

export function parseFreeMessage(text: string, { kind, isBytes }: FreeTarget): FreeMessageResult {
  const trimmed = text.trim();
  if (trimmed.length > MAX_FREE_CHARS) return { ok: false, rule: "free-message-short" };
  switch (kind) {
    case "osc":
      return parseOsc(trimmed);
    case "midi":
      return parseMidi(trimmed);
    case "line":
      return parseLine(trimmed, isBytes);
    default:
      return kind satisfies never;
  }
}

function parseLine(text: string, isBytes: boolean): FreeMessageResult {
  const wrong = { ok: false, rule: "free-line" } as const;
  const parsed = parseTemplate(text, true);
  if (!parsed.ok || text === "" || /[\r\n]/.test(text)) return wrong;
  const { names, bits } = parsed.template;
  if (names.some((name) => name !== VALUE) || (!isBytes && bits.some((b) => b !== 0))) return wrong;
  const bytes = (value01: number) =>
    utf8.encode(
      fillTemplate(parsed.template, (_, b) => (b === 0 ? valueText(value01) : numberText(value01 * (2 ** b - 1), b))),
    );
  return { ok: true, message: { kind: "line", bytes } };
}

function parseMidi(text: string): FreeMessageResult {
  const wrong = { ok: false, rule: "free-midi" } as const;
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
  if (!address || !isOscAddress(address) || text.includes("\0")) return { ok: false, rule: "free-osc" };
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
