/**
 * How wide words are in the font of the labels, so that a sheet can be laid out without one: the advance widths of
 * Instrument Sans, in hundredths of its size, from the space to the tilde.
 */

const FIRST = 32;
const BOLD = [
  19, 29, 45, 73, 64, 79, 77, 26, 44, 44, 43, 54, 27, 49, 27, 44, 68, 39, 56, 58, 61, 58, 61, 56, 60, 62, 27, 27, 54,
  54, 54, 58, 87, 73, 64, 75, 75, 63, 59, 76, 72, 25, 43, 71, 59, 90, 72, 79, 67, 81, 66, 64, 66, 70, 73, 109, 71, 70,
  63, 44, 44, 44, 54, 47, 35, 56, 62, 55, 62, 57, 37, 62, 61, 26, 26, 56, 26, 94, 61, 60, 62, 62, 39, 49, 41, 60, 54,
  80, 59, 54, 51, 44, 23, 44, 54,
];
const REGULAR = [
  20, 27, 38, 72, 61, 79, 75, 23, 41, 41, 41, 53, 25, 51, 25, 44, 67, 39, 54, 57, 60, 57, 60, 53, 58, 61, 25, 25, 53,
  53, 53, 57, 85, 73, 64, 74, 75, 64, 60, 76, 74, 25, 45, 69, 59, 91, 74, 79, 66, 79, 66, 61, 65, 71, 73, 109, 69, 68,
  62, 41, 44, 41, 53, 43, 35, 53, 61, 53, 61, 56, 35, 61, 60, 24, 24, 53, 24, 92, 60, 58, 61, 61, 37, 47, 38, 59, 52,
  77, 55, 52, 50, 41, 24, 41, 53,
];
/** What is not in the tables is taken to be as wide as a wide letter; signs of East Asia and emoji are wider. */
const OTHER = 75;
const WIDE = 110;

/** Width of a line in mm at a size of `sizeMm`. */
export function textWidth(text: string, sizeMm: number, weight: "bold" | "regular"): number {
  const table = weight === "bold" ? BOLD : REGULAR;
  let hundredths = 0;
  for (const sign of text) {
    const code = sign.codePointAt(0)!;
    hundredths += table[code - FIRST] ?? (code >= 0x1100 ? WIDE : OTHER);
  }
  return (hundredths / 100) * sizeMm;
}
