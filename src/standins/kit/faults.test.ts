import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { changedFaults, type FaultSettings, Faults, NO_FAULTS } from "./faults.ts";

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

/** What gets through of the numbers 1 to `count`, and what more comes with time. */
function through(count: number, settings: Partial<FaultSettings>): { now: number[]; later: number[] } {
  const faults = new Faults();
  const all = { ...NO_FAULTS, ...settings };
  const got: number[] = [];
  for (let n = 1; n <= count; n++) faults.in.pass(all, "a peer", () => got.push(n));
  const now = [...got];
  vi.advanceTimersByTime(all.delayMs + 1000);
  return { now, later: got };
}

describe("faults", () => {
  test("without any, everything passes at once", () => {
    expect(through(3, {}).now).toEqual([1, 2, 3]);
  });
  test("one in five gets lost, evenly and the same each time", () => {
    expect(through(10, { drop: 20 }).now).toEqual([1, 2, 3, 4, 6, 7, 8, 9]);
    expect(through(5, { drop: 100 }).now).toEqual([]);
  });
  test("late is late, in order", () => {
    expect(through(3, { delayMs: 500 })).toEqual({ now: [], later: [1, 2, 3] });
  });
  test("out of order: pairs change places, and one alone goes in the end", () => {
    expect(through(5, { reorder: true })).toEqual({ now: [2, 1, 4, 3], later: [2, 1, 4, 3, 5] });
  });
  test("messages of two peers never change places with each other", () => {
    const faults = new Faults();
    const got: string[] = [];
    for (const message of ["a1", "b1", "a2", "b2"]) {
      faults.in.pass({ ...NO_FAULTS, reorder: true }, message[0], () => got.push(message));
    }
    expect(got).toEqual(["a2", "a1", "b2", "b1"]);
  });
  test("deaf: nothing", () => {
    expect(through(3, { deaf: true }).later).toEqual([]);
  });
  test("a flood says so many a second, until it ends", () => {
    const faults = new Faults();
    let said = 0;
    faults.set({ ...NO_FAULTS, flood: 250 }, () => said++);
    vi.advanceTimersByTime(1000);
    faults.set(NO_FAULTS, () => said++);
    vi.advanceTimersByTime(1000);
    expect(said).toBe(250);
  });
  test.each<[string, unknown, Partial<FaultSettings> | null]>([
    ["a fault joins those that hold", { drop: 20 }, { drop: 20, deaf: true }],
    ["at its limit", { delayMs: 10_000 }, { delayMs: 10_000, deaf: true }],
    ["beyond it", { delayMs: 10_001 }, null],
    ["below nothing", { drop: -1 }, null],
    ["no number", { flood: "many" }, null],
    ["no truth", { deaf: 1 }, null],
    ["something else", { explode: true }, null],
    ["nothing", null, null],
  ])("%s", (_name, change, after) => {
    const before = { ...NO_FAULTS, deaf: true };
    expect(changedFaults(before, change)).toEqual(after && { ...before, ...after });
  });
});
