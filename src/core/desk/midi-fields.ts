/**
 * Which fields a MIDI message of a desk profile has, and what each may hold: from this one table come what the check
 * refuses, what the editor offers, and the page of formats.
 */
import type { MidiTemplate } from "../format/desk-profile.ts";
import { MACHINE_COMMANDS, POINTS } from "../midi/machine-control.ts";
import { COMMAND_DATA, CUE_NAMES, SHOW_COMMANDS, SHOW_FORMATS, type ShowCommand } from "../midi/show-control.ts";
import { TIME_CODE_RATES } from "../midi/time-code.ts";

export type MidiField = Exclude<keyof MidiTemplate, "midi">;

/** A number from..to, a cue number, hexadecimal pairs, one of several words, or yes and no. */
export type FieldRule =
  | { readonly is: "number"; readonly needed: boolean; readonly from: number; readonly to: number }
  | { readonly is: "cue" | "bytes" | "yes-no"; readonly needed: boolean }
  | { readonly is: "word"; readonly needed: boolean; readonly words: readonly string[] };

export type MidiFields = Readonly<Partial<Record<MidiField, FieldRule>>>;

const number = (from: number, to: number, needed = true): FieldRule => ({ is: "number", needed, from, to });
const CHANNEL = number(1, 16);
const BYTE = number(0, 127);
const WIDE = number(0, 16_383);
/** 127, 127 names no parameter. */
const PARAMETER = number(0, 16_382);
/** Seconds since midnight. */
const SECONDS = number(0, 86_400, false);
const DEVICE = number(0, 127);
const NOTE: MidiFields = { channel: CHANNEL, number: BYTE, value: BYTE };
const NUMBERED: MidiFields = {
  channel: CHANNEL,
  number: PARAMETER,
  value: WIDE,
  close: { is: "yes-no", needed: false },
};
const RATE: FieldRule = { is: "word", needed: true, words: TIME_CODE_RATES };
const TIME: MidiFields = {
  rate: { ...RATE, needed: false },
  hours: number(0, 23, false),
  minutes: number(0, 59, false),
  seconds: number(0, 59, false),
  frames: number(0, 29, false),
};
const TIME_CODE: MidiFields = { ...TIME, rate: RATE, value: SECONDS };

const KINDS: Record<Exclude<MidiTemplate["midi"], "show-control" | "machine-control">, MidiFields> = {
  "note-on": NOTE,
  "note-off": NOTE,
  controller: NOTE,
  "controller-14": { channel: CHANNEL, number: number(0, 31), value: WIDE },
  nrpn: NUMBERED,
  rpn: NUMBERED,
  program: { channel: CHANNEL, number: BYTE, bank: number(0, 16_383, false) },
  bend: { channel: CHANNEL, value: WIDE },
  "poly-pressure": NOTE,
  "channel-pressure": { channel: CHANNEL, value: BYTE },
  sysex: { bytes: { is: "bytes", needed: true } },
  "full-frame": { device: number(0, 127, false), ...TIME_CODE },
  "quarter-frames": TIME_CODE,
  "song-position": { value: WIDE },
  "song-select": { number: BYTE },
  start: {},
  continue: {},
  stop: {},
  clock: {},
  "tune-request": {},
  reset: {},
};

/** The fields of a message. Those of show and machine control depend on its command (RP-002 and RP-013). */
export function midiFields(t: MidiTemplate): MidiFields {
  if (t.midi === "show-control") return showFields(t.command);
  if (t.midi !== "machine-control") return KINDS[t.midi];
  const command: FieldRule = { is: "word", needed: true, words: Object.keys(MACHINE_COMMANDS) };
  if (t.command !== "locate") return { device: DEVICE, command };
  if (t.point !== undefined) return { device: DEVICE, command, point: number(0, POINTS - 1) };
  return { device: DEVICE, command, point: number(0, POINTS - 1, false), ...TIME };
}

function showFields(command: string | undefined): MidiFields {
  const head: MidiFields = {
    device: DEVICE,
    format: { is: "word", needed: true, words: Object.keys(SHOW_FORMATS) },
    command: { is: "word", needed: true, words: Object.keys(SHOW_COMMANDS) },
  };
  if (command === undefined || !(command in SHOW_COMMANDS)) return head;
  const takes = COMMAND_DATA[command as ShowCommand];
  const names: Partial<Record<MidiField, FieldRule>> = {};
  for (const field of CUE_NAMES) if (takes[field]) names[field] = { is: "cue", needed: takes[field] === "must" };
  return {
    ...head,
    ...names,
    ...(takes.control ? { number: WIDE, value: WIDE } : {}),
    ...(takes.macro ? { number: BYTE } : {}),
    ...(takes.time ? TIME : {}),
  };
}
