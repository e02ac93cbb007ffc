/**
 * Every shape that is more than a straight line: curve, steps, dead band, rounding, what is ignored. Exact at both
 * ends; what depends on time (slew, rate, threshold) is in `timed.ts`.
 */
import type { Range } from "../format/desk-profile.ts";
import type { Shape } from "../format/shape.ts";
import { type CurveFunction, curveFunction, travelAt } from "./curves.ts";
import { outputOf, STEPPED_VALUES } from "./linear.ts";

/** In the place of an output: nothing is to be sent. */
export const NOTHING = Number.NaN;

export interface BentShape {
  readonly from: number;
  readonly to: number;
  readonly ignoresOutside: boolean;
  readonly invert: boolean;
  readonly curve: CurveFunction;
  /** Number of values, or 0 for all. */
  readonly steps: number;
  readonly deadAt: number;
  readonly deadWidth: number;
  readonly start: number;
  readonly end: number;
  readonly roundTo: number;
}

/** True where a shape needs more than the four numbers of a straight line. */
export function isBent(shape: Shape, range?: Range): boolean {
  return (
    lawOf(shape, range) !== undefined ||
    shape.outside === "ignore" ||
    shape.curve !== undefined ||
    shape.steps !== undefined ||
    shape.deadBand !== undefined ||
    shape.roundTo !== undefined ||
    (shape.output !== undefined && !Array.isArray(shape.output)) ||
    isTimed(shape)
  );
}

/** A function's own law is its curve wherever the shape says nothing else of curve and output. */
function lawOf(shape: Shape, range: Range | undefined): Shape["curve"] {
  if (!range?.law || shape.curve !== undefined || shape.output !== undefined) return undefined;
  const { from, to, law } = range;
  const inner = law.map(([travel, value]): [number, number] => [travel, (value - from) / (to - from)]);
  return { kind: "points", points: [[0, 0], ...inner, [1, 1]] };
}

/** True where what is sent depends on what was before, or on time. */
export function isTimed(shape: Shape): boolean {
  return (
    shape.fine !== undefined ||
    shape.threshold !== undefined ||
    shape.slewPerS !== undefined ||
    shape.jumpLimitPerS !== undefined ||
    shape.ratePerS !== undefined
  );
}

export function bentShape(shape: Shape, range: Range | undefined): BentShape {
  const [start, end] = outputOf(shape, range);
  const decibels = range?.unit === "dB" ? ([Math.min(start, end), Math.max(start, end)] as const) : null;
  return {
    from: shape.input[0],
    to: shape.input[1],
    ignoresOutside: shape.outside === "ignore",
    invert: shape.invert,
    curve: curveFunction(shape.curve ?? lawOf(shape, range), decibels),
    steps: shape.steps ?? (shape.output && !Array.isArray(shape.output) ? STEPPED_VALUES : 0),
    deadAt: shape.deadBand?.at ?? 0,
    deadWidth: shape.deadBand?.width ?? 0,
    start,
    end,
    roundTo: shape.roundTo ?? 0,
  };
}

/** Part of the output's way, 0..1, for a travel of 0..1; NOTHING outside an input range that ignores. */
export function bentPart(shape: BentShape, travel01: number): number {
  const { from, to } = shape;
  if (shape.ignoresOutside && (travel01 < from || travel01 > to)) return NOTHING;
  let t = travel01 <= from ? 0 : travel01 >= to ? 1 : (travel01 - from) / (to - from);
  if (shape.invert) t = 1 - t;
  t = shape.curve(t);
  if (shape.steps > 0) t = Math.round(t * (shape.steps - 1)) / (shape.steps - 1);
  if (shape.deadWidth > 0) t = deadBand(t, shape.deadAt, shape.deadWidth);
  return t;
}

export type ShapeStep = "travel" | "invert" | "curve" | "steps" | "dead-band";

/**
 * What each step of a shape that changes anything makes of a travel of 0..1, in their order, the part of the way 0..1; the
 * last is `bentPart`. Empty where nothing is sent.
 */
export function bentSteps(shape: BentShape, travel01: number): { readonly step: ShapeStep; readonly part01: number }[] {
  if (Number.isNaN(bentPart(shape, travel01))) return [];
  const plain: BentShape = { ...shape, invert: false, curve: (t) => t, steps: 0, deadWidth: 0 };
  const bent: BentShape = { ...plain, invert: shape.invert, curve: shape.curve };
  const stepped: BentShape = { ...bent, steps: shape.steps };
  const all: [ShapeStep, BentShape, boolean][] = [
    ["travel", plain, shape.from > 0 || shape.to < 1],
    ["invert", { ...plain, invert: true }, shape.invert],
    ["curve", bent, shape.curve(0.25) !== 0.25 || shape.curve(0.6) !== 0.6],
    ["steps", stepped, shape.steps > 0],
    ["dead-band", shape, shape.deadWidth > 0],
  ];
  return all.flatMap(([step, by, isThere]) => (isThere ? [{ step, part01: bentPart(by, travel01) }] : []));
}

/** The output for a part of the way, rounded. */
export function bentOutput(shape: BentShape, part01: number): number {
  const { start, end, roundTo } = shape;
  if (part01 <= 0) return start;
  if (part01 >= 1) return end;
  const value = (1 - part01) * start + part01 * end;
  if (roundTo === 0) return value;
  const low = Math.min(start, end);
  const high = Math.max(start, end);
  return Math.min(high, Math.max(low, Math.round(value / roundTo) * roundTo));
}

export function bentValue(shape: BentShape, travel01: number): number {
  const part = bentPart(shape, travel01);
  return Number.isNaN(part) ? NOTHING : bentOutput(shape, part);
}

/** Travel at which the shape gives `output`, for takeover. Of a shape with steps it is the middle of the step. */
export function bentTravel(shape: BentShape, output: number): number {
  const { start, end, from, to } = shape;
  const part = start === end ? 0 : Math.min(1, Math.max(0, (output - start) / (end - start)));
  const t = travelAt(shape.curve, part);
  const way = shape.invert ? 1 - t : t;
  return (1 - way) * from + way * to;
}

/** What lies within the band counts as its middle; the rest is stretched, so that both ends are still reached. */
function deadBand(t: number, at: number, width: number): number {
  const low = Math.max(0, at - width / 2);
  const high = Math.min(1, at + width / 2);
  if (t <= 0) return at <= 0 ? at : 0;
  if (t >= 1) return at >= 1 ? at : 1;
  if (t >= low && t <= high) return at;
  if (t < low) return (t / low) * at;
  return at + ((t - high) / (1 - high)) * (1 - at);
}
