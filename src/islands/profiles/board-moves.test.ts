import { describe, expect, test } from "vitest";
import { ARROWS, dragged, SNAP, stepped } from "./board-moves.ts";

const box = (x: number, y: number) => ({ x, y, width: 1, height: 2 });

describe("a control on the board", () => {
  test("stays where it is, on the grid or off it, unless it is dragged half a step", () => {
    for (const at of [box(0.68, 1.3), box(0, 0), box(3.5, 2)])
      for (const by of [0, 0.01, -0.2, SNAP / 2 - 0.001]) expect(dragged(at, by, -by)).toEqual(at);
  });

  test("goes to the nearest half of a pad, on the axis on which it was dragged", () => {
    expect(dragged(box(0.68, 1.3), 1, 0)).toEqual(box(1.5, 1.3));
    expect(dragged(box(2, 2), -0.3, 0.9)).toEqual(box(1.5, 3));
  });

  test("does not leave the board at the left or above", () => {
    expect(dragged(box(1, 1), -9, -9)).toEqual(box(0, 0));
    expect(stepped(box(0.2, 0), ARROWS.ArrowLeft!)).toEqual(box(0, 0));
  });

  test("an arrow is one step from where it is", () => {
    expect(stepped(box(0.68, 1), ARROWS.ArrowRight!)).toEqual(box(0.68 + SNAP, 1));
    expect(stepped(box(1, 1), ARROWS.ArrowUp!)).toEqual(box(1, 1 - SNAP));
  });
});
