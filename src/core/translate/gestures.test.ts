import { describe, expect, test } from "vitest";
import { i, Rig } from "../../../tests/rig/rig.ts";
import {
  action,
  fixed,
  flash,
  house,
  level,
  mapping,
  shift,
  showOn,
  showWith,
  toggle,
} from "../../../tests/rig/shows.ts";
import { control, encoder, fader, once, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import type { Gesture } from "../format/gestures.ts";
import type { Mapping, Show } from "../format/show.ts";

const on = (gesture: Gesture, what: Mapping["actions"][number], more: Partial<Mapping> = {}) =>
  mapping("pad-1", what, { id: `m-${gesture}`, gesture, ...more });

describe("rule 6: releases of every gesture go to what they started", () => {
  const flashes = showWith([on("hold", flash(1)), on("tap", flash(2)), on("double", flash(3))]);
  test("a hold is on until the finger leaves, whatever page is up by then", () => {
    const rig = Rig.onPage(1, flashes).press("pad-1").wait(500).desk("/now/page", i(2)).release("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/1/flash 1", "/set/playback/1/1/flash 0"]);
  });
  test("a tap is over when it is known", () => {
    const rig = Rig.onPage(1, flashes).tap("pad-1").wait(300);
    expect(rig.sent()).toEqual(["/set/playback/1/2/flash 1", "/set/playback/1/2/flash 0"]);
  });
  test("a double tap is on until its second release", () => {
    const rig = Rig.onPage(1, flashes).tap("pad-1").wait(100).press("pad-1").wait(600).release("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/3/flash 1", "/set/playback/1/3/flash 0"]);
  });
  test("while held: any function is on from the press to the release", () => {
    const show = showWith([on("while-held", toggle(4)), mapping("pad-2", level(5), { gesture: "while-held" })]);
    const rig = Rig.onPage(1, show).desk("/now/playback/1/4/on", i(1));
    rig.press("pad-1").press("pad-2").desk("/now/page", i(2)).release("pad-1").release("pad-2");
    expect(rig.sent()).toEqual([
      "/set/playback/1/4/on 1",
      "/set/playback/1/5/level 1",
      "/set/playback/1/4/on 0",
      "/set/playback/1/5/level 0",
    ]);
  });
  test("while held: a trigger is not sent again, and the house takes back what it did", () => {
    const show = showWith(
      [
        mapping("pad-1", action("g", "cue.go"), { gesture: "while-held" }),
        mapping("pad-2", house("bypass.both", { group: fixed(1) }), { gesture: "while-held" }),
        mapping("pad-3", action("b", "cue.back")),
      ],
      { groups: [{ id: "g", name: "G", surface: "deck", controls: ["pad-3"] }] },
    );
    const rig = Rig.onPage(1, show).tap("pad-1");
    expect(rig.sent()).toEqual(["/set/cue/go"]);
    expect(rig.press("pad-2").tap("pad-3").sent()).toEqual([]);
    expect(rig.release("pad-2").tap("pad-3").sent()).toEqual(["/set/cue/back"]);
  });
  test("the release gesture fires what was mapped when the finger came down", () => {
    const show = showWith([
      on("release", action("g", "playback.go", { page: fixed(1), playback: fixed(1) }), { layers: ["base"] }),
      mapping("shift", shift()),
    ]);
    const rig = Rig.onPage(1, show).press("pad-1").press("shift").release("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/1/go"]);
    expect(rig.tap("pad-1").sent()).toEqual([]);
  });
  test("an edit of something else while a finger is down changes nothing of what the finger is about to do", () => {
    const other = mapping("pad-2", toggle(9));
    const release = on("release", action("g", "playback.go", { page: fixed(1), playback: fixed(4) }));
    const show = showWith([...flashes.mappings, release]);
    const rig = Rig.onPage(1, show).press("pad-1").wait(100);
    rig.edit((s) => ({ ...s, mappings: [other, ...s.mappings] })).wait(400);
    expect(rig.sent()).toEqual(["/set/playback/1/1/flash 1"]);
    rig.edit((s) => ({ ...s, mappings: s.mappings.filter((m) => m !== other) })).release("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/1/flash 0", "/set/playback/1/4/go"]);
  });
  test("an edit while a finger is down calls off what was not decided, and lets go of what was on", () => {
    const rig = Rig.onPage(1, flashes).press("pad-1").wait(500);
    expect(rig.sent()).toEqual(["/set/playback/1/1/flash 1"]);
    rig.edit((show) => ({ ...show, mappings: [] }));
    expect(rig.sent()).toEqual(["/set/playback/1/1/flash 0"]);
    rig.release("pad-1").press("pad-1");
    rig
      .edit((show) => ({ ...show, mappings: flashes.mappings }))
      .wait(1000)
      .release("pad-1");
    expect(rig.sent()).toEqual([]);
  });
});

describe("rule 7: what waits and what does not", () => {
  test("a press acts at once even where a hold is mapped as well", () => {
    const show = showWith([on("press", toggle(1)), on("hold", toggle(2))]);
    const rig = Rig.onPage(1, show).press("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/1/on 1"]);
    expect(rig.wait(400).sent()).toEqual(["/set/playback/1/2/on 1"]);
  });
  test("times are settings of the show, and of the mapping before them", () => {
    const show = showWith([
      on("hold", toggle(1)),
      mapping("pad-2", toggle(2), { gesture: "hold", times: { holdMs: 100 } }),
    ]);
    const slow: Show = { ...show, settings: { ...show.settings, times: { holdMs: 1000 } } };
    const rig = Rig.onPage(1, slow).press("pad-1").press("pad-2").wait(120);
    expect(rig.sent()).toEqual(["/set/playback/1/2/on 1"]);
    expect(rig.wait(900).sent()).toEqual(["/set/playback/1/1/on 1"]);
  });
  test("a wait that is not decided yet is told", () => {
    const rig = Rig.onPage(1, showWith([on("tap", toggle(1)), on("hold", toggle(2))]));
    rig.rows();
    rig.press("pad-1");
    expect(rig.became()).toEqual(["waitingForGesture"]);
  });
});

describe("chords", () => {
  const show = showWith([
    mapping("fader-1", level(1), { takeover: "jump" }),
    mapping("fader-1", level(1, undefined, { shape: { input: [0, 1], invert: false, output: [0.5, 0.5] } }), {
      id: "default",
      takeover: "jump",
      whileHeld: { surface: "deck", control: "pad-9" },
    }),
  ]);
  test("hold a button and move a fader to send its default", () => {
    const rig = Rig.onPage(1, show).press("pad-9").move("fader-1", 100).release("pad-9").move("fader-1", 101);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 0.5", "/set/playback/1/1/level 0.7953"]);
  });
  test("without the other mapping the reason is told", () => {
    const rig = Rig.onPage(1, showWith([show.mappings[1]!]));
    rig.rows();
    rig.move("fader-1", 100);
    expect([rig.sent(), rig.became()]).toEqual([[], ["conditionFalse"]]);
  });
});

describe("layers", () => {
  const base: Partial<Show> = {
    groups: [{ id: "row", name: "Row", surface: "deck", controls: ["pad-1", "pad-2"] }],
    layers: [
      { id: "base", name: "Base" },
      { id: "shift", name: "Shift" },
      { id: "select", name: "Select", group: "row" },
    ],
  };
  const both = (pad: string, n: number) => [
    mapping(pad, toggle(n), { id: `${pad}-b`, layers: ["base"] }),
    mapping(pad, toggle(n + 10), { id: `${pad}-s`, layers: ["select"] }),
  ];
  const show = showWith(
    [
      ...both("pad-1", 1),
      ...both("pad-3", 3),
      mapping("pad-20", house("layer.lock", { layer: fixed(3) })),
      mapping("pad-21", house("layer.next")),
      mapping("shift", shift()),
    ],
    base,
  );
  test("one for a group changes only its controls", () => {
    const rig = Rig.onPage(1, show).tap("pad-20").tap("pad-1").tap("pad-3");
    expect(rig.sent()).toEqual(["/set/playback/1/11/on 1", "/set/playback/1/3/on 1"]);
  });
  test("locked by a tap, it stays; tapped again, it is gone", () => {
    const rig = Rig.onPage(1, show).tap("pad-20").tap("pad-20").tap("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/1/on 1"]);
  });
  test("the control that locks it shows whether it is up, since the house knows", () => {
    const rig = Rig.onPage(1, show);
    expect(rig.light("pad-20")!.mode).toBe("dim");
    rig.tap("pad-20");
    expect(rig.light("pad-20")!.mode).toBe("full");
  });
  test("the control that holds it shows that it is up, and goes out when it is let go", () => {
    const rig = Rig.onPage(1, showWith([mapping("pad-20", shift())], base));
    rig.press("pad-20");
    expect(rig.light("pad-20")!.mode).toBe("full");
    rig.release("pad-20");
    expect(rig.light("pad-20")!.mode).toBe("dim");
  });
  test("a layer has a look: the colour of what enters it", () => {
    const coloured = { ...show, layers: show.layers.map((l) => (l.id === "select" ? { ...l, colour: "#ff0000" } : l)) };
    const rig = Rig.onPage(1, coloured).tap("pad-20");
    const red = Rig.onPage(1, showWith([mapping("pad-20", flash(1), { look: { colour: "#ff0000" } })])).press("pad-20");
    red.desk("/now/playback/1/1/flash", i(1));
    expect(rig.light("pad-20")).toEqual(red.light("pad-20"));
  });
  test.each([
    ["with a press and a tap", "press", []],
    ["while held, and a tap", "while-held", []],
    ["with a hold beside them", "press", [mapping("pad-20", house("redraw"), { id: "m-hold", gesture: "hold" })]],
  ] as const)("one button holds a layer, and locks it by a tap, and unlocks it by the next: %s", (_, gesture, more) => {
    const shift = showWith([
      mapping("pad-20", house("layer", { layer: fixed(2) }), { gesture }),
      mapping("pad-20", house("layer.lock", { layer: fixed(2) }), { id: "m-lock", gesture: "tap" }),
      ...more,
    ]);
    const rig = new Rig(shift, { links: false });
    const up = () => rig.translator.layer === 1;
    rig.press("pad-20");
    expect(up()).toBe(true);
    rig.wait(700).release("pad-20");
    expect(up()).toBe(false); // held for long, it was only held
    rig.wait(400).press("pad-20").wait(60).release("pad-20").wait(400);
    expect(up()).toBe(true);
    rig.press("pad-20").wait(60).release("pad-20").wait(400);
    expect(up()).toBe(false);
  });
  test("stepping through layers, and a held one over a locked one", () => {
    const rig = Rig.onPage(1, show).tap("pad-21");
    expect(rig.translator.layer).toBe(1);
    rig.tap("pad-21").tap("pad-20").press("shift").tap("pad-1");
    expect(rig.sent()).toEqual([]); // neither base nor select is up for it while shift is held over them
    rig.release("shift").tap("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/11/on 1"]);
  });
});

describe("controls of every kind", () => {
  const profile = surfaceProfile([
    encoder("enc", { kind: "relative", channel: 1, number: 16, encoding: "twos-complement" }),
    encoder("fast", { kind: "relative", channel: 1, number: 17, encoding: "sign-bit" }, { acceleration: 4 }),
    control("latch", { kind: "note", channel: 1, number: 1 }, { behaviour: "latches" }),
    control("both", { kind: "note", channel: 1, number: 2 }, { behaviour: "latches-both-on" }),
    once("prog", { kind: "program", channel: 1, number: 5 }),
    fader("mot", { kind: "bend", channel: 1 }, { touch: { kind: "note", channel: 1, number: 104 } }),
    control(
      "pressed",
      { kind: "note", channel: 1, number: 3 },
      { pressure: { kind: "poly-pressure", channel: 1, number: 3 } },
    ),
  ]);
  const rigFor = (mappings: Mapping[]) => {
    const made = showOn(profile, mappings);
    return Rig.onPage(1, made.show, { links: false, profiles: made.profiles } as never);
  };
  const m = (id: string, gesture: Gesture, what: Mapping["actions"][number], more: Partial<Mapping> = {}) =>
    mapping(id, what, { id: `${id}-${gesture}`, gesture, takeover: "jump", ...more });

  test("rule 4: a hardware latch is read as a state, also where it says “on” both times", () => {
    const rig = rigFor([m("latch", "press", toggle(1)), m("both", "press", toggle(2))]);
    rig.hex("90 01 7F 80 01 00 90 02 7F 90 02 7F");
    expect(rig.sent()).toEqual([
      "/set/playback/1/1/on 1",
      "/set/playback/1/1/on 0",
      "/set/playback/1/2/on 1",
      "/set/playback/1/2/on 0",
    ]);
  });
  test("an endless control moves the desk's own level, from wherever the desk has it", () => {
    const rig = rigFor([m("enc", "turn", level(1))]);
    rig.desk("/now/playback/1/1/level", { type: "f", value: 0.5 }).turn("enc", 3).turn("enc", -1);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 0.53", "/set/playback/1/1/level 0.52"]);
    rig.wait(2000).desk("/now/playback/1/1/level", { type: "f", value: 0.99 }).turn("enc", 5);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 1"]);
  });
  test("turned fast, one with acceleration goes further", () => {
    const rig = rigFor([m("fast", "turn", level(1))]);
    rig.turn("fast", 1).wait(1000).turn("fast", 1).wait(10).turn("fast", 1);
    const [slow1, slow2, fast] = rig.sent().map((t) => Number(t.split(" ")[1]));
    expect(slow2! - slow1!).toBeCloseTo(0.01, 2);
    expect(fast! - slow2!).toBeGreaterThan(0.05);
  });
  test("left and right are gestures of their own, once for each step", () => {
    const rig = rigFor([m("enc", "turn-right", action("g", "cue.go")), m("enc", "turn-left", action("b", "cue.back"))]);
    expect(rig.turn("enc", 2).turn("enc", -1).sent()).toEqual(["/set/cue/go", "/set/cue/go", "/set/cue/back"]);
  });
  test("a program is a press without a release, and a flash on it is over at once", () => {
    const rig = rigFor([m("prog", "press", flash(1))]);
    expect(rig.hex("C0 05").sent()).toEqual(["/set/playback/1/1/flash 1", "/set/playback/1/1/flash 0"]);
    expect(rig.translator.world.held.list()).toEqual([]);
  });
  test("touch and letting go are gestures, and 14 bits stay 14 bits", () => {
    const rig = rigFor([m("mot", "touch", toggle(9)), m("mot", "move", level(1))]);
    rig.hex("90 68 7F E0 01 00 E0 02 00 90 68 00");
    expect(rig.sent()).toEqual([
      "/set/playback/1/9/on 1",
      "/set/playback/1/1/level 0.0001",
      "/set/playback/1/1/level 0.0001",
    ]);
    expect(rig.translator.world.surfaces[0]!.position(5)).toBe(2 / 16_383);
  });
  test("pressure follows how hard a pad is pressed", () => {
    const rig = rigFor([m("pressed", "pressure", level(1))]);
    expect(rig.hex("90 03 40 A0 03 7F A0 03 00").sent()).toEqual([
      "/set/playback/1/1/level 1",
      "/set/playback/1/1/level 0",
    ]);
  });
});
