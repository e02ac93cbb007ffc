import { describe, expect, test } from "vitest";
import { control, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import { HeldNotes } from "./held-notes.ts";

const ON = [0x90, 36, 127];
const OFF = [0x80, 36, 64];

describe("what open pages hold", () => {
  test("the first holds it, the other is refused press and release until it is let go", () => {
    const held = new HeldNotes();
    const admit = (page: number, bytes: number[]) => held.admit(page, "deck", undefined, bytes);
    expect([admit(1, ON), admit(2, ON), admit(2, OFF), admit(1, ON), admit(1, OFF)]).toEqual([
      true,
      false,
      false,
      true,
      true,
    ]);
    expect([admit(2, ON), admit(2, [0x90, 36, 0]), admit(1, ON)]).toEqual([true, true, true]);
  });
  test("other keys, other surfaces and other messages are no matter of it", () => {
    const held = new HeldNotes();
    held.admit(1, "deck", undefined, ON);
    for (const [surface, bytes] of [
      ["keys", ON],
      ["deck", [0x90, 37, 127]],
      ["deck", [0x91, 36, 127]],
      ["deck", [0xb0, 36, 127]],
      ["deck", [0xf0, 36, 0xf7]],
    ] as const)
      expect(held.admit(2, surface, undefined, bytes)).toBe(true);
  });
  test("what a page held is let go when it goes away, and only that", () => {
    const held = new HeldNotes();
    held.admit(1, "deck", undefined, ON);
    held.admit(1, "deck", undefined, [0x91, 40, 127]);
    held.admit(1, "deck", undefined, [0x90, 41, 127]);
    held.admit(1, "deck", undefined, [0x80, 41, 64]);
    held.admit(2, "keys", undefined, ON);
    expect(held.leave(1)).toEqual([
      { surface: "deck", bytes: Uint8Array.of(0x80, 36, 64) },
      { surface: "deck", bytes: Uint8Array.of(0x81, 40, 64) },
    ]);
    expect([held.leave(1), held.admit(2, "deck", undefined, ON)]).toEqual([[], true]);
  });
  test("a hardware latch is held by nobody", () => {
    const held = new HeldNotes();
    const latch = surfaceProfile([
      control("pad-1", { kind: "note", channel: 1, number: 36 }, { behaviour: "latches" }),
    ]);
    held.admit(1, "deck", latch, ON);
    expect([held.admit(2, "deck", latch, OFF), held.leave(1)]).toEqual([true, []]);
  });
});
