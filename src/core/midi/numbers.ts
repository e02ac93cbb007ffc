/**
 * Numbers as people write them in this trade: decimal, hexadecimal and note names. Every field that takes one and
 * every label that shows one goes through here.
 */

/** Which octave number people give to note 60. */
export type MiddleC = "C3" | "C4";

const NOTE_NAMES = ["C", "C#", "D", "D#", "E", "F", "F#", "G", "G#", "A", "A#", "B"];
const SEMITONE_OF: Record<string, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };

/** Octaves below the one that is numbered 0. */
function lowerOctaves(middleC: MiddleC): number {
  return middleC === "C3" ? 2 : 1;
}

/** The name of note 0..127, e.g. 50 is "D2" where note 60 is called C3. */
export function noteName(note: number, middleC: MiddleC): string {
  return `${NOTE_NAMES[note % 12]}${Math.floor(note / 12) - lowerOctaves(middleC)}`;
}

/** Reads a note: a name with # or b, such as "F#2" or "Bb-1", or a number. Null where it is none of 0..127. */
export function parseNote(text: string, middleC: MiddleC): number | null {
  const named = /^\s*([A-Ga-g])([#♯b♭]?)(-?\d)\s*$/.exec(text);
  // "B5h" and "b5" could be either; a name wins, because a number can be written 0xB5.
  if (!named) return parseNumber(text, 0, 127);
  const [, letter, sign, octave] = named;
  const shift = sign === "" ? 0 : sign === "#" || sign === "♯" ? 1 : -1;
  const note = (Number(octave) + lowerOctaves(middleC)) * 12 + SEMITONE_OF[letter!.toUpperCase()]! + shift;
  return note >= 0 && note <= 127 ? note : null;
}

/** Reads a whole number, decimal ("50") or hexadecimal ("32h", "0x32"). Null where it is none of `from`..`to`. */
export function parseNumber(text: string, from: number, to: number): number | null {
  const trimmed = text.trim().replace("−", "-");
  const hex = /^0[xX]([0-9a-fA-F]+)$/.exec(trimmed) ?? /^([0-9a-fA-F]+)[hH]$/.exec(trimmed);
  const value = hex ? Number.parseInt(hex[1]!, 16) : /^-?\d+$/.test(trimmed) ? Number(trimmed) : Number.NaN;
  return Number.isSafeInteger(value) && value >= from && value <= to ? value : null;
}

/** Two hexadecimal digits or more, in upper case, without a mark. */
export function hexDigits(value: number): string {
  return value.toString(16).padStart(2, "0").toUpperCase();
}

/** A number as people compare it between documents: "50 · 32h". */
export function decimalAndHex(value: number): string {
  return `${value} · ${hexDigits(value)}h`;
}
