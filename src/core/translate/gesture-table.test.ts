/** The table of gestures, and that each of them is made by hands and fires what waits for it, and nothing else. */
import { describe, expect, test } from "vitest";
import { Rig } from "../../../tests/rig/rig.ts";
import { fixed, go, level, mapping, showOn, showWith, toggle } from "../../../tests/rig/shows.ts";
import { control, encoder, fader, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import { ALL_GESTURES, GESTURE, GESTURES, type Gesture, gesturesOf, SHOWN_GESTURES } from "../format/gestures.ts";

const note = (number: number) => ({ kind: "note", channel: 1, number }) as const;
const cc = (number: number) => ({ kind: "controller", channel: 1, number }) as const;

const PAD = control("pad", note(36), { pressure: { kind: "poly-pressure", channel: 1, number: 36 } });
const FADER = fader("slide", cc(20), { touch: { kind: "note", channel: 1, number: 104 } });
const KNOB = encoder("knob", { kind: "relative", channel: 1, number: 30, encoding: "twos-complement" });

/** Which control makes it, and how a hand does: [bytes, then ms to wait] in a row. */
type Hand = readonly (readonly [bytes: readonly number[], thenMs: number])[];
const DOWN = [0x90, 36, 100] as const;
const UP = [0x80, 36, 0] as const;
const HANDS: Record<Gesture, { control: string; hand: Hand }> = {
  press: { control: "pad", hand: [[DOWN, 0]] },
  move: { control: "slide", hand: [[[0xb0, 20, 90], 0]] },
  release: {
    control: "pad",
    hand: [
      [DOWN, 10],
      [UP, 0],
    ],
  },
  tap: {
    control: "pad",
    hand: [
      [DOWN, 20],
      [UP, 2000],
    ],
  },
  hold: { control: "pad", hand: [[DOWN, 2000]] },
  double: {
    control: "pad",
    hand: [
      [DOWN, 20],
      [UP, 60],
      [DOWN, 20],
      [UP, 2000],
    ],
  },
  "while-held": { control: "pad", hand: [[DOWN, 0]] },
  turn: { control: "knob", hand: [[[0xb0, 30, 1], 0]] },
  "turn-left": { control: "knob", hand: [[[0xb0, 30, 127], 0]] },
  "turn-right": { control: "knob", hand: [[[0xb0, 30, 1], 0]] },
  pressure: { control: "pad", hand: [[[0xa0, 36, 80], 0]] },
  touch: { control: "slide", hand: [[[0x90, 104, 127], 0]] },
  untouch: {
    control: "slide",
    hand: [
      [[0x90, 104, 127], 10],
      [[0x80, 104, 0], 0],
    ],
  },
};

/** Those that carry a value; the others are a moment. */
const LEVELS = new Set<Gesture>(["move", "turn", "turn-left", "turn-right", "pressure"]);

/** What goes out when a hand does what makes `made`, while a mapping waits for `waits` on the same control. */
function outOf(made: Gesture, waits: readonly Gesture[]): string[] {
  const { control: id, hand } = HANDS[made];
  // Each mapping drives a playback of its own, so that what was fired says which it was.
  const mappings = waits.map((gesture) => {
    const playback = GESTURE[gesture].code + 1;
    const action = LEVELS.has(gesture) ? level(playback, fixed(1)) : go(playback);
    return mapping(id, [action], { gesture, takeover: "jump", id: `m-${gesture}` });
  });
  const { show, profiles } = showOn(surfaceProfile([PAD, FADER, KNOB]), mappings);
  const rig = Rig.onPage(1, show, { links: false, profiles });
  const out: string[] = [];
  for (const [bytes, thenMs] of hand) {
    rig.bytes(Uint8Array.from(bytes));
    out.push(...rig.sent());
    rig.wait(thenMs);
    out.push(...rig.sent());
  }
  return out;
}

describe("the table of gestures", () => {
  test("its codes are unique and have no gaps: they are rows of every table by control and gesture", () => {
    expect(ALL_GESTURES.map((g) => GESTURE[g].code).sort((a, b) => a - b)).toEqual([...Array(GESTURES).keys()]);
  });

  test("the order in which lights look at them names each once", () => {
    const shown = ALL_GESTURES.flatMap((g) => GESTURE[g].shown ?? []);
    expect(new Set(shown).size).toBe(shown.length);
    expect(new Set(SHOWN_GESTURES).size).toBe(shown.length);
  });

  test("every gesture is one that some control can make", () => {
    const made = new Set([PAD, FADER, KNOB].flatMap((c) => gesturesOf(c)));
    expect(ALL_GESTURES.filter((g) => !made.has(g))).toEqual([]);
  });

  test.each(ALL_GESTURES)("%s is made by hands, and fires the mapping that waits for it", (gesture) => {
    const out = outOf(gesture, [gesture]);
    expect(out.length).toBeGreaterThan(0);
    for (const line of out) expect(line).toContain(`/1/${GESTURE[gesture].code + 1}/`);
  });

  test.each(ALL_GESTURES)("a mapping that waits for %s is fired by no neighbour in the table", (gesture) => {
    const { control: id } = HANDS[gesture];
    const neighbours = ALL_GESTURES.filter((g) => g !== gesture && HANDS[g].control === id);
    const all = [gesture, ...neighbours].filter((g) => !GESTURE[g].timed);
    if (!all.includes(gesture)) return;
    const fired = new Set(outOf(gesture, all).map((line) => Number(/\/1\/(\d+)\//.exec(line)?.[1]) - 1));
    expect(fired).toContain(GESTURE[gesture].code);
    // What else fires is a gesture that the same movement of the hand is as well.
    const isToo: Partial<Record<Gesture, readonly Gesture[]>> = {
      press: ["while-held"],
      "while-held": ["press"],
      release: ["press", "while-held"],
      turn: ["turn-right"],
      "turn-right": ["turn"],
      "turn-left": ["turn"],
      untouch: ["touch"],
    };
    const allowed = new Set([gesture, ...(isToo[gesture] ?? [])].map((g) => GESTURE[g].code as number));
    expect([...fired].filter((code) => !allowed.has(code))).toEqual([]);
  });
});

test("a press fires its own mapping whatever other gesture is mapped beside it", () => {
  const show = showWith([mapping("pad-1", [toggle(1, fixed(1))]), mapping("pad-2", [toggle(2, fixed(1))])]);
  const rig = Rig.onPage(1, show);
  rig.press("pad-2");
  expect(rig.sent()).toEqual(["/set/playback/1/2/on 1"]);
});
