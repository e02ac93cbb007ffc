/** MIDI in the words of the trade: decimal, hex and note name together. */
import { decodeShort } from "./message.ts";
import { hexDigits, type MiddleC, noteName } from "./numbers.ts";

/** Every byte as two digits: a batch of traffic has hundreds of them. */
const HEX = Array.from({ length: 256 }, (_, byte) => hexDigits(byte));

/** Bytes as upper-case hex pairs with spaces, at most `maxBytes` of them. */
export function hexBytes(bytes: Uint8Array, maxBytes = bytes.length): string {
  const count = Math.min(bytes.length, maxBytes);
  let shown = "";
  for (let i = 0; i < count; i++) shown += i === 0 ? HEX[bytes[i]!]! : ` ${HEX[bytes[i]!]!}`;
  return bytes.length > maxBytes ? `${shown} …` : shown;
}

const LOWER_HEX = HEX.map((pair) => pair.toLowerCase());

/** Bytes as lower-case hex pairs without spaces, as the protocol has them. */
export function hexPairs(bytes: Uint8Array): string {
  let pairs = "";
  for (const byte of bytes) pairs += LOWER_HEX[byte]!;
  return pairs;
}

/** Reads hex pairs, with or without spaces; null where the text is not hex bytes. */
export function parseHexBytes(text: string): Uint8Array | null {
  const digits = text.replaceAll(" ", "");
  if (digits.length % 2 !== 0) return null;
  const bytes = new Uint8Array(digits.length / 2);
  for (let i = 0; i < bytes.length; i++) {
    const high = hexDigit(digits.charCodeAt(2 * i));
    const low = hexDigit(digits.charCodeAt(2 * i + 1));
    if (high < 0 || low < 0) return null;
    bytes[i] = (high << 4) | low;
  }
  return bytes;
}

function hexDigit(code: number): number {
  if (code >= 48 && code <= 57) return code - 48;
  if (code >= 65 && code <= 70) return code - 55;
  if (code >= 97 && code <= 102) return code - 87;
  return -1;
}

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
