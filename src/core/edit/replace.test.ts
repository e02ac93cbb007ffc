import { describe, expect, test } from "vitest";
import {
  action,
  fixed,
  flash,
  level,
  library,
  mapping,
  page,
  profiles,
  showWith,
  sound,
  toggle,
} from "../../../tests/rig/shows.ts";
import { told } from "../../../tests/rig/told.ts";
import { applyEdit, applyStoredPatches } from "./edits.ts";
import { type Becomes, proposeControls, proposeFunctions } from "./replace.ts";

const surface = (id: string) => library.surfaces.find((p) => p.id === id)!;
const desk = (id: string) => library.desks.find((p) => p.id === id)!;
const becomes = (rows: readonly { id: string; to: string | null }[]): Becomes =>
  Object.fromEntries(rows.map((r) => [r.id, r.to]));

const show = showWith(
  [
    mapping("pad-1", toggle(1)),
    mapping("pad-2", flash(2), { whileHeld: { surface: "deck", control: "shift" } }),
    mapping("fader-1", level(1)),
    mapping(
      "fader-2",
      level(2, page, {
        shape: { input: [0, 1], invert: false, fine: { factor: 0.2, while: { surface: "deck", control: "shift" } } },
      }),
    ),
  ],
  { groups: [{ id: "g", name: "Faders", surface: "deck", controls: ["fader-1", "fader-2"] }] },
);

describe("another surface in the place of one", () => {
  const rows = proposeControls(show, "deck", surface("deck-grid"), surface("tide-strips"));
  test("what is used is proposed with what is like it, in the order of places", () => {
    expect(rows.map((r) => [r.id, r.to, r.uses])).toEqual([
      ["pad-1", "bank-up", 1],
      ["pad-2", "one-down", 1],
      ["fader-1", "fader-1", 2],
      ["fader-2", "fader-2", 2],
      ["shift", "bank-down", 1],
    ]);
  });
  test("mappings, chords, fine moves and groups go with their controls, and one undo takes all back", () => {
    const result = applyEdit(
      show,
      { kind: "replace-surface", id: "deck", profile: "tide-strips", becomes: becomes(rows) },
      profiles,
    );
    if (!result.ok) throw new Error(result.problems.map(told).join());
    expect(result.show.mappings.map((m) => m.control)).toEqual(["bank-up", "one-down", "fader-1", "fader-2"]);
    expect(result.show.mappings[1]!.whileHeld).toEqual({ surface: "deck", control: "bank-down" });
    expect(result.show.mappings[3]!.actions[0]!.shape.fine!.while).toEqual({ surface: "deck", control: "bank-down" });
    expect(applyStoredPatches(result.show, result.inverse)).toEqual(show);
  });
  test("what becomes nothing is unmapped, with everything that stood on it", () => {
    const nothing: Becomes = { ...becomes(rows), "fader-1": null, "fader-2": null, shift: null };
    const result = applyEdit(
      show,
      { kind: "replace-surface", id: "deck", profile: "tide-strips", becomes: nothing },
      profiles,
    );
    if (!result.ok) throw new Error(result.problems.map(told).join());
    expect(result.show.mappings.map((m) => [m.control, m.whileHeld])).toEqual([
      ["bank-up", undefined],
      ["one-down", undefined],
    ]);
    expect(result.show.groups).toEqual([]);
  });
  test("a control that does not do what its mapping needs is refused", () => {
    const wrong: Becomes = { ...becomes(rows), "pad-1": "fader-8" };
    const result = applyEdit(
      show,
      { kind: "replace-surface", id: "deck", profile: "tide-strips", becomes: wrong },
      profiles,
    );
    expect(result.ok ? "" : told(result.problems[0]!)).toContain("a fader of this kind has no “Press”");
  });
  test("a kind that is not there is refused", () => {
    const result = applyEdit(show, { kind: "replace-surface", id: "deck", profile: "moon", becomes: {} }, profiles);
    expect(result.ok ? "" : told(result.problems[0]!)).toBe("there is no kind of surface “moon”.");
  });
});

describe("another desk in the place of one", () => {
  const rows = proposeFunctions(show, "lights", desk("quay-lights"), desk("undertow-sound"));
  test("functions are proposed by what they do and are called", () => {
    expect(rows.map((r) => [r.id, r.to])).toEqual([
      ["playback.level", "channel.level"],
      ["playback.toggle", null], // nothing there is called alike: somebody has to say
      ["playback.flash", "channel.cough"],
    ]);
  });
  test("numbers go to the parameter of their name or place, and what does not fit starts anew", () => {
    const chosen = { "playback.level": "channel.level", "playback.toggle": "channel.mute", "playback.flash": null };
    const result = applyEdit(
      show,
      { kind: "replace-desk", id: "lights", profile: "undertow-sound", becomes: chosen },
      profiles,
    );
    if (!result.ok) throw new Error(result.problems.map(told).join());
    const actions = result.show.mappings.map((m) => m.actions.map((a) => [a.function, a.bindings]));
    expect(actions).toEqual([
      [["channel.mute", { channel: fixed(1) }]],
      [],
      [["channel.level", { channel: fixed(1) }]],
      [["channel.level", { channel: fixed(1) }]],
    ]);
  });
  test("the same kind again changes nothing but the kind", () => {
    const one = showWith([mapping("pad-1", action("m", "channel.mute", { channel: fixed(7) }, { desk: "sound" }))], {
      desks: [sound],
    });
    const same = proposeFunctions(one, "sound", desk("undertow-sound"), desk("undertow-sound"));
    const result = applyEdit(
      one,
      { kind: "replace-desk", id: "sound", profile: "undertow-sound", becomes: becomes(same) },
      profiles,
    );
    expect(result.ok && result.show).toEqual(one);
  });
});
