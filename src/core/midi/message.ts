/**
 * Short MIDI messages as data, and back. Channels are counted 1..16 as people speak of them.
 * MIDI 1.0 Detailed Specification 4.2, table I and "Channel Voice Messages".
 */
import { ENDS_NOTES, FIRST_CHANNEL_MODE } from "./controllers.ts";

export type MidiMessage =
  | { kind: "note-on"; channel: number; note: number; velocity: number }
  | { kind: "note-off"; channel: number; note: number; velocity: number }
  | { kind: "poly-pressure"; channel: number; note: number; value: number }
  | { kind: "controller"; channel: number; number: number; value: number }
  /** Controllers 120..127 are channel mode messages, not controls. */
  | { kind: "channel-mode"; channel: number; number: number; value: number }
  | { kind: "program"; channel: number; number: number }
  | { kind: "channel-pressure"; channel: number; value: number }
  /** `value14` 0..16383, centre 8192. */
  | { kind: "bend"; channel: number; value14: number }
  | { kind: "time-code"; piece: number; value: number }
  | { kind: "song-position"; beats: number }
  | { kind: "song-select"; number: number }
  | { kind: "tune-request" }
  | { kind: "clock" }
  | { kind: "start" }
  | { kind: "continue" }
  | { kind: "stop" }
  | { kind: "active-sensing" }
  | { kind: "reset" };

const SYSTEM_RESET = 0xff;

/** Whose notes a message ends: a channel 0..15, -1 = all channels; null = it ends none. */
export function endsNotesOf(status: number, data1: number): number | null {
  if (status === SYSTEM_RESET) return -1;
  return (status & 0xf0) === 0xb0 && ENDS_NOTES.has(data1) ? status & 15 : null;
}

const REALTIME: Record<number, MidiMessage> = {
  248: { kind: "clock" },
  250: { kind: "start" },
  251: { kind: "continue" },
  252: { kind: "stop" },
  254: { kind: "active-sensing" },
  255: { kind: "reset" },
};

/** Reads one complete short message; null where the standard defines none for this status. */
export function decodeShort(status: number, data1: number, data2: number): MidiMessage | null {
  const channel = (status & 15) + 1;
  switch (status >> 4) {
    case 0x8:
      return { kind: "note-off", channel, note: data1, velocity: data2 };
    case 0x9:
      // A note-on with velocity 0 is a note-off with the default release velocity, 64.
      return data2 === 0
        ? { kind: "note-off", channel, note: data1, velocity: 64 }
        : { kind: "note-on", channel, note: data1, velocity: data2 };
    case 0xa:
      return { kind: "poly-pressure", channel, note: data1, value: data2 };
    case 0xb:
      return {
        kind: data1 >= FIRST_CHANNEL_MODE ? "channel-mode" : "controller",
        channel,
        number: data1,
        value: data2,
      };
    case 0xc:
      return { kind: "program", channel, number: data1 };
    case 0xd:
      return { kind: "channel-pressure", channel, value: data1 };
    case 0xe:
      return { kind: "bend", channel, value14: (data2 << 7) | data1 };
    default:
      return decodeSystem(status, data1, data2);
  }
}

function decodeSystem(status: number, data1: number, data2: number): MidiMessage | null {
  switch (status) {
    case 0xf1:
      return { kind: "time-code", piece: data1 >> 4, value: data1 & 15 };
    case 0xf2:
      return { kind: "song-position", beats: (data2 << 7) | data1 };
    case 0xf3:
      return { kind: "song-select", number: data1 };
    case 0xf6:
      return { kind: "tune-request" };
    default:
      return REALTIME[status] ?? null;
  }
}

/** Writes one short message. Numbers outside their range are a programming error and throw. */
export function encodeShort(message: MidiMessage): Uint8Array {
  switch (message.kind) {
    case "note-on":
      return voice(0x90, message.channel, message.note, message.velocity);
    case "note-off":
      return voice(0x80, message.channel, message.note, message.velocity);
    case "poly-pressure":
      return voice(0xa0, message.channel, message.note, message.value);
    case "controller":
    case "channel-mode":
      return voice(0xb0, message.channel, message.number, message.value);
    case "program":
      return voice(0xc0, message.channel, message.number);
    case "channel-pressure":
      return voice(0xd0, message.channel, message.value);
    case "bend":
      return voice(0xe0, message.channel, message.value14 & 127, message.value14 >> 7);
    case "time-code":
      return Uint8Array.of(0xf1, (message.piece << 4) | message.value);
    case "song-position":
      return Uint8Array.of(0xf2, message.beats & 127, message.beats >> 7);
    case "song-select":
      return Uint8Array.of(0xf3, data(message.number));
    case "tune-request":
      return Uint8Array.of(0xf6);
    case "clock":
      return Uint8Array.of(0xf8);
    case "start":
      return Uint8Array.of(0xfa);
    case "continue":
      return Uint8Array.of(0xfb);
    case "stop":
      return Uint8Array.of(0xfc);
    case "active-sensing":
      return Uint8Array.of(0xfe);
    case "reset":
      return Uint8Array.of(0xff);
    default:
      return message satisfies never;
  }
}

function voice(base: number, channel: number, ...bytes: number[]): Uint8Array {
  if (!Number.isInteger(channel) || channel < 1 || channel > 16)
    throw new RangeError(`channel ${channel} is not 1..16`);
  return Uint8Array.of(base | (channel - 1), ...bytes.map(data));
}

function data(value: number): number {
  if (!Number.isInteger(value) || value < 0 || value > 127) throw new RangeError(`data byte ${value} is not 0..127`);
  return value;
}
