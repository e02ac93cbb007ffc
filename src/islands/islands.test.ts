import { describe, expect, test } from "vitest";
import { liveStateOf } from "../../tests/rig/row-names.ts";
import { library, mapping, showWith, toggle } from "../../tests/rig/shows.ts";
import type { LiveChanges } from "../core/live/protocol.ts";
import { OUTCOME } from "../core/trace/outcome.ts";
import type { TrafficEntry } from "../core/trace/traffic-entry.ts";
import { touchedControls } from "./app/follow-touch.ts";
import { tellStory } from "./app/tell-story.ts";
import { applyChanges, type LiveState, withShow } from "./live/apply-changes.ts";
import { afterReturn, draftText } from "./profiles/sent-drafts.ts";
import { controlView } from "./surface/control-view.ts";

const show = showWith([mapping("pad-1", toggle(1)), mapping("fader-1", { ...toggle(1), function: "playback.level" })]);

const state = (live: Partial<LiveChanges> = {}): LiveState => liveStateOf(show, live);

const desk = (page: number | null, health: "answering" | "silent" = "answering"): LiveChanges["desks"] => ({
  lights: {
    health,
    sinceMs: 0,
    heardAtMs: 1,
    roundTripMs: 2,
    page,
    port: { state: "open" },
    in: 0,
    out: 0,
    dropped: 0,
  },
});
const indexOf = (live: LiveState, id: string, page: number, playback: number) => {
  const s = live.compiled.desks[0]!.states.get(id)!;
  return s.base + (page - 1) * 20 + playback - 1;
};

describe("the page's copy of the live state", () => {
  test("a batch changes what it brings and leaves the rest as it was", () => {
    const before = state({ desks: desk(1), values: { lights: [[3, 0.5, 2, 0]] } });
    const after = applyChanges(before, { atMs: 9, values: { lights: [[4, 1, 2, 0]] } });
    expect([after.values.lights?.value[3], after.values.lights?.value[4]]).toEqual([0.5, 1]);
    expect(after.controls).toBe(before.controls);
    expect(before.values.lights?.value[4]).toBeUndefined();
  });
  test("the meaning of controls is worked out anew when the page changes, and only then", () => {
    const before = state({ desks: desk(1) });
    expect(applyChanges(before, { atMs: 1, desks: desk(1) }).context).toBe(before.context);
    expect(applyChanges(before, { atMs: 1, desks: desk(2) }).context).not.toBe(before.context);
  });
  test("a new show brings its own live state", () => {
    const next = withShow(state({ values: { lights: [[3, 0.5, 2, 0]] } }), { ...show, mappings: [] }, state().history, {
      atMs: 1,
      desks: desk(1),
    });
    expect([next.show.mappings.length, next.values.lights]).toEqual([0, undefined]);
  });
});

describe("what a control shows on the screen", () => {
  const view = (live: LiveState, control: string) =>
    controlView(live, 0, live.compiled.surfaces[0]!.indexOf.get(control)!);
  test("its light is read from the bytes that came back, and from nothing else", () => {
    const on = indexOf(state(), "playback.on", 1, 1);
    const lit = state({ desks: desk(1), values: { lights: [[on, 1, 2, 0]] } });
    expect(view(lit, "pad-1")).toMatchObject({ state: "on", word: "on", lightMode: "off" }); // no byte has come
    const amber = library.surfaces[0]!.palettes[0]!.colours.find((c) => c.name === "amber")!;
    const bytes = applyChanges(lit, { atMs: 1, lights: { deck: [[0x90, 36, amber.full]] } });
    expect(view(bytes, "pad-1")).toMatchObject({ lightMode: "full", lightColour: amber.colour });
  });
  test("names come from the desk, and states are told in words", () => {
    const at = (id: string) => indexOf(state(), id, 1, 1);
    const live = state({
      desks: desk(1),
      values: {
        lights: [
          [at("playback.name"), "Mast lanterns", 2, 0],
          [at("playback.level"), 0.4, 2, 0],
        ],
      },
      controls: { deck: [[30, 0.1, 0.4, 0, 0]] },
    });
    expect(view(live, "pad-1").label).toBe("Mast lanterns");
    expect(view(live, "fader-1")).toMatchObject({ word: "40 %", catching: "raise", position: 0.1, target: 0.4 });
    expect(view(live, "pad-2")).toMatchObject({ state: "free", label: "" });
    expect(view(state({ desks: desk(1, "silent") }), "pad-1")).toMatchObject({ state: "silent", word: "no answer" });
    expect(view(state({ desks: desk(null) }), "pad-1").state).toBe("silent");
  });
});

describe("“Go where I touch” and Learn", () => {
  /** Hands were at fader 1 at 100 ms. */
  const touched = (changes: LiveChanges["controls"]) => {
    const before = state({ controls: { deck: [[30, 0.5, -1, 1, 0, 100]] } });
    return touchedControls(applyChanges(before, { atMs: 1, controls: changes! }), 100).map((t) => t.control);
  };
  test("a press and a move count, and so does a tap that is over by now, in their order", () => {
    expect(touched({ deck: [[4, -1, -1, 0, 1, 120]] })).toEqual(["pad-5"]);
    expect(touched({ deck: [[30, 0.51, -1, 1, 0, 120]] })).toEqual(["fader-1"]);
    const taps: LiveChanges["controls"] = {
      deck: [
        [2, -1, -1, 0, 0, 122],
        [7, -1, -1, 0, 0, 121],
      ],
    };
    expect(touched(taps)).toEqual(["pad-8", "pad-3"]);
  });
  test("a release, a target that moves and a page that changes do not", () => {
    expect(touched({ deck: [[4, -1, -1, 0, 0, 90]] })).toEqual([]);
    expect(touched({ deck: [[30, 0.5, 0.9, 0, 0, 100]] })).toEqual([]);
    expect(touched({ deck: [[30, 0.5, 0.9, 0, 0]] })).toEqual([]);
  });
});

describe("the bottom line", () => {
  const row = (seq: number, more: Partial<TrafficEntry>): TrafficEntry => ({
    seq,
    atMs: seq,
    out: false,
    side: "surface",
    device: "deck",
    code: OUTCOME.sent,
    a: 0,
    b: 0,
    cause: 0,
    hex: "90247f",
    length: 3,
    ...more,
  });
  test("tells the newest touch, what it caused and the answer to that", () => {
    const press = row(1, {});
    const sent = row(2, { out: true, side: "desk", cause: 1, code: OUTCOME.action });
    const answer = row(3, { side: "desk", cause: 2, code: OUTCOME.confirmed });
    expect(tellStory([press, sent, answer])).toEqual({ heard: press, sent: [sent], answer });
  });
  test("prefers hands to a desk that talks beside them, unless hands rest", () => {
    const press = row(1, {});
    const talk = row(2, { side: "desk", code: OUTCOME.reported });
    expect(tellStory([press, talk])?.heard).toBe(press);
    const later = row(3, { side: "desk", code: OUTCOME.reported, atMs: 2000 });
    expect(tellStory([press, later])?.heard).toBe(later);
    expect(tellStory([])).toBeNull();
  });
});

describe("drafts that were sent", () => {
  test("come back in their order and are one’s own, also where some are passed over", () => {
    const afterFirst = afterReturn(["a", "ab", "abc"], "a");
    expect(afterFirst).toEqual(["ab", "abc"]);
    // The last has come back before the one in between, which was told together with it.
    expect(afterReturn(afterFirst!, "abc")).toEqual([]);
    expect(afterReturn([], "ab")).toBeNull();
  });
  test("are known again with their fields in another order, and not with others", () => {
    const draft = { b: [{ d: 1, c: 2 }], a: "x" };
    expect(draftText({ a: "x", b: [{ c: 2, d: 1 }] })).toBe(draftText(draft));
    expect(draftText({ a: "x", b: [{ c: 1, d: 2 }] })).not.toBe(draftText(draft));
    expect(JSON.parse(draftText(draft))).toEqual(draft);
  });
  test("what comes from elsewhere is not, nor what was refused", () => {
    expect(afterReturn(["b"], "undone")).toBeNull();
    expect(afterReturn([], "a")).toBeNull();
  });
});
