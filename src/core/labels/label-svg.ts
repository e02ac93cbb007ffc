/** A sheet of labels as an SVG document at its true size: one unit is one millimetre. */
import type { Label } from "./label-blocks.ts";
import type { PlacedBlock, Sheet } from "./label-sheets.ts";
import { textWidth } from "./text-width.ts";

export interface LabelDrawing {
  /** What stands above the labels; "" = nothing. */
  readonly head: string;
  /** Size of the names, in mm. */
  readonly textMm: number;
  readonly colours: boolean;
  readonly cutMarks: boolean;
  readonly numbers: boolean;
}

export interface DrawnSheet {
  readonly svg: string;
  /** Names that had to be set narrower, smaller or on two lines. */
  readonly fitted: number;
}

const FONT = "'Instrument Sans Variable', 'Instrument Sans', sans-serif";
const INK = "#1a1120";
const PALE = "#6f5d70";
const LINE_MM = 0.15;
/** Between a label's edge and its words. */
const PAD_MM = 1.4;
const BAR_MM = 2.2;
const SMALL_MM = 2.1;
/** Names are set narrower down to this share of their width, then smaller down to this share of their size. */
const NARROWEST = 0.76;
const SMALLEST = 0.55;
const MARK_MM = 4;
const MARK_GAP_MM = 1.2;

export function drawSheet(sheet: Sheet, drawing: LabelDrawing): DrawnSheet {
  let fitted = 0;
  const { widthMm, heightMm } = sheet;
  const body = sheet.placed.map((placed) => {
    const drawn = placed.block.labels.map((label) => drawLabel(label, placed, drawing));
    fitted += drawn.filter((d) => d.isFitted).length;
    return `${drawing.cutMarks ? cutMarks(placed, heightMm) : ""}${drawn.map((d) => d.svg).join("")}`;
  });
  const head = drawing.head === "" ? "" : line(17, 9, drawing.head, 2.6, "regular", PALE);
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" width="${mm(widthMm)}mm" height="${mm(heightMm)}mm" ` +
    `viewBox="0 0 ${mm(widthMm)} ${mm(heightMm)}" font-family="${FONT}">` +
    `<rect width="${mm(widthMm)}" height="${mm(heightMm)}" fill="#ffffff"/>${head}${body.join("")}</svg>`;
  return { svg, fitted };
}

function drawLabel(label: Label, { xMm, yMm }: PlacedBlock, drawing: LabelDrawing): { svg: string; isFitted: boolean } {
  const x = xMm + label.xMm;
  const y = yMm + label.yMm;
  const { widthMm: w, heightMm: h } = label;
  const room = w - 2 * PAD_MM;
  const parts = [
    `<rect data-control="${attribute(label.control)}" x="${mm(x)}" y="${mm(y)}" width="${mm(w)}" height="${mm(h)}" ` +
      `fill="none" stroke="${PALE}" stroke-width="${LINE_MM}"/>`,
  ];
  if (drawing.colours && label.colour !== null)
    parts.push(
      `<rect x="${mm(x)}" y="${mm(y + h - BAR_MM)}" width="${mm(w)}" height="${mm(BAR_MM)}" fill="${attribute(label.colour)}"/>`,
    );
  if (drawing.numbers) {
    const number = shortened(label.number, room / 2, SMALL_MM);
    parts.push(line(x + PAD_MM, y + PAD_MM + SMALL_MM * 0.8, number, SMALL_MM, "regular", PALE));
    const note = shortened(label.note, room - textWidth(number, SMALL_MM, "regular") - 1, SMALL_MM);
    parts.push(line(x + w - PAD_MM, y + PAD_MM + SMALL_MM * 0.8, note, SMALL_MM, "regular", PALE, "end"));
  }
  if (label.name === "") return { svg: parts.join(""), isFitted: false };
  const top = y + PAD_MM + (drawing.numbers ? SMALL_MM : 0);
  const bottom = y + h - (drawing.colours ? BAR_MM : 0) - 0.6;
  const fit = fitName(label.name, room, bottom - top, drawing.textMm);
  const lead = fit.sizeMm * 1.08;
  fit.lines.forEach((text, i) => {
    const base = bottom - (fit.lines.length - 1 - i) * lead - fit.sizeMm * 0.28;
    const natural = textWidth(text, fit.sizeMm, "bold");
    parts.push(line(x + PAD_MM, base, text, fit.sizeMm, "bold", INK, "start", natural > room ? room : null));
  });
  return { svg: parts.join(""), isFitted: fit.isFitted };
}

/** Narrower first, then smaller, then on two lines, and then cut. Nothing gets out of its label. */
export function fitName(
  name: string,
  roomMm: number,
  heightMm: number,
  sizeMm: number,
): { lines: string[]; sizeMm: number; isFitted: boolean } {
  const size = Math.min(sizeMm, heightMm / 1.1);
  const natural = textWidth(name, size, "bold");
  if (natural * NARROWEST <= roomMm) return { lines: [name], sizeMm: size, isFitted: natural > roomMm };
  const smaller = Math.max(SMALLEST, roomMm / (natural * NARROWEST));
  if (natural * NARROWEST * smaller <= roomMm + 0.001) return { lines: [name], sizeMm: size * smaller, isFitted: true };
  const small = Math.min(size * SMALLEST, heightMm / 2.3);
  const broken = inTwo(name, small).map((text) => cut(text, roomMm, small));
  return { lines: broken, sizeMm: small, isFitted: true };
}

/** Broken at the space that makes the longer half shortest; without one, it stays a line. */
function inTwo(name: string, sizeMm: number): string[] {
  const words = name.split(" ");
  if (words.length === 1) return [name];
  const width = (text: string) => textWidth(text, sizeMm, "bold");
  const ways = words.slice(1).map((_, i) => [words.slice(0, i + 1).join(" "), words.slice(i + 1).join(" ")]);
  return ways.reduce((best, way) => (longer(way, width) < longer(best, width) ? way : best));
}

function longer(lines: readonly string[], width: (text: string) => number): number {
  return Math.max(...lines.map(width));
}

/** Without what does not fit even when it is narrow. */
function cut(text: string, roomMm: number, sizeMm: number): string {
  const signs = [...text];
  const fits = (count: number, more: string) =>
    textWidth(`${signs.slice(0, count).join("")}${more}`, sizeMm, "bold") * NARROWEST <= roomMm;
  if (fits(signs.length, "")) return text;
  let count = signs.length;
  while (count > 1 && !fits(count, "…")) count--;
  return `${signs.slice(0, count).join("")}…`;
}

function shortened(text: string, roomMm: number, sizeMm: number): string {
  const signs = [...text];
  while (signs.length > 0 && textWidth(signs.join(""), sizeMm, "regular") > roomMm) signs.pop();
  return signs.join("").trimEnd();
}

/** Marks outside the labels, at each of their edges, so that a blade finds them. */
function cutMarks({ block, xMm, yMm }: PlacedBlock, sheetHeightMm: number): string {
  const across = new Set(block.labels.flatMap((l) => [mm(xMm + l.xMm), mm(xMm + l.xMm + l.widthMm)]));
  const down = new Set(block.labels.flatMap((l) => [mm(yMm + l.yMm), mm(yMm + l.yMm + l.heightMm)]));
  const [top, bottom] = [yMm - MARK_GAP_MM, yMm + block.heightMm + MARK_GAP_MM];
  const [left, right] = [xMm - MARK_GAP_MM, xMm + block.widthMm + MARK_GAP_MM];
  const up = Math.max(0, top - MARK_MM);
  const under = Math.min(sheetHeightMm, bottom + MARK_MM);
  const paths = [
    ...[...across].map((x) => `M${x} ${mm(up)}V${mm(top)}M${x} ${mm(bottom)}V${mm(under)}`),
    ...[...down].map((y) => `M${mm(left - MARK_MM)} ${y}H${mm(left)}M${mm(right)} ${y}H${mm(right + MARK_MM)}`),
  ];
  return `<path d="${paths.join("")}" fill="none" stroke="${PALE}" stroke-width="${LINE_MM}"/>`;
}

function line(
  x: number,
  y: number,
  text: string,
  sizeMm: number,
  weight: "bold" | "regular",
  colour: string,
  anchor: "start" | "end" = "start",
  lengthMm: number | null = null,
): string {
  if (text === "") return "";
  const end = anchor === "end" ? ' text-anchor="end"' : "";
  const fit = lengthMm === null ? "" : ` textLength="${mm(lengthMm)}" lengthAdjust="spacingAndGlyphs"`;
  return (
    `<text x="${mm(x)}" y="${mm(y)}" font-size="${mm(sizeMm)}" font-weight="${weight === "bold" ? 600 : 400}" ` +
    `fill="${colour}"${end}${fit}>${escaped(text)}</text>`
  );
}

/** A length in mm, to a thousandth. */
function mm(value: number): string {
  return String(Math.round(value * 1000) / 1000);
}

/** Signs that XML has no place for are left out. */
function escaped(text: string): string {
  const plain = Array.from(text).filter((sign) => (sign.codePointAt(0) ?? 0) >= 0x20 && sign !== "\uffff");
  return plain.join("").replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");
}

function attribute(text: string): string {
  return escaped(text).replaceAll('"', "&quot;");
}
