/**
 * A series: many controls get one function, and a number counts on from one to the next. Controls lie in rows and columns; a
 * number has a first value, a step along a row, and a step down to the next.
 */
import type { Box, Control } from "../format/surface-profile.ts";

/** As they lie, row by row; down each column, and then across; or one after the other as they were chosen. */
export type SeriesOrder = "as-they-lie" | "down" | "as-chosen";

export interface SeriesPlace {
  readonly control: Control;
  /** From 0, in the order of the series: along is the next column, down the next row. */
  readonly row: number;
  readonly column: number;
}

export interface SeriesCount {
  readonly first: number;
  readonly along: number;
  readonly down: number;
}

/** Two lie in one row where the middle of one is within half of the other. */
const middle = ({ y, height }: Box) => y + height / 2;

/** Rows from the top, each from the left. */
export function rowsOf(controls: readonly Control[]): Control[][] {
  const rows: Control[][] = [];
  for (const control of [...controls].sort((a, b) => middle(a.box) - middle(b.box) || a.box.x - b.box.x)) {
    const row = rows.at(-1);
    const isSame = row && Math.abs(middle(row[0]!.box) - middle(control.box)) < row[0]!.box.height / 2;
    if (isSame) row.push(control);
    else rows.push([control]);
  }
  return rows.map((row) => row.sort((a, b) => a.box.x - b.box.x));
}

/** The places of controls in their order. `controls` come as they were chosen. */
export function placesOf(controls: readonly Control[], order: SeriesOrder): SeriesPlace[] {
  if (order === "as-chosen") return controls.map((control, column) => ({ control, row: 0, column }));
  const lines = order === "as-they-lie" ? rowsOf(controls) : columnsOf(controls);
  return lines.flatMap((line, row) => line.map((control, column) => ({ control, row, column })));
}

/** Columns from the left, each from the top: rows of the same controls lying on their side. */
function columnsOf(controls: readonly Control[]): Control[][] {
  const turned = controls.map((c) => ({
    ...c,
    box: { x: c.box.y, y: c.box.x, width: c.box.height, height: c.box.width },
  }));
  const byId = new Map(controls.map((c) => [c.id, c]));
  return rowsOf(turned).map((line) => line.map((c) => byId.get(c.id)!));
}

/** Counting on without a gap, from `first`. */
export function countsOn(places: readonly SeriesPlace[], first: number): SeriesCount {
  const longest = Math.max(0, ...places.map((p) => p.column)) + 1;
  return { first, along: 1, down: longest };
}

export function numberAt({ first, along, down }: SeriesCount, { row, column }: SeriesPlace): number {
  return first + row * down + column * along;
}

/** Those that lie within the two, corner to corner, and are of the same kind as the second. */
export function spanned(controls: readonly Control[], from: Control, to: Control): Control[] {
  const left = Math.min(from.box.x, to.box.x);
  const right = Math.max(from.box.x + from.box.width, to.box.x + to.box.width);
  const top = Math.min(from.box.y, to.box.y);
  const bottom = Math.max(from.box.y + from.box.height, to.box.y + to.box.height);
  return controls.filter(({ box, kind, behaviour, bank, sends }) => {
    const x = box.x + box.width / 2;
    const isAlike = kind === to.kind && behaviour === to.behaviour && bank === to.bank && sends.kind !== "any";
    return isAlike && x > left && x < right && middle(box) > top && middle(box) < bottom;
  });
}

/** All that are of its kind and do as it does, in the same bank of the surface. */
export function alikeOf(controls: readonly Control[], like: Control): Control[] {
  return controls.filter(
    (c) =>
      c.kind === like.kind &&
      c.behaviour === like.behaviour &&
      c.bank === like.bank &&
      c.sends.kind === like.sends.kind,
  );
}

/** Those that lie at least half within a part of the surface. */
export function within(controls: readonly Control[], area: Box): Control[] {
  return controls.filter(({ box, sends }) => {
    const x = box.x + box.width / 2;
    const y = middle(box);
    return sends.kind !== "any" && x >= area.x && x <= area.x + area.width && y >= area.y && y <= area.y + area.height;
  });
}
