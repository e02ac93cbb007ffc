import { describe, expect, test } from "vitest";
import type { Edit } from "./edit-kinds.ts";
import { areOfOneThing, touchedBy } from "./touched.ts";

const name = (id: string, to: string): Edit => ({ kind: "change-mapping", id, set: { name: to } });
const on = (id: string): Edit => ({ kind: "change-mapping", id, set: { on: false } });
const gone = (id: string): Edit => ({ kind: "remove-mapping", id });
const shape = (set: object): Edit => ({ kind: "change-action", mapping: "m", id: "a", set: { shape: set } });
const together = (...edits: Edit[]): Edit => ({ kind: "together", does: "both", edits: edits as never });
const meet = (one: Edit, other: Edit) => areOfOneThing(touchedBy(one), touchedBy(other));

describe("two edits are of one thing", () => {
  test.each<[string, Edit, Edit]>([
    ["one field of one mapping", name("m", "A"), name("m", "B")],
    ["a mapping that is removed, and its name", gone("m"), name("m", "A")],
    ["a mapping that is removed, and its action", gone("m"), shape({ invert: true })],
    ["one field of a shape", shape({ invert: true }), shape({ invert: false, input: [0, 1] })],
    ["within edits of many", together(on("x"), name("m", "A")), together(gone("y"), name("m", "B"))],
    [
      "a part of the show",
      { kind: "remove-part", list: "banks", id: "b" },
      { kind: "remove-part", list: "banks", id: "b" },
    ],
    ["the address of a desk", { kind: "remove-desk", id: "d" }, { kind: "rename-desk", id: "d", name: "D" }],
  ])("%s", (_name, one, other) => {
    expect([meet(one, other), meet(other, one)]).toEqual([true, true]);
  });
  test.each<[string, Edit, Edit]>([
    ["two fields of one mapping", name("m", "A"), on("m")],
    ["two mappings", name("m", "A"), name("n", "B")],
    ["two fields of a shape", shape({ invert: true }), shape({ input: [0, 1] })],
    [
      "what only adds",
      { kind: "add-layer", layer: { id: "l", name: "L" } },
      { kind: "add-layer", layer: { id: "l", name: "L" } },
    ],
    [
      "things of two kinds with one id",
      { kind: "rename-desk", id: "x", name: "X" },
      { kind: "rename-surface", id: "x", name: "X" },
    ],
  ])("not %s", (_name, one, other) => {
    expect([meet(one, other), meet(other, one)]).toEqual([false, false]);
  });
});
