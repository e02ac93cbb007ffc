import { describe, expect, test } from "vitest";
import { Rig } from "../../../tests/rig/rig.ts";
import {
  action,
  fixed,
  flash,
  house,
  library,
  mapping,
  profiles,
  shift,
  showWith,
  synth,
  toggle,
} from "../../../tests/rig/shows.ts";
import { control, encoder, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import { adviceWords, nearMissWords } from "../../words/advice.ts";
import { fromPlain } from "../../words/traffic.ts";
import { numberListWords, parseNumberList } from "../format/number-list.ts";
import type { PortRef, Show } from "../format/show.ts";
import { parseHexBytes } from "../midi/hex.ts";
import { nearMisses } from "../translate/near-miss.ts";
import { adviceFor } from "./advice.ts";
import { compileShow } from "./compile.ts";
import { nextFree } from "./free-numbers.ts";

const NO_NAMES = fromPlain({ middleC: "C3", devices: {}, mappings: {} });
const said = (show: Show) =>
  adviceFor(compileShow(show, profiles)).map((a) => `${a.severity} ${a.code} ${JSON.stringify(a.about)}`);
const udp = (port: number): PortRef => ({ kind: "midi-udp", host: "127.0.0.1", port });
const note = (n: number) => action("n", "note", { channel: fixed(1), note: fixed(n) }, { desk: "synth" });

describe("checks that help", () => {
  test("a show without anything odd gets no advice", () => {
    expect(
      said(
        showWith([
          mapping("pad-1", flash(1)),
          mapping("shift", shift()),
          mapping("pad-2", flash(2), { layers: ["shift"] }),
        ]),
      ),
    ).toEqual([]);
  });
  test("rule 12: a clash is told at both, with a sentence", () => {
    const show = showWith([mapping("pad-1", flash(1)), mapping("pad-1", flash(2), { id: "m-2" })]);
    expect(said(show)).toEqual(['care clash {"mapping":"m-pad-1"}', 'care clash {"mapping":"m-2"}']);
    expect(adviceWords(adviceFor(compileShow(show, profiles))[0]!)).toContain("Two mappings of Pad 1 say the same");
  });
  test("a layer that nothing enters", () => {
    const lost = mapping("pad-2", flash(2), { layers: ["shift"] });
    expect(said(showWith([lost]))).toEqual(['care layer-unreachable {"mapping":"m-pad-2"}']);
    expect(said(showWith([lost, mapping("pad-3", house("layer.next"))]))).toEqual([]);
    expect(said(showWith([lost, mapping("pad-3", house("layer.lock", { layer: fixed(2) }))]))).toEqual([]);
  });
  test("pages the desk does not have, and a radio group of one", () => {
    const show = showWith([
      mapping("pad-1", flash(1), { pages: { desk: "lights", in: [40] } }),
      mapping("pad-2", toggle(2), { radio: "alone" }),
    ]);
    expect(said(show)).toEqual([
      'care page-unreachable {"mapping":"m-pad-1"}',
      'note radio-alone {"mapping":"m-pad-2"}',
    ]);
  });
  test("numbers that lead outside of the desk's range, partly or altogether", () => {
    const keys = (offset: number) =>
      mapping(
        "keys",
        action("k", "playback.flash", { page: fixed(1), playback: { from: "message", part: "number", offset } }),
        {
          control: "keys",
          message: { kind: "any", of: "note", channels: [1, 1], numbers: [60, 83] },
        },
      );
    expect(said(showWith([keys(-59)]))).toEqual(['care outside-range {"mapping":"m-keys","action":"k"}']);
    expect(said(showWith([keys(0)]))).toEqual(['fault outside-range {"mapping":"m-keys","action":"k"}']);
    const strips = showWith(
      [
        mapping(
          "pad-1",
          action("s", "playback.go", { page: fixed(1), playback: { from: "strip", bank: "b", strip: 1 } }),
        ),
      ],
      { banks: [{ id: "b", name: "B", first: 1, last: 40, size: 8 }] },
    );
    expect(said(strips)).toEqual(['care outside-range {"mapping":"m-pad-1","action":"s"}']);
  });
  test("controllers 120 to 127, in and out", () => {
    const show = showWith([
      mapping("pad-1", house("message.send", {}, { target: "deck", message: "B0 7B 00" })),
      mapping("all", flash(1), {
        control: "all",
        gesture: "move",
        takeover: "jump",
        message: { kind: "any", of: "controller", channels: [1, 1], numbers: [100, 127] },
      }),
    ]);
    expect(said(show)).toEqual([
      'care reserved-controller {"mapping":"m-pad-1","action":"h-message.send"}',
      'care reserved-range {"mapping":"m-all"}',
    ]);
  });
  test("MIDI out with a number that the surface on that port uses itself", () => {
    const desk = { ...synth, midi: { in: { kind: "none" } as const, out: udp(5004) } };
    const show = showWith([mapping("pad-1", note(36)), mapping("pad-2", note(100))], {
      desks: [...showWith([]).desks, desk],
    });
    const on = (out: PortRef): Show => ({ ...show, surfaces: [{ ...show.surfaces[0]!, out }] });
    expect(said(on(udp(5004)))).toEqual(['care own-number {"mapping":"m-pad-1","action":"n"}']);
    expect(adviceWords(adviceFor(compileShow(on(udp(5004)), profiles))[0]!)).toContain("The next free number is 67.");
    expect(said(on(udp(5006)))).toEqual([]);
  });
  test("an output that feeds its own input", () => {
    const base = showWith([], {
      desks: [...showWith([]).desks, { ...synth, midi: { in: { kind: "none" }, out: udp(5004) } }],
    });
    const surface = base.surfaces[0]!;
    expect(said({ ...base, surfaces: [{ ...surface, in: udp(5004) }] })).toEqual([
      'fault desk-feeds-input {"port":"synth"}',
    ]);
    expect(said({ ...base, surfaces: [{ ...surface, in: udp(1), out: udp(1) }] })).toEqual([
      'fault surface-hears-itself {"port":"deck"}',
    ]);
    const cable = { kind: "cable", name: "Bells" } as const;
    expect(said({ ...base, surfaces: [{ ...surface, in: cable, out: cable }] })).toEqual([
      'fault surface-hears-itself {"port":"deck"}',
    ]);
    expect(said({ ...base, surfaces: [{ ...surface, in: cable, out: { ...cable, name: "Back" } }] })).toEqual([]);
    expect(
      said({ ...base, routes: [{ id: "r", name: "R", on: true, from: "deck", to: "deck", pass: "all" }] }),
    ).toEqual(['care route-to-itself {"route":"r"}']);
  });
});

describe("near misses: why a message did nothing", () => {
  const show = showWith(
    [
      mapping("pad-1", flash(1)),
      mapping("pad-2", flash(2), { layers: ["shift"] }),
      mapping("pad-3", flash(3), { pages: { desk: "lights", in: [4] } }),
      mapping("pad-4", flash(4), { on: false }),
      mapping("pad-5", flash(5), { when: [{ desk: "lights", state: "blackout", from: 1, to: 1 }] }),
      mapping("pad-6", flash(6), { on: false, layers: ["shift"] }),
    ],
    {},
  );
  const rig = Rig.onPage(1, show);
  const misses = (hex: string) =>
    nearMisses(rig.translator.world.context, 0, parseHexBytes(hex)!).map(
      (m) => `${m.mapping}: ${nearMissWords(m, NO_NAMES)}`,
    );
  test.each([
    ["another channel", "91 24 7F", "m-pad-1: it waits for channel 1"],
    ["a number beside it", "90 23 7F", "m-pad-1: it waits for number 36"],
    ["another kind", "B0 24 7F", "m-pad-1: it waits for a note"],
    ["another layer", "90 25 7F", "m-pad-2: it holds on the layer Shift"],
    ["another page", "90 26 7F", "m-pad-3: it holds on page 4"],
    ["switched off", "90 27 7F", "m-pad-4: it is switched off"],
    ["a condition", "90 28 7F", "m-pad-5: its condition is not met"],
  ])("%s", (_name, hex, wanted) => {
    expect(misses(hex)[0]).toBe(wanted);
  });
  test("two things that differ are no near miss", () => {
    expect(misses("90 29 7F").filter((m) => m.startsWith("m-pad-6"))).toEqual([]);
    expect(misses("95 60 7F")).toEqual([]);
  });
  test("out of service", () => {
    expect(nearMisses(rig.translator.world.context, 0, parseHexBytes("90 24 7F")!, () => true)[0]).toMatchObject({
      differs: "bypassed",
    });
  });
});

describe("the next free number of a surface", () => {
  test("leaves out what its controls and lights use, on that channel", () => {
    const deck = library.surfaces[0]!;
    expect([nextFree(deck, "note", 1, 36), nextFree(deck, "note", 2, 36)]).toEqual([67, 36]);
  });
  test("leaves out halves of 14 bits, encoders, and what controllers mean by themselves", () => {
    const profile = surfaceProfile([
      control("a", { kind: "controller-14", channel: 1, number: 1 }, { behaviour: "absolute" }),
      encoder("b", { kind: "relative", channel: 1, number: 2, encoding: "offset-64" }),
    ]);
    expect([
      nextFree(profile, "controller", 1),
      nextFree(profile, "controller", 1, 33),
      nextFree(profile, "controller", 1, 96),
    ]).toEqual([3, 34, 102]);
  });
  test("none is left", () => {
    expect(nextFree(surfaceProfile([]), "note", 1, 0, new Set(Array.from({ length: 128 }, (_, n) => n)))).toBeNull();
  });
});

describe("lists of numbers as text", () => {
  test.each<[string, number[] | null, string?]>([
    ["1 to 4", [1, 2, 3, 4]],
    ["1, 4, 7 to 9", [1, 4, 7, 8, 9]],
    ["4 to 2", [4, 3, 2], "4, 3, 2"],
    ["1..3", [1, 2, 3], "1 to 3"],
    ["5,5", [5], "5"],
    ["1-4", [1, 2, 3, 4], "1 to 4"],
    ["1 4", [1, 4], "1, 4"],
    ["1,2,5-8", [1, 2, 5, 6, 7, 8], "1, 2, 5 to 8"],
    ["1 - 3; 9", [1, 2, 3, 9], "1 to 3, 9"],
    ["-2 -1", [-2, -1], "-2, -1"],
    ["-2 to 0", [-2, -1, 0]],
    ["1--1", [1, 0, -1], "1, 0, -1"],
    ["1 to 2 to 3", null],
    ["1-", null],
    ["", null],
    ["1 to", null],
    ["a", null],
    ["1 to 500", null],
  ])("“%s”", (text, wanted, back = text) => {
    expect(parseNumberList(text)).toEqual(wanted);
    if (wanted) expect(numberListWords(wanted)).toBe(back);
  });
});
