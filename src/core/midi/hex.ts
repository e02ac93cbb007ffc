/** Bytes as hexadecimal pairs, and back. */
import { hexDigits } from "./numbers.ts";

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
