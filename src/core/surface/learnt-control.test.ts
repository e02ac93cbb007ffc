import { describe, expect, test } from "vitest";
import { surfaceProfile } from "../../../tests/rig/surfaces.ts";
import { checkSurfaceProfile } from "../edit/check-surface-profile.ts";
import { type HeardMessage, learn } from "./learn.ts";
import { freeBox, grown, learntControl, sameControl } from "./learnt-control.ts";

const heard = (...messages: number[][]): HeardMessage[] =>
  messages.map((bytes, i) => ({ source: "s", atMs: i * 20, bytes: Uint8Array.from(bytes) }));
const press = learn(heard([0x90, 36, 100], [0x80, 36, 0])).best!;
const fader = learn(heard([0xb0, 7, 0], [0xb0, 7, 60], [0xb0, 7, 127])).best!;
const knob = learn(heard([0xb0, 16, 1], [0xb0, 16, 1], [0xb0, 16, 127], [0xb0, 16, 1])).best!;

describe("a control that was learnt", () => {
  test("one after the other they make a valid profile, none over another", () => {
    let profile = surfaceProfile([], { size: { width: 3, height: 3 } });
    for (const found of [press, fader, knob]) {
      profile = grown({ ...profile, controls: [...profile.controls, learntControl(profile, found)] });
    }
    expect(checkSurfaceProfile(profile)).toEqual([]);
    expect(profile.controls.map((c) => [c.id, c.kind, c.behaviour, c.box.x, c.box.y])).toEqual([
      ["pad-1", "pad", "springs-back", 0, 0],
      ["fader-1", "fader", "absolute", 1, 0],
      ["knob-1", "knob", "relative", 2, 0],
    ]);
  });
  test("what sends the same is found again, also where it was taken for something else", () => {
    const profile = surfaceProfile([learntControl(surfaceProfile([]), knob)]);
    expect(sameControl(profile, { kind: "controller", channel: 1, number: 16 })?.id).toBe("knob-1");
    expect(sameControl(profile, press.sends)).toBeUndefined();
  });
  test("of SysEx the beginning decides, however much of the message is its value", () => {
    const [first, second] = ["f0 7d 51 21", "F0 7D 51 22"].map((prefix, i) => ({
      ...learntControl(surfaceProfile([]), press),
      id: `sx-${i + 1}`,
      sends: { kind: "sysex" as const, prefix },
    }));
    const profile = surfaceProfile([first!, second!]);
    const found = learn(heard([0xf0, 0x7d, 0x51, 0x22, 5, 9, 0xf7])).best!;
    expect(sameControl(profile, found.sends)?.id).toBe("sx-2");
    const other = learn(heard([0xf0, 0x7d, 0x51, 0x23, 5, 9, 0xf7])).best!;
    expect(sameControl(profile, other.sends)).toBeUndefined();
  });
  test("a full board grows at the bottom", () => {
    const full = surfaceProfile([learntControl(surfaceProfile([]), press)]);
    const box = freeBox(full, [1, 1]);
    expect(box).toEqual({ x: 0, y: 1, width: 1, height: 1 });
    const more = { ...full, controls: [...full.controls, { ...full.controls[0]!, id: "other", box }] };
    expect(grown(more).size).toEqual({ width: 1, height: 2 });
  });
  test("ids are never used twice, whatever was removed before", () => {
    const profile = surfaceProfile([{ ...learntControl(surfaceProfile([]), press), id: "pad-2" }]);
    expect(learntControl(profile, press).id).toBe("pad-3");
  });
});
