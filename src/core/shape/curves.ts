/**
 * The curves of a value between its ends. Each runs from 0 at 0 to 1 at 1 and rises all the way (own points rise
 * where they were drawn so).
 */
import type { Curve } from "../format/shape.ts";

/** Part of the way at travel 0..1. */
export type CurveFunction = (travel01: number) => number;

/** The amplitude law: 60 dB over the travel, with silence at its bottom. */
const AUDIO_RANGE_DB = 60;
const AUDIO_FLOOR = 10 ** (-AUDIO_RANGE_DB / 20);

/**
 * The law of a fader marked in dB, as distances below the top at quarters of the travel: the top half covers 20 dB,
 * where hands work, and the bottom quarter everything that is left.
 */
const DB_MARKS = [
  [0.25, 40],
  [0.5, 20],
  [0.75, 10],
] as const;

/** `range` is the output in dB, or null where the output is an amplitude or anything else. */
export function curveFunction(curve: Curve | undefined, rangeDb: readonly [number, number] | null): CurveFunction {
  switch (curve?.kind) {
    case undefined:
      return (t) => t;
    case "audio":
      return rangeDb ? decibelLaw(rangeDb) : audioLaw;
    case "s":
      return (t) => t * t * (3 - 2 * t);
    case "exponential": {
      const { amount } = curve;
      const whole = Math.expm1(amount);
      return (t) => (t >= 1 ? 1 : Math.expm1(amount * t) / whole);
    }
    case "points":
      return through(curve.points);
    default:
      return curve satisfies never;
  }
}

/** Amplitude for an output that is linear in amplitude. */
function audioLaw(t: number): number {
  if (t >= 1) return 1;
  return Math.max(0, (10 ** ((AUDIO_RANGE_DB * (t - 1)) / 20) - AUDIO_FLOOR) / (1 - AUDIO_FLOOR));
}

function decibelLaw([from, to]: readonly [number, number]): CurveFunction {
  const extent = to - from;
  const points: [number, number][] = [[0, 0]];
  for (const [t, below] of DB_MARKS) {
    // A short range has no room for the lower marks.
    const y = 1 - below / extent;
    if (y > points.at(-1)![1]) points.push([t, y]);
  }
  points.push([1, 1]);
  return through(points);
}

function through(points: readonly (readonly [number, number])[]): CurveFunction {
  return (t) => {
    let i = 1;
    while (i < points.length - 1 && t > points[i]![0]) i++;
    const [x0, y0] = points[i - 1]!;
    const [x1, y1] = points[i]!;
    if (t <= x0) return y0;
    if (t >= x1) return y1;
    const part = (t - x0) / (x1 - x0);
    return (1 - part) * y0 + part * y1;
  };
}

/** Travel at which a rising curve reaches `part`, 0..1: the curve backwards, by halving. */
export function travelAt(curve: CurveFunction, part: number): number {
  if (part <= curve(0)) return 0;
  if (part >= curve(1)) return 1;
  let low = 0;
  let high = 1;
  for (let i = 0; i < 48; i++) {
    const middle = (low + high) / 2;
    if (curve(middle) < part) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
