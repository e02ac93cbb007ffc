import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { f, i, Rig } from "../../../tests/rig/rig.ts";
import { flash, go, jump, level, mapping, showWith, synth, toggle } from "../../../tests/rig/shows.ts";
import type { Route } from "../format/show.ts";

const teaching = (rig: Rig, on = true) => {
  rig.translator.world.teaches = on;
  return rig;
};

describe("rule 26: hands teach or hands play", () => {
  test("while they teach, a press, a move and a turn are heard and told, and nothing leaves", () => {
    const show = showWith([mapping("pad-1", toggle(1)), mapping("fader-1", level(1), jump)]);
    const rig = teaching(Rig.onPage(1, show));
    rig.rows();
    expect(rig.tap("pad-1").move("fader-1", 90).wait(50).sent()).toEqual([]);
    expect(rig.became()).toEqual(["taught", "released", "taught"]);
    const deck = rig.translator.world.surfaces[0]!;
    expect(deck.position(deck.compiled.indexOf.get("fader-1")!)).toBeCloseTo(90 / 127, 5);
  });
  test("what was held when they began to teach is let go as ever", () => {
    const rig = Rig.onPage(1, showWith([mapping("pad-1", flash(1))])).press("pad-1");
    rig.sent();
    expect(teaching(rig).release("pad-1").sent()).toEqual(["/set/playback/1/1/flash 0"]);
  });
  test("what was pressed while they taught does nothing when it is let go, though they play by then", () => {
    const show = showWith([mapping("pad-1", go(1), { gesture: "release" }), mapping("pad-2", toggle(2))]);
    const rig = teaching(Rig.onPage(1, show)).press("pad-1");
    expect(teaching(rig, false).release("pad-1").sent()).toEqual([]);
    expect(rig.tap("pad-1").tap("pad-2").sent()).toEqual(["/set/playback/1/1/go", "/set/playback/1/2/on 1"]);
  });
  test("a fader on its way plays again only when it has rested, and has its level to catch first", () => {
    const rig = Rig.onPage(1, showWith([mapping("fader-1", level(1))]));
    rig.desk("/now/playback/1/1/level", f(0.5)).move("fader-1", 60).move("fader-1", 66);
    expect(rig.sent()).toHaveLength(1); // it has caught
    teaching(rig).move("fader-1", 90);
    teaching(rig, false).wait(100).move("fader-1", 100);
    expect(rig.sent()).toEqual([]);
    rig.wait(400).rows();
    expect(rig.move("fader-1", 110).sent()).toEqual([]);
    expect(rig.became()).toEqual(["waitingToCatch"]);
    rig.move("fader-1", 10);
    expect(rig.sent()).toHaveLength(1);
  });
  test("routes pass nothing on, but end what they passed on", () => {
    const route: Route = { id: "r", name: "r", on: true, from: "deck", to: "synth", pass: "all" };
    const rig = new Rig(showWith([], { desks: [synth], routes: [route] }), { links: false });
    rig.hex("90 3C 40");
    expect(rig.sent()).toEqual(["90 3C 40"]);
    teaching(rig).hex("90 3E 40 80 3C 00 80 3E 00 B0 07 10");
    expect(rig.sent()).toEqual(["80 3C 00"]);
  });
  test("whatever hands do while they teach, no desk hears of it, then or later", () => {
    const show = showWith([
      mapping("pad-1", toggle(1)),
      mapping("pad-2", go(2), { gesture: "tap" }),
      mapping("pad-3", go(3), { gesture: "hold" }),
      mapping("pad-4", { ...go(4), delayMs: 50 }),
      mapping("pad-5", flash(5)),
      mapping("fader-1", level(1), jump),
    ]);
    const deed = fc.oneof(
      fc.record({ does: fc.constantFrom("press", "release"), on: fc.constantFrom(1, 2, 3, 4, 5) }),
      fc.record({ does: fc.constant("move"), on: fc.nat(127) }),
      fc.record({ does: fc.constant("wait"), on: fc.nat(600) }),
    );
    fc.assert(
      fc.property(fc.array(deed, { maxLength: 30 }), (deeds) => {
        const rig = teaching(Rig.onPage(1, show));
        for (const { does, on } of deeds) {
          if (does === "press") rig.press(`pad-${on}`);
          else if (does === "release") rig.release(`pad-${on}`);
          else if (does === "move") rig.move("fader-1", on);
          else rig.wait(on);
        }
        for (const n of [1, 2, 3, 4, 5]) teaching(rig, false).release(`pad-${n}`);
        return rig.wait(1000).sent().length === 0;
      }),
      { numRuns: 200 },
    );
  });
  test("what the desk says is shown meanwhile", () => {
    const rig = teaching(Rig.onPage(1, showWith([mapping("pad-1", toggle(1))])));
    rig.desk("/now/playback/1/1/on", i(1)).wait(20);
    expect(rig.drawn().length).toBeGreaterThan(0);
  });
});
