import { describe, expect, test } from "vitest";
import { f, i, Rig } from "../../../tests/rig/rig.ts";
import {
  action,
  fixed,
  flash,
  go,
  house,
  jump,
  level,
  mapping,
  page,
  profiles,
  showWith,
  toggle,
  went,
} from "../../../tests/rig/shows.ts";
import { applyEdit, applyStoredPatches } from "../edit/edits.ts";
import type { Binding } from "../format/shape.ts";
import type { Mapping, Show } from "../format/show.ts";
import { compileShow } from "../mapping/compile.ts";
import { pressBytes } from "../surface/press-bytes.ts";

describe("rule 11: several actions, in order, now or later", () => {
  test("a delay puts an action behind those that have none, and keeps its release behind it", () => {
    const show = showWith([mapping("pad-1", [{ ...flash(1), delayMs: 100 }, flash(2)])]);
    const rig = Rig.onPage(1, show).press("pad-1").wait(20).release("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/2/flash 1", "/set/playback/1/2/flash 0"]);
    expect(rig.wait(200).sent()).toEqual(["/set/playback/1/1/flash 1", "/set/playback/1/1/flash 0"]);
  });
  test("what waits goes where it was meant to, whatever page is up and whatever was edited", () => {
    const show = showWith([mapping("pad-1", { ...toggle(1), delayMs: 100 })]);
    const rig = Rig.onPage(1, show).tap("pad-1").desk("/now/page", i(2));
    rig.edit((s) => ({ ...s, mappings: [] }));
    expect(rig.wait(120).sent()).toEqual(["/set/playback/1/1/on 1"]);
  });
  test("“release everything” does not wait", () => {
    const rig = Rig.onPage(1, showWith([mapping("pad-1", { ...flash(1), delayMs: 500 })]))
      .press("pad-1")
      .wait(600);
    rig.release("pad-1").sent();
    rig.translator.releaseAll(rig.nowMs);
    expect(rig.sent()).toEqual(["/set/playback/1/1/flash 0"]);
    expect(rig.wait(1000).sent()).toEqual([]);
  });
});

describe("sets of actions", () => {
  const sets = (order: Mapping["order"], n = 3) =>
    mapping(
      "pad-1",
      Array.from({ length: n }, (_, k) => ({ ...go(k + 1), set: k + 1 })),
      order ? { order } : {},
    );
  const taps = (rig: Rig, n: number) => {
    for (let k = 0; k < n; k++) rig.tap("pad-1");
    return rig.sent();
  };
  test("in turn: the first press these, the second those, and again from the first", () => {
    expect(taps(Rig.onPage(1, showWith([sets("in-turn")])), 4)).toEqual(went(1, 2, 3, 1));
  });
  test("in turn, then no further, with the reason", () => {
    const rig = Rig.onPage(1, showWith([sets("in-turn-stop", 2)]));
    expect(taps(rig, 4)).toEqual(went(1, 2));
    rig.rows();
    rig.press("pad-1");
    expect(rig.became()).toEqual(["endOfList"]);
  });
  test("next and previous from other controls step through the same list", () => {
    const show = showWith([
      sets("in-turn"),
      mapping("pad-2", house("mapping.next", {}, { target: "m-pad-1" })),
      mapping("pad-3", house("mapping.previous", {}, { target: "m-pad-1" })),
    ]);
    const rig = Rig.onPage(1, show).tap("pad-2").tap("pad-2").tap("pad-3").tap("pad-3").tap("pad-1");
    expect(rig.sent()).toEqual(went(1, 2, 1, 3, 1));
  });
  test("a release goes to the set its press started", () => {
    const show = showWith([
      mapping(
        "pad-1",
        [
          { ...flash(1), set: 1 },
          { ...flash(2), set: 2 },
        ],
        { order: "in-turn" },
      ),
    ]);
    expect(Rig.onPage(1, show).tap("pad-1").tap("pad-1").sent()).toEqual([
      "/set/playback/1/1/flash 1",
      "/set/playback/1/1/flash 0",
      "/set/playback/1/2/flash 1",
      "/set/playback/1/2/flash 0",
    ]);
  });
  test("random: any of them, the same for the same seed, and each of them in the long run", () => {
    const show = showWith([sets("random")]);
    const run = (seed: number) => taps(Rig.onPage(1, show, { links: false, seed }), 60);
    expect(run(7)).toEqual(run(7));
    expect(run(7)).not.toEqual(run(8));
    expect(new Set(run(7)).size).toBe(3);
  });
  test("radio: one of several is on, and the one that was is switched off", () => {
    const show = showWith([1, 2, 3].map((n) => mapping(`pad-${n}`, toggle(n), { radio: "songs" })));
    const rig = Rig.onPage(1, show);
    for (const n of [1, 2, 3]) rig.desk(`/now/playback/1/${n}/on`, i(0));
    rig.tap("pad-1").desk("/now/playback/1/1/on", i(1)).wait(500).tap("pad-2");
    expect(rig.sent()).toEqual(["/set/playback/1/1/on 1", "/set/playback/1/1/on 0", "/set/playback/1/2/on 1"]);
    rig.desk("/now/playback/1/1/on", i(0)).desk("/now/playback/1/2/on", i(1)).wait(500).tap("pad-2");
    expect(rig.sent()).toEqual(["/set/playback/1/2/on 1"]); // pressed again it stays on
  });
});

describe("rule 10: where a number comes from", () => {
  const at = (playback: Binding) => action("x", "playback.toggle", { page: fixed(1), playback });
  test("a list does it for each, as one action", () => {
    const show = showWith([mapping("pad-1", at({ from: "list", values: [1, 4, 5] }))]);
    expect(Rig.onPage(1, show).tap("pad-1").sent()).toEqual([
      "/set/playback/1/1/on 1",
      "/set/playback/1/4/on 1",
      "/set/playback/1/5/on 1",
    ]);
  });
  test("bank and strip: moved by the house, all strips move together, and stop at the ends", () => {
    const banks = [{ id: "b", name: "Strips", first: 1, last: 20, size: 8 }];
    const show = showWith(
      [
        mapping(
          "fader-1",
          action("l", "playback.level", { page, playback: { from: "strip", bank: "b", strip: 1 } }),
          jump,
        ),
        mapping("pad-1", house("bank.by", { bank: fixed(1), by: fixed(8) })),
        mapping("pad-2", house("bank.go", { bank: fixed(1), at: fixed(1) })),
      ],
      { banks },
    );
    const rig = Rig.onPage(1, show).move("fader-1", 127).tap("pad-1").move("fader-1", 0);
    rig.tap("pad-1").move("fader-1", 127).tap("pad-2").move("fader-1", 0);
    expect(rig.sent()).toEqual([
      "/set/playback/1/1/level 1",
      "/set/playback/1/9/level 0",
      "/set/playback/1/13/level 1",
      "/set/playback/1/1/level 0",
    ]);
  });
  test("rule 9: a bank that moves arms the catch again", () => {
    const show = showWith(
      [
        mapping("fader-1", action("l", "playback.level", { page, playback: { from: "strip", bank: "b", strip: 1 } })),
        mapping("pad-1", house("bank.by", { bank: fixed(1), by: fixed(1) })),
      ],
      { banks: [{ id: "b", name: "Strips", first: 1, last: 20, size: 8 }] },
    );
    const rig = Rig.onPage(1, show).desk("/now/playback/1/1/level", f(0)).desk("/now/playback/1/2/level", f(1));
    rig.move("fader-1", 0).move("fader-1", 20).tap("pad-1").move("fader-1", 30);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 0", "/set/playback/1/1/level 0.1575"]);
  });
  test("the number of the layer, and the value of another parameter at the desk", () => {
    const show = showWith([
      mapping("pad-1", at({ from: "layer", offset: 4 })),
      mapping("pad-2", at({ from: "state", desk: "lights", state: "page", offset: 10 })),
    ]);
    const rig = Rig.onPage(3, show).tap("pad-1").tap("pad-2").desk("/now/page", i(5)).tap("pad-2");
    expect(rig.sent()).toEqual(["/set/playback/1/5/on 1", "/set/playback/1/13/on 1", "/set/playback/1/15/on 1"]);
  });
  test("a value nobody has told sends nothing and says so", () => {
    const show = showWith([mapping("pad-1", at({ from: "state", desk: "lights", state: "cue", offset: 0 }))]);
    const rig = Rig.onPage(1, show);
    rig.rows();
    expect([rig.press("pad-1").sent(), rig.became()]).toEqual([[], ["valueUnknown"]]);
  });
});

describe("ranges of messages", () => {
  const keys = (what: Mapping["actions"][number], more: Partial<Mapping> = {}) =>
    mapping("keys", what, {
      control: "keys",
      gesture: "press",
      message: { kind: "any", of: "note", channels: [1, 16], numbers: [60, 71] },
      ...more,
    });
  const number: Binding = { from: "message", part: "number", offset: -59 };
  test("any channel, a range of notes, and the output follows; each key is let go by itself", () => {
    const show = showWith([keys(action("k", "playback.flash", { page: fixed(1), playback: number }))]);
    const rig = Rig.onPage(1, show).hex("90 3C 7F 95 3E 40 90 3C 00 85 3E 40 90 48 7F");
    expect(rig.sent()).toEqual([
      "/set/playback/1/1/flash 1",
      "/set/playback/1/3/flash 1",
      "/set/playback/1/1/flash 0",
      "/set/playback/1/3/flash 0",
    ]);
    expect(rig.translator.world.held.list()).toEqual([]);
  });
  test("each key of a chord has its own release gesture", () => {
    const show = showWith([
      keys(action("k", "playback.go", { page: fixed(1), playback: number }), { gesture: "release" }),
    ]);
    const rig = Rig.onPage(1, show).hex("90 3C 7F 90 3E 7F 80 3C 00 80 3E 00");
    expect(rig.sent()).toEqual(went(1, 3));
  });
  test("a control of its own goes before the range, where it is mapped", () => {
    const wide = { kind: "any", of: "note", channels: [1, 1], numbers: [36, 40] } as const;
    const range = keys(action("k", "playback.go", { page: fixed(1), playback: fixed(9) }), {
      message: { ...wide, channels: [1, 1], numbers: [36, 40] },
    });
    const rig = Rig.onPage(1, showWith([range, mapping("pad-1", go(1))])).hex("90 24 7F 90 25 7F");
    expect(rig.sent()).toEqual(went(1, 9)); // note 36 is pad 1; pad 2, note 37, is free
  });
  test("rule 6: a release goes to the control or to the range, whichever was pressed", () => {
    const wide = { kind: "any", of: "note", channels: [1, 1], numbers: [36, 40] } as const;
    const show = showWith([
      keys(action("k", "playback.flash", { page: fixed(1), playback: fixed(9) }), {
        message: { ...wide, channels: [1, 1], numbers: [36, 40] },
      }),
      mapping("pad-1", flash(1, fixed(1)), { layers: ["base"] }),
      mapping("shift", house("layer", { layer: fixed(2) })),
    ]);
    const rig = Rig.onPage(1, show).press("pad-1").press("shift").release("pad-1").press("pad-1");
    rig.release("shift").release("pad-1");
    expect(rig.sent()).toEqual([
      "/set/playback/1/1/flash 1",
      "/set/playback/1/1/flash 0",
      "/set/playback/1/9/flash 1",
      "/set/playback/1/9/flash 0",
    ]);
    expect(rig.translator.world.held.list()).toEqual([]);
  });
  test("a control bound to its own message shows no other control’s state", () => {
    const own = action("k", "playback.toggle", {
      page: fixed(1),
      playback: { from: "message", part: "number", offset: -35 },
    });
    const rig = Rig.onPage(1, showWith([mapping("pad-1", own), mapping("pad-2", own)]));
    rig.desk("/now/playback/1/1/on", i(0)).desk("/now/playback/1/2/on", i(1)).tap("pad-2");
    expect([rig.light("pad-1")!.mode, rig.light("pad-2")!.mode]).toEqual(["dim", "dim"]);
  });
  test("controllers: one mapping for all channels", () => {
    const show = showWith([
      mapping(
        "knobs",
        action("k", "playback.level", { page: fixed(1), playback: { from: "message", part: "channel", offset: 0 } }),
        {
          control: "knobs",
          gesture: "move",
          takeover: "jump",
          message: { kind: "any", of: "controller", channels: [1, 16], numbers: [7, 7] },
        },
      ),
    ]);
    expect(Rig.onPage(1, show).hex("B0 07 7F B4 07 00").sent()).toEqual([
      "/set/playback/1/1/level 1",
      "/set/playback/1/5/level 0",
    ]);
  });
});

describe("conditions", () => {
  const show = showWith([
    mapping("pad-1", go(1), { when: [{ desk: "lights", state: "blackout", from: 0, to: 0 }] }),
    mapping("pad-1", go(2), { id: "dark", when: [{ desk: "lights", state: "blackout", from: 1, to: 1 }] }),
    mapping("pad-2", go(3), {
      when: [{ desk: "lights", state: "playback.level", parameters: { page: 1, playback: 4 }, from: 0.5, to: 1 }],
    }),
  ]);
  test("the desk's own state decides which of two mappings it is", () => {
    const rig = Rig.onPage(1, show).desk("/now/blackout", i(0)).tap("pad-1").desk("/now/blackout", i(1)).tap("pad-1");
    expect(rig.sent()).toEqual(went(1, 2));
  });
  test("a state that is not known is never in the range, and the reason is told", () => {
    const rig = Rig.onPage(1, show);
    rig.rows();
    expect([rig.press("pad-1").sent(), rig.became()]).toEqual([[], ["conditionFalse"]]);
  });
  test("a range of a level, and lights that follow it", () => {
    const rig = Rig.onPage(1, show).desk("/now/playback/1/4/level", f(0.4));
    expect([rig.tap("pad-2").sent(), rig.light("pad-2")!.mode]).toEqual([[], "off"]);
    rig.desk("/now/playback/1/4/level", f(0.6));
    expect([rig.tap("pad-2").sent(), rig.light("pad-2")!.mode]).toEqual([went(3), "dim"]);
  });
});

describe("what a show may look like", () => {
  test("compiled twice, the tables are equal", () => {
    const show = showWith([mapping("pad-1", [flash(1), toggle(2)]), mapping("fader-1", level(1))]);
    const strip = (s: Show) =>
      JSON.stringify(compileShow(s, profiles), (k, v: unknown) =>
        k === "surfaces" || k === "desks" || k === "desk" || k === "fn"
          ? undefined
          : ArrayBuffer.isView(v)
            ? [...(v as Uint8Array)]
            : v,
      );
    expect(strip(structuredClone(show))).toBe(strip(show));
  });
  test("undoing an edit is as if it had never been", () => {
    const show = showWith([mapping("pad-1", flash(1))]);
    const result = applyEdit(
      show,
      { kind: "change-mapping", id: "m-pad-1", set: { order: "random", radio: "r" } },
      profiles,
    );
    expect(result.ok && applyStoredPatches(result.show, result.inverse)).toEqual(show);
  });
});

test("what is played where a surface is drawn does not part what its device says in pieces", () => {
  const rig = Rig.onPage(
    1,
    showWith([mapping("fader-1", level(1), { takeover: "jump" }), mapping("pad-1", toggle(1))]),
  );
  // The device's message comes in two pieces, and goes on with running status; a press on the screen lies between them.
  rig.hex("B0 14");
  rig.translator.surfaceBytes(0, pressBytes(rig.control("pad-1"), true), rig.nowMs, true);
  expect(rig.sent()).toEqual(["/set/playback/1/1/on 1"]);
  rig.hex("7F 14 00");
  expect(rig.sent().map((m) => m.split(" ")[0])).toEqual(["/set/playback/1/1/level", "/set/playback/1/1/level"]);
});
