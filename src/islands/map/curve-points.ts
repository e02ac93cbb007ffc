/** The points of a curve of one's own, moved, added and taken off; it stays one that the format takes. Pure. */
import type { Curve } from "../../core/format/shape.ts";

export type CurvePoints = Extract<Curve, { kind: "points" }>["points"];

/** Two points are no nearer than this along the travel. */
const APART = 0.001;
const MOST = 64;

const unit = (v: number) => Math.round(Math.min(1, Math.max(0, v)) * 1000) / 1000;

/** The first and the last stay at the ends of the travel; the others stay between their neighbours. */
export function movePoint(points: CurvePoints, i: number, x: number, y: number): CurvePoints {
  const before = points[i - 1];
  const after = points[i + 1];
  const own = points[i];
  if (!own) return points;
  const place = before && after ? unit(Math.min(after[0] - APART, Math.max(before[0] + APART, x))) : own[0];
  const isRoom = !before || !after || (place > before[0] && place < after[0]);
  const next: [number, number] = [isRoom ? place : own[0], unit(y)];
  if (next[0] === own[0] && next[1] === own[1]) return points;
  return points.map((p, k) => (k === i ? next : p));
}

/** Where there is no room between two points for one more, nothing is added. */
export function addPoint(points: CurvePoints, x: number, y: number): CurvePoints {
  const place = unit(x);
  const i = points.findIndex((p) => p[0] > place);
  if (i < 1 || points.length >= MOST || place - points[i - 1]![0] < APART || points[i]![0] - place < APART)
    return points;
  return [...points.slice(0, i), [place, unit(y)], ...points.slice(i)];
}

/** The two ends stay. */
export function removePoint(points: CurvePoints, i: number): CurvePoints {
  return i > 0 && i < points.length - 1 ? points.filter((_, k) => k !== i) : points;
}
