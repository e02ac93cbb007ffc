import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { action, fixed, flash, house, level, mapping, profiles, showWith, synth } from "../../../tests/rig/shows.ts";
import { control, encoder, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import { told } from "../../../tests/rig/told.ts";
import type { Shape } from "../format/shape.ts";
import { Action, type Mapping, type Show } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import { checkShow } from "./check-show.ts";
import { checkSurfaceProfile } from "./check-surface-profile.ts";
import { parseEdit } from "./edit-kinds.ts";

const problems = (show: Show) => checkShow(show, profiles).map(told);
const withMapping = (m: Mapping, more: Partial<Show> = {}) => problems(showWith([m], more));
const plain: Shape = { input: [0, 1], invert: false };
const desks = [...showWith([]).desks, synth];

describe("what a mapping names is there, and in its range", () => {
  const place = "mappings[0].actions[0]";
  const toPlayback = (playback: Action["bindings"][string]) =>
    mapping("pad-1", action("a", "playback.go", { page: fixed(1), playback }));
  test.each<[string, string[], string]>([
    [
      "a fixed number",
      withMapping(toPlayback(fixed(21))),
      `${place}.bindings.playback.value: playback 21: the desk has 1 to 20.`,
    ],
    [
      "one of a list",
      withMapping(toPlayback({ from: "list", values: [1, 21] })),
      `${place}.bindings.playback.values[1]: playback 21: the desk has 1 to 20.`,
    ],
    [
      "a bank",
      withMapping(toPlayback({ from: "strip", bank: "b", strip: 1 })),
      `${place}.bindings.playback.bank: there is no bank “b”.`,
    ],
    [
      "a strip of a bank",
      withMapping(toPlayback({ from: "strip", bank: "b", strip: 9 }), {
        banks: [{ id: "b", name: "B", first: 1, last: 20, size: 8 }],
      }),
      `${place}.bindings.playback.strip: strip 9: the desk has 1 to 8.`,
    ],
    [
      "a selection the desk does not tell",
      withMapping(toPlayback({ from: "selection" })),
      `${place}.bindings.playback: the desk “lights” does not tell what is selected.`,
    ],
    [
      "a state",
      withMapping(toPlayback({ from: "state", desk: "lights", state: "mist", offset: 0 })),
      `${place}.bindings.playback.state: there is no state “mist”.`,
    ],
    [
      "a state that is a text",
      withMapping(toPlayback({ from: "state", desk: "lights", state: "page.name", offset: 0 })),
      `${place}.bindings.playback.state: only a number or a switch can be followed; this is a text or a colour.`,
    ],
    [
      "a parameter of a state",
      withMapping(
        toPlayback({ from: "state", desk: "lights", state: "playback.on", parameters: { page: 99 }, offset: 0 }),
      ),
      `${place}.bindings.playback.parameters.page: page 99: the desk has 1 to 9.`,
    ],
    [
      "a variable of a show without one",
      withMapping(mapping("pad-1", house("variable.step", { variable: fixed(1), by: fixed(1) }))),
      `${place}.bindings.variable.value: this show has no variable; add one first.`,
    ],
    [
      "a layer",
      withMapping(mapping("pad-1", house("layer", { layer: fixed(3) }))),
      `${place}.bindings.layer.value: layer 3: the desk has 1 to 2.`,
    ],
    [
      "too long a list",
      withMapping(
        mapping(
          "pad-1",
          action("a", "playback.go", {
            page: { from: "list", values: [1, 2, 3, 4, 5, 6, 7] },
            playback: { from: "list", values: Array.from({ length: 20 }, (_, n) => n + 1) },
          }),
        ),
      ),
      `${place}.bindings: the number of actions in its lists 140: the desk has 1 to 128.`,
    ],
    [
      "an output",
      withMapping(mapping("fader-1", level(1, undefined, { shape: { ...plain, output: [0, 2] } }))),
      `${place}.shape.output[1]: Playback level 2: the desk has 0 to 1.`,
    ],
    [
      "a base and step",
      withMapping(mapping("fader-1", level(1, undefined, { shape: { ...plain, output: { base: 0, step: 1 } } }))),
      `${place}.shape.output.step: Playback level 127: the desk has 0 to 1.`,
    ],
    [
      "a fine layer",
      withMapping(
        mapping("fader-1", level(1, undefined, { shape: { ...plain, fine: { factor: 0.1, while: { layer: "x" } } } })),
      ),
      `${place}.shape.fine.while.layer: there is no layer “x”.`,
    ],
    [
      "a fine control",
      withMapping(
        mapping(
          "fader-1",
          level(1, undefined, { shape: { ...plain, fine: { factor: 0.1, while: { surface: "deck", control: "x" } } } }),
        ),
      ),
      `${place}.shape.fine.while.control: there is no control “x”.`,
    ],
    [
      "a chord with itself",
      withMapping(mapping("pad-1", flash(1), { whileHeld: { surface: "deck", control: "pad-1" } })),
      "mappings[0].whileHeld: this must be another control than the mapping’s own.",
    ],
    [
      "a chord with nothing",
      withMapping(mapping("pad-1", flash(1), { whileHeld: { surface: "deck", control: "pad-99" } })),
      "mappings[0].whileHeld.control: there is no control “pad-99”.",
    ],
    [
      "a condition",
      withMapping(mapping("pad-1", flash(1), { when: [{ desk: "x", state: "s", from: 0, to: 1 }] })),
      "mappings[0].when[0].desk: there is no desk “x”.",
    ],
    [
      "sets without an order",
      withMapping(mapping("pad-1", [flash(1), { ...flash(2), set: 2 }])),
      "mappings[0].order: actions in several sets need an order other than “all of them”.",
    ],
    [
      "a range with a control's name",
      withMapping(
        mapping("pad-1", flash(1), { message: { kind: "any", of: "note", channels: [1, 1], numbers: [1, 2] } }),
      ),
      "mappings[0].control: duplicate id: there is another control “pad-1”.",
    ],
    [
      "a hold of a range",
      withMapping(
        mapping("keys", flash(1), {
          gesture: "hold",
          message: { kind: "any", of: "note", channels: [1, 1], numbers: [1, 2] },
        }),
      ),
      "mappings[0].gesture: a pad of this kind has no “Hold”; it has Press, Release or While held.",
    ],
    [
      "a target that is missing",
      withMapping(mapping("pad-1", house("page.next"))),
      `${place}.target: this action needs a desk to act on.`,
    ],
    [
      "a target that is not there",
      withMapping(mapping("pad-1", house("mapping.run", {}, { target: "m-x" }))),
      `${place}.target: there is no mapping “m-x”.`,
    ],
    [
      "a target without pages",
      withMapping(mapping("pad-1", house("page.next", {}, { target: "synth" })), { desks }),
      `${place}.target: the desk “synth” has no pages to follow.`,
    ],
    [
      "a target where none belongs",
      withMapping(mapping("pad-1", { ...flash(1), target: "lights" })),
      `${place}.target: Flash a playback acts on nothing else, so it needs no target.`,
    ],
    [
      "MIDI to an OSC desk",
      withMapping(mapping("pad-1", house("message.send", {}, { target: "lights", message: "90 3C 7F" }))),
      `${place}.message: this desk takes OSC: an address without wildcards and its arguments, such as /level {value}.`,
    ],
    [
      "OSC to a surface",
      withMapping(mapping("pad-1", house("message.send", {}, { target: "deck", message: "/a" }))),
      `${place}.message: this port takes MIDI: whole messages as hexadecimal pairs, such as B0 07 {value}.`,
    ],
    [
      "half a message",
      withMapping(mapping("pad-1", house("message.send", {}, { target: "deck", message: "90 3C" }))),
      `${place}.message: this port takes MIDI: whole messages as hexadecimal pairs, such as B0 07 {value}.`,
    ],
  ])("%s", (_name, found, wanted) => {
    expect(found.map((t) => t.replace("Flash playback", "Flash a playback"))).toEqual([wanted]);
  });
});

describe("a mapping that would run itself without end is refused", () => {
  const runs = (from: string, to: string) =>
    mapping(from, house("mapping.run", {}, { target: `m-${to}` }), { id: `m-${from}` });
  test("at once, and over others, with the whole way", () => {
    expect(problems(showWith([runs("pad-1", "pad-1")]))).toEqual([
      "mappings[0].actions[0].target: this mapping would run itself without end: “m-pad-1” runs “m-pad-1”.",
    ]);
    expect(problems(showWith([runs("pad-1", "pad-2"), runs("pad-2", "pad-3"), runs("pad-3", "pad-1")]))).toEqual([
      "mappings[2].actions[0].target: this mapping would run itself without end: “m-pad-1” runs “m-pad-2” runs “m-pad-3” runs “m-pad-1”.",
    ]);
  });
  test("one that two others run is fine", () => {
    expect(problems(showWith([runs("pad-1", "pad-3"), runs("pad-2", "pad-3"), mapping("pad-3", flash(1))]))).toEqual(
      [],
    );
  });
});

describe("the parts of a show", () => {
  const show = (more: Partial<Show>) => problems(showWith([], more));
  const group = { id: "g", name: "G", surface: "deck", controls: ["pad-1"] };
  test.each<[string, string[], string]>([
    [
      "a group on no surface",
      show({ groups: [{ ...group, surface: "x" }] }),
      "groups[0].surface: there is no surface “x”.",
    ],
    [
      "a group with a strange control",
      show({ groups: [{ ...group, controls: ["x"] }] }),
      "groups[0].controls[0]: there is no control “x”.",
    ],
    [
      "a layer for no group",
      show({
        layers: [
          { id: "base", name: "Base" },
          { id: "l", name: "L", group: "x" },
        ],
      }),
      "layers[1].group: there is no group “x”.",
    ],
    [
      "a base that covers a group only",
      show({ groups: [group], layers: [{ id: "base", name: "Base", group: "g" }] }),
      "layers[0].group: the base layer covers every control and has no group.",
    ],
    [
      "a route from nowhere",
      show({ routes: [{ id: "r", name: "R", on: true, from: "x", to: "deck", pass: "all" }] }),
      "routes[0].from: there is no surface or desk “x”.",
    ],
    [
      "a route to a desk that speaks OSC",
      show({ routes: [{ id: "r", name: "R", on: true, from: "deck", to: "lights", pass: "all" }] }),
      "routes[0].to: a route leads from and to surfaces and desks that speak MIDI.",
    ],
    [
      "a MIDI desk without ports",
      show({ desks: [{ ...synth, midi: undefined } as never] }),
      "desks[0].midi: this kind of desk needs its MIDI ports.",
    ],
    [
      "a surface and a desk with one name",
      show({ desks: [...desks, { ...synth, id: "deck" }] }),
      "desks[2].id: duplicate id: there is another surface or desk “deck”.",
    ],
  ])("%s", (_name, found, wanted) => {
    expect(found).toEqual([wanted]);
  });
});

describe("what is refused before it is looked at", () => {
  test.each<[string, object, string]>([
    [
      "an empty list",
      { bindings: { playback: { from: "list", values: [] } } },
      "set.bindings.playback.values: expected at least 1 entry.",
    ],
    [
      "equal input ends",
      { shape: { input: [0.5, 0.5] } },
      "set.shape.input[1]: the end of the travel must lie above its start.",
    ],
    ["a delay of a day", { delayMs: 86_400_000 }, "set.delayMs: expected at most 600000."],
    ["a set below one", { set: 0 }, "set.set: expected at least 1."],
    ["an unknown curve", { shape: { curve: { kind: "wobble" } } }, "set.shape.curve.kind: this “kind” is not known."],
  ])("%s, with its path", (_name, set, wanted) => {
    const parsed = parseEdit({ kind: "change-action", mapping: "m", id: "a", set });
    expect(parsed.ok ? [] : parsed.problems.map(told)).toEqual([wanted]);
  });
  test("numbers beyond all numbers", () => {
    for (const value of [Number.NaN, Number.POSITIVE_INFINITY, 1e300])
      expect(Action.safeParse({ ...flash(1), shape: { ...plain, output: [0, value] } }).success).toBe(value === 1e300);
  });
});

describe("surface profiles", () => {
  const found = (...controls: Control[]) => checkSurfaceProfile(surfaceProfile(controls)).map(told);
  test.each<[string, string[], string]>([
    [
      "an encoder that should stand where it is put",
      found(encoder("e", { kind: "relative", channel: 1, number: 1, encoding: "sign-bit" }, { behaviour: "absolute" })),
      "controls[0].behaviour: a control with this message turns without end.",
    ],
    [
      "a cue with a release",
      found(control("c", { kind: "show-control", command: "go" })),
      "controls[0].behaviour: a control with this message has no release.",
    ],
    [
      "a cue where the command carries none",
      found(control("c", { kind: "show-control", command: "reset", cue: "1" }, { behaviour: "one-shot" })),
      "controls[0].sends.cue: this command of show control does not carry that, so it is never heard with it.",
    ],
    [
      "an LSB that is another's controller",
      found(
        control("a", { kind: "controller-14", channel: 1, number: 1 }, { behaviour: "absolute" }),
        control("b", { kind: "controller", channel: 1, number: 33 }),
      ),
      "controls[1].sends: the control “a” already sends controller 33 on channel 1.",
    ],
    [
      "a touch that is another's note",
      found(
        control(
          "a",
          { kind: "bend", channel: 1 },
          { behaviour: "absolute", touch: { kind: "note", channel: 1, number: 5 } },
        ),
        control("b", { kind: "note", channel: 1, number: 5 }),
      ),
      "controls[1].sends: the control “a” already sends note 5 on channel 1.",
    ],
    [
      "banked without banks",
      found(control("a", { kind: "note", channel: 1, number: 5 }, { banked: true })),
      "controls[0].banked: a control is banked only where the surface has banks.",
    ],
  ])("%s", (_name, problem, wanted) => {
    expect(problem).toEqual([wanted]);
  });
  test("banks that lead out of what MIDI can say, or onto each other", () => {
    const banked = (numbers: number, channels = 0) =>
      checkSurfaceProfile(
        surfaceProfile([control("a", { kind: "note", channel: 1, number: 120 }, { banked: true })], {
          banks: [
            { id: "one", name: "One", channels: 0, numbers: 0 },
            { id: "two", name: "Two", channels, numbers },
          ],
        }),
      ).map(told);
    expect(banked(-16)).toEqual([]);
    expect(banked(16)).toEqual(["controls[0].sends: number 136: the desk has 0 to 127."]);
    expect(banked(0, -1)).toEqual(["controls[0].sends: channel 0: the desk has 1 to 16."]);
    expect(banked(0)).toEqual(["controls[0].sends: the control “a” already sends note 120 on channel 1."]);
  });
});

describe("what carries a desk's messages fits its kind", () => {
  const over = (profile: "quay-lights" | "bell", carrier: "udp" | "tcp" | "tcp-slip") => {
    const base = profile === "bell" ? { ...synth } : showWith([]).desks[0]!;
    return problems(showWith([], { desks: [{ ...base, over: carrier }] }));
  };
  test("OSC goes over UDP and over TCP in either framing", () => {
    expect([...over("quay-lights", "udp"), ...over("quay-lights", "tcp"), ...over("quay-lights", "tcp-slip")]).toEqual(
      [],
    );
  });
  test("a desk with MIDI ports has none, and says so", () => {
    expect(over("bell", "tcp")).toEqual(["desks[0].over: nothing carries this kind of desk."]);
  });
});

describe("what was found to be in order is not looked at again", () => {
  const start = showWith(
    [
      mapping("pad-1", flash(1), { layers: ["shift"] }),
      mapping(
        "pad-2",
        action("s-1", "playback.flash", { page: fixed(1), playback: { from: "strip", bank: "bank", strip: 4 } }),
      ),
      mapping("pad-3", house("bank.by", { bank: fixed(1), by: fixed(1) })),
      mapping("fader-1", level(3, fixed(1)), { whileHeld: { surface: "deck", control: "shift" } }),
    ],
    { banks: [{ id: "bank", name: "Bank", first: 1, last: 8, size: 4 }] },
  );
  /** Every way in which the ground may be taken from under a mapping, or given back. */
  const moves: readonly ((show: Show) => Show)[] = [
    (s) => ({ ...s, layers: s.layers.slice(0, 1) }),
    (s) => ({ ...s, layers: start.layers }),
    (s) => ({ ...s, desks: s.desks.filter((d) => d.id !== "lights") }),
    (s) => ({ ...s, desks: start.desks }),
    (s) => ({ ...s, banks: [] }),
    (s) => ({ ...s, banks: start.banks! }),
    (s) => ({ ...s, surfaces: s.surfaces.map((x) => ({ ...x, profile: "tide-strips" })) }),
    (s) => ({ ...s, surfaces: start.surfaces }),
    (s) => ({ ...s, mappings: s.mappings.map((m, i) => (i === 0 ? { ...m, control: "pad-99" } : m)) }),
    (s) => ({ ...s, mappings: s.mappings.slice(1) }),
    (s) => ({ ...s, mappings: start.mappings }),
  ];
  test("the show that it begins with is in order", () => expect(checkShow(start, profiles)).toEqual([]));
  test("but what is told of a show is what is told of one that was never seen", () => {
    fc.assert(
      fc.property(fc.array(fc.nat(moves.length - 1), { maxLength: 12 }), (steps) => {
        let show = start;
        for (const step of steps) {
          show = moves[step]!(show);
          expect(checkShow(show, profiles)).toEqual(checkShow(structuredClone(show), profiles));
        }
      }),
    );
  });
});
