/** MIDI messages of a desk profile: from a template and its numbers to bytes, and where the value goes in them. */

import type { MidiTemplate } from "../format/desk-profile.ts";
import type { TemplateFault } from "../format/problem.ts";
import { controller14Bytes, joinedBytes, parameterBytes, programBytes } from "../midi/compound.ts";
import { encodeMachineControl, type MachineCommand } from "../midi/machine-control.ts";
import { encodeShort } from "../midi/message.ts";
import { CUE_NAMES, encodeShowControl, isCueNumber, type ShowCommand, type ShowTime } from "../midi/show-control.ts";
import {
  fullFrame,
  QUARTER_FRAMES,
  quarterFrameValue,
  type TimeCode,
  timeCodeBytes,
  timeCodeOfSeconds,
} from "../midi/time-code.ts";
import { type FieldRule, type MidiField, midiFields } from "./midi-fields.ts";
import { fillTemplate, parseTemplate } from "./template.ts";
import { CLOCK, type Says } from "./wire-numbers.ts";

/** What is wrong with one field of a message. */
export interface FieldFault {
  readonly field: string;
  readonly fault: TemplateFault;
}

/** Numbers that may stand in a message, by name; null where it is not known how far they go. */
export type NumberRanges = ReadonlyMap<string, { readonly from: number; readonly to: number } | null>;

const VALUE = "value";
const VALUE_SLOT = `{${VALUE}}`;
const WIDEST_SYSEX = { 7: 127, 14: 16_383 };

/** What is wrong with a template: a field and its fault each. `names` may stand in braces. */
export function midiTemplateFaults(t: MidiTemplate, names: NumberRanges): FieldFault[] {
  const faults: FieldFault[] = [];
  const fields = midiFields(t);
  for (const [field, rule] of Object.entries(fields))
    if (rule.needed && t[field as MidiField] === undefined)
      faults.push({ field, fault: { fault: "missing-field", message: t.midi, field } });
  const isTime = t.midi === "full-frame" || t.midi === "quarter-frames";
  const inTime: NumberRanges = isTime ? new Map([...names, [CLOCK, { from: 0, to: 86_400 }]]) : names;
  for (const [field, value] of Object.entries(t)) {
    const rule = fields[field as MidiField];
    if (field === "midi") continue;
    if (!rule) faults.push({ field, fault: { fault: "no-such-field", message: t.midi, field } });
    else
      for (const fault of fieldFaults(t, field, rule, value, field === VALUE ? inTime : names))
        faults.push({ field, fault });
  }
  CUE_NAMES.forEach((field, i) => {
    const later = CUE_NAMES.slice(i + 1).find((f) => t[f] !== undefined && fields[f] !== undefined);
    if (later && fields[field] && t[field] === undefined)
      faults.push({ field: later, fault: { fault: "needs-field", field: later, needs: field } });
  });
  if (isTime && t.value !== undefined)
    for (const field of ["hours", "minutes", "seconds", "frames"] as const)
      if (t[field] !== undefined) faults.push({ field, fault: { fault: "either-field", field, other: VALUE } });
  return faults;
}

function fieldFaults(
  t: MidiTemplate,
  field: string,
  rule: FieldRule,
  value: unknown,
  names: NumberRanges,
): TemplateFault[] {
  switch (rule.is) {
    case "number":
      return numberFaults(field, value, rule, names);
    case "cue":
      return cueFaults(value, names);
    case "bytes":
      return sysexFaults(String(value), names);
    case "word":
      if (rule.words.includes(String(value))) return [];
      if (field === "command" && (t.midi === "show-control" || t.midi === "machine-control"))
        return [{ fault: "unknown-command", standard: t.midi, command: String(value) }];
      return [];
    case "yes-no":
      return [];
    default:
      return rule satisfies never;
  }
}

function numberFaults(
  field: string,
  value: unknown,
  to: { from: number; to: number },
  names: NumberRanges,
): TemplateFault[] {
  if (typeof value === "number") return within(field, "", { from: value, to: value }, to);
  const name = String(value).slice(1, -1);
  const range = names.get(name);
  if (range === undefined) return [{ fault: "unknown-name", name, in: "message" }];
  return range === null ? [] : within(field, name, range, to);
}

function within(
  field: string,
  name: string,
  has: { from: number; to: number },
  { from, to }: { from: number; to: number },
): TemplateFault[] {
  if (has.from >= from && has.to <= to) return [];
  return [{ fault: "field-out-of-range", field, name, hasFrom: has.from, hasTo: has.to, from, to }];
}

/** Digits and points, with names in them: "12.5", "{cue}", "{cue}.{point}". */
function cueFaults(value: unknown, names: NumberRanges): TemplateFault[] {
  if (typeof value === "number") return value >= 0 ? [] : [{ fault: "not-a-cue", text: String(value) }];
  const parsed = parseTemplate(String(value));
  if (!parsed.ok) return [parsed.fault];
  const faults: TemplateFault[] = [];
  for (const name of parsed.template.names) {
    const range = names.get(name);
    if (range === undefined) faults.push({ fault: "unknown-name", name, in: "message" });
    else if (range && range.from < 0)
      faults.push({
        fault: "field-out-of-range",
        field: "cue",
        name,
        hasFrom: range.from,
        hasTo: range.to,
        from: 0,
        to: range.to,
      });
  }
  if (!isCueNumber(fillTemplate(parsed.template, () => 1))) faults.push({ fault: "not-a-cue", text: String(value) });
  return faults;
}

function sysexFaults(text: string, names: NumberRanges): TemplateFault[] {
  const tokens = sysexTokens(text);
  if (!tokens) return [{ fault: "not-sysex", text }];
  return tokens.flatMap((token): TemplateFault[] => {
    if (typeof token === "number") return [];
    const range = names.get(token.name);
    if (range === undefined) return [{ fault: "unknown-name", name: token.name, in: "message" }];
    return range === null ? [] : within("bytes", token.name, range, { from: 0, to: WIDEST_SYSEX[token.wide ? 14 : 7] });
  });
}

/**
 * Where the value stands, as indices into the bytes: one byte of 7 bits, or two with the upper and the lower half. "none":
 * nowhere. "anew": in several places, or as text, so that the message is encoded for each value.
 */
export type ValuePlace = { readonly upperAt: number; readonly lowerAt: number } | "none" | "anew";

const place = (lowerAt: number, upperAt = -1): ValuePlace => ({ lowerAt, upperAt });
/** Of the messages whose field `value` is all that follows the value. */
const PLACES: Partial<Record<MidiTemplate["midi"], ValuePlace>> = {
  "note-on": place(2),
  "note-off": place(2),
  controller: place(2),
  "poly-pressure": place(2),
  "channel-pressure": place(1),
  bend: place(1, 2),
  "song-position": place(1, 2),
  "controller-14": place(5, 2),
  nrpn: place(11, 8),
  rpn: place(11, 8),
};

export function midiValuePlace(t: MidiTemplate): ValuePlace {
  const text = JSON.stringify(t);
  if (text.includes(`{${CLOCK}}`)) return "anew";
  const times = text.match(/\{value(?::14)?\}/g)?.length ?? 0;
  if (times === 0) return "none";
  if (times > 1) return "anew";
  if (t.midi === "sysex") {
    let at = 0;
    for (const token of sysexTokens(t.bytes ?? "") ?? []) {
      if (typeof token !== "number" && token.name === VALUE) return token.wide ? place(at + 1, at) : place(at);
      at += typeof token !== "number" && token.wide ? 2 : 1;
    }
    return "none";
  }
  return (t.value === VALUE_SLOT && PLACES[t.midi]) || "anew";
}

/** The bytes for these numbers, the value among them. Numbers out of range are cut to it. */
export function encodeMidiTemplate(t: MidiTemplate, says: Says): Uint8Array {
  const of = (slot: number | string | undefined, to: number, from = 0) => {
    const n = typeof slot === "number" ? slot : slot === undefined ? 0 : says.number(slot.slice(1, -1));
    return Math.min(to, Math.max(from, Math.round(n) || 0));
  };
  const channel = of(t.channel ?? 1, 16, 1);
  const n7 = of(t.number, 127);
  const v7 = of(t.value, 127);
  const v14 = of(t.value, 16_383);
  switch (t.midi) {
    case "note-on":
    case "note-off":
      return encodeShort({ kind: t.midi, channel, note: n7, velocity: v7 });
    case "controller":
      return encodeShort({ kind: n7 >= 120 ? "channel-mode" : "controller", channel, number: n7, value: v7 });
    case "poly-pressure":
      return encodeShort({ kind: "poly-pressure", channel, note: n7, value: v7 });
    case "channel-pressure":
      return encodeShort({ kind: "channel-pressure", channel, value: v7 });
    case "bend":
      return encodeShort({ kind: "bend", channel, value14: v14 });
    case "controller-14":
      return controller14Bytes(channel, of(t.number, 31), v14);
    case "nrpn":
    case "rpn":
      return parameterBytes(t.midi === "rpn", channel, of(t.number, 16_382), v14, t.close ?? false);
    case "program":
      return programBytes(channel, n7, t.bank === undefined ? undefined : of(t.bank, 16_383));
    case "sysex":
      return sysexBytes(t.bytes ?? "", says);
    case "show-control":
      return showBytes(t, says, of);
    case "machine-control":
      return encodeMachineControl({
        device: of(t.device, 127),
        command: (t.command ?? "stop") as MachineCommand,
        ...(t.command !== "locate" ? {} : t.point === undefined ? { time: timeOf(t, of) } : { point: of(t.point, 7) }),
      });
    case "full-frame":
      return fullFrame(timeOf(t, of, says), of(t.device ?? 127, 127));
    case "quarter-frames": {
      const time = timeOf(t, of, says);
      return joinedBytes(
        ...Array.from({ length: QUARTER_FRAMES }, (_, piece) =>
          encodeShort({ kind: "time-code", piece, value: quarterFrameValue(time, piece) }),
        ),
      );
    }
    case "song-position":
      return encodeShort({ kind: "song-position", beats: v14 });
    case "song-select":
      return encodeShort({ kind: "song-select", number: n7 });
    case "start":
    case "continue":
    case "stop":
    case "clock":
    case "tune-request":
    case "reset":
      return encodeShort({ kind: t.midi });
    default:
      return t.midi satisfies never;
  }
}

type NumberOf = (slot: number | string | undefined, to: number, from?: number) => number;

/** A time of its own fields, or the value as seconds since midnight. */
function timeOf(t: MidiTemplate, of: NumberOf, says?: Says): TimeCode {
  const rate = t.rate ?? "25";
  if (says && t.value !== undefined)
    return timeCodeOfSeconds(rate, typeof t.value === "number" ? t.value : says.number(t.value.slice(1, -1)));
  return {
    rate,
    hours: of(t.hours, 23),
    minutes: of(t.minutes, 59),
    seconds: of(t.seconds, 59),
    frames: of(t.frames, rate === "24" ? 23 : rate === "25" ? 24 : 29),
  };
}

function showBytes(t: MidiTemplate, says: Says, of: NumberOf): Uint8Array {
  const fields = midiFields(t);
  const names: { cue?: string; list?: string; path?: string } = {};
  for (const field of CUE_NAMES) if (fields[field] && t[field] !== undefined) names[field] = cueText(t[field], says);
  const time: ShowTime = [...timeCodeBytes(timeOf(t, of)), 0];
  return encodeShowControl({
    device: of(t.device, 127),
    format: t.format ?? "all",
    command: (t.command ?? "go") as ShowCommand,
    ...names,
    ...(fields.hours ? { time } : {}),
    ...(fields.value ? { control: of(t.number, 16_383), value: of(t.value, 16_383) } : {}),
    ...(fields.number && !fields.value ? { macro: of(t.number, 127) } : {}),
  });
}

/** A cue number; a value that is none, such as one below zero, is cue 0. */
function cueText(text: number | string, says: Says): string {
  const parsed = parseTemplate(String(text));
  const filled = parsed.ok ? fillTemplate(parsed.template, (name) => says.text(name)) : String(text);
  return isCueNumber(filled) ? filled : "0";
}

type SysexToken = number | { name: string; wide: boolean };

/** Hexadecimal pairs and `{name}` in turn; null where the text is anything else or no whole SysEx message. */
export function sysexTokens(text: string): SysexToken[] | null {
  const tokens: SysexToken[] = [];
  for (const part of text.trim().split(/\s+/)) {
    const named = /^\{([a-z0-9][a-z0-9.-]*)(:14)?\}$/.exec(part);
    if (named) tokens.push({ name: named[1]!, wide: named[2] !== undefined });
    else if (/^[0-9a-fA-F]{2}$/.test(part)) tokens.push(Number.parseInt(part, 16));
    else return null;
  }
  const inner = tokens.slice(1, -1);
  if (tokens.length < 3 || tokens[0] !== 0xf0 || tokens.at(-1) !== 0xf7) return null;
  return inner.every((t) => typeof t !== "number" || t < 0x80) ? tokens : null;
}

function sysexBytes(text: string, says: Says): Uint8Array {
  const bytes: number[] = [];
  for (const token of sysexTokens(text) ?? [0xf0, 0xf7]) {
    if (typeof token === "number") {
      bytes.push(token);
      continue;
    }
    const widest = WIDEST_SYSEX[token.wide ? 14 : 7];
    const value = Math.min(widest, Math.max(0, Math.round(says.number(token.name)) || 0));
    if (token.wide) bytes.push(value >> 7);
    bytes.push(value & 127);
  }
  return Uint8Array.from(bytes);
}
