import { expect, test } from "vitest";
import { liveStateOf } from "../../../tests/rig/row-names.ts";
import { fixed, flash, mapping, showWith, toggle } from "../../../tests/rig/shows.ts";
import { startedBy } from "./started-by.ts";

test("each function has the actions that call it, as their controls lie, those that are off too", () => {
  const show = showWith([
    mapping("pad-9", toggle(9, fixed(1))),
    mapping("pad-2", [toggle(2, fixed(1)), flash(2, fixed(1))]),
    mapping("pad-5", { ...toggle(5, fixed(1)), on: false }, { on: false }),
  ]);
  const starts = startedBy(liveStateOf(show));
  expect(starts.get("lights playback.toggle")!.map((r) => r.controlName)).toEqual(["Pad 2", "Pad 5", "Pad 9"]);
  expect(starts.get("lights playback.flash")!.map((r) => r.action!.id)).toEqual(["f-2"]);
  expect(starts.get("lights playback.go")).toBeUndefined();
});
