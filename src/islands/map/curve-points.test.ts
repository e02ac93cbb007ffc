import fc from "fast-check";
import { expect, test } from "vitest";
import { Curve } from "../../core/format/shape.ts";
import { addPoint, type CurvePoints, movePoint, removePoint } from "./curve-points.ts";

const straight: CurvePoints = [
  [0, 0],
  [0.5, 0.5],
  [1, 1],
];

test("a point stays between its neighbours, the ends stay at the ends", () => {
  expect(movePoint(straight, 1, 0.25, 0.75)[1]).toEqual([0.25, 0.75]);
  expect(movePoint(straight, 1, 7, -3)[1]).toEqual([0.999, 0]);
  expect(movePoint(straight, 0, 0.4, 0.2)[0]).toEqual([0, 0.2]);
  expect(movePoint(straight, 2, 0.4, 2)).toBe(straight);
  expect(movePoint(straight, 9, 0.4, 2)).toBe(straight);
});

test("a point is put in its place on the travel, and taken off again; an end is not", () => {
  const four = addPoint(straight, 0.75, 0.1);
  expect(four[2]).toEqual([0.75, 0.1]);
  expect(removePoint(four, 2)).toEqual(straight);
  expect(removePoint(straight, 0)).toBe(straight);
  expect(removePoint(straight, 2)).toBe(straight);
  expect(addPoint(straight, 0.5, 0.1)).toBe(straight);
});

test("whatever is dragged, added and taken off, it is a curve that the format takes", () => {
  const wild = fc.double({ min: -1, max: 2, noNaN: true });
  const step = fc.tuple(fc.constantFrom("move", "add", "remove"), fc.nat(70), wild, wild);
  fc.assert(
    fc.property(fc.array(step, { maxLength: 150 }), (steps) => {
      let points = straight;
      for (const [what, i, x, y] of steps)
        points =
          what === "move"
            ? movePoint(points, i, x, y)
            : what === "add"
              ? addPoint(points, x, y)
              : removePoint(points, i);
      expect(Curve.safeParse({ kind: "points", points }).success).toBe(true);
    }),
  );
});
