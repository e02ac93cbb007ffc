import { describe, expect, test } from "vitest";
import { liveStateOf } from "../../../../tests/rig/row-names.ts";
import { fixed, level, mapping, profiles, showWith, toggle } from "../../../../tests/rig/shows.ts";
import type { Edit } from "../../../core/edit/edit-kinds.ts";
import { applyEdit } from "../../../core/edit/edits.ts";
import type { PageState } from "../../live/store.ts";
import { type Dragged, dropped, type Place } from "./dropped.ts";

const show = showWith([
  mapping("pad-1", [toggle(1, fixed(1)), toggle(2, fixed(1)), toggle(3, fixed(1))]),
  mapping("pad-2", toggle(9, fixed(1))),
  mapping("fader-1", level(1, fixed(1))),
]);
const state = (chosen: string, many: string[] | null = null) =>
  ({
    live: liveStateOf(show),
    chosen: { surface: "deck", control: chosen },
    many: many && { surface: "deck", controls: many },
    chosenMapping: null,
  }) as unknown as PageState;
const on = (control: string): Place => ({ kind: "control", surface: "deck", control });
/** What each control does afterwards: the numbers of its actions. */
function doneBy(page: PageState, what: Dragged, place: Place, isMoved = false): Record<string, string[]> | null {
  const found = dropped(page, what, place, isMoved);
  if (found?.kind !== "edits") return null;
  const result = applyEdit(show, { kind: "together", does: found.does, edits: [...found.edits] } as Edit, profiles);
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  return Object.fromEntries(
    result.show.mappings.map((m) => [m.control, m.actions.map((a) => `${a.function} ${numberOf(a.bindings)}`)]),
  );
}
const numberOf = (bindings: { playback?: { from: string } }) =>
  bindings.playback?.from === "fixed" ? (bindings.playback as unknown as { value: number }).value : "";
const go: Dragged = { kind: "function", desk: "lights", fn: "playback.go" };

describe("a function", () => {
  test("on a free control is given, with the control’s own number; on another it joins what it does", () => {
    expect(doneBy(state("pad-9"), go, on("pad-7"))).toMatchObject({ "pad-7": ["playback.go 7"] });
    expect(dropped(state("pad-9"), go, on("pad-7"), false)).toMatchObject({ says: "Go playback 7" });
    expect(doneBy(state("pad-9"), go, on("pad-2"))).toMatchObject({ "pad-2": ["playback.toggle 9", "playback.go 2"] });
    expect(dropped(state("pad-9"), go, on("pad-2"), false)?.says).toMatch(/beside what it does$/);
  });
  test("on one of many that are chosen is a series; on another control it is not", () => {
    const page = state("pad-3", ["pad-3", "pad-4"]);
    expect(dropped(page, go, on("pad-4"), false)).toMatchObject({ kind: "series", fn: "playback.go" });
    expect(dropped(page, go, on("pad-5"), false)).toMatchObject({ kind: "edits" });
  });
  test("nowhere to go: an unknown control, an unknown function, the order of actions", () => {
    expect(dropped(state("pad-9"), go, on("nothing"), false)).toBeNull();
    expect(dropped(state("pad-9"), { ...go, fn: "nothing" } as Dragged, on("pad-7"), false)).toBeNull();
    expect(dropped(state("pad-9"), go, { kind: "order", mapping: "m-pad-1", before: null }, false)).toBeNull();
  });
});

describe("what a control does", () => {
  test("is copied, and moved with Alt; what was there is taken the place of", () => {
    expect(doneBy(state("pad-2"), { kind: "chosen" }, on("pad-5"))).toMatchObject({
      "pad-2": ["playback.toggle 9"],
      "pad-5": ["playback.toggle 9"],
    });
    const moved = doneBy(state("pad-2"), { kind: "chosen" }, on("pad-1"), true)!;
    expect(moved["pad-1"]).toEqual(["playback.toggle 9"]);
    expect(moved["pad-2"]).toBeUndefined();
    expect(dropped(state("pad-2"), { kind: "chosen" }, on("pad-1"), true)?.says).toBe(
      "Move to Pad 1, in the place of what is there",
    );
  });
  test("of many goes along those that are alike, and not where there is no room for all", () => {
    const page = state("pad-1", ["pad-1", "pad-2"]);
    expect(doneBy(page, { kind: "chosen" }, on("pad-11"))).toMatchObject({ "pad-12": ["playback.toggle 9"] });
    expect(dropped(page, { kind: "chosen" }, on("pad-30"), false)).toBeNull();
    expect(dropped(page, { kind: "chosen" }, on("pad-2"), false)).toBeNull();
  });
  test("which does nothing is not to be had", () => {
    expect(dropped(state("pad-9"), { kind: "chosen" }, on("pad-5"), false)).toBeNull();
  });
});

describe("an action", () => {
  const second: Dragged = { kind: "action", mapping: "m-pad-1", action: "t-2" };
  test("goes to another control, as a copy or with Alt as itself", () => {
    expect(doneBy(state("pad-1"), second, on("pad-2"))).toMatchObject({
      "pad-1": ["playback.toggle 1", "playback.toggle 2", "playback.toggle 3"],
      "pad-2": ["playback.toggle 9", "playback.toggle 2"],
    });
    expect(doneBy(state("pad-1"), second, on("pad-8"), true)).toMatchObject({
      "pad-1": ["playback.toggle 1", "playback.toggle 3"],
      "pad-8": ["playback.toggle 2"],
    });
    expect(dropped(state("pad-1"), second, on("pad-1"), false)).toBeNull();
  });
  test("changes its place in the order, but not to where it is, nor into that of another mapping", () => {
    const order = (before: string | null) => ({ kind: "order", mapping: "m-pad-1", before }) as const;
    expect(doneBy(state("pad-1"), second, order("t-1"))!["pad-1"]).toEqual([
      "playback.toggle 2",
      "playback.toggle 1",
      "playback.toggle 3",
    ]);
    expect(doneBy(state("pad-1"), second, order(null))!["pad-1"]!.at(-1)).toBe("playback.toggle 2");
    expect(dropped(state("pad-1"), second, order("t-2"), false)).toBeNull();
    expect(dropped(state("pad-1"), second, order("t-3"), false)).toBeNull();
    expect(dropped(state("pad-1"), second, { kind: "order", mapping: "m-pad-2", before: null }, false)).toBeNull();
  });
});
