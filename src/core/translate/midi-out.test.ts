import { describe, expect, test } from "vitest";
import { Rig } from "../../../tests/rig/rig.ts";
import { action, fixed, go, jump, level, mapping, showOn, showWith, synth, went } from "../../../tests/rig/shows.ts";
import { control, fader, once, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import type { Mapping, Show } from "../format/show.ts";
import { hexBytes, parseHexBytes } from "../midi/hex.ts";
import { OUTCOME } from "../trace/outcome.ts";

const hex2 = (v: number) => v.toString(16).padStart(2, "0");

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
  test.each([
    ["once over a cable, which loses nothing", { kind: "cable", name: "To the horn" }, 1],
    ["again over UDP, which may", { kind: "midi-udp", host: "127.0.0.1", port: 5006 }, 2],
  ] as const)("that it is off is said %s", (_, out, least) => {
    const desk = { ...synth, midi: { in: { kind: "none" }, out } } as typeof synth;
    const shown = showWith([mapping("pad-1", midi("note", { channel: 1, note: 60 }))], {
      desks: [...showWith([]).desks, desk],
    });
    const rig = new Rig(shown, {}).wait(20);
    rig.tap("pad-1");
    const offs: string[] = [];
    for (let n = 0; n < 50; n++)
      offs.push(
        ...rig
          .wait(20)
          .sent()
          .filter((t) => t === "80 3C 40"),
      );
    expect(Math.min(offs.length, 2)).toBe(least);
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
  test.each<[string, Record<string, number>, string]>([
    ["show.go-point", { device: 1, cue: 12, after: 5 }, "F0 7F 01 02 7F 01 31 32 2E 35 F7"],
    ["show.timed-go", { device: 1, cue: 7, seconds: 3 }, "F0 7F 01 02 7F 04 60 00 03 00 00 37 F7"],
    ["show.load", { device: 1, cue: 7, list: 2 }, "F0 7F 01 02 7F 05 37 00 32 F7"],
    ["show.fire", { device: 1, macro: 9 }, "F0 7F 01 02 7F 07 09 F7"],
    ["show.reset", { device: 1 }, "F0 7F 01 02 7F 0A F7"],
    ["machine.point", { device: 1, point: 2 }, "F0 7F 01 06 44 02 00 0A F7"],
    ["timecode.25", { hours: 1, minutes: 2, seconds: 3 }, "F0 7F 7F 01 01 21 02 03 00 F7"],
    ["timecode.30-drop.clock", {}, "F0 7F 7F 01 01 4A 00 00 00 F7"],
    ["timecode.24.quarters", {}, "F1 00 F1 10 F1 20 F1 30 F1 40 F1 50 F1 6A F1 70"],
    ["song", { song: 4 }, "F3 04"],
  ])("%s on a press", (fn, bindings, wanted) => {
    // It is ten o'clock, and a little.
    const rig = Rig.onPage(1, show(mapping("pad-1", midi(fn, bindings))), {
      links: false,
      secondsOfDay: () => 36_000.01,
    });
    expect(rig.tap("pad-1").sent()).toEqual([wanted]);
  });
  test("time code follows a value: the place in the day, at every rate", () => {
    const at = (rate: string, top: number) => {
      const rig = Rig.onPage(1, show(mapping("fader-1", midi(`timecode.${rate}.value`, {}), jump)));
      return rig.move("fader-1", top).sent();
    };
    expect(["24", "25", "30-drop", "30"].map((rate) => at(rate, 127))).toEqual([
      ["F0 7F 7F 01 01 17 3B 3B 00 F7"],
      ["F0 7F 7F 01 01 37 3B 3B 00 F7"],
      ["F0 7F 7F 01 01 57 3B 3B 00 F7"],
      ["F0 7F 7F 01 01 77 3B 3B 00 F7"],
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

describe("what a MIDI desk says", () => {
  test("each message has a row of its own, SysEx whole in whatever pieces it came, and what is no message is told", () => {
    const rig = new Rig(showWith([], { desks: [...showWith([]).desks, synth] }), {}).wait(20);
    rig.rows();
    const d = 1;
    for (const hex of ["F0 7D 01", "02 03", "04 F7 90 3C 7F", "3D 40 05", "B0 07"])
      rig.translator.deskBytes(d, parseHexBytes(hex)!, rig.nowMs);
    const rows = rig.rows().filter((r) => r.desk && !r.out);
    expect(rows.map((r) => hexBytes(r.bytes))).toEqual(["F0 7D 01 02 03 04 F7", "90 3C 7F", "90 3D 40", ""]);
    expect(rows.at(-1)!.code).toBe(OUTCOME.malformed);
  });
});

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
  test("everything is everything: tune request, active sensing and reset too, unless the route says otherwise", () => {
    expect(Rig.onPage(1, show({})).hex("F6 FE FF").sent()).toEqual(["F6", "FE", "FF"]);
    expect(
      Rig.onPage(1, show({ kinds: ["note", "clock"] }))
        .hex("F6 FE FF F8")
        .sent(),
    ).toEqual(["F8"]);
  });
});
