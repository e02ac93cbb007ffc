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
    else text += `\\${byte.toString(16).toUpperCase().padStart(2, "0")}`;
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
