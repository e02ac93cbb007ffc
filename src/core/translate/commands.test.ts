import { describe, expect, test } from "vitest";
import { colour, f, i, Rig } from "../../../tests/rig/rig.ts";
import {
  action,
  fixed,
  flash,
  jump,
  level,
  mapping,
  page,
  profiles,
  shift,
  showWith,
  toggle,
} from "../../../tests/rig/shows.ts";
import { profilesOf } from "../format/profiles.ts";
import type { Show } from "../format/show.ts";
import { restOf } from "../trace/traffic-rests.ts";
import { ROW_DATA_BYTES } from "../trace/traffic-ring.ts";

const without = (id: string) => (show: Show) => ({ ...show, mappings: show.mappings.filter((m) => m.id !== id) });

describe("rule 2: a note-on with velocity 0 lets go", () => {
  test("as a note-off does", () => {
    const rig = Rig.onPage(3, showWith([mapping("pad-1", flash(7))]));
    rig.hex("90 24 7F").hex("90 24 00");
    expect(rig.sent()).toEqual(["/set/playback/3/7/flash 1", "/set/playback/3/7/flash 0"]);
  });
});

describe("rule 6: a release goes to whatever its press started", () => {
  test("after the page has changed in between", () => {
    const rig = Rig.onPage(3, showWith([mapping("pad-1", flash(7))]));
    rig.press("pad-1").desk("/now/page", i(4)).release("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/3/7/flash 1", "/set/playback/3/7/flash 0"]);
    rig.tap("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/4/7/flash 1", "/set/playback/4/7/flash 0"]);
  });

  test("after the layer has changed in between", () => {
    const rig = Rig.onPage(
      3,
      showWith([
        mapping("pad-1", flash(1), { layers: ["base"] }),
        mapping("pad-1", flash(2), { id: "m-2", layers: ["shift"] }),
        mapping("shift", shift()),
      ]),
    );
    rig.press("pad-1").press("shift").release("pad-1").press("pad-1").release("shift").release("pad-1");
    expect(rig.sent()).toEqual([
      "/set/playback/3/1/flash 1",
      "/set/playback/3/1/flash 0",
      "/set/playback/3/2/flash 1",
      "/set/playback/3/2/flash 0",
    ]);
  });

  test("removing a held mapping lets go of it first, and its release then does nothing", () => {
    const rig = Rig.onPage(3, showWith([mapping("pad-1", flash(7))]));
    rig.press("pad-1").edit(without("m-pad-1"));
    expect(rig.sent()).toEqual(["/set/playback/3/7/flash 1", "/set/playback/3/7/flash 0"]);
    rig.release("pad-1");
    expect(rig.sent()).toEqual([]);
  });

  test.each<[string, (show: Show) => Show]>([
    ["switching it off", (show) => ({ ...show, mappings: show.mappings.map((m) => ({ ...m, on: false })) })],
    [
      "switching its action off",
      (show) => ({
        ...show,
        mappings: show.mappings.map((m) => ({ ...m, actions: m.actions.map((a) => ({ ...a, on: false })) })),
      }),
    ],
    [
      "giving it another function",
      (show) => ({
        ...show,
        mappings: show.mappings.map((m) => ({
          ...m,
          actions: m.actions.map((a) => ({ ...a, function: "playback.go" })),
        })),
      }),
    ],
  ])("so does %s", (_name, change) => {
    const rig = Rig.onPage(3, showWith([mapping("pad-1", flash(7))]));
    rig.press("pad-1").edit(change);
    expect(rig.sent()).toEqual(["/set/playback/3/7/flash 1", "/set/playback/3/7/flash 0"]);
  });

  test("an edit elsewhere leaves what is held alone", () => {
    const rig = Rig.onPage(3, showWith([mapping("pad-1", flash(7)), mapping("pad-2", toggle(2))]));
    rig.press("pad-1").edit(without("m-pad-2"));
    expect(rig.sent()).toEqual(["/set/playback/3/7/flash 1"]);
    rig.release("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/3/7/flash 0"]);
  });

  test("a binding that is edited while held still lets go of the old number", () => {
    const rig = Rig.onPage(3, showWith([mapping("pad-1", flash(7, fixed(3)))]));
    rig
      .press("pad-1")
      .edit((show) => ({ ...show, mappings: [mapping("pad-1", { ...flash(8, fixed(3)), id: "f-7" })] }));
    rig.release("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/3/7/flash 1", "/set/playback/3/7/flash 0"]);
  });

  test("a second press without a release in between lets go of the first", () => {
    const rig = Rig.onPage(3, showWith([mapping("pad-1", flash(7))]));
    rig.press("pad-1").press("pad-1").release("pad-1");
    expect(rig.sent().map((t) => t.at(-1))).toEqual(["1", "0", "1", "0"]);
  });

  test("“release everything” and a surface that is gone let go of all, once", () => {
    const rig = Rig.onPage(3, showWith([mapping("pad-1", flash(7)), mapping("pad-2", flash(8))]));
    rig.press("pad-1").press("pad-2");
    rig.sent();
    rig.translator.releaseAll(rig.nowMs);
    expect(rig.sent()).toEqual(["/set/playback/3/7/flash 0", "/set/playback/3/8/flash 0"]);
    rig.release("pad-1").release("pad-2").press("pad-1");
    rig.sent();
    rig.translator.surfaceGone(0, rig.nowMs);
    expect(rig.sent()).toEqual(["/set/playback/3/7/flash 0"]);
  });
});

describe("rule 8: a toggle follows the desk", () => {
  const show = showWith([mapping("pad-1", toggle(1))]);
  test("the desk's own state decides, whoever changed it", () => {
    const rig = Rig.onPage(1, show).desk("/now/playback/1/1/on", i(1)).tap("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/1/on 0"]);
    rig.desk("/now/playback/1/1/on", i(0)).wait(500).desk("/now/playback/1/1/on", i(1)).tap("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/1/on 0"]);
  });
  test("what was just sent counts before the desk has answered, so two quick presses are on and off", () => {
    const rig = Rig.onPage(1, show).desk("/now/playback/1/1/on", i(0)).tap("pad-1").tap("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/1/on 1", "/set/playback/1/1/on 0"]);
  });
  test("what was sent and never confirmed does not count for ever", () => {
    const rig = Rig.onPage(1, show).desk("/now/playback/1/1/on", i(0)).tap("pad-1").wait(5000).tap("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/1/on 1", "/set/playback/1/1/on 1"]);
  });
  test("where nothing is known it switches on", () => {
    expect(Rig.onPage(1, show).tap("pad-1").sent()).toEqual(["/set/playback/1/1/on 1"]);
  });
});

describe("rule 9: catch", () => {
  const show = showWith([mapping("fader-1", level(1))]);
  const caught = () =>
    Rig.onPage(1, show)
      .desk("/now/playback/1/1/level", f(64 / 127))
      .move("fader-1", 60);

  test("nothing is sent until the fader meets the level, and the reason is told", () => {
    const rig = caught().move("fader-1", 62);
    expect(rig.sent()).toEqual([]);
    expect(rig.became()).toEqual(expect.arrayContaining(["waitingToCatch", "waitingToCatch"]));
    rig.move("fader-1", 63).move("fader-1", 70);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 0.4961", "/set/playback/1/1/level 0.5512"]);
  });
  test("a fast move that crosses the level catches it", () => {
    expect(caught().move("fader-1", 100).sent()).toEqual(["/set/playback/1/1/level 0.7874"]);
  });
  test("the first position that is heard does not cross anything", () => {
    const rig = Rig.onPage(1, show).desk("/now/playback/1/1/level", f(0.5)).move("fader-1", 127);
    expect(rig.sent()).toEqual([]);
  });
  test("a change at the desk arms it again", () => {
    const rig = caught().move("fader-1", 70).wait(2000).desk("/now/playback/1/1/level", f(0.1));
    rig.sent();
    rig.move("fader-1", 72);
    expect(rig.sent()).toEqual([]);
    rig.move("fader-1", 5);
    expect(rig.sent()).toHaveLength(1);
  });
  test("the desk's echo of what the fader sent does not", () => {
    const rig = caught()
      .move("fader-1", 70)
      .desk("/now/playback/1/1/level", f(70 / 127));
    rig.sent();
    rig
      .move("fader-1", 75)
      .move("fader-1", 80)
      .desk("/now/playback/1/1/level", f(75 / 127))
      .move("fader-1", 82);
    expect(rig.sent()).toHaveLength(3);
  });
  test("a change of page arms it again, even where the level is the same", () => {
    const rig = caught()
      .desk("/now/playback/2/1/level", f(70 / 127))
      .move("fader-1", 70)
      .desk("/now/page", i(2));
    rig.sent();
    rig.move("fader-1", 90); // it stood on the level of page 2 when it began to move, so it has met it
    expect(rig.sent()).toEqual(["/set/playback/2/1/level 0.7087"]);
  });
  test("where no level is known there is nothing to catch", () => {
    expect(Rig.onPage(1, show).move("fader-1", 10).sent()).toEqual(["/set/playback/1/1/level 0.0787"]);
  });
  test("the level is met where the shape puts it: inverted and in part of the range", () => {
    const shape = { input: [0, 0.5], invert: true, output: [0.2, 0.8] } as const;
    const rig = Rig.onPage(
      1,
      showWith([mapping("fader-1", level(1, undefined, { shape: { ...shape, input: [0, 0.5], output: [0.2, 0.8] } }))]),
    );
    rig.desk("/now/playback/1/1/level", f(0.5)); // half of 0.8 .. 0.2, so a quarter of the travel
    rig.move("fader-1", 0).move("fader-1", 20);
    expect(rig.sent()).toEqual([]);
    rig.move("fader-1", 32);
    expect(rig.sent()).toHaveLength(1);
  });
  test("jump sends from the first move", () => {
    const rig = Rig.onPage(1, showWith([mapping("fader-1", level(1), { takeover: "jump" })]));
    rig.desk("/now/playback/1/1/level", f(1)).move("fader-1", 3);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 0.0236"]);
  });
});

describe("rule 10: bindings resolve at the moment of the action", () => {
  test("before the desk has said which page is up, nothing is sent, with the reason", () => {
    const rig = new Rig(showWith([mapping("pad-1", toggle(1))]));
    rig.tap("pad-1");
    expect(rig.sent()).toEqual([]);
    expect(rig.became()).toEqual(["pageUnknown", "released"]);
  });
  test("a page the desk does not have sends nothing and says so", () => {
    const rig = Rig.onPage(12, showWith([mapping("pad-1", toggle(1))]));
    rig.rows();
    rig.press("pad-1");
    expect(rig.sent()).toEqual([]);
    expect(rig.rows().find((r) => !r.out)).toMatchObject({ a: 12, b: 0 });
  });
});

describe("rule 11: several actions run in the order shown", () => {
  test("to one desk, with those that are off left out", () => {
    const actions = [flash(3), { ...toggle(1), on: false }, action("g", "cue.go"), level(2)];
    const rig = Rig.onPage(1, showWith([mapping("pad-1", actions)])).press("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/3/flash 1", "/set/cue/go", "/set/playback/1/2/level 1"]);
  });
  test("one that cannot run does not keep the others", () => {
    const rig = new Rig(showWith([mapping("pad-1", [toggle(1), action("g", "cue.go")])])).tap("pad-1");
    expect(rig.sent()).toEqual(["/set/cue/go"]);
  });
});

describe("rule 12: of two mappings that say the same the first wins", () => {
  test("and both are marked as a clash", () => {
    const rig = Rig.onPage(1, showWith([mapping("pad-1", flash(1)), mapping("pad-1", flash(2), { id: "m-2" })]));
    rig.press("pad-1");
    expect(rig.sent()).toEqual(["/set/playback/1/1/flash 1"]);
    expect(rig.translator.world.context.compiled.clashes).toEqual([[0, 1]]);
  });
  test("one for this page goes before one for every page, wherever it stands", () => {
    const show = showWith([
      mapping("pad-1", flash(1)),
      mapping("pad-1", flash(2), { id: "m-2", pages: { desk: "lights", in: [3] } }),
    ]);
    expect(Rig.onPage(3, show).press("pad-1").sent()).toEqual(["/set/playback/3/2/flash 1"]);
    expect(Rig.onPage(4, show).press("pad-1").sent()).toEqual(["/set/playback/4/1/flash 1"]);
  });
});

describe("how a function acts", () => {
  test("a trigger acts on press and not on release", () => {
    const rig = Rig.onPage(1, showWith([mapping("pad-1", action("g", "cue.go"))])).press("pad-1");
    expect(rig.sent()).toEqual(["/set/cue/go"]);
    expect(rig.release("pad-1").sent()).toEqual([]);
  });
  test("a fader on a switch acts only where it crosses its middle", () => {
    const rig = Rig.onPage(1, showWith([mapping("fader-1", toggle(1), { takeover: "jump" })]));
    for (const v of [0, 40, 63, 64, 100, 70, 20, 10]) rig.move("fader-1", v);
    expect(rig.sent()).toEqual(["/set/playback/1/1/on 1", "/set/playback/1/1/on 0"]);
  });
  test("invert, input and output range are exact at both ends", () => {
    const shape = { input: [0.25, 0.75] as [number, number], invert: true, output: [0.1, 0.9] as [number, number] };
    const rig = Rig.onPage(1, showWith([mapping("fader-1", level(1, undefined, { shape }), { takeover: "jump" })]));
    for (const v of [0, 127]) rig.move("fader-1", v);
    expect(rig.sent()).toEqual(["/set/playback/1/1/level 0.9", "/set/playback/1/1/level 0.1"]);
  });
  test.each([
    ["a message of no control", "90 01 7F", "noControl"],
    ["a free control", "90 24 7F", "noMapping"],
    ["a clock", "F8", "notAControl"],
    ["channel mode", "B0 7B 00", "notAControl"],
    ["SysEx", "F0 01 F7", "notAControl"],
    ["garbage", "3C", "malformed"],
  ])("%s sends nothing and tells why", (_name, hex, wanted) => {
    const rig = Rig.onPage(1, showWith([]));
    rig.rows();
    rig.hex(hex);
    expect(rig.became()).toEqual([wanted]);
    expect(rig.sent()).toEqual([]);
  });
  test("a mapping that is off, elsewhere or empty tells which", () => {
    const rig = Rig.onPage(
      1,
      showWith([
        mapping("pad-1", flash(1), { on: false }),
        mapping("pad-2", flash(1), { layers: ["shift"] }),
        mapping("pad-3", []),
      ]),
    );
    rig.rows();
    rig.press("pad-1").press("pad-2").press("pad-3");
    expect(rig.became()).toEqual(["mappingOff", "notHere", "noActions"]);
  });
});

describe("rule 19: the guard", () => {
  test("values past the desk's budget are shed, the newest arrives, and a press never waits", () => {
    const rig = Rig.onPage(
      1,
      showWith([mapping("fader-1", level(1), { takeover: "jump" }), mapping("pad-1", toggle(2))]),
    );
    for (let n = 0; n < 20_000; n++) rig.move("fader-1", n % 128);
    rig.move("fader-1", 99).press("pad-1");
    const sent = rig.sent();
    expect(sent.length).toBeLessThan(6000);
    expect(sent.slice(-2)).toEqual(["/set/playback/1/1/level 0.7795", "/set/playback/1/2/on 1"]);
  });
  test("the last value of a move arrives by itself when the budget has filled again", () => {
    const rig = Rig.onPage(1, showWith([mapping("fader-1", level(1), { takeover: "jump" })]));
    for (let n = 0; n < 20_000; n++) rig.move("fader-1", n % 128);
    rig.move("fader-1", 42);
    rig.sent();
    expect(rig.wait(20).sent()).toEqual(["/set/playback/1/1/level 0.3307"]);
    expect(rig.wait(20).sent()).toEqual([]);
  });
  test("a surface that hears its own lights is stopped within 100 ms, and goes on when closed by hand", () => {
    const rig = Rig.onPage(1, showWith([mapping("pad-1", toggle(1))]));
    rig.desk("/now/playback/1/1/colour", colour("#e9b44c"));
    // The light of the pad comes back as a press of the pad, which changes its light, and so on.
    let value = 0;
    let rounds = 0;
    for (; rounds < 200 && !rig.translator.world.surfaces[0]!.loop.tripped; rounds++) {
      rig.drawn();
      value = 1 - value;
      rig.nowMs += 0.5;
      rig.desk("/now/playback/1/1/on", i(value));
      for (const light of rig.drawn()) {
        const [status, number, v] = light.split(" ");
        rig.bytes(Uint8Array.of(Number.parseInt(status!, 16), Number(number), Number(v)));
      }
    }
    expect(rounds * 0.5).toBeLessThan(100);
    rig.sent();
    rig.release("pad-1").press("pad-1");
    expect(rig.sent()).toEqual([]);
    expect(rig.became()).toContain("looped");
    rig.translator.rearm("surface", 0);
    rig.wait(1000).release("pad-1").press("pad-1");
    expect(rig.sent()).toHaveLength(1);
  });
});

describe("the plain path and the fast one", () => {
  const beyond = { from: "message", part: "value", offset: 1000 } as const; // no desk has such a playback
  test("send the same bytes and tell the same", () => {
    // A second action that never fires takes the mapping off the fast path.
    const never = { ...toggle(1), id: "never", bindings: { page, playback: beyond } };
    const plain = Rig.onPage(2, showWith([mapping("fader-1", [level(1), never])]));
    const fast = Rig.onPage(2, showWith([mapping("fader-1", [level(1)])]));
    for (const rig of [plain, fast]) {
      rig.rows();
      for (const v of [3, 3, 64, 127, 0, 12]) rig.move("fader-1", v).wait(7);
      rig.desk("/now/playback/2/1/level", f(0.9)).wait(3000).move("fader-1", 13).move("fader-1", 125);
    }
    expect(fast.sent()).toEqual(plain.sent());
    expect(fast.rows()).toEqual(plain.rows());
  });
  test("a fader's message that has no room in a row of the traffic is kept whole beside it", () => {
    const lights = profiles.desks.get("quay-lights")!;
    const long = { ...lights, id: "long-lights", functions: structuredClone(lights.functions) };
    const fn = long.functions.find((x) => x.id === "playback.level")!;
    const address = `/set/${"very-".repeat(18)}long/{page}/{playback}`;
    fn.send = [{ ...fn.send[0]!, address } as (typeof fn.send)[number]];
    const desks = [{ ...showWith([]).desks[0]!, profile: long.id }];
    const all = profilesOf([...profiles.surfaces.values()], [...profiles.desks.values(), long]);
    const rig = new Rig(showWith([mapping("fader-1", [level(1, fixed(1))], jump)], { desks }), {
      profiles: all,
      links: false,
    });
    rig.move("fader-1", 64).move("fader-1", 127);
    const { ring } = rig.translator.world;
    const row = rig.rows().findLast((r) => r.out)!;
    const rest = restOf(ring.takeRests(), row.sequence)!;
    expect(row.length).toBeGreaterThan(ROW_DATA_BYTES);
    expect([row.bytes.length + rest.length, rest.at(-4)]).toEqual([row.length, 0x3f]); // the float 1.0
  });
});
