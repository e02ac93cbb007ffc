import { describe, expect, test } from "vitest";
import { profiles } from "../../../tests/rig/shows.ts";
import { type Armed, arm, bindingsNow, gave, isGiving, leftOut, type Made, queue, tookBack } from "./armed.ts";

const lights = profiles.desks.get("quay-lights")!;
const armed = (id: string): Armed =>
  arm("lights", lights.functions.find((f) => f.id === id)!, lights.parameters, lights.page?.parameter);
const made = (number: number | null): Made => ({
  surface: "deck",
  control: `pad-${number}`,
  mapping: `m-${number}`,
  action: `a-${number}`,
  number,
  replaced: [],
  joined: false,
});

describe("a function that is armed", () => {
  test("pages follow, and the last number counts on from its first", () => {
    const a = armed("playback.toggle");
    expect(bindingsNow(a)).toEqual({ page: { from: "page" }, playback: { from: "fixed", value: 1 } });
    expect(queue(a)).toEqual([1, 2, 3, 4, 5]);
    expect(bindingsNow(gave(a, made(1)))).toMatchObject({ playback: { value: 2 } });
  });
  test("by as much as is asked, or not at all", () => {
    expect(queue({ ...armed("playback.toggle"), step: 4 })).toEqual([1, 5, 9, 13, 17]);
    const same = { ...armed("playback.toggle"), step: 0 };
    expect([queue(same), gave(same, made(1)).number]).toEqual([[1], 1]);
  });
  test("one number is left out; the one taken back is armed again", () => {
    const a = leftOut(gave(armed("playback.toggle"), made(1)));
    expect(a.number).toBe(3);
    expect(tookBack(a, a.made[0]!)).toMatchObject({ number: 1, made: [] });
  });
  test("an older one taken back leaves the count where it is", () => {
    const a = gave(gave(armed("playback.toggle"), made(1)), made(2));
    expect(tookBack(a, a.made[0]!)).toMatchObject({ number: 3 });
  });
  test("past the end of the range nothing is given", () => {
    const a = { ...armed("playback.toggle"), number: 20 };
    expect([isGiving(a), queue(a)]).toEqual([true, [20]]);
    expect([isGiving(leftOut(a)), queue(leftOut(a))]).toEqual([false, []]);
  });
  test("a function without numbers is given as often as something is touched", () => {
    const a = gave(armed("cue.go"), made(null));
    expect([isGiving(a), queue(a), bindingsNow(a)]).toEqual([true, [], {}]);
  });
  test("what asks is answered before anything else counts on", () => {
    const asking = { ...armed("playback.toggle"), asking: { surface: "deck", control: "pad-1" } };
    expect(leftOut(asking)).toMatchObject({ number: 1, asking: null });
  });
});
