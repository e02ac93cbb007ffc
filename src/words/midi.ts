/** MIDI in the words of the trade: decimal, hex and note name together. */
import { decodeShort } from "../core/midi/message.ts";
import { type MiddleC, noteName } from "../core/midi/numbers.ts";

/** One message as a short line, e.g. "note 50 · D2 = 127, ch 1". */
export function describeMidi(bytes: Uint8Array, middleC: MiddleC): string {
  const status = bytes[0] ?? 0;
  if (status === 0xf0) return `SysEx, ${bytes.length} bytes`;
  const message = status >= 0x80 ? decodeShort(status, bytes[1] ?? 0, bytes[2] ?? 0) : null;
  if (!message) return "not a MIDI message";
  switch (message.kind) {
    case "note-on":
      return `note ${message.note} · ${noteName(message.note, middleC)} = ${message.velocity}, ch ${message.channel}`;
    case "note-off":
      return `note ${message.note} · ${noteName(message.note, middleC)} off, ch ${message.channel}`;
    case "poly-pressure":
      return `pressure on note ${message.note} = ${message.value}, ch ${message.channel}`;
    case "controller":
      return `controller ${message.number} = ${message.value}, ch ${message.channel}`;
    case "channel-mode":
      return `channel mode ${message.number} = ${message.value}, ch ${message.channel}`;
    case "program":
      return `program ${message.number}, ch ${message.channel}`;
    case "channel-pressure":
      return `pressure = ${message.value}, ch ${message.channel}`;
    case "bend":
      return `bend ${message.value14}, ch ${message.channel}`;
    case "time-code":
      return `time code piece ${message.piece} = ${message.value}`;
    case "song-position":
      return `song position ${message.beats}`;
    case "song-select":
      return `song ${message.number}`;
    case "tune-request":
    case "clock":
    case "start":
    case "continue":
    case "stop":
    case "active-sensing":
    case "reset":
      return message.kind.replace("-", " ");
    default:
      return message satisfies never;
  }
}
