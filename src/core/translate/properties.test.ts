import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { i, Rig } from "../../../tests/rig/rig.ts";
import {
  action,
  fixed,
  flash,
  house,
  level,
  mapping,
  page,
  shift,
  showWith,
  toggle,
} from "../../../tests/rig/shows.ts";
import type { Mapping, Show } from "../format/show.ts";

type Step =
  | { do: "press"; pad: number }
  | { do: "release"; pad: number }
  | { do: "wait"; ms: number }
  | { do: "page"; page: number }
  | { do: "edit"; n: number };

const pads = [1, 2, 3, 4, 5, 6];
const base: Mapping[] = [
  mapping("pad-1", flash(1)),
  mapping("pad-2", flash(2), { gesture: "hold" }),
  mapping("pad-2", flash(3), { id: "m-2b", gesture: "tap" }),
  mapping("pad-3", level(4), { gesture: "while-held" }),
  mapping("pad-4", [{ ...flash(5), delayMs: 90 }, flash(6)]),
  mapping(
    "pad-5",
    [
      { ...flash(7), set: 1 },
      { ...flash(8), set: 2 },
    ],
    { order: "in-turn" },
  ),
  mapping("pad-6", shift()),
  mapping("pad-1", flash(9), { id: "m-1b", layers: ["shift"] }),
];
const shows: ((show: Show) => Show)[] = [
  (s) => ({ ...s, mappings: base }),
  (s) => ({ ...s, mappings: base.slice(2) }),
  (s) => ({ ...s, mappings: base.map((m) => ({ ...m, on: m.id !== "m-pad-1" })) }),
  (s) => ({
    ...s,
    mappings: base.map((m) => ({
      ...m,
      actions: m.actions.map((a) => ({
        ...a,
        bindings: a.desk === "house" ? a.bindings : { page, playback: fixed(11) },
      })),
    })),
  }),
  (s) => ({ ...s, mappings: [] }),
];
const step: fc.Arbitrary<Step> = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.oneof(
      fc.record({ do: fc.constant("press" as const), pad: fc.constantFrom(...pads) }),
      fc.record({ do: fc.constant("release" as const), pad: fc.constantFrom(...pads) }),
    ),
  },
  { weight: 2, arbitrary: fc.record({ do: fc.constant("wait" as const), ms: fc.integer({ min: 1, max: 600 }) }) },
  fc.record({ do: fc.constant("page" as const), page: fc.integer({ min: 1, max: 9 }) }),
  fc.record({ do: fc.constant("edit" as const), n: fc.nat(shows.length - 1) }),
);

function play(rig: Rig, s: Step): void {
  switch (s.do) {
    case "press":
      rig.press(`pad-${s.pad}`);
      return;
    case "release":
      rig.release(`pad-${s.pad}`);
      return;
    case "wait":
      rig.wait(s.ms);
      return;
    case "page":
      rig.desk("/now/page", i(s.page));
      return;
    case "edit":
      rig.edit(shows[s.n]!);
      return;
    default:
      s satisfies never;
  }
}

describe("rule 6, whatever happens in between", () => {
  test("no edit, page change or gesture ever leaves a press without its release", () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
        const rig = Rig.onPage(1, showWith(base));
        const on = new Map<string, number>();
        const count = () => {
          for (const text of rig.sent()) {
            const [address, value] = text.split(" ");
            on.set(address!, Number(value));
          }
        };
        for (const s of steps) {
          play(rig, s);
          count();
        }
        for (const pad of pads) rig.release(`pad-${pad}`);
        rig.wait(2000);
        count();
        expect([...on].filter(([, value]) => value !== 0)).toEqual([]);
        expect(rig.translator.world.held.list()).toEqual([]);
        expect(rig.translator.world.layers.held).toEqual([]);
        expect(rig.translator.world.delays.size).toBe(0);
      }),
      { numRuns: 300 },
    );
  });
});

describe("rule 19: what is shed under load", () => {
  test("never a press, a release or the last value of a move, and the order per parameter stays", () => {
    const show = showWith([
      mapping("fader-1", level(1), { takeover: "jump" }),
      mapping("fader-2", level(2), { takeover: "jump" }),
      mapping("pad-1", toggle(3)),
      mapping("pad-2", flash(4)),
    ]);
    const move = fc.record({ fader: fc.constantFrom(1, 2), value: fc.nat(127), press: fc.boolean() });
    fc.assert(
      fc.property(fc.array(move, { minLength: 1, maxLength: 60 }), (moves) => {
        const rig = Rig.onPage(1, show);
        // Empties the desk's budget first, so that every value after it is at the guard's mercy.
        for (let n = 0; n < 6000; n++) rig.move("fader-1", n % 2);
        rig.sent();
        let presses = 0;
        const wanted = new Map<number, number>();
        for (const m of moves) {
          rig.move(`fader-${m.fader}`, m.value);
          wanted.set(m.fader, m.value);
          if (!m.press) continue;
          rig.tap("pad-2");
          presses++;
        }
        rig.wait(300);
        const sent = rig.sent();
        expect(sent.filter((t) => t.startsWith("/set/playback/1/4/flash"))).toEqual(
          Array.from({ length: presses * 2 }, (_, n) => `/set/playback/1/4/flash ${1 - (n % 2)}`),
        );
        for (const [fader, value] of wanted) {
          const own = sent.filter((t) => t.startsWith(`/set/playback/1/${fader}/level`));
          expect(Number(own.at(-1)!.split(" ")[1])).toBeCloseTo(value / 127, 3);
        }
      }),
      { numRuns: 25 },
    );
  });
});

describe("rule 1, through the whole path", () => {
  test("no bytes make it throw, and all of them are told", () => {
    const show = showWith([
      ...base,
      mapping("fader-1", level(1)),
      mapping("pad-9", house("tempo.tap")),
      mapping(
        "keys",
        action("k", "playback.flash", { page: fixed(1), playback: { from: "message", part: "number", offset: 0 } }),
        { control: "keys", message: { kind: "any", of: "note", channels: [1, 16], numbers: [0, 127] } },
      ),
    ]);
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ maxLength: 40 }), { maxLength: 20 }), (pieces) => {
        const rig = Rig.onPage(1, show);
        for (const bytes of pieces) rig.bytes(bytes).wait(7);
        expect(rig.rows().every((r) => Number.isFinite(r.code))).toBe(true);
      }),
    );
  });
});

describe("rule 10, for what takes its time", () => {
  test("a slew goes on to the page it was started on, and the next page's level is not touched", () => {
    const slow = { shape: { input: [0, 1] as [number, number], invert: false, slewPerS: 2 } };
    const rig = Rig.onPage(1, showWith([mapping("fader-1", level(1, page, slow), { takeover: "jump" })]));
    rig.move("fader-1", 0).move("fader-1", 127).wait(100).sent();
    rig.desk("/now/page", i(2)).wait(700);
    const sent = rig.sent();
    expect(sent.every((t) => t.startsWith("/set/playback/1/1/level"))).toBe(true);
    expect(sent.at(-1)).toBe("/set/playback/1/1/level 1");
  });
  test("a value the budget held back goes to the page that was up when the hand moved", () => {
    const rig = Rig.onPage(1, showWith([mapping("fader-1", level(1), { takeover: "jump" })]));
    for (let n = 0; n < 6000; n++) rig.move("fader-1", n % 2);
    rig.move("fader-1", 127).sent();
    rig.desk("/now/page", i(2)).wait(100);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 1"]);
  });
});
