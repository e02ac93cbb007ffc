import { describe, expect, test } from "vitest";
import { f, i, Rig } from "../../../tests/rig/rig.ts";
import {
  action,
  fixed,
  flash,
  house,
  level,
  mapping,
  page,
  profiles,
  showOn,
  showWith,
  synth,
  toggle,
} from "../../../tests/rig/shows.ts";
import { control, fader, once, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import { compileShow } from "../mapping/compile.ts";
import { applyEdit, applyShowPatches } from "../show/edits.ts";
import type { Binding } from "../show/shape.ts";
import type { Mapping, Show } from "../show/show.ts";

const go = (playback: number) => action(`g-${playback}`, "playback.go", { page: fixed(1), playback: fixed(playback) });
const went = (...playbacks: number[]) => playbacks.map((p) => `/set/playback/1/${p}/go`);
const jump = { takeover: "jump" } as const;

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

describe("the house", () => {
  test("pages: to one, to the next and the previous, around the ends", () => {
    const show = showWith([
      mapping("pad-1", house("page.go", { page: fixed(7) }, { target: "lights" })),
      mapping("pad-2", house("page.next", {}, { target: "lights" })),
      mapping("pad-3", house("page.previous", {}, { target: "lights" })),
    ]);
    const rig = Rig.onPage(9, show).tap("pad-1").tap("pad-2").tap("pad-3");
    expect(rig.sent()).toEqual(["/set/page 7", "/set/page 1", "/set/page 8"]);
  });
  test("bypass takes a group out of service and puts it back, with its lights or without", () => {
    const show = showWith([mapping("pad-1", go(1)), mapping("pad-9", house("bypass.both", { group: fixed(1) }))], {
      groups: [{ id: "g", name: "Row", surface: "deck", controls: ["pad-1"] }],
    });
    const rig = Rig.onPage(1, show);
    expect(rig.light("pad-1")!.mode).toBe("dim");
    rig.tap("pad-9");
    rig.rows();
    expect([rig.press("pad-1").sent(), rig.became(), rig.light("pad-1")!.mode]).toEqual([[], ["bypassed"], "off"]);
    rig.release("pad-1").tap("pad-9");
    expect([rig.tap("pad-1").sent(), rig.light("pad-1")!.mode]).toEqual([went(1), "dim"]);
  });
  test("variables: set, stepped, wrapped, read by a binding and by a condition", () => {
    const variables = [{ id: "song", name: "Song", from: 1, to: 3, start: 1, wraps: true }];
    const song: Binding = { from: "state", desk: "house", state: "variable", parameters: { variable: 1 }, offset: 0 };
    const show = showWith(
      [
        mapping("pad-1", house("variable.step", { variable: fixed(1), by: fixed(1) })),
        mapping("pad-2", action("g", "playback.go", { page: fixed(1), playback: song })),
        mapping("pad-3", go(9), {
          when: [{ desk: "house", state: "variable", parameters: { variable: 1 }, from: 3, to: 3 }],
        }),
        mapping("fader-1", house("variable.set", { variable: fixed(1) }), jump),
      ],
      { variables },
    );
    const rig = Rig.onPage(1, show)
      .tap("pad-2")
      .tap("pad-1")
      .tap("pad-2")
      .tap("pad-3")
      .tap("pad-1")
      .tap("pad-2")
      .tap("pad-3");
    expect(rig.sent()).toEqual(went(1, 2, 3, 9));
    expect(rig.tap("pad-1").tap("pad-2").move("fader-1", 127).tap("pad-2").sent()).toEqual(went(1, 3));
  });
  test("variables, banks and layers survive edits, also those that move them in the list", () => {
    const variables = [{ id: "a", name: "A", from: 0, to: 9, start: 0, wraps: false }];
    const show = showWith([mapping("pad-1", house("variable.step", { variable: fixed(1), by: fixed(4) }))], {
      variables,
    });
    const rig = Rig.onPage(1, show).tap("pad-1");
    rig.edit((s) => ({
      ...s,
      variables: [{ id: "b", name: "B", from: 0, to: 9, start: 7, wraps: false }, ...variables],
      mappings: [
        mapping(
          "pad-1",
          action("g", "playback.go", {
            page: fixed(1),
            playback: { from: "state", desk: "house", state: "variable", parameters: { variable: 2 }, offset: 0 },
          }),
        ),
      ],
    }));
    expect(rig.tap("pad-1").sent()).toEqual(went(4));
  });
  test("tap tempo: the mean of the last taps, and a pause starts anew", () => {
    const rig = Rig.onPage(1, showWith([mapping("pad-1", house("tempo.tap"))]));
    const tempo = () => {
      const { desks, context } = rig.translator.world;
      return desks[context.compiled.house]!.store.number(
        context.compiled.desks[context.compiled.house]!.states.get("tempo")!.base,
      );
    };
    rig.tap("pad-1").wait(500).tap("pad-1").wait(500).tap("pad-1");
    expect(tempo()).toBe(120);
    rig.wait(5000).tap("pad-1").wait(1000).tap("pad-1");
    expect(tempo()).toBe(60);
  });
  test("any MIDI or OSC message, with the value in it", () => {
    const show = showWith(
      [
        mapping("fader-1", house("message.send", {}, { target: "synth", message: "B3 07 {value}" }), jump),
        mapping("pad-1", house("message.send", {}, { target: "lights", message: '/mist/3 {value} 2 "quay" true' })),
        mapping("pad-2", house("message.send", {}, { target: "deck", message: "F0 7D 01 F7" })),
      ],
      { desks: [...showWith([]).desks, synth] },
    );
    const rig = Rig.onPage(1, show).move("fader-1", 127).move("fader-1", 0).tap("pad-1");
    expect(rig.sent()).toEqual(["B3 07 7F", "B3 07 00", "/mist/3 1 2 “quay” true"]);
    rig.rows();
    rig.tap("pad-2");
    expect(
      rig
        .rows()
        .filter((r) => r.out && !r.desk)
        .map((r) => [...r.bytes]),
    ).toContainEqual([0xf0, 0x7d, 1, 0xf7]);
  });
  test("running another mapping does what its press does, and lets go", () => {
    const show = showWith([
      mapping("pad-1", [flash(1), go(2)]),
      mapping("pad-2", house("mapping.run", {}, { target: "m-pad-1" })),
    ]);
    expect(Rig.onPage(1, show).tap("pad-2").sent()).toEqual([
      "/set/playback/1/1/flash 1",
      "/set/playback/1/2/go",
      "/set/playback/1/1/flash 0",
    ]);
  });
  test("redraw sends every light again; release everything lets go", () => {
    const show = showWith([
      mapping("pad-1", house("redraw")),
      mapping("pad-2", house("release-all")),
      mapping("pad-3", flash(3)),
    ]);
    const rig = Rig.onPage(1, show);
    rig.drawn();
    rig.tap("pad-1").wait(20);
    expect(rig.drawn().length).toBeGreaterThan(30);
    rig.press("pad-3").tap("pad-2").release("pad-3");
    expect(rig.sent()).toEqual(["/set/playback/1/3/flash 1", "/set/playback/1/3/flash 0"]);
  });
});

describe("MIDI as a desk", () => {
  const midi = (fn: string, bindings: Record<string, number>, more = {}) =>
    action(`x-${fn}`, fn, Object.fromEntries(Object.entries(bindings).map(([k, v]) => [k, fixed(v)])), {
      desk: "synth",
      ...more,
    });
  const show = (...mappings: Mapping[]) => showWith(mappings, { desks: [...showWith([]).desks, synth] });
  test("a controller becomes a note for a desk that takes only notes, its value the velocity", () => {
    const rig = Rig.onPage(1, show(mapping("fader-1", midi("note.value", { channel: 2, note: 64 }), jump)));
    expect(rig.move("fader-1", 100).move("fader-1", 0).sent()).toEqual(["91 40 64", "91 40 00"]);
  });
  test("a note is off when the pad is let go", () => {
    const rig = Rig.onPage(1, show(mapping("pad-1", midi("note", { channel: 1, note: 60 }))));
    expect(rig.tap("pad-1").sent()).toEqual(["90 3C 7F", "80 3C 40"]);
  });
  test.each<[string, Record<string, number>, string]>([
    ["controller", { channel: 1, controller: 7 }, "B0 07 7F"],
    ["controller.14", { channel: 1, controller14: 7 }, "B0 07 7F B0 27 7F"],
    ["nrpn", { channel: 1, parameter: 300 }, "B0 63 02 B0 62 2C B0 06 7F B0 26 7F"],
    ["bend", { channel: 3 }, "E2 7F 7F"],
    ["program.value", { channel: 1 }, "C0 7F"],
    ["pressure", { channel: 1 }, "D0 7F"],
  ])("%s at its end", (fn, bindings, wanted) => {
    const rig = Rig.onPage(1, show(mapping("fader-1", midi(fn, bindings), jump)));
    expect(rig.move("fader-1", 127).sent()).toEqual([wanted]);
  });
  test("program with bank, show control and machine control on a press", () => {
    const rig = Rig.onPage(
      1,
      show(
        mapping("pad-1", midi("program.bank", { channel: 1, bank: 130, program: 5 })),
        mapping("pad-2", midi("show.go", { device: 1, cue: 12, list: 3 })),
        mapping("pad-3", midi("machine.play", { device: 127 })),
      ),
    );
    expect(rig.tap("pad-1").tap("pad-2").tap("pad-3").sent()).toEqual([
      "B0 00 01 B0 20 02 C0 05",
      "F0 7F 01 02 7F 01 31 32 00 33 F7",
      "F0 7F 7F 06 02 F7",
    ]);
  });
  test("14 bits in are 14 bits out", () => {
    const profile = surfaceProfile([fader("fader-1", { kind: "bend", channel: 1 })]);
    const made = showOn(profile, [mapping("fader-1", midi("bend", { channel: 1 }), jump)], { desks: [synth] });
    const rig = new Rig(made.show, { links: false, profiles: made.profiles });
    for (const v of [0, 1, 8191, 12_345, 16_383]) rig.hex(`E0 ${hex2(v & 127)} ${hex2(v >> 7)}`);
    expect(rig.sent()).toEqual(["E0 00 00", "E0 01 00", "E0 7F 3F", "E0 39 60", "E0 7F 7F"]);
  });
});

const hex2 = (v: number) => v.toString(16).padStart(2, "0");

describe("routes", () => {
  const route = (more: Partial<NonNullable<Show["routes"]>[number]>) =>
    ({ id: "r", name: "R", on: true, from: "deck", to: "synth", pass: "all", ...more }) as const;
  const show = (r: Partial<NonNullable<Show["routes"]>[number]>, ...mappings: Mapping[]) =>
    showWith(mappings, { desks: [...showWith([]).desks, synth], routes: [route(r)] });
  test("everything passes, with its channel changed, whether it is mapped or not", () => {
    const rig = Rig.onPage(1, show({ channels: [{ from: 1, to: 5 }] }, mapping("pad-1", go(1))));
    rig.hex("90 24 7F B0 63 10 E2 00 40 F8 F0 7D 01 F7");
    expect(rig.sent()).toEqual([...went(1), "94 24 7F", "B4 63 10", "E2 00 40", "F8", "F0 7D 01 F7"]);
  });
  test("only what no mapping took: a press and its release stay together", () => {
    const rig = Rig.onPage(1, show({ pass: "unmapped" }, mapping("pad-1", go(1))));
    rig.hex("90 24 7F 80 24 40 90 25 7F 80 25 40");
    expect(rig.sent()).toEqual([...went(1), "90 25 7F", "80 25 40"]);
    expect(rig.became()).toContain("routed");
  });
  test("only what no mapping took: buttons of controllers, keys of a range, SysEx and halves of values", () => {
    const profile = surfaceProfile([
      control("button", { kind: "controller", channel: 1, number: 36 }),
      control("free", { kind: "controller", channel: 1, number: 37 }),
      fader("wide", { kind: "controller-14", channel: 1, number: 1 }),
      fader("loose", { kind: "controller-14", channel: 1, number: 2 }),
      once("said", { kind: "sysex", prefix: "F0 7D 01" }),
      once("unsaid", { kind: "sysex", prefix: "F0 7D 02" }),
    ]);
    const range = { kind: "any", of: "note", channels: [1, 1], numbers: [60, 71] } as const;
    const made = showOn(
      profile,
      [
        mapping("button", go(1)),
        mapping("wide", level(2, fixed(1)), { gesture: "move", takeover: "jump" }),
        mapping("said", go(3)),
        mapping("keys", go(4), { message: { ...range, channels: [1, 1], numbers: [60, 71] } }),
      ],
      { desks: [...showWith([]).desks, synth], routes: [route({ pass: "unmapped" })] },
    );
    const rig = new Rig(made.show, { links: false, profiles: made.profiles });
    rig.hex("B0 24 7F B0 24 00 B0 01 10 B0 21 05 F0 7D 01 F7 90 3C 7F 80 3C 00");
    expect(rig.sent().filter((t) => !t.startsWith("/"))).toEqual([]);
    rig.hex("B0 25 7F B0 25 00 B0 02 10 B0 22 05 F0 7D 02 F7");
    expect(rig.sent()).toEqual(["B0 25 7F", "B0 25 00", "B0 02 10", "B0 22 05", "F0 7D 02 F7"]);
  });
  test("by kind", () => {
    const rig = Rig.onPage(1, show({ kinds: ["program", "clock"] }));
    expect(rig.hex("90 24 7F C0 05 F8 D0 10").sent()).toEqual(["C0 05", "F8"]);
  });
  test("the way back is a route of its own", () => {
    const back = show({ from: "synth", to: "deck" });
    const rig = Rig.onPage(1, back);
    rig.drawn();
    rig.translator.deskBytes(1, Uint8Array.of(0x90, 100, 5), rig.nowMs);
    expect(rig.drawn()).toEqual(["90 100 5"]);
    expect(rig.hex("90 24 7F").sent()).toEqual([]);
  });
  test("active sensing and reset are nobody's business but the port's", () => {
    expect(Rig.onPage(1, show({})).hex("FE FF").sent()).toEqual([]);
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
    expect(result.ok && applyShowPatches(result.show, result.inverse)).toEqual(show);
  });
});
