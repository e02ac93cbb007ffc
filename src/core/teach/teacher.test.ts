/** Twelve invented units, each as its cable would tell it, and what is drawn of them. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { ControlMessage } from "../format/surface-profile.ts";
import type { HeardMessage } from "../surface/learn.ts";
import { type Judgement, RESTED_MS, Teacher } from "./teacher.ts";

/** A unit under the hands: it tells what they do, at its own time. */
class Unit {
  nowMs = 0;
  readonly messages: HeardMessage[] = [];

  say(...bytes: number[]): this {
    this.messages.push({ source: "unit", atMs: this.nowMs, bytes: Uint8Array.from(bytes) });
    return this;
  }
  wait(ms: number): this {
    this.nowMs += ms;
    return this;
  }
  /** A note that is struck and let go. */
  strike(note: number, { velocity = 100, heldMs = 90, channel = 1, zero = false } = {}): this {
    this.say(0x90 | (channel - 1), note, velocity).wait(heldMs);
    return zero ? this.say(0x90 | (channel - 1), note, 0) : this.say(0x80 | (channel - 1), note, 64);
  }
  /** A controller that goes through these values, one every `everyMs`. */
  move(number: number, values: readonly number[], everyMs = 12, channel = 1): this {
    for (const v of values) this.say(0xb0 | (channel - 1), number, v).wait(everyMs);
    return this;
  }
  judged(restMs = RESTED_MS + 50): Judgement {
    const teacher = new Teacher();
    for (const m of this.messages) teacher.hear(m);
    return teacher.judge(this.nowMs + restMs);
  }
}

const up = (from: number, to: number, step = 3) =>
  Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, i) => from + i * step);
const ready = ({ shown }: Judgement) => shown.filter((s) => s.isReady);
const one = (judgement: Judgement) => {
  expect(ready(judgement)).toHaveLength(1);
  const { found, behaviour, evidence } = ready(judgement)[0]!;
  return { kind: found.kind, sends: found.sends, behaviour, evidence };
};
const note = (number: number, channel = 1): ControlMessage => ({ kind: "note", channel, number });
const controller = (number: number, channel = 1): ControlMessage => ({ kind: "controller", channel, number });

describe("what a unit shows of itself", () => {
  test("1: pads that spring back, with velocity", () => {
    const shown = ready(new Unit().strike(36).wait(200).strike(37, { velocity: 61 }).judged());
    expect(shown.map((s) => s.found.sends)).toEqual([note(36), note(37)]);
    expect(shown.map((s) => s.behaviour)).toEqual(["springs-back", "springs-back"]);
    expect(shown[0]!.evidence).toMatchObject({ releasedAfterMs: 90, high: 100, zeroVelocity: false });
  });
  test("2: releases of velocity 0, in running status: taps of 0 ms too", () => {
    const tap = one(new Unit().strike(40, { heldMs: 0, zero: true, channel: 10 }).judged());
    expect(tap).toMatchObject({ sends: note(40, 10), behaviour: "springs-back" });
    expect(tap.evidence).toMatchObject({ zeroVelocity: true, releasedAfterMs: 0 });
  });
  test("3: pads that latch: the release comes with the next press", () => {
    const unit = new Unit().say(0x90, 36, 127);
    expect(one(unit.judged(200)).behaviour).toBe("springs-back"); // it may still be held
    expect(one(unit.judged(1600)).behaviour).toBe("latches");
    expect(one(unit.wait(2500).say(0x80, 36, 0).judged()).behaviour).toBe("latches");
  });
  test("4: pads that say only that they were pressed", () => {
    const unit = new Unit().say(0x90, 36, 127).wait(900).say(0x90, 36, 127);
    expect(one(unit.judged(1600)).behaviour).toBe("one-shot");
  });
  test("5: buttons that send a controller, 127 and 0", () => {
    const unit = new Unit().move(20, [127, 0], 80);
    expect(one(unit.judged())).toMatchObject({ kind: "button", sends: controller(20), behaviour: "springs-back" });
  });
  test("6: faders of 7 bits, also where one is only nudged", () => {
    expect(one(new Unit().move(7, up(0, 120)).judged())).toMatchObject({ kind: "fader", behaviour: "absolute" });
    expect(one(new Unit().move(7, [60, 62, 65, 68, 70], 30).judged())).toMatchObject({ sends: controller(7) });
  });
  test("7: faders of 14 bits: two controllers that always come together", () => {
    const unit = new Unit();
    for (let v = 0; v < 16_000; v += 500)
      unit
        .say(0xb0, 1, v >> 7)
        .say(0xb0, 33, v & 127)
        .wait(10);
    expect(one(unit.judged())).toMatchObject({
      kind: "fader",
      sends: { kind: "controller-14", channel: 1, number: 1 },
    });
  });
  test("8: faders that send pitch bend, each on its own channel", () => {
    const unit = new Unit();
    for (const channel of [1, 2])
      for (let v = 0; v < 16_000; v += 700) unit.say(0xe0 | (channel - 1), v & 127, v >> 7).wait(9);
    expect(ready(unit.judged()).map((s) => s.found.sends)).toEqual([
      { kind: "bend", channel: 1 },
      { kind: "bend", channel: 2 },
    ]);
  });
  test.each([
    ["twos-complement", 1, 127],
    ["sign-bit", 1, 65],
    ["offset-64", 65, 63],
  ] as const)("9: encoders of %s, once they were turned both ways", (encoding, right, left) => {
    const unit = new Unit().move(16, [right, right, right], 40).move(16, [left, left, left], 40);
    expect(one(unit.judged())).toMatchObject({
      kind: "encoder",
      sends: { kind: "relative", channel: 1, number: 16, encoding },
      behaviour: "relative",
    });
  });
  test("9b: one click right and one left is not a fader yet", () => {
    expect(ready(new Unit().move(16, [1, 127], 200).judged())).toEqual([]);
  });
  test("10: program changes, each its own button, and transport keys", () => {
    const unit = new Unit().say(0xc0, 0).wait(300).say(0xc0, 5).wait(300).say(0xfa);
    expect(ready(unit.judged()).map((s) => [s.found.sends, s.behaviour])).toEqual([
      [{ kind: "program", channel: 1, number: 0 }, "one-shot"],
      [{ kind: "program", channel: 1, number: 5 }, "one-shot"],
      [{ kind: "transport", message: "start" }, "one-shot"],
    ]);
  });
  test("11: a knob that will not stand still is named and left out, while another is moved", () => {
    const unit = new Unit();
    for (let i = 0; i < 60; i++) {
      unit.say(0xb0, 7, 63 + (i % 2)).wait(40);
      if (i % 2 === 0) unit.say(0xb0, 21, i * 2).wait(10);
    }
    const judgement = unit.judged();
    expect(one(judgement).sends).toEqual(controller(21));
    expect(judgement.restless.map((r) => r.sends)).toEqual([controller(7)]);
    expect(judgement.restless[0]!.perS).toBeGreaterThan(10);
  });
  test("11b: it is drawn all the same where that is asked for", () => {
    const unit = new Unit().move(
      7,
      Array.from({ length: 30 }, (_, i) => 63 + (i % 2)),
      80,
    );
    const teacher = new Teacher();
    for (const m of unit.messages) teacher.hear(m);
    const { restless } = teacher.judge(unit.nowMs);
    teacher.allow(`unit ${JSON.stringify(restless[0]!.sends)}`);
    expect(teacher.judge(unit.nowMs).restless).toEqual([]);
  });
  test("12: what sends its clock all the time shows nothing by that", () => {
    const unit = new Unit();
    for (let i = 0; i < 200; i++) unit.say(0xf8).wait(20).say(0xfe);
    expect(unit.strike(36).judged()).toMatchObject({ shown: [{ found: { sends: note(36) } }], restless: [] });
  });
});

describe("a guess grows with what is heard", () => {
  test("a controller at its end is a fader once it moves on", () => {
    const unit = new Unit().move(20, [127], 10);
    expect(one(unit.judged()).kind).toBe("button");
    expect(one(unit.move(20, up(10, 126).reverse()).judged()).kind).toBe("fader");
  });
  test("an encoder of one way becomes sure by the other", () => {
    const unit = new Unit().move(16, [1, 1, 2, 1], 30);
    expect(one(unit.judged()).kind).toBe("encoder");
    expect(one(unit.wait(800).move(16, [65, 66, 65], 30).judged()).sends).toMatchObject({ encoding: "sign-bit" });
  });
  test("a burst of four pads at once is four pads", () => {
    const unit = new Unit();
    for (const n of [36, 37, 38, 39]) unit.say(0x90, n, 127);
    for (const n of [36, 37, 38, 39]) unit.say(0x90, n, 0);
    expect(ready(unit.judged()).map((s) => s.found.sends)).toEqual([36, 37, 38, 39].map((n) => note(n)));
  });
  test("no bytes make it throw, and every answer has evidence", () => {
    const message = fc.tuple(fc.integer({ min: 0x80, max: 0xff }), fc.nat(127), fc.nat(127), fc.nat(400));
    fc.assert(
      fc.property(fc.array(message, { maxLength: 60 }), (all) => {
        const unit = new Unit();
        for (const [status, d1, d2, ms] of all) unit.wait(ms).say(status, d1, d2);
        const { shown } = unit.judged();
        return shown.every((s) => s.evidence.count > 0 && s.evidence.low <= s.evidence.high);
      }),
      { numRuns: 500 },
    );
  });
});
