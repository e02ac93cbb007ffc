/**
 * The straight shape: input range, invert, output range. Exact at both ends, monotonic in between.
 * Travel is 0..1; the output is in the function's own unit on the wire.
 */
import type { Range } from "../format/desk-profile.ts";
import type { Shape } from "../format/shape.ts";

/** An output that is said as base + step x 0..127 has this many values, as many as a MIDI byte (MIDI 1.0, "Data Bytes"). */
export const STEPPED_VALUES = 128;
/** The last of them. */
const LAST_STEP = STEPPED_VALUES - 1;
/** A function without a range is a switch: 0 to 1. */
const SWITCH_RANGE = { from: 0, to: 1 };

export function outputOf(shape: Shape, range: Range | undefined): [number, number] {
  const { output } = shape;
  if (output === undefined) return [(range ?? SWITCH_RANGE).from, (range ?? SWITCH_RANGE).to];
  return Array.isArray(output) ? output : [output.base, output.base + output.step * LAST_STEP];
}

/** Writes a shape as four numbers at `at`: input from and to, output at the input's start and at its end. */
export function compileShape(table: Float64Array, at: number, shape: Shape, range: Range | undefined): void {
  const [from, to] = outputOf(shape, range);
  table[at] = shape.input[0];
  table[at + 1] = shape.input[1];
  table[at + 2] = shape.invert ? to : from;
  table[at + 3] = shape.invert ? from : to;
}

/** The output for a travel of 0..1, by the shape at `at` in the table. */
export function shapeValue(table: Float64Array, at: number, travel01: number): number {
  const from = table[at]!;
  const to = table[at + 1]!;
  const start = table[at + 2]!;
  const end = table[at + 3]!;
  if (travel01 <= from) return start;
  if (travel01 >= to) return end;
  const t = (travel01 - from) / (to - from);
  // This form, unlike start + t * (end - start), is exact at both ends.
  return (1 - t) * start + t * end;
}

/** Where the control would have to stand for this output, 0..1: the shape backwards, for takeover. */
export function travelFor(table: Float64Array, at: number, output: number): number {
  const from = table[at]!;
  const to = table[at + 1]!;
  const start = table[at + 2]!;
  const end = table[at + 3]!;
  if (start === end) return from;
  const t = Math.min(1, Math.max(0, (output - start) / (end - start)));
  return (1 - t) * from + t * to;
}
