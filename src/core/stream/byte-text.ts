/**
 * Bytes as text in which everything that is no printable ASCII stands as hexadecimal after a backslash, for desks whose
 * commands are not all letters: “\02PWR1\03”. A backslash of the text is doubled.
 */

const BACKSLASH = 0x5c;
const HEX = /^[0-9a-fA-F]{2}$/;

export function textOfBytes(bytes: Uint8Array): string {
  let text = "";
  for (const byte of bytes) {
    if (byte === BACKSLASH) text += "\\\\";
    else if (byte >= 0x20 && byte < 0x7f) text += String.fromCharCode(byte);
    else text += escaped(byte);
  }
  return text;
}

/** A backslash with nothing after it that could be meant stands for itself; letters beyond ASCII are UTF-8. */
export function bytesOfText(text: string): Uint8Array {
  const bytes: number[] = [];
  for (let at = 0; at < text.length; at++) {
    if (text[at] !== "\\") {
      const letter = String.fromCodePoint(text.codePointAt(at)!);
      bytes.push(...new TextEncoder().encode(letter));
      at += letter.length - 1;
      continue;
    }
    const pair = text.slice(at + 1, at + 3);
    if (HEX.test(pair)) {
      bytes.push(Number.parseInt(pair, 16));
      at += 2;
    } else {
      bytes.push(BACKSLASH);
      if (text[at + 1] === "\\") at++;
    }
  }
  return Uint8Array.from(bytes);
}

/** A whole number from 0 as bytes in such a text, the upper first: “\01\2C”. What is too large is the largest. */
export function numberText(value: number, bits: 8 | 16): string {
  const number = Math.min(2 ** bits - 1, Math.max(0, Math.round(value)));
  return bits === 8 ? escaped(number) : escaped(number >> 8) + escaped(number & 255);
}

/** The number whose bytes stand at `at`, and where the text goes on; null where there are too few. */
export function numberAt(text: string, at: number, bits: 8 | 16): { number: number; end: number } | null {
  let number = 0;
  let end = at;
  for (let read = 0; read < bits; read += 8) {
    const code = text.charCodeAt(end);
    const pair = text.slice(end + 1, end + 3);
    if (!(code >= 0x20 && code < 0x7f)) return null; // also where the text is at its end
    if (code !== BACKSLASH) end += 1;
    else if (HEX.test(pair)) end += 3;
    else if (pair.startsWith("\\")) end += 2;
    else return null;
    number = number * 256 + (code === BACKSLASH && HEX.test(pair) ? Number.parseInt(pair, 16) : code);
  }
  return { number, end };
}

function escaped(byte: number): string {
  return `\\${byte.toString(16).toUpperCase().padStart(2, "0")}`;
}
