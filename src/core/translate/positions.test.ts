import { describe, expect, test } from "vitest";
import { f, i, Rig, s } from "../../../tests/rig/rig.ts";
import { action, fixed, jump, mapping, showOn, showWith, sound } from "../../../tests/rig/shows.ts";
import { control, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import type { Action, Mapping, Surface } from "../format/show.ts";
import type { SurfaceProfile } from "../format/surface-profile.ts";
import { HAND_RESTS_MS } from "../from-desk/positions.ts";
import { compileDisplay, displayBytes, displayText, readDisplay } from "../surface/display.ts";

const strips: Surface = {
  id: "deck",
  name: "Strips",
  profile: "tide-strips",
  in: { kind: "screen" },
  out: { kind: "screen" },
};
const on = (fn: string, bindings: Action["bindings"]) => action(fn, fn, bindings, { desk: "sound" });
const level = (channel: number, control = `fader-${channel}`) =>
  mapping(control, on("channel.level", { channel: fixed(channel) }));
const strip: Action["bindings"] = { channel: { from: "strip", bank: "b", strip: 1 } };

function rigWith(mappings: Mapping[], more: Partial<Parameters<typeof showWith>[1]> = {}): Rig {
  const rig = new Rig(showWith(mappings, { surfaces: [strips], desks: [sound], ...more }), { links: false });
  rig.translator.tick(rig.nowMs);
  rig.drawn();
  return rig;
}
/** 0 dB stands at three quarters of the way, -15 dB in the middle. */
const THREE_QUARTERS = "e0 127 95";
const MIDDLE = "e0 127 63";
const touch = (rig: Rig, on: boolean) => rig.hex(on ? "91 64 7F" : "81 64 00");

describe("motors follow the desk", () => {
  test("to the level it tells, once, in 14 bits", () => {
    const rig = rigWith([level(1)]).desk("/is/channel/1/level", f(0));
    expect(rig.drawn().filter((t) => t.startsWith("e"))).toEqual([THREE_QUARTERS]);
    rig.desk("/is/channel/1/level", f(0)).wait(500);
    expect(rig.drawn().filter((t) => t.startsWith("e"))).toEqual([]);
  });
  test("rule 9: a motor never has to be caught", () => {
    const rig = rigWith([level(1)]).desk("/is/channel/1/level", f(0));
    expect(rig.hex("E0 00 40").sent()).toEqual(["/do/channel/1/level -14.9982"]);
  });
  test("rule 15: not under a finger; when it is let go the last level follows", () => {
    const rig = rigWith([level(1)]).desk("/is/channel/1/level", f(0));
    rig.drawn();
    touch(rig, true).desk("/is/channel/1/level", f(-50)).desk("/is/channel/1/level", f(-15)).wait(2000);
    expect(rig.drawn().filter((t) => t.startsWith("e"))).toEqual([]);
    touch(rig, false);
    expect(rig.drawn().filter((t) => t.startsWith("e"))).toEqual([MIDDLE]);
  });
  test("a surface that went away under a finger is let go, and its motors move again", () => {
    const rig = rigWith([level(1)]).desk("/is/channel/1/level", f(0));
    rig.drawn();
    touch(rig, true).desk("/is/channel/1/level", f(-15)).wait(500);
    expect(rig.drawn().filter((t) => t.startsWith("e"))).toEqual([]);
    const surface = rig.translator.world.surfaces[0]!;
    surface.moved.clear();
    rig.translator.surfaceGone(0, rig.nowMs);
    expect(rig.drawn().filter((t) => t.startsWith("e"))).toEqual([MIDDLE]);
    expect(surface.moved.list().map((c) => surface.compiled.profile.controls[c]!.id)).toContain("fader-1");
  });
  test(`rule 15: not within ${HAND_RESTS_MS} ms of a hand’s move, also without touch`, () => {
    const rig = rigWith([level(1)]).desk("/is/channel/1/level", f(-15));
    rig.drawn();
    rig
      .hex("E0 00 20")
      .desk("/is/channel/1/level", f(0))
      .wait(HAND_RESTS_MS - 20);
    expect(rig.drawn().filter((t) => t.startsWith("e"))).toEqual([]);
    rig.wait(40);
    expect(rig.drawn().filter((t) => t.startsWith("e"))).toEqual([THREE_QUARTERS]);
  });
  test("a hand’s own move, which the desk confirms, sends nothing back", () => {
    const rig = rigWith([level(1)])
      .desk("/is/channel/1/level", f(0))
      .hex("E0 00 40");
    rig.drawn();
    rig.desk("/is/channel/1/level", f(-15)).wait(1000); // rounded there
    expect(rig.drawn().filter((t) => t.startsWith("e"))).toEqual([]);
  });
  test("a desk that takes less than it was told pulls the fader back", () => {
    const rig = rigWith([level(1)])
      .desk("/is/channel/1/level", f(-15))
      .hex("E0 7F 7F");
    rig.drawn();
    rig.desk("/is/channel/1/level", f(0)).wait(500);
    expect(rig.drawn().filter((t) => t.startsWith("e"))).toEqual([THREE_QUARTERS]);
  });
  test("what nobody drives goes down; a level that is not known stays", () => {
    const rig = new Rig(showWith([level(1)], { surfaces: [strips], desks: [sound] }), { links: false });
    rig.translator.tick(rig.nowMs);
    const first = rig.drawn().filter((t) => t.startsWith("e"));
    expect(first).toHaveLength(7);
    expect(first).not.toContainEqual(expect.stringMatching(/^e0/));
  });
  test("rule 18: with the bank all faders and texts move together", () => {
    const banks = [{ id: "b", name: "Strips", first: 1, last: 32, size: 1 }];
    const rig = rigWith(
      [
        mapping("fader-1", on("channel.level", strip)),
        mapping("bank-up", action("up", "bank.by", { bank: fixed(1), by: fixed(1) }, { desk: "house" })),
      ],
      { banks },
    );
    rig.desk("/is/channel/1/level", f(0)).desk("/is/channel/2/level", f(-15)).desk("/is/channel/2/name", s("Brass"));
    rig.drawn();
    rig.tap("bank-up");
    const drawn = rig.drawn();
    expect(drawn).toContain(MIDDLE);
    expect(drawn).toContain("F0 7D 51 01 01 “Brass”");
  });
  test("bypassed feedback leaves the motor alone", () => {
    const rig = rigWith(
      [level(1), mapping("solo", action("b", "bypass.feedback", { group: fixed(1) }, { desk: "house" }))],
      { groups: [{ id: "g", name: "First", surface: "deck", controls: ["fader-1"] }] },
    );
    rig.tap("solo");
    rig.drawn();
    rig.desk("/is/channel/1/level", f(0)).wait(500);
    expect(rig.drawn().filter((t) => t.startsWith("e"))).toEqual([]);
  });
});

describe("rings and texts", () => {
  test("a ring shows the level of what a knob turns", () => {
    const rig = rigWith([mapping("knob-1", on("channel.pan", { channel: fixed(1) }), { gesture: "turn" })]);
    rig.desk("/is/channel/1/pan", f(0));
    expect(rig.drawn()).toEqual(["b1 90 16"]);
    rig.desk("/is/channel/1/pan", f(1)).desk("/is/channel/1/pan", f(1));
    expect(rig.drawn()).toEqual(["b1 90 31"]);
  });
  test("a text has the desk’s name for it, and its value", () => {
    const rig = rigWith([level(1)]);
    rig.desk("/is/channel/1/name", s("Choeur à bouche fermée")).desk("/is/channel/1/level", f(-90));
    expect(rig.drawn()).toEqual(["F0 7D 51 01 01 “Choeur a bou”", "e0 0 0", "F0 7D 51 01 02 “-oo dB”"]);
    rig.desk("/is/channel/1/level", f(-12.5));
    expect(rig.drawn()).toContain("F0 7D 51 01 02 “-12.5 dB”");
  });
  test("what has no name at the desk has the one of its mapping, and free strips are empty", () => {
    const rig = new Rig(showWith([{ ...level(1), name: "Narrator" }], { surfaces: [strips], desks: [sound] }), {
      links: false,
    });
    rig.translator.tick(rig.nowMs);
    const drawn = rig.drawn();
    expect(drawn).toContain("F0 7D 51 01 01 “Narrator”");
    expect(drawn.filter((t) => t.startsWith("F0 7D 51 02 01"))).toHaveLength(1);
  });
  test.each([
    ["Foghorn", 4, "Fogh"],
    ["−3 dB", 8, "-3 dB"],
    [
      "Größe",
      8,
      "Große"
        .normalize("NFD")
        .replace(/[^ -~]/g, "")
        .replace("Groe", "Gro?e"),
    ],
    ["月", 8, "?"],
  ])("“%s” in %i characters is “%s”", (text, length, shown) => {
    expect(displayText(text, length)).toBe(shown);
  });
  test("a text is read back from its message, and from no other", () => {
    const [first, second] = ["F0 7D 01 {text} F7", "F0 7D 02 {text} F7"].map((bytes, k) =>
      compileDisplay(
        {
          id: `d${k}`,
          name: "d",
          box: { x: 0, y: 0, width: 1, height: 1 },
          of: "f",
          shows: "name",
          length: 6,
          bytes,
        },
        0,
      ),
    );
    const bytes = displayBytes(first!, "Bells");
    expect([bytes.length, readDisplay(first!, bytes), readDisplay(second!, bytes)]).toEqual([10, "Bells", null]);
  });
});

describe("making a surface ready", () => {
  test("its first messages go before everything else, its last when it is left", () => {
    const rig = rigWith([level(1)]);
    rig.translator.surfaceOpened(0, rig.nowMs);
    expect(rig.drawn()[0]).toBe("F0 7D 51 7F 01 F7");
    rig.translator.leaveSurfaces(rig.nowMs);
    expect(rig.drawn()).toEqual(["F0 7D 51 7F 00 F7"]);
  });
  test("a surface that is taken out of the show is left too", () => {
    const rig = rigWith([]);
    rig.edit((show) => ({ ...show, surfaces: [] }));
    expect(rig.drawn()).toEqual(["F0 7D 51 7F 00 F7"]);
  });
  test("every message counts in the budget of its port by its length", () => {
    const rig = new Rig(
      showWith([level(1)], {
        surfaces: [{ ...strips, out: { kind: "browser-midi", device: "Strips", nth: 1 } }],
        desks: [sound],
      }),
      { links: false },
    );
    rig.translator.tick(rig.nowMs);
    const bytes = rig.drawn().reduce((n, t) => n + (t.startsWith("F0") ? 18 : 3), 0);
    expect(bytes).toBeLessThanOrEqual(32 * 3);
  });
});

describe("rule 16: a surface that lights itself", () => {
  const profile = (behaviour: "springs-back" | "latches"): SurfaceProfile => {
    const note = { kind: "note", channel: 1, number: 40 } as const;
    const colours = [{ name: "red", colour: "#e2574c", dim: 1, full: 2, pulse: 3 }];
    return surfaceProfile([control("pad-1", note, { behaviour, light: { ...note, palette: "p" } })], {
      lightsItself: true,
      palettes: [{ id: "p", off: 0, colours }],
    });
  };
  function rigFor(behaviour: "springs-back" | "latches"): Rig {
    const fn = behaviour === "latches" ? "playback.toggle" : "playback.flash";
    const made = showOn(profile(behaviour), [
      mapping("pad-1", action("a", fn, { page: fixed(1), playback: fixed(1) })),
    ]);
    const rig = new Rig(made.show, { links: false, profiles: made.profiles });
    rig.desk("/now/playback/1/1/on", i(0)).desk("/now/playback/1/1/flash", i(0));
    rig.drawn();
    return rig;
  }
  test("gets no echo of its own press, and its true light when it has put out its own", () => {
    const rig = rigFor("springs-back").press("pad-1").desk("/now/playback/1/1/flash", i(1)).wait(100);
    expect(rig.drawn()).toEqual([]);
    rig.release("pad-1").desk("/now/playback/1/1/flash", i(0));
    expect(rig.drawn()).toEqual(["90 40 2", "90 40 1"]); // on until the desk says that it is off
  });
  test("a latch that is lit by itself is told only where the desk sees it otherwise", () => {
    const rig = rigFor("latches").press("pad-1").desk("/now/playback/1/1/on", i(1)).wait(100);
    expect(rig.drawn()).toEqual([]);
    rig.wait(200).desk("/now/playback/1/1/on", i(0));
    expect(rig.drawn()).toEqual(["90 40 1"]);
  });
  test("a fader that jumps needs none of this", () => {
    const made = showOn(profile("springs-back"), [mapping("pad-1", action("a", "cue.go"), jump)]);
    expect(new Rig(made.show, { links: false, profiles: made.profiles }).tap("pad-1").sent()).toEqual(["/set/cue/go"]);
  });
});
