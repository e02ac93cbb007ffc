import { describe, expect, test } from "vitest";
import { DeviceActivity } from "./device-activity.ts";

function framed() {
  const frames: (() => void)[] = [];
  const activity = new DeviceActivity((work) => frames.push(work));
  return {
    activity,
    draw() {
      for (const work of frames.splice(0)) work();
    },
    frames,
  };
}

describe("the activity of devices", () => {
  test("is told once a frame, however much came", () => {
    const { activity, draw } = framed();
    let told = 0;
    activity.watch(() => told++);
    for (let i = 1; i <= 500; i++) activity.heard("Deck grid", 1, i);
    expect(told).toBe(0);
    draw();
    expect(told).toBe(1);
    expect(activity.times("Deck grid", 1)).toEqual({ heardAtMs: 500, sentAtMs: 0 });
    activity.sent("Deck grid", 1, 501);
    draw();
    expect(told).toBe(2);
    expect(activity.times("Deck grid", 1)).toEqual({ heardAtMs: 500, sentAtMs: 501 });
  });

  test("two devices of one name are two, and the times of one that is quiet stay the same object", () => {
    const { activity } = framed();
    activity.heard("Deck grid", 2, 7);
    const quiet = activity.times("Deck grid", 1);
    activity.heard("Deck grid", 2, 8);
    expect(activity.times("Deck grid", 1)).toBe(quiet);
    expect(activity.times("Deck grid", 2).heardAtMs).toBe(8);
  });

  test("nobody is told who no longer watches, and no frame is asked for where nobody does", () => {
    const { activity, draw, frames } = framed();
    const stop = activity.watch(() => expect.unreachable());
    activity.heard("Deck grid", 1, 1);
    stop();
    draw();
    activity.heard("Deck grid", 1, 2);
    expect(frames).toHaveLength(0);
  });
});
