/** All mappings on as few sheets as it takes, for whoever stands in: columns of lines, grouped by surface. */
import type { Paper } from "./label-sheets.ts";
import { textWidth } from "./text-width.ts";

export interface ListLine {
  readonly control: string;
  readonly does: string;
  readonly where: string;
}
export interface ListGroup {
  readonly title: string;
  readonly lines: readonly ListLine[];
}

const MARGIN_MM = 12;
const TOP_MM = 18;
const LEAD_MM = 3.6;
const TEXT_MM = 2.4;
const COLUMNS = 2;
const GAP_MM = 6;

/** The lines of a list on sheets, as SVG documents at their true size. */
export function listSheets(groups: readonly ListGroup[], paper: Paper, head: string): string[] {
  const { widthMm, heightMm } = paper;
  const columnMm = (widthMm - 2 * MARGIN_MM - (COLUMNS - 1) * GAP_MM) / COLUMNS;
  const perColumn = Math.max(1, Math.floor((heightMm - TOP_MM - MARGIN_MM) / LEAD_MM));
  const rows = groups.flatMap(({ title, lines }) => [
    { kind: "title" as const, title },
    ...lines.map((line) => ({ kind: "line" as const, line })),
  ]);
  const perSheet = perColumn * COLUMNS;
  const count = Math.max(1, Math.ceil(rows.length / perSheet));
  return Array.from({ length: count }, (_, sheet) => {
    const body = rows.slice(sheet * perSheet, (sheet + 1) * perSheet).map((row, i) => {
      const x = MARGIN_MM + Math.floor(i / perColumn) * (columnMm + GAP_MM);
      const y = TOP_MM + ((i % perColumn) + 1) * LEAD_MM;
      if (row.kind === "title") return text(x, y, row.title, columnMm, 600);
      const { control, does, where } = row.line;
      const part = columnMm / 10;
      return (
        text(x, y, control, part * 2.6, 400) +
        text(x + part * 2.7, y, does, part * 5.3, 400) +
        text(x + part * 8.1, y, where, part * 1.9, 400)
      );
    });
    const of = count > 1 ? `\u2003sheet ${sheet + 1} of ${count}` : "";
    return (
      `<svg xmlns="http://www.w3.org/2000/svg" width="${widthMm}mm" height="${heightMm}mm" viewBox="0 0 ${widthMm} ${heightMm}" ` +
      `font-family="'Instrument Sans Variable', 'Instrument Sans', sans-serif"><rect width="${widthMm}" height="${heightMm}" fill="#ffffff"/>` +
      `${text(MARGIN_MM, 11, head + of, widthMm - 2 * MARGIN_MM, 600, 3.4)}${body.join("")}</svg>`
    );
  });
}

function text(x: number, y: number, words: string, roomMm: number, weight: 400 | 600, sizeMm = TEXT_MM): string {
  const signs = Array.from(words).filter((sign) => (sign.codePointAt(0) ?? 0) >= 0x20);
  const width = () => textWidth(signs.join(""), sizeMm, weight === 600 ? "bold" : "regular");
  let isCut = false;
  while (signs.length > 1 && width() > roomMm) {
    signs.pop();
    isCut = true;
  }
  if (isCut) signs.splice(-1, 1, "…");
  const plain = signs.join("").replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");
  const round = (v: number) => Math.round(v * 1000) / 1000;
  return `<text x="${round(x)}" y="${round(y)}" font-size="${sizeMm}" font-weight="${weight}" fill="#1a1120">${plain}</text>`;
}
