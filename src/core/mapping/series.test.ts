import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { library } from "../../../tests/rig/shows.ts";
import type { Control } from "../format/surface-profile.ts";
import { alikeOf, countsOn, numberAt, placesOf, type SeriesOrder, spanned, within } from "./series.ts";

const DECK = library.profiles.surfaces.get("deck-grid")!.controls;
const STRIPS = library.profiles.surfaces.get("tide-strips")!.controls;
const by = (controls: readonly Control[], ...ids: string[]) => ids.map((id) => controls.find((c) => c.id === id)!);
const ids = (controls: readonly Control[]) => controls.map((c) => c.id.replace("pad-", "")).join(" ");

describe("a series", () => {
  test("four by four pads, corner to corner: in rows, in columns, and as they were chosen", () => {
    const [first, last] = by(DECK, "pad-1", "pad-22");
    const chosen = spanned(DECK, first!, last!);
    expect(ids(chosen)).toBe("1 2 3 4 7 8 9 10 13 14 15 16 19 20 21 22");
    expect(ids(spanned(DECK, last!, first!))).toBe(ids(chosen));
    const order = (o: SeriesOrder) => ids(placesOf([...chosen].reverse(), o).map((p) => p.control));
    expect(order("as-they-lie")).toBe("1 2 3 4 7 8 9 10 13 14 15 16 19 20 21 22");
    expect(order("down")).toBe("1 7 13 19 2 8 14 20 3 9 15 21 4 10 16 22");
    expect(order("as-chosen")).toBe("22 21 20 19 16 15 14 13 10 9 8 7 4 3 2 1");
  });

  test("counts on without a gap, or by steps of its own along and down", () => {
    const places = placesOf(spanned(DECK, ...(by(DECK, "pad-1", "pad-16") as [Control, Control])), "as-they-lie");
    const all = (count: Parameters<typeof numberAt>[0]) => places.map((p) => numberAt(count, p)).join(" ");
    expect(all(countsOn(places, 1))).toBe("1 2 3 4 5 6 7 8 9 10 11 12");
    expect(all({ first: 1, along: 1, down: 5 })).toBe("1 2 3 4 6 7 8 9 11 12 13 14");
    expect(all({ first: 20, along: -1, down: 0 })).toBe("20 19 18 17 20 19 18 17 20 19 18 17");
    expect(all({ first: 7, along: 0, down: 0 })).toBe("7 7 7 7 7 7 7 7 7 7 7 7");
  });

  test("all alike are those of its kind; a part of the surface has those whose middle lies in it", () => {
    const [fader, pad] = by(DECK, "fader-3", "pad-9");
    expect(alikeOf(DECK, fader!).every((c) => c.kind === "fader")).toBe(true);
    expect(alikeOf(DECK, pad!).length).toBe(30);
    const { box } = pad!;
    expect(ids(within(DECK, { ...box, width: box.width * 1.4 }))).toBe("9");
    expect(ids(within(DECK, { ...box, width: box.width * 1.6 }))).toBe("9 10");
  });

  test("whatever is chosen, each has one place, and without a gap the numbers are all of them once", () => {
    const strips = STRIPS.filter((c) => c.sends.kind !== "any");
    const some = fc.oneof(fc.subarray([...DECK], { minLength: 1 }), fc.subarray(strips, { minLength: 1 }));
    fc.assert(
      fc.property(some, fc.constantFrom<SeriesOrder>("as-they-lie", "down", "as-chosen"), (controls, order) => {
        const places = placesOf(controls, order);
        expect(new Set(places.map((p) => p.control)).size).toBe(controls.length);
        const keys = new Set(places.map((p) => `${p.row} ${p.column}`));
        expect(keys.size).toBe(controls.length);
        const numbers = places.map((p) => numberAt(countsOn(places, 5), p));
        expect(new Set(numbers).size).toBe(controls.length);
        expect(Math.min(...numbers)).toBe(5);
      }),
    );
  });
});
