/** All mappings on as few sheets as it takes, for whoever stands in: columns of lines, grouped by surface. */
import type { Paper } from "./label-sheets.ts";
import { type SvgSheet, shortened, svgSheet, svgText, widthOf } from "./svg-text.ts";

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

/** The lines of a list on sheets, at their true size. */
export function listSheets(groups: readonly ListGroup[], paper: Paper, head: string): SvgSheet[] {
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
      if (row.kind === "title") return text(x, y, row.title, columnMm, "bold");
      const { control, does, where } = row.line;
      const part = columnMm / 10;
      return (
        text(x, y, control, part * 2.6, "regular") +
        text(x + part * 2.7, y, does, part * 5.3, "regular") +
        text(x + part * 8.1, y, where, part * 1.9, "regular")
      );
    });
    const of = count > 1 ? `\u2003sheet ${sheet + 1} of ${count}` : "";
    const title = text(MARGIN_MM, 11, head + of, widthMm - 2 * MARGIN_MM, "bold", 3.4);
    return svgSheet(widthMm, heightMm, title + body.join(""));
  });
}

function text(
  xMm: number,
  yMm: number,
  words: string,
  roomMm: number,
  weight: "bold" | "regular",
  sizeMm = TEXT_MM,
): string {
  return svgText({ xMm, yMm, text: shortened(words, widthOf(sizeMm, weight), roomMm, "…"), sizeMm, weight });
}
