import { describe, expect, test } from "vitest";
import { liveStateOf } from "../../../tests/rig/row-names.ts";
import { showWith } from "../../../tests/rig/shows.ts";
import { stateIndex } from "../../core/desk/compile-desk.ts";
import type { LiveChanges } from "../../core/live/protocol.ts";
import { applyChanges } from "../live/apply-changes.ts";
import { bindingsNow } from "../live/armed.ts";
import { movedAtDesk } from "./moved-at-desk.ts";

const start = liveStateOf(showWith([]));
const lights = start.compiled.desks.find((d) => d.id === "lights")!;
const at = (state: string, ...numbers: number[]) => stateIndex(lights.states.get(state)!, numbers);
const said = (index: number, value: number, source = 2): LiveChanges => ({
  atMs: 1,
  values: { lights: [[index, value, source, 0]] },
});
const moved = (index: number, from: number, to: number, source = 2) => {
  const before = applyChanges(start, said(index, from));
  return movedAtDesk(before, applyChanges(before, said(index, to, source)));
};

describe("what was moved at a desk is armed", () => {
  test("a switch with its numbers; the level of another with its own", () => {
    const on = moved(at("playback.on", 2, 7), 0, 1)!;
    expect([on.desk, on.function, on.number]).toEqual(["lights", "playback.toggle", 7]);
    expect(bindingsNow(on).playback).toEqual({ from: "fixed", value: 7 });
    expect(moved(at("playback.level", 2, 3), 0.1, 0.6)!).toMatchObject({ function: "playback.level", number: 3 });
  });
  test("what it says for the first time, says again, or was only supposed, was not moved", () => {
    const index = at("playback.on", 1, 1);
    expect(movedAtDesk(start, applyChanges(start, said(index, 1)))).toBeNull();
    expect(moved(index, 1, 1)).toBeNull();
    expect(moved(index, 0, 1, 1)).toBeNull();
  });
});
