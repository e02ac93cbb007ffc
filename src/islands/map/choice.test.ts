import { describe, expect, test } from "vitest";
import { liveStateOf } from "../../../tests/rig/row-names.ts";
import { fixed, level, mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import type { Show } from "../../core/format/show.ts";
import type { PageState } from "../live/store.ts";
import { choiceOf, newAction, newMapping, usesOf } from "./choice.ts";
import { shapeWords } from "./shape-words.ts";

const lights = profiles.desks.get("quay-lights")!;
const fn = (id: string) => lights.functions.find((f) => f.id === id)!;

function chosen(show: Show, control: string, chosenMapping: string | null = null): PageState {
  return { live: liveStateOf(show), chosen: { surface: "deck", control }, chosenMapping } as unknown as PageState;
}

describe("what the Map works on", () => {
  const here = mapping("pad-1", toggle(1, fixed(1)));
  const shifted = mapping("pad-1", toggle(2, fixed(1)), { id: "m-shift", layers: ["shift"] });
  const held = mapping("pad-1", toggle(3, fixed(1)), { id: "m-hold", gesture: "hold" });
  const show = showWith([shifted, held, here]);

  test("nothing, where nothing is chosen or the control is gone", () => {
    expect(choiceOf({ ...chosen(show, "pad-1"), chosen: null })).toBeNull();
    expect(choiceOf(chosen(show, "pad-999"))).toBeNull();
  });

  test("shows the mapping that holds now, unless another is picked", () => {
    expect(choiceOf(chosen(show, "pad-1"))).toMatchObject({ shown: { id: "m-pad-1" }, holds: "m-pad-1" });
    expect(choiceOf(chosen(show, "pad-1", "m-shift"))).toMatchObject({ shown: { id: "m-shift" }, holds: "m-pad-1" });
  });

  test("groups mappings by where they hold, and within each by their gestures", () => {
    const scopes = choiceOf(chosen(show, "pad-1"))!.scopes.map((s) => s.map((m) => m.id));
    expect(scopes).toEqual([["m-shift"], ["m-pad-1", "m-hold"]]);
    expect(choiceOf(chosen(show, "pad-1", "m-hold"))!.beside.map((m) => m.id)).toEqual(["m-pad-1", "m-hold"]);
  });
});

describe("what is made for a chosen control", () => {
  test("a new mapping has the control's first gesture and the show's takeover", () => {
    const show = showWith([], { settings: { ...showWith([]).settings, takeover: { fader: "converge" } as never } });
    expect(newMapping(choiceOf(chosen(show, "fader-1"))!)).toMatchObject({ gesture: "move", takeover: "converge" });
    expect(newMapping(choiceOf(chosen(showWith([]), "fader-1"))!).takeover).toBe("catch");
    expect(newMapping(choiceOf(chosen(show, "pad-1"))!)).toMatchObject({ gesture: "press", takeover: "jump" });
  });

  test("an action counts with the number of its control", () => {
    const state = chosen(showWith([]), "pad-7");
    const made = newAction(choiceOf(state)!, state.live, "lights", lights, fn("playback.toggle"))!;
    expect(made.bindings.playback).toEqual(fixed(7));
    expect(made).toMatchObject({ desk: "lights", function: "playback.toggle", on: true });
  });

  test("functions are told by how many controls use them, not by how many mappings", () => {
    const twice = mapping("pad-1", [toggle(1, fixed(1)), toggle(9, fixed(1))]);
    const live = liveStateOf(showWith([twice, mapping("pad-2", toggle(2, fixed(1))), mapping("fader-1", level(1))]));
    const uses = usesOf(live);
    expect(uses.get("lights playback.toggle")).toBe(2);
    expect(uses.get("lights playback.level")).toBe(1);
    expect(uses.has("lights go")).toBe(false);
  });
});

describe("a shape in a few words", () => {
  const percent = { from: 0, to: 1, unit: "%" } as const;
  const whole = { input: [0, 1] as [number, number], invert: false };

  test("says what it drives, and its travel only where that is a part", () => {
    expect(shapeWords(whole, percent)).toBe("0 % to 100 %");
    expect(shapeWords({ ...whole, input: [0.25, 1] }, percent)).toBe("travel 25 %–100 %, 0 % to 100 %");
  });

  test("names what is added, in the order a value goes through it", () => {
    const bent = { ...whole, invert: true, curve: { kind: "audio" } as const, steps: 5, ratePerS: 30 };
    expect(shapeWords(bent, percent)).toBe("0 % to 100 %, inverted, audio taper, steps, rate limit");
  });
});
