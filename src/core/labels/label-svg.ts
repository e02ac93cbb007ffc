/** A sheet of labels as an SVG document at its true size: one unit is one millimetre. */
import type { Label } from "./label-blocks.ts";
import type { PlacedBlock, Sheet } from "./label-sheets.ts";
import { attribute, mm, PALE, type SvgSheet, shortened, svgSheet, svgText, widthOf } from "./svg-text.ts";
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

export interface DrawnSheet extends SvgSheet {
  /** Names that had to be set narrower, smaller or on two lines. */
  readonly fitted: number;
}

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
  const head = svgText({ xMm: 17, yMm: 9, text: drawing.head, sizeMm: 2.6, weight: "regular", colour: PALE });
  return { ...svgSheet(widthMm, heightMm, head + body.join("")), fitted };
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
    const width = widthOf(SMALL_MM, "regular");
    const small = { yMm: y + PAD_MM + SMALL_MM * 0.8, sizeMm: SMALL_MM, weight: "regular", colour: PALE } as const;
    const number = shortened(label.number, width, room / 2, "");
    const note = shortened(label.note, width, room - width(number) - 1, "");
    parts.push(svgText({ ...small, xMm: x + PAD_MM, text: number }));
    parts.push(svgText({ ...small, xMm: x + w - PAD_MM, text: note, isToEnd: true }));
  }
  if (label.name === "") return { svg: parts.join(""), isFitted: false };
  const top = y + PAD_MM + (drawing.numbers ? SMALL_MM : 0);
  const bottom = y + h - (drawing.colours ? BAR_MM : 0) - 0.6;
  const fit = fitName(label.name, room, bottom - top, drawing.textMm);
  const lead = fit.sizeMm * 1.08;
  fit.lines.forEach((text, i) => {
    const yMm = bottom - (fit.lines.length - 1 - i) * lead - fit.sizeMm * 0.28;
    const natural = textWidth(text, fit.sizeMm, "bold");
    const lengthMm = natural > room ? room : undefined;
    parts.push(svgText({ xMm: x + PAD_MM, yMm, text, sizeMm: fit.sizeMm, weight: "bold", lengthMm }));
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
  const narrow = (text: string) => textWidth(text, small, "bold") * NARROWEST;
  const broken = inTwo(name, small).map((text) => shortened(text, narrow, roomMm, "…"));
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
