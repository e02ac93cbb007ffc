// @vitest-environment happy-dom
/** The computer's keys as hands, and what the bottom line tells of them. */
import { beforeEach, describe, expect, test } from "vitest";
import { liveStateOf } from "../../../tests/rig/row-names.ts";
import { fixed, mapping, showWith, toggle } from "../../../tests/rig/shows.ts";
import { OUTCOME } from "../../core/trace/outcome.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import { almost } from "./almost.ts";
import { keyHands } from "./play-keys.ts";
import { eventWords, tellStory } from "./tell-story.ts";

const show = showWith([mapping("pad-1", toggle(1, fixed(1)))]);
const live = liveStateOf(show);
const pad = live.compiled.surfaces[0]!.profile.controls.find((c) => c.id === "pad-1")!;
const { channel, number } = pad.sends as { channel: number; number: number };

let seq = 0;
beforeEach(() => {
  seq = 0;
});

function row(more: Partial<TrafficEntry>): TrafficEntry {
  return {
    seq: ++seq,
    atMs: seq,
    out: false,
    side: "surface",
    device: "deck",
    cause: 0,
    hex: "",
    ...more,
  } as TrafficEntry;
}

describe("what the bottom line tells", () => {
  test("nothing where nothing was heard", () => {
    expect(tellStory([])).toBeNull();
    expect(tellStory([row({ out: true, side: "desk", cause: 0 })])).toBeNull();
  });

  test("the newest message of hands, what it caused, and what answered that", () => {
    const old = row({});
    const heard = row({});
    const sent = row({ out: true, side: "desk", cause: heard.seq });
    const other = row({ out: true, side: "desk", cause: old.seq });
    const answer = row({ side: "desk", cause: sent.seq });
    expect(tellStory([old, heard, sent, other, answer])).toEqual({ heard, sent: [sent], answer });
  });

  test("a desk is the news once hands have rested", () => {
    const hands = row({ atMs: 0 });
    const soon = row({ side: "desk", atMs: 100 });
    const late = row({ side: "desk", atMs: 9000 });
    expect(tellStory([hands, soon])!.heard).toBe(hands);
    expect(tellStory([hands, late])!.heard).toBe(late);
  });

  test("a control's event is told by its name, a release by what MIDI calls one", () => {
    const says = (hex: string) => eventWords(live, row({ control: "pad-1", hex }));
    expect(says("90 24 7F")).toBe(`${pad.name.toLowerCase()} pressed`);
    expect(says("90 24 00")).toBe(`${pad.name.toLowerCase()} released`);
    expect(says("80 24 40")).toBe(`${pad.name.toLowerCase()} released`);
    expect(eventWords(live, row({ control: "fader-1", hex: "B0 01 40" }))).toMatch(/ moved$/);
  });

  test("a message one thing away from a mapping says which, and one that was taken says nothing", () => {
    const bytes = [0x90 | (channel % 16), number, 127].map((b) => b.toString(16).toUpperCase().padStart(2, "0"));
    const missed = row({ hex: bytes.join(" "), code: OUTCOME.noControl });
    expect(almost(live, missed)).toMatch(/channel/);
    expect(almost(live, { ...missed, code: OUTCOME.sent })).toBeNull();
    expect(almost(live, { ...missed, device: "gone" })).toBeNull();
    expect(almost(live, { ...missed, hex: "no bytes" })).toBeNull();
  });
});

describe("a key of the computer", () => {
  const played = showWith([]);
  const surface = played.surfaces[0]!;
  const profile = { ...live.compiled.surfaces[0]!.profile, id: "keys", controls: [{ ...pad, keys: ["KeyQ"] }] };
  const keyed = liveStateOf({
    ...played,
    surfaces: [{ ...surface, profile: "keys" }],
    profiles: { surfaces: [profile as never], desks: [] },
  });
  const closed = { keysPlay: false, paletteOpen: false, partsOpen: false, helpOpen: false };
  const press = (code: string, more: object = {}) => ({ code, target: null, ...more }) as unknown as KeyboardEvent;

  function hands(state: Partial<typeof closed> = {}) {
    const said: number[][] = [];
    const store = { getState: () => ({ live: keyed, ...closed, ...state }) } as never;
    const keys = keyHands(store, (m) => void said.push((m as { bytes: number[] }).bytes));
    return { said, keys };
  }

  test("plays in Run, and elsewhere only where it is let", () => {
    const { said, keys } = hands();
    expect(keys.down(press("KeyQ"), "map")).toBe(false);
    expect(keys.down(press("KeyQ"), "run")).toBe(true);
    expect(hands({ keysPlay: true }).keys.down(press("KeyQ"), "map")).toBe(true);
    keys.up(press("KeyQ"));
    expect(said.map((b) => b[0]! & 0xf0)).toEqual([0x90, 0x80]);
  });

  test("never with Ctrl, nor while a dialog is open, nor one that is not set", () => {
    expect(hands().keys.down(press("KeyQ", { ctrlKey: true }), "run")).toBe(false);
    expect(hands({ paletteOpen: true }).keys.down(press("KeyQ"), "run")).toBe(false);
    expect(hands().keys.down(press("KeyW"), "run")).toBe(false);
  });

  test("that repeats presses once, and a window that loses the focus lets it go", () => {
    const { said, keys } = hands();
    keys.down(press("KeyQ"), "run");
    keys.down(press("KeyQ", { repeat: true }), "run");
    keys.letGo();
    keys.up(press("KeyQ"));
    expect(said.map((b) => b[0]! & 0xf0)).toEqual([0x90, 0x80]);
  });
});
