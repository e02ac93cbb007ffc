import { describe, expect, test } from "vitest";
import { Rig } from "../../tests/rig/rig.ts";
import { fixed, flash, go, mapping, shift, showWith } from "../../tests/rig/shows.ts";
import { type Carried, holdingOf } from "../core/translate/taking-over.ts";
import { journalText, readJournal } from "./journal.ts";

const NOW = { show: 1, revision: 7 };
const of = (control: string, gesture: "hold" | "double" | "release", n: number) =>
  mapping(control, flash(n, fixed(1)), { id: `m-${control}-${gesture}`, gesture });

/** Everything that can be under way at once. */
function busy(): Carried {
  const rig = Rig.onPage(
    1,
    showWith([
      mapping(
        "pad-1",
        [
          { ...go(1), set: 1 },
          { ...go(2), set: 2 },
        ],
        { order: "in-turn" },
      ),
      of("pad-2", "hold", 1),
      of("pad-3", "double", 2),
      of("pad-4", "release", 3),
      mapping("pad-5", [
        { ...flash(4), delayMs: 300 },
        { ...shift(), delayMs: 200 },
      ]),
      mapping("pad-6", flash(5)),
      mapping("pad-7", shift()),
    ]),
  );
  rig.tap("pad-1").press("pad-2").tap("pad-3").press("pad-4").tap("pad-5").press("pad-6").press("pad-7");
  return {
    values: { house: [[0, 1, 2, 0]] },
    controls: { deck: [[3, 0.5, -1, 0, 1]] },
    holding: holdingOf(rig.translator.world),
    missed: "all",
  };
}

describe("the journal of a run", () => {
  test("carries over all that was under way, but for what was sent: desks are asked anew", () => {
    const carried = busy();
    const { unfinished, held } = carried.holding;
    expect([unfinished.places.length, unfinished.surfaces.length, held.length]).toEqual([1, 1, 4]);
    expect(unfinished.waiting.length).toBeGreaterThan(0);
    expect(unfinished.surfaces[0]?.gestures.length).toBe(2);
    expect(unfinished.surfaces[0]?.onRelease.length).toBe(1);
    const read = readJournal(journalText(NOW, carried), NOW)!;
    expect(read).toEqual({
      ...carried,
      holding: { ...carried.holding, underWay: {}, held: held.map((h) => ({ ...h, cause: 0 })) },
    });
  });

  test("of another revision of the show carries over no numbers of its own", () => {
    const read = readJournal(journalText(NOW, busy()), { ...NOW, revision: NOW.revision + 1 })!;
    expect([read.values, read.controls]).toEqual([{}, {}]);
    expect(read.holding.held.length).toBe(4);
  });

  test("of another show in the same revision carries over no numbers of its own", () => {
    const read = readJournal(journalText(NOW, busy()), { ...NOW, show: NOW.show + 1 })!;
    expect([read.values, read.controls]).toEqual([{}, {}]);
  });

  test("of a program before this one lets go what was held", () => {
    const { unfinished: _unfinished, ...old } = JSON.parse(journalText(NOW, busy()));
    const read = readJournal(JSON.stringify(old), NOW)!;
    expect(read.holding.held.length).toBe(4);
    expect(read.holding.unfinished).toEqual({ places: [], waiting: [], surfaces: [] });
  });

  test.each(["", "{", "[]", '{"version":1}', JSON.stringify({ version: 99 })])(
    "that cannot be read is none: %s",
    (text) => {
      expect(readJournal(text, NOW)).toBeNull();
    },
  );

  test("cut off anywhere is none", () => {
    const text = journalText(NOW, busy());
    for (let length = 0; length < text.length; length += 7) expect(readJournal(text.slice(0, length), NOW)).toBeNull();
  });
});
