import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { f, Rig } from "../../../tests/rig/rig.ts";
import { fixed, level, mapping, shift, showWith } from "../../../tests/rig/shows.ts";
import type { Range } from "../format/desk-profile.ts";
import { type Curve, Shape } from "../format/shape.ts";
import { bentPart, bentShape, bentSteps, bentTravel, bentValue } from "./bent.ts";
import { curveFunction } from "./curves.ts";
import { takeoverState } from "./takeover.ts";
import {
  converged,
  fineTravel,
  newTimedState,
  plausibleMove,
  plausibleSteps,
  rateAllows,
  slewPart,
  thresholdPart,
} from "./timed.ts";

const unit = fc.double({ min: 0, max: 1, noNaN: true });
const rising: fc.Arbitrary<Curve> = fc.oneof(
  fc.constant<Curve>({ kind: "audio" }),
  fc.constant<Curve>({ kind: "s" }),
  fc
    .double({ min: -10, max: 10, noNaN: true })
    .filter((a) => Math.abs(a) > 1e-3)
    .map((amount): Curve => ({ kind: "exponential", amount })),
);
const range: Range = { from: -40, to: 1000, unit: "none" };
const decibels: Range = { from: -90, to: 10, unit: "dB" };
const plain: Shape = { input: [0, 1], invert: false };
const anyShape: fc.Arbitrary<Shape> = fc
  .record({
    a: unit,
    b: unit,
    invert: fc.boolean(),
    curve: fc.option(rising, { nil: undefined }),
    steps: fc.option(fc.integer({ min: 2, max: 1024 }), { nil: undefined }),
    dead: fc.option(fc.tuple(unit, fc.double({ min: 0.01, max: 0.9, noNaN: true })), { nil: undefined }),
    roundTo: fc.option(fc.constantFrom(0.5, 1, 7), { nil: undefined }),
    from: fc.double({ min: -40, max: 1000, noNaN: true }),
    to: fc.double({ min: -40, max: 1000, noNaN: true }),
  })
  .filter((s) => Math.abs(s.a - s.b) > 1e-3)
  .map((s) => ({
    input: [Math.min(s.a, s.b), Math.max(s.a, s.b)],
    invert: s.invert,
    output: [s.from, s.to],
    ...(s.curve ? { curve: s.curve } : {}),
    ...(s.steps ? { steps: s.steps } : {}),
    ...(s.dead ? { deadBand: { at: s.dead[0], width: s.dead[1] } } : {}),
    ...(s.roundTo ? { roundTo: s.roundTo } : {}),
  }));

describe("shapes that bend", () => {
  test("are exact at both ends of their range, whatever steps they have", () => {
    fc.assert(
      fc.property(anyShape, (shape) => {
        const bent = bentShape(shape, range);
        const ends = shape.invert ? [bent.end, bent.start] : [bent.start, bent.end];
        expect([bentValue(bent, shape.input[0]), bentValue(bent, shape.input[1])]).toEqual(ends);
        expect([bentValue(bent, 0), bentValue(bent, 1)]).toEqual(ends);
      }),
    );
  });
  test("never turn back on the way", () => {
    fc.assert(
      fc.property(anyShape, unit, unit, (shape, a, b) => {
        const bent = bentShape(shape, range);
        const [low, high] = [bentValue(bent, Math.min(a, b)), bentValue(bent, Math.max(a, b))];
        const up = shape.invert ? bent.end <= bent.start : bent.start <= bent.end;
        if (up) expect(low).toBeLessThanOrEqual(high + 1e-6);
        else expect(low).toBeGreaterThanOrEqual(high - 1e-6);
      }),
    );
  });
  test("backwards they find the travel that makes a value", () => {
    fc.assert(
      fc.property(rising, fc.double({ min: 0.05, max: 0.95, noNaN: true }), fc.boolean(), (curve, t, invert) => {
        const bent = bentShape({ ...plain, curve, invert }, range);
        const value = bentValue(bent, t);
        expect(bentValue(bent, bentTravel(bent, value))).toBeCloseTo(value, 3);
      }),
    );
  });
  test.each<[string, Partial<Shape>, Range, [travel: number, value: number][]]>([
    ["an S is half way in the middle", { curve: { kind: "s" } }, range, [[0.5, 480]]],
    [
      "exponential starts slowly",
      { curve: { kind: "exponential", amount: 4 } },
      { from: 0, to: 1, unit: "none" },
      [[0.5, 0.1192]],
    ],
    [
      "own points",
      {
        curve: {
          kind: "points",
          points: [
            [0, 0],
            [0.5, 0.9],
            [1, 1],
          ],
        },
      },
      { from: 0, to: 100, unit: "%" },
      [
        [0.25, 45],
        [0.75, 95],
      ],
    ],
    [
      "audio on dB: -10 at three quarters, -30 where the bottom quarter ends",
      { curve: { kind: "audio" } },
      decibels,
      [
        [0.75, 0],
        [0.5, -10],
        [0.25, -30],
        [0, -90],
      ],
    ],
    [
      "audio on an amplitude: -15 dB at three quarters",
      { curve: { kind: "audio" } },
      { from: 0, to: 1, unit: "none" },
      [[0.75, 0.177]],
    ],
    [
      "steps",
      { steps: 3 },
      { from: 0, to: 10, unit: "none" },
      [
        [0.2, 0],
        [0.3, 5],
        [0.9, 10],
      ],
    ],
    [
      "a dead band in the middle",
      { deadBand: { at: 0.5, width: 0.2 } },
      { from: -1, to: 1, unit: "none" },
      [
        [0.41, 0],
        [0.59, 0],
        [0.2, -0.5],
        [0.8, 0.5],
      ],
    ],
    [
      "a tempo as base and step",
      { output: { base: 60, step: 0.5 } },
      { from: 20, to: 300, unit: "bpm" },
      [
        [0, 60],
        [1 / 127, 60.5],
        [1, 123.5],
      ],
    ],
    [
      "rounding",
      { output: [0, 10], roundTo: 4 },
      { from: 0, to: 10, unit: "none" },
      [
        [0.5, 4],
        [1, 10],
      ],
    ],
  ])("%s", (_name, shape, unitRange, wanted) => {
    const bent = bentShape({ ...plain, ...shape }, unitRange);
    for (const [travel, value] of wanted) expect(bentValue(bent, travel)).toBeCloseTo(value, 3);
  });
  test("outside of its input range nothing is sent, where that is ignored", () => {
    const bent = bentShape({ ...plain, input: [0.2, 0.8], outside: "ignore" }, range);
    expect([bentValue(bent, 0.1), bentValue(bent, 0.2), bentValue(bent, 0.9)]).toEqual([Number.NaN, -40, Number.NaN]);
  });
  test("every curve runs from 0 to 1", () => {
    fc.assert(
      fc.property(rising, fc.boolean(), (curve, db) => {
        const c = curveFunction(curve, db ? [-20, 10] : null);
        expect([c(0), c(1)]).toEqual([0, 1]);
      }),
    );
  });
  test.each<[unknown, string]>([
    [{ ...plain, input: [0.5, 0.5] }, "input-rising"],
    [
      {
        ...plain,
        curve: {
          kind: "points",
          points: [
            [0, 0],
            [0.5, 1],
          ],
        },
      },
      "curve-points",
    ],
    [{ ...plain, curve: { kind: "points", points: [] } }, ">=2"],
    [{ ...plain, curve: { kind: "exponential", amount: 0 } }, "exponent-not-0"],
    [{ ...plain, steps: 1 }, ">=2"],
    [{ ...plain, ratePerS: 0 }, ">=1"],
    [{ ...plain, slewPerS: -1 }, ">0"],
  ])("%j is refused", (shape, wanted) => {
    const parsed = Shape.safeParse(shape);
    expect(parsed.success ? "" : parsed.error.issues.map((i) => i.message).join()).toContain(wanted);
  });
});

describe("shapes that remember", () => {
  test("the threshold switches once on each side, with room between", () => {
    const state = newTimedState();
    const says = [0.1, 0.5, 0.56, 0.52, 0.46, 0.44, 0.5].map((p) =>
      thresholdPart(state, p, { at: 0.5, hysteresis: 0.1 }),
    );
    expect(says).toEqual([0, Number.NaN, 1, Number.NaN, Number.NaN, 0, Number.NaN]);
  });
  test("slew never goes faster than it may, and always arrives", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(unit, fc.integer({ min: 0, max: 200 })), { minLength: 1 }), (moves) => {
        const state = newTimedState();
        let atMs = 0;
        let before = slewPart(state, 0.5, 2, 0);
        for (const [goal, waitMs] of moves) {
          atMs += waitMs;
          const now = slewPart(state, goal, 2, atMs);
          expect(Math.abs(now - before)).toBeLessThanOrEqual((2 * waitMs) / 1000 + 1e-9);
          before = now;
        }
        expect(slewPart(state, state.goal, 2, atMs + 500)).toBe(state.goal);
      }),
    );
  });
  test("the rate lets the first through, and then one in its time", () => {
    const state = newTimedState();
    expect([0, 10, 49, 50, 99, 101].map((ms) => rateAllows(state, 20, ms))).toEqual([
      true,
      false,
      false,
      true,
      false,
      true,
    ]);
  });
  test("a worn encoder: one click back in the middle of a turn is thrown away, a real turn back is not", () => {
    const state = newTimedState();
    const turn = (steps: number, ms: number) => plausibleSteps(state, steps, 200, ms);
    expect([turn(1, 0), turn(1, 10), turn(-1, 20), turn(1, 30)]).toEqual([1, 1, 0, 1]);
    expect([turn(-1, 40), turn(-1, 50), turn(-1, 60)]).toEqual([0, -1, -1]);
    expect(turn(60, 500)).toBe(60);
    expect(turn(60, 510)).toBe(0); // six thousand a second
  });
  test("a jump of a worn potentiometer is thrown away, and believed when it stays", () => {
    const state = newTimedState();
    const move = (travel: number, ms: number) => {
      const ok = plausibleMove(state, travel, 5, ms);
      if (ok) Object.assign(state, { travel, movedAtMs: ms });
      return ok;
    };
    expect([move(0.5, 0), move(0.52, 20), move(0.99, 40), move(0.54, 60)]).toEqual([true, true, false, true]);
    expect([move(0.99, 70), move(0.98, 80)]).toEqual([false, true]);
  });
  test("fine moves are small, start where the value is, and the ends still meet afterwards", () => {
    const state = newTimedState();
    const at = (travel: number, fine: boolean) => fineTravel(state, travel, 0.1, fine);
    expect(at(0.5, false)).toBe(0.5);
    expect(at(0.7, true)).toBeCloseTo(0.52);
    expect(at(0.6, true)).toBeCloseTo(0.51);
    const back = at(0.65, false);
    expect(back).toBeGreaterThan(0.51);
    expect(back).toBeLessThan(0.65);
    expect([at(1, false), at(0, false)]).toEqual([1, 0]);
  });
});

describe("rule 9: converge", () => {
  test("both ends meet, and the level never moves against the hand", () => {
    fc.assert(
      fc.property(unit, unit, unit, (before, now, level) => {
        const next = converged(before, now, level);
        expect(next).toBeGreaterThanOrEqual(0);
        expect(next).toBeLessThanOrEqual(1);
        if (now > before) expect(next).toBeGreaterThanOrEqual(level - 1e-9);
        if (now < before) expect(next).toBeLessThanOrEqual(level + 1e-9);
        if (before < 1) expect(converged(before, 1, level)).toBeCloseTo(1);
        if (before > 0) expect(converged(before, 0, level)).toBeCloseTo(0);
      }),
    );
  });
  test("through the whole path: proportional until they meet, then together", () => {
    const rig = Rig.onPage(1, showWith([mapping("fader-1", level(1), { takeover: "converge" })]));
    rig.desk("/now/playback/1/1/level", f(0.8)).move("fader-1", 0); // never heard before: it has not moved yet
    expect(rig.sent()).toEqual([]);
    expect(rig.move("fader-1", 64).sent()).toEqual(["/set/playback/1/1/level 0.9008"]);
    expect(rig.move("fader-1", 127).move("fader-1", 120).sent()).toEqual([
      "/set/playback/1/1/level 1",
      "/set/playback/1/1/level 0.9449",
    ]);
  });
  test("where a control stands against its level can be read", () => {
    expect([takeoverState(0.2, 0.5, false), takeoverState(0.75, 0.5, false), takeoverState(0.2, 0.5, true)]).toEqual([
      { state: "below", away: 0.3 },
      { state: "above", away: 0.25 },
      { state: "caught", away: 0 },
    ]);
    expect(takeoverState(-1, 0.5, false).state).toBe("caught");
  });
});

describe("shapes on their way to the desk", () => {
  const shaped = (shape: Partial<Shape>) =>
    Rig.onPage(
      1,
      showWith([
        mapping("fader-1", level(1, undefined, { shape: { ...plain, ...shape } }), { takeover: "jump" }),
        mapping("shift", shift()),
      ]),
    );
  test("slew moves on by itself, and arrives", () => {
    const rig = shaped({ slewPerS: 2 }).move("fader-1", 0).move("fader-1", 127);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 0", "/set/playback/1/1/level 0"]);
    const way = rig
      .wait(600)
      .sent()
      .map((t) => Number(t.split(" ")[1]));
    expect(way.at(-1)).toBe(1);
    expect(way.length).toBeGreaterThan(20);
    expect(way).toEqual([...way].sort((a, b) => a - b));
    expect(rig.wait(500).sent()).toEqual([]);
  });
  test("an edit does not leave a value on its way", () => {
    const rig = shaped({ slewPerS: 0.1 }).move("fader-1", 0).move("fader-1", 127);
    rig.sent();
    rig.edit((s) => ({ ...s, name: "Other" }));
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 1"]);
  });
  test("rate: the newest wins, and the last value always follows", () => {
    const rig = shaped({ ratePerS: 10 });
    for (let v = 0; v < 100; v++) rig.move("fader-1", v);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 0"]);
    expect(rig.wait(120).sent()).toEqual(["/set/playback/1/1/level 0.7795"]);
    expect(rig.wait(500).sent()).toEqual([]);
  });
  test("fine while a layer is up", () => {
    const rig = shaped({ fine: { factor: 0.1, while: { layer: "shift" } } })
      .move("fader-1", 64)
      .press("shift")
      .move("fader-1", 127);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 0.5039", "/set/playback/1/1/level 0.5535"]);
  });
  test("a threshold sends the ends only, and says why it sends nothing between", () => {
    const rig = shaped({ threshold: { at: 0.5, hysteresis: 0.1 } })
      .move("fader-1", 0)
      .move("fader-1", 127);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 0", "/set/playback/1/1/level 1"]);
    rig.rows();
    rig.move("fader-1", 120);
    expect([rig.sent(), rig.became()]).toEqual([[], ["shaped"]]);
  });
  test("catch meets the level where the curve puts it", () => {
    const shape: Shape = { ...plain, curve: { kind: "exponential", amount: 4 } };
    const rig = Rig.onPage(1, showWith([mapping("fader-1", level(1, fixed(1), { shape }))]));
    rig.desk("/now/playback/1/1/level", f(0.1192)).move("fader-1", 40).move("fader-1", 60);
    expect(rig.sent()).toEqual([]); // 0.1192 lies at half of the travel
    expect(rig.move("fader-1", 66).sent()).toHaveLength(1);
  });
});

describe("the steps of a shape, one after the other", () => {
  test("each that changes something says what it makes of the value", () => {
    const shape = bentShape({ input: [0.5, 1], invert: true, curve: { kind: "s" }, steps: 3 }, range);
    expect(bentSteps(shape, 0.6)).toEqual([
      { step: "travel", part01: expect.closeTo(0.2) },
      { step: "invert", part01: expect.closeTo(0.8) },
      { step: "curve", part01: expect.closeTo(0.896) },
      { step: "steps", part01: 1 },
    ]);
    expect(bentSteps(bentShape(plain, range), 0.6)).toEqual([]);
    expect(bentSteps(bentShape({ ...plain, input: [0.5, 1], outside: "ignore" }, range), 0.2)).toEqual([]);
  });
  test("the last of them is what comes out", () => {
    fc.assert(
      fc.property(anyShape, unit, (shape, travel) => {
        const bent = bentShape(shape, range);
        const last = bentSteps(bent, travel).at(-1);
        if (last) expect(last.part01).toBe(bentPart(bent, travel));
        else if (shape.outside !== "ignore") expect(bentPart(bent, travel)).toBeCloseTo(travel, 9);
      }),
    );
  });
});
