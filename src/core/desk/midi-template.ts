/** MIDI messages of a desk profile: from a template and its numbers to bytes, and where the value goes in them. */

import type { MidiTemplate } from "../format/desk-profile.ts";
import type { TemplateFault } from "../format/problem.ts";
import { controller14Bytes, parameterBytes, programBytes } from "../midi/compound.ts";
import { encodeMachineControl, MACHINE_COMMANDS, type MachineCommand } from "../midi/machine-control.ts";
import { encodeShort } from "../midi/message.ts";
import { encodeShowControl, SHOW_COMMANDS, type ShowCommand } from "../midi/show-control.ts";

/** Bytes of a message, and the places of its value: one byte of 7 bits, or two with the upper and the lower half. */
export interface MidiMessageBytes {
  readonly bytes: Uint8Array;
  /** -1 = the value does not stand in the message. */
  readonly upperAt: number;
  readonly lowerAt: number;
}

/** What is wrong with one field of a message. */
export interface FieldFault {
  readonly field: string;
  readonly fault: TemplateFault;
}

type Numbers = (name: string) => number;

const VALUE = "{value}";
/** Fields each kind needs; every other field is refused. */
const FIELDS: Record<MidiTemplate["midi"], readonly (keyof MidiTemplate)[]> = {
  "note-on": ["channel", "number", "value"],
  "note-off": ["channel", "number", "value"],
  controller: ["channel", "number", "value"],
  "controller-14": ["channel", "number", "value"],
  nrpn: ["channel", "number", "value"],
  rpn: ["channel", "number", "value"],
  program: ["channel", "number"],
  bend: ["channel", "value"],
  "poly-pressure": ["channel", "number", "value"],
  "channel-pressure": ["channel", "value"],
  sysex: ["bytes"],
  "show-control": ["device", "format", "command"],
  "machine-control": ["device", "command"],
  start: [],
  continue: [],
  stop: [],
};
const MAY: Partial<Record<MidiTemplate["midi"], readonly (keyof MidiTemplate)[]>> = {
  program: ["bank"],
  "show-control": ["cue", "list", "value", "number"],
  "machine-control": ["hours", "minutes", "seconds"],
};

/** What is wrong with a template: a field and its fault each. `names` may stand in braces. */
export function midiTemplateFaults(t: MidiTemplate, names: readonly string[]): FieldFault[] {
  const faults: FieldFault[] = [];
  const needed = FIELDS[t.midi];
  const allowed = new Set<string>(["midi", ...needed, ...(MAY[t.midi] ?? [])]);
  for (const field of needed)
    if (t[field] === undefined) faults.push({ field, fault: { fault: "missing-field", message: t.midi, field } });
  for (const [field, value] of Object.entries(t)) {
    if (!allowed.has(field)) faults.push({ field, fault: { fault: "no-such-field", message: t.midi, field } });
    else if (typeof value === "string" && value.startsWith("{") && !names.includes(value.slice(1, -1)))
      faults.push({ field, fault: { fault: "unknown-name", name: value.slice(1, -1), in: "message" } });
  }
  if (t.midi === "sysex" && t.bytes !== undefined) {
    const tokens = sysexTokens(t.bytes);
    if (!tokens) faults.push({ field: "bytes", fault: { fault: "not-sysex", text: t.bytes } });
    else
      for (const token of tokens)
        if (typeof token !== "number" && !names.includes(token.name))
          faults.push({ field: "bytes", fault: { fault: "unknown-name", name: token.name, in: "message" } });
  }
  if (t.midi === "show-control" && t.command !== undefined && !(t.command in SHOW_COMMANDS))
    faults.push({
      field: "command",
      fault: { fault: "unknown-command", standard: "show-control", command: t.command },
    });
  if (t.midi === "machine-control" && t.command !== undefined && !(t.command in MACHINE_COMMANDS))
    faults.push({
      field: "command",
      fault: { fault: "unknown-command", standard: "machine-control", command: t.command },
    });
  return faults;
}

/** The bytes for these numbers; the value is 0 and is written in later. Numbers out of range are cut to it. */
export function encodeMidiTemplate(t: MidiTemplate, number: Numbers): MidiMessageBytes {
  const of = (slot: number | string | undefined, to: number, from = 0) => {
    const n = typeof slot === "number" ? slot : slot === undefined || slot === VALUE ? 0 : number(slot.slice(1, -1));
    return Math.min(to, Math.max(from, Math.round(n)));
  };
  const channel = of(t.channel ?? 1, 16, 1);
  const n7 = of(t.number, 127);
  const v7 = of(t.value, 127);
  const v14 = of(t.value, 16_383);
  const byte = (bytes: Uint8Array, at: number) => ({ bytes, upperAt: -1, lowerAt: t.value === VALUE ? at : -1 });
  const pair = (bytes: Uint8Array, upper: number, lower: number) => ({
    bytes,
    upperAt: t.value === VALUE ? upper : -1,
    lowerAt: t.value === VALUE ? lower : -1,
  });
  switch (t.midi) {
    case "note-on":
    case "note-off":
      return byte(encodeShort({ kind: t.midi, channel, note: n7, velocity: v7 }), 2);
    case "controller":
      return byte(encodeShort({ kind: "controller", channel, number: n7, value: v7 }), 2);
    case "poly-pressure":
      return byte(encodeShort({ kind: "poly-pressure", channel, note: n7, value: v7 }), 2);
    case "channel-pressure":
      return byte(encodeShort({ kind: "channel-pressure", channel, value: v7 }), 1);
    case "bend":
      return pair(encodeShort({ kind: "bend", channel, value14: v14 }), 2, 1);
    case "controller-14":
      return pair(controller14Bytes(channel, of(t.number, 31), v14), 2, 5);
    case "nrpn":
    case "rpn":
      return pair(parameterBytes(t.midi === "rpn", channel, of(t.number, 16_382), v14), 8, 11);
    case "program": {
      const bytes = programBytes(channel, n7, t.bank === undefined ? undefined : of(t.bank, 16_383));
      return { bytes, upperAt: -1, lowerAt: t.number === VALUE ? bytes.length - 1 : -1 };
    }
    case "sysex":
      return sysexBytes(t.bytes ?? "", (name) => of(`{${name}}`, 16_383));
    case "show-control": {
      const cue = t.cue === undefined ? {} : { cue: String(of(t.cue, 99_999)) };
      const list = t.list === undefined ? {} : { list: String(of(t.list, 99_999)) };
      const bytes = encodeShowControl({
        device: of(t.device, 127),
        format: t.format ?? "all",
        command: (t.command ?? "go") as ShowCommand,
        ...cue,
        ...(t.cue === undefined ? {} : list),
        ...(t.command === "set" ? { control: of(t.number, 16_383), value: v14 } : {}),
        ...(t.command === "fire" ? { macro: n7 } : {}),
      });
      // Section 5.3 of the standard: of a "set" the lower half of the value comes first.
      return t.command === "set" ? pair(bytes, 9, 8) : { bytes, upperAt: -1, lowerAt: -1 };
    }
    case "machine-control":
      return {
        bytes: encodeMachineControl({
          device: of(t.device, 127),
          command: (t.command ?? "stop") as MachineCommand,
          ...(t.command === "locate"
            ? {
                time: {
                  rate: "25",
                  hours: of(t.hours, 23),
                  minutes: of(t.minutes, 59),
                  seconds: of(t.seconds, 59),
                  frames: 0,
                },
              }
            : {}),
        }),
        upperAt: -1,
        lowerAt: -1,
      };
    case "start":
    case "continue":
    case "stop":
      return { bytes: encodeShort({ kind: t.midi }), upperAt: -1, lowerAt: -1 };
    default:
      return t.midi satisfies never;
  }
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

function sysexBytes(text: string, number: Numbers): MidiMessageBytes {
  const bytes: number[] = [];
  let upperAt = -1;
  let lowerAt = -1;
  for (const token of sysexTokens(text) ?? [0xf0, 0xf7]) {
    if (typeof token === "number") bytes.push(token);
    else {
      const value = token.name === "value" ? 0 : number(token.name);
      if (token.wide) bytes.push((value >> 7) & 127, value & 127);
      else bytes.push(Math.min(127, value));
      if (token.name !== "value") continue;
      lowerAt = bytes.length - 1;
      upperAt = token.wide ? bytes.length - 2 : -1;
    }
  }
  return { bytes: Uint8Array.from(bytes), upperAt, lowerAt };
}
