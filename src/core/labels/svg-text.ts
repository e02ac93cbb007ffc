/** Parts of an SVG document in which one unit is one millimetre. */
import { textWidth } from "./text-width.ts";

/** A document at its true size. */
export interface SvgSheet {
  readonly svg: string;
  readonly widthMm: number;
  readonly heightMm: number;
}

const FONT = "'Instrument Sans Variable', 'Instrument Sans', sans-serif";
export const INK = "#1a1120";
export const PALE = "#6f5d70";

export function svgSheet(widthMm: number, heightMm: number, body: string): SvgSheet {
  const [w, h] = [mm(widthMm), mm(heightMm)];
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" width="${w}mm" height="${h}mm" viewBox="0 0 ${w} ${h}" ` +
    `font-family="${FONT}"><rect width="${w}" height="${h}" fill="#ffffff"/>${body}</svg>`;
  return { svg, widthMm, heightMm };
}

export interface SvgText {
  readonly xMm: number;
  /** Where the letters stand. */
  readonly yMm: number;
  readonly text: string;
  readonly sizeMm: number;
  readonly weight: "bold" | "regular";
  readonly colour?: string;
  /** `xMm` is where the text ends. */
  readonly isToEnd?: boolean;
  /** The text is set narrower, to be this long. */
  readonly lengthMm?: number | undefined;
}

export function svgText({ xMm, yMm, text, sizeMm, weight, colour, isToEnd, lengthMm }: SvgText): string {
  if (text === "") return "";
  const end = isToEnd ? ' text-anchor="end"' : "";
  const fit = lengthMm === undefined ? "" : ` textLength="${mm(lengthMm)}" lengthAdjust="spacingAndGlyphs"`;
  return (
    `<text x="${mm(xMm)}" y="${mm(yMm)}" font-size="${mm(sizeMm)}" font-weight="${weight === "bold" ? 600 : 400}" ` +
    `fill="${colour ?? INK}"${end}${fit}>${escaped(text)}</text>`
  );
}

/** As many signs of a text as fit, with `more` behind them where some are left out. */
export function shortened(text: string, width: (text: string) => number, roomMm: number, more: string): string {
  if (width(text) <= roomMm) return text;
  const signs = [...text];
  const fits = (count: number) => width(`${signs.slice(0, count).join("")}${more}`) <= roomMm;
  let count = signs.length - 1;
  while (count > 0 && !fits(count)) count--;
  return count === 0 ? "" : `${signs.slice(0, count).join("").trimEnd()}${more}`;
}

/** The width of texts of a size and weight, in mm. */
export function widthOf(sizeMm: number, weight: "bold" | "regular"): (text: string) => number {
  return (text) => textWidth(text, sizeMm, weight);
}

/** A length in mm, to a thousandth. */
export function mm(value: number): string {
  return String(Math.round(value * 1000) / 1000);
}

/** Signs that XML has no place for are left out. */
function escaped(text: string): string {
  const plain = Array.from(text).filter(hasPlace);
  return plain.join("").replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");
}

/** XML 1.0, section 2.2: no control signs, no half of a pair, none of the two at the end. */
function hasPlace(sign: string): boolean {
  const code = sign.codePointAt(0)!;
  return code >= 0x20 && !(code >= 0xd800 && code <= 0xdfff) && code !== 0xfffe && code !== 0xffff;
}

export function attribute(text: string): string {
  return escaped(text).replaceAll('"', "&quot;");
}
