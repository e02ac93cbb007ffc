/** What a row of traffic says, and that everything it says is found. */
import { describe, expect, test } from "vitest";
import { liveStateOf, rowNamesOf } from "../../tests/rig/row-names.ts";
import { fixed, level, mapping, showWith, toggle } from "../../tests/rig/shows.ts";
import { ALL_OUTCOMES, CHORD, NOT_KNOWN, OUTCOME, SHOWN } from "../core/trace/outcome.ts";
import type { TrafficEntry } from "../core/trace/traffic-entry.ts";
import { liveNames } from "../islands/live/row-names.ts";
import { becameWords, rowLine, rowWords, searchWords } from "./traffic.ts";

const show = showWith([
  mapping("pad-1", toggle(1, fixed(1)), { id: "lanterns", name: "Mast lanterns" }),
  mapping("fader-1", level(3, fixed(2)), {
    id: "fan",
    name: "Water fans",
    whileHeld: { surface: "deck", control: "pad-18" },
    when: [{ desk: "lights", state: "grand", from: 0, to: 0.5 } as never],
  }),
]);
const names = rowNamesOf(show);

function entry(outcome: keyof typeof OUTCOME, more: Partial<TrafficEntry> = {}): TrafficEntry {
  return {
    seq: 1,
    atMs: Date.UTC(2026, 10, 28, 20, 0, 0, 7),
    out: false,
    side: "surface",
    device: "deck",
    code: OUTCOME[outcome],
    a: 1,
    b: 1,
    cause: 0,
    hex: "90247f",
    length: 3,
    ...more,
  };
}

const ROWS: [string, TrafficEntry, string][] = [
  ["a press that was sent", entry("sent", { mapping: "lanterns", control: "pad-1" }), "Mast lanterns"],
  [
    "a fader that waits",
    entry("waitingToCatch", { a: 0.2, b: 0.64, mapping: "fan" }),
    "waiting: raise to 64 % to catch",
  ],
  [
    "one that waits above",
    entry("waitingToCatch", { a: 0.9, b: 0.64, mapping: "fan" }),
    "waiting: lower to 64 % to catch",
  ],
  [
    "a number the desk has not",
    entry("outOfRange", { a: 12, b: 0, mapping: "fan" }),
    "nothing sent: the desk has no page 12",
  ],
  ["a motor", entry("light", { out: true, b: SHOWN.motor }), "motor"],
  ["a text", entry("light", { out: true, b: SHOWN.text, hex: "f07d0141f7", length: 5 }), "text"],
  ["a light", entry("light", { out: true, b: SHOWN.light }), "light"],
  ["no control", entry("noControl"), "nothing sent: the surface has no control for this message"],
  [
    "a chord that is not held",
    entry("conditionFalse", { mapping: "fan", b: CHORD, a: NOT_KNOWN }),
    "nothing sent: the condition of Water fans is not met: Pad 18 is not held",
  ],
  [
    "bytes that are none",
    entry("malformed", { length: 1, hex: "f4" }),
    "ignored: one byte that is not a valid message",
  ],
  [
    "a desk’s answer",
    entry("confirmed", { side: "desk", device: "lights", a: 3, hex: "", length: 0 }),
    "answered in 3 ms",
  ],
];

describe("a row of traffic", () => {
  test.each(ROWS)("%s", (_what, row, text) => expect(becameWords(row, names).text).toBe(text));

  test.each(ROWS)("%s is found by every word it shows", (_what, row) => {
    const searched = searchWords(row, "pad 1", names).toLowerCase();
    for (const part of Object.values(rowWords(row, names)).filter((p) => p !== rowWords(row, names).tone))
      for (const word of [part, ...part.split(" ")]) expect(searched).toContain(word.toLowerCase());
  });

  test("is not found by what it shows nowhere", () => {
    const raise = entry("waitingToCatch", { a: 0.2, b: 0.64, mapping: "fan" });
    expect(searchWords(raise, "fader 1", names)).not.toContain("lower");
    const light = entry("light", { out: true, b: SHOWN.light });
    for (const word of ["motor", "text", "ring"]) expect(searchWords(light, "pad 1", names)).not.toContain(word);
  });

  test("of any outcome and any device has words, and none of a program", () => {
    const other = [undefined, "lanterns", "gone", "__proto__", "toString"];
    for (const outcome of ALL_OUTCOMES)
      for (const mapping of other)
        for (const [side, device] of [
          ["surface", "deck"],
          ["desk", "lights"],
          ["desk", "gone"],
          ["surface", "constructor"],
          ["browser", ""],
        ] as const) {
          const row = entry(outcome, { side, device, ...(mapping === undefined ? {} : { mapping }), reason: "odd" });
          expect(rowLine(row, names), `${outcome} ${mapping} ${device}`).not.toMatch(/undefined|NaN|\[object|function/);
        }
    expect(becameWords({ ...entry("sent"), code: 9999 as never }, names).text).toBe("");
  });

  test("says the same with names of the page as with those that go to its worker", () => {
    const live = liveNames(liveStateOf(show));
    for (const [, row] of ROWS) expect(rowWords(row, live)).toEqual(rowWords(row, names));
  });
});
