/** MIDI messages as a desk says them: numbers that have to be so, names that take what stands in their place. */

import type { HeardMidi } from "../format/desk-profile.ts";
import { decodeShort } from "../midi/message.ts";
import { ANY } from "./line-pattern.ts";
import type { FieldFault } from "./midi-template.ts";

/** What stands in the place of each name; texts only at the end of SysEx. */
export type MidiFound = ReadonlyMap<string, number | string>;

/** Numbers on the wire for both ends of a value that a state tells in another range. */
export function midiSpan(heard: HeardMidi): { from: number; to: number } {
  const wide = heard.midi === "bend" || (heard.bytes?.includes("{value:14}") ?? false);
  return { from: 0, to: wide ? 16_383 : 127 };
}

const NEEDED: Record<HeardMidi["midi"], readonly (keyof HeardMidi)[]> = {
  note: ["channel", "number", "value"],
  controller: ["channel", "number", "value"],
  program: ["channel", "number"],
  bend: ["channel", "value"],
  "poly-pressure": ["channel", "number", "value"],
  "channel-pressure": ["channel", "value"],
  sysex: ["bytes"],
};

/** What is wrong with a pattern: a field and its fault each. */
export function midiPatternFaults(p: HeardMidi, names: readonly string[]): FieldFault[] {
  const faults: FieldFault[] = [];
  const needed = NEEDED[p.midi];
  for (const field of needed)
    if (p[field] === undefined) faults.push({ field, fault: { fault: "missing-field", message: p.midi, field } });
  for (const [field, value] of Object.entries(p)) {
    if (field === "midi" || field === "scale") continue;
    if (!needed.includes(field as keyof HeardMidi))
      faults.push({ field, fault: { fault: "no-such-field", message: p.midi, field } });
    else if (typeof value === "string" && field !== "bytes" && !known(value.slice(1, -1), names))
      faults.push({ field, fault: { fault: "unknown-name", name: value.slice(1, -1), in: "message" } });
    else if (typeof value === "number") {
      const [from, to] = field === "channel" ? [1, 16] : [0, p.midi === "bend" ? 16_383 : 127];
      if (value < from || value > to)
        faults.push({
          field,
          fault: { fault: "field-out-of-range", field, name: "", hasFrom: value, hasTo: value, from, to },
        });
    }
  }
  if (p.midi !== "sysex" || p.bytes === undefined) return faults;
  const tokens = patternTokens(p.bytes);
  if (!tokens) faults.push({ field: "bytes", fault: { fault: "not-sysex", text: p.bytes } });
  else
    for (const t of tokens)
      if (typeof t !== "number" && !known(t.name, names))
        faults.push({ field: "bytes", fault: { fault: "unknown-name", name: t.name, in: "message" } });
  return faults;
}

function known(name: string, names: readonly string[]): boolean {
  return name === ANY || names.includes(name);
}

type Token = number | { name: string; size: 1 | 2 | "rest" };

/** Null where the text is anything but pairs and names from F0 to F7; what is left may only stand at the end. */
function patternTokens(text: string): Token[] | null {
  const tokens: Token[] = [];
  for (const part of text.trim().split(/\s+/)) {
    const named = /^\{([a-z0-9][a-z0-9.-]*)(:14|:text)?\}$/.exec(part);
    if (named) tokens.push({ name: named[1]!, size: named[2] === ":14" ? 2 : named[2] === ":text" ? "rest" : 1 });
    else if (/^[0-9a-fA-F]{2}$/.test(part)) tokens.push(Number.parseInt(part, 16));
    else return null;
  }
  const inner = tokens.slice(1, -1);
  if (tokens.length < 3 || tokens[0] !== 0xf0 || tokens.at(-1) !== 0xf7) return null;
  if (inner.some((t) => typeof t === "number" && t > 0x7f)) return null;
  return inner.slice(0, -1).some((t) => typeof t !== "number" && t.size === "rest") ? null : tokens;
}

/** A pattern taken apart, so that every message heard is only compared with it. */
export interface MidiPattern {
  readonly heard: HeardMidi;
  /** Of SysEx; null for everything else. */
  readonly tokens: readonly Token[] | null;
}

export function compileMidiPattern(heard: HeardMidi): MidiPattern {
  return { heard, tokens: heard.midi === "sysex" ? patternTokens(heard.bytes ?? "") : null };
}

/** One whole message; null where it is another one. */
export function matchMidi({ heard: p, tokens }: MidiPattern, bytes: Uint8Array): MidiFound | null {
  if (bytes[0] === 0xf0) return tokens ? matchSysex(tokens, bytes) : null;
  const m = decodeShort(bytes[0] ?? 0, bytes[1] ?? 0, bytes[2] ?? 0);
  if (!m) return null;
  const found = new Map<string, number>();
  const take = (slot: number | string | undefined, said: number): boolean => {
    if (slot === undefined || typeof slot === "number") return slot === undefined || slot === said;
    found.set(slot.slice(1, -1), said);
    return true;
  };
  switch (m.kind) {
    case "note-on":
    case "note-off":
      if (p.midi !== "note") return null;
      return take(p.channel, m.channel) &&
        take(p.number, m.note) &&
        take(p.value, m.kind === "note-on" ? m.velocity : 0)
        ? found
        : null;
    case "controller":
      if (p.midi !== "controller") return null;
      return take(p.channel, m.channel) && take(p.number, m.number) && take(p.value, m.value) ? found : null;
    case "program":
      return p.midi === "program" && take(p.channel, m.channel) && take(p.number, m.number) ? found : null;
    case "bend":
      return p.midi === "bend" && take(p.channel, m.channel) && take(p.value, m.value14) ? found : null;
    case "poly-pressure":
      if (p.midi !== "poly-pressure") return null;
      return take(p.channel, m.channel) && take(p.number, m.note) && take(p.value, m.value) ? found : null;
    case "channel-pressure":
      return p.midi === "channel-pressure" && take(p.channel, m.channel) && take(p.value, m.value) ? found : null;
    default:
      return null;
  }
}

function matchSysex(tokens: readonly Token[], bytes: Uint8Array): MidiFound | null {
  const found = new Map<string, number | string>();
  let at = 0;
  for (const t of tokens) {
    if (typeof t === "number") {
      if (bytes[at++] !== t) return null;
    } else if (t.size === "rest") {
      const end = bytes.length - 1;
      found.set(t.name, String.fromCharCode(...bytes.subarray(at, Math.max(at, end))).trim());
      at = Math.max(at, end);
    } else {
      if (at + t.size >= bytes.length) return null;
      found.set(t.name, t.size === 1 ? bytes[at]! : (bytes[at]! << 7) | bytes[at + 1]!);
      at += t.size;
    }
  }
  return at === bytes.length ? found : null;
}
