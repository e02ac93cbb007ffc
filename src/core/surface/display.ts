/** Texts on a surface: from words to the SysEx of a display, and from that SysEx back to the text. */
import type { Display } from "../format/surface-profile.ts";

export interface CompiledDisplay {
  readonly display: Display;
  /** Index of the control it speaks of. */
  readonly control: number;
  readonly head: Uint8Array;
  readonly tail: Uint8Array;
}

const SPACE = 32;
const FIRST_PRINTABLE = 32;
const LAST_PRINTABLE = 126;

export function compileDisplay(display: Display, control: number): CompiledDisplay {
  const [head, tail] = display.bytes.split("{text}").map((part) =>
    Uint8Array.from(
      part
        .trim()
        .split(/\s+/)
        .map((pair) => Number.parseInt(pair, 16)),
    ),
  );
  return { display, control, head: head!, tail: tail! };
}

/** A text as displays can show it: ASCII, cut to its length. Accents are taken off; what has no letter becomes “?”. */
export function displayText(text: string, length: number): string {
  const plain = text
    .normalize("NFD")
    .replaceAll(/[\u0300-\u036f]/g, "")
    .replaceAll("−", "-")
    .replaceAll("’", "'")
    .replaceAll("∞", "oo");
  let out = "";
  for (const sign of plain) {
    if (out.length === length) break;
    const code = sign.codePointAt(0)!;
    out += code >= FIRST_PRINTABLE && code <= LAST_PRINTABLE ? sign : "?";
  }
  return out;
}

/** The message that shows a text. */
export function displayBytes({ display, head, tail }: CompiledDisplay, text: string): Uint8Array {
  const shown = displayText(text, display.length);
  const bytes = new Uint8Array(head.length + display.length + tail.length).fill(SPACE);
  bytes.set(head);
  for (let i = 0; i < shown.length; i++) bytes[head.length + i] = shown.charCodeAt(i);
  bytes.set(tail, head.length + display.length);
  return bytes;
}

/** The text of a message to this display, without the spaces behind it; null where the message is another one. */
export function readDisplay({ display, head, tail }: CompiledDisplay, bytes: Uint8Array): string | null {
  if (bytes.length !== head.length + display.length + tail.length) return null;
  if (!head.every((b, i) => bytes[i] === b)) return null;
  return String.fromCharCode(...bytes.subarray(head.length, head.length + display.length)).trimEnd();
}
