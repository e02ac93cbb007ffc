import { expect, test } from "vitest";
import type { Edit } from "../core/edit/edit-kinds.ts";
import { EditsOfOthers } from "./edits-of-others.ts";

const name = (id: string): Edit => ({ kind: "change-mapping", id, set: { name: "x" } });
const at = (page: string, seen: number) => ({ page, seen });

test("the second of two windows is told what the first did, until it has that in view", () => {
  const others = new EditsOfOthers();
  others.begins(name("m"), 1, "a", "rename m")(5);
  expect([
    others.before(name("m"), 1, at("b", 4)),
    others.before(name("m"), 1, at("b", 5)),
    others.before(name("m"), 1, at("a", 4)), // its own
    others.before(name("n"), 1, at("b", 4)), // another thing
    others.before(name("m"), 2, at("b", 4)), // another show
  ]).toEqual(["rename m", null, null, null, null]);
});

test("an edit that is on its way to the disk is in nobody’s view; one that was refused is none", () => {
  const others = new EditsOfOthers();
  const ends = others.begins(name("m"), 1, "a", "rename m");
  expect(others.before(name("m"), 1, at("b", 9))).toBe("rename m");
  ends(null);
  expect(others.before(name("m"), 1, at("b", 9))).toBeNull();
});

test("only so many are remembered", () => {
  const others = new EditsOfOthers();
  others.begins(name("first"), 1, "a", "first")(1);
  for (let n = 2; n <= 201; n++) others.begins(name("m"), 1, "a", "later")(n);
  expect([others.before(name("first"), 1, at("b", 0)), others.before(name("m"), 1, at("b", 0))]).toEqual([
    null,
    "later",
  ]);
});
