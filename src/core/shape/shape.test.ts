import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Range } from "../format/desk-profile.ts";
import type { Shape } from "../format/shape.ts";
import { compileShape, shapeValue, travelFor } from "./linear.ts";
import { CATCH_WITHIN, meets, wayToCatch } from "./takeover.ts";

const unit = fc.double({ min: 0, max: 1, noNaN: true });
const finite = fc.double({ min: -1e6, max: 1e6, noNaN: true });
const anyShape: fc.Arbitrary<Shape> = fc
  .tuple(unit, unit, fc.boolean(), finite, finite)
  .filter(([a, b]) => Math.abs(a - b) > 1e-6)
  .map(([a, b, invert, from, to]) => ({ input: [Math.min(a, b), Math.max(a, b)], invert, output: [from, to] }));

function of(shape: Shape, range?: Range): (travel01: number) => number {
  const table = new Float64Array(8);
  compileShape(table, 4, shape, range);
  return (travel01) => shapeValue(table, 4, travel01);
}

function ends(shape: Shape): [number, number] {
  if (!Array.isArray(shape.output)) throw new Error("these shapes have two ends");
  return shape.output;
}

describe("the straight shape", () => {
  test("is exact at both ends of its range, inverted or not", () => {
    fc.assert(
      fc.property(anyShape, (shape) => {
        const value = of(shape);
        const [from, to] = shape.invert ? [...ends(shape)].reverse() : ends(shape);
        expect([value(shape.input[0]), value(shape.input[1])]).toEqual([from, to]);
        expect([value(0), value(1)]).toEqual([from, to]); // outside the range the nearer end holds
      }),
    );
  });
  test("is monotonic, and stays between its ends", () => {
    fc.assert(
      fc.property(anyShape, unit, unit, (shape, a, b) => {
        const value = of(shape);
        const [low, high] = [Math.min(a, b), Math.max(a, b)];
        const [start, end] = [value(0), value(1)];
        if (start <= end) expect(value(low)).toBeLessThanOrEqual(value(high) + 1e-9);
        else expect(value(low)).toBeGreaterThanOrEqual(value(high) - 1e-9);
        expect(value(a)).toBeGreaterThanOrEqual(Math.min(start, end) - 1e-9);
        expect(value(a)).toBeLessThanOrEqual(Math.max(start, end) + 1e-9);
      }),
    );
  });
  test("backwards, it finds the travel that makes a value", () => {
    fc.assert(
      fc.property(anyShape, unit, (shape, t) => {
        const table = new Float64Array(4);
        compileShape(table, 0, shape, undefined);
        if (Math.abs(table[3]! - table[2]!) < 1e-3) return; // a range without extent has no way back
        const travel = shape.input[0] + t * (shape.input[1] - shape.input[0]);
        expect(travelFor(table, 0, shapeValue(table, 0, travel))).toBeCloseTo(travel, 5);
      }),
    );
  });
  test("a level outside the range is caught at the nearer end", () => {
    const table = new Float64Array(4);
    compileShape(table, 0, { input: [0.2, 0.8], invert: false, output: [0.1, 0.9] }, undefined);
    expect([travelFor(table, 0, 0), travelFor(table, 0, 1)]).toEqual([0.2, 0.8]);
  });
  test("without an output range the function's own holds; without that it is a switch", () => {
    expect(of({ input: [0, 1], invert: false }, { from: -60, to: 10, unit: "dB" })(1)).toBe(10);
    expect(of({ input: [0, 1], invert: true })(0)).toBe(1);
  });
});

describe("catch", () => {
  test.each([
    ["at the level", 0.2, 0.5, 0.5, true],
    ["one step beside it", -1, 0.5 + CATCH_WITHIN, 0.5, true],
    ["across it, from below", 0.1, 0.9, 0.5, true],
    ["across it, from above", 0.9, 0.1, 0.5, true],
    ["towards it, not there yet", 0.1, 0.3, 0.5, false],
    ["away from it", 0.6, 0.9, 0.5, false],
    ["heard for the first time beyond it", -1, 0.9, 0.5, false],
  ])("%s", (_name, before, position, target, wanted) => {
    expect(meets(before, position, target)).toBe(wanted);
  });
  test("the way to move is told", () => {
    expect([wayToCatch(0.2, 0.5), wayToCatch(0.7, 0.5)]).toEqual(["raise", "lower"]);
  });
});
