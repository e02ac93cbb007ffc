/** Where a level is shown by a knob or a fader, as long as nothing else is known: back to the message that it sends itself. */
import type { ControlMessage, MotorMessage, RingMessage } from "../format/surface-profile.ts";

export type Way = MotorMessage;

const HIGHEST_7 = 127;
const HIGHEST_14 = 16_383;
const LSB = 32;

/** Null: what it sends is nothing that a level could be sent to. */
export function wayBack(sends: ControlMessage): Way | null {
  switch (sends.kind) {
    case "bend":
      return { kind: "bend", channel: sends.channel };
    case "controller":
    case "controller-14":
      return { kind: sends.kind, channel: sends.channel, number: sends.number } as Way;
    case "relative":
    case "clicks":
      return { kind: "controller", channel: sends.channel, number: sends.number };
    default:
      return null;
  }
}

/** A ring hears controllers only (MIDI 1.0 has no other message of one value for each knob of a channel); null = bend. */
export function ringOf(way: Way): RingMessage | null {
  if (way.kind === "bend") return null;
  return { kind: "controller", channel: way.channel, number: way.number, from: 0, to: HIGHEST_7, off: 0 };
}

/** Messages that say a level, 0..1. */
export function levelBytes(way: Way, level: number): number[][] {
  const status = (way.kind === "bend" ? 0xe0 : 0xb0) | (way.channel - 1);
  const wide = Math.round(level * HIGHEST_14);
  switch (way.kind) {
    case "bend":
      return [[status, wide & 0x7f, wide >> 7]];
    case "controller":
      return [[status, way.number, Math.round(level * HIGHEST_7)]];
    case "controller-14":
      return [
        [status, way.number, wide >> 7],
        [status, way.number + LSB, wide & 0x7f],
      ];
    default:
      return way satisfies never;
  }
}
