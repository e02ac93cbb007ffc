/** The show as a table: its rows, what they are narrowed to, and what is typed into them. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { liveStateOf } from "../../../../tests/rig/row-names.ts";
import { fixed, flash, level, mapping, page, showWith, toggle } from "../../../../tests/rig/shows.ts";
import { coverageOf } from "./coverage.ts";
import { countsOf, filtered, lines, NO_FILTER, type Only, tableRows } from "./table-rows.ts";
import { asTyped, readNumbers } from "./typed-numbers.ts";

const two = mapping("pad-2", [toggle(2), flash(7, fixed(3))], { name: "Both", note: "for the storm" });
const show = showWith([
  mapping("fader-1", level(1)),
  two,
  mapping("pad-1", toggle(1), { on: false }),
  mapping("pad-3", toggle(3), { id: "a", pages: { desk: "lights", in: [3] } }),
  mapping("pad-3", flash(3), { id: "b", pages: { desk: "lights", in: [3] } }),
  mapping("pad-4", [], { id: "empty" }),
]);
const live = liveStateOf(show);
const rows = tableRows(live);
const of = (only: Only, more = {}) => filtered(rows, { ...NO_FILTER, only, ...more });

describe("the rows", () => {
  test("stand as the controls lie, one for each action, and one for each control that is free", () => {
    const controls = live.compiled.surfaces[0]!.profile.controls.length;
    // One more for the second action of pad 2, and one for the second mapping of pad 3.
    expect(rows).toHaveLength(controls + 2);
    expect(rows.slice(0, 6).map((r) => `${r.control}: ${r.does} ${r.numbers}`)).toEqual([
      "pad-1: playback on or off up, 1",
      "pad-2: playback on or off up, 2",
      "pad-2: flash playback 3, 7",
      "pad-3: playback on or off up, 3",
      "pad-3: flash playback up, 3",
      "pad-4: no action yet ",
    ]);
    expect(new Set(rows.map((r) => r.id)).size).toBe(rows.length);
  });

  test("say where a mapping holds, how it takes over, and whether it is on", () => {
    const row = (control: string) => rows.find((r) => r.control === control)!;
    expect(row("fader-1")).toMatchObject({
      gesture: "Move",
      takeover: "catch",
      shape: "0 % to 100 %",
      holds: "everywhere",
    });
    expect(row("pad-1")).toMatchObject({ isOn: false, takeover: "" });
    expect(row("pad-3").holds).toBe("every layer · page 3");
    expect(row("pad-9")).toMatchObject({ mapping: null, does: "" });
  });

  test("two mappings of one control that say the same clash", () => {
    expect(of("clashing").map((r) => r.mapping!.id)).toEqual(["a", "b"]);
  });

  test("are narrowed by text, kind, surface and page", () => {
    expect(of("mapped", { text: "storm" }).map((r) => r.control)).toEqual(["pad-2", "pad-2"]);
    expect(of("off").map((r) => r.control)).toEqual(["pad-1"]);
    expect(of("mapped", { page: 4 }).some((r) => r.control === "pad-3")).toBe(false);
    expect(of("all", { surface: "nowhere" })).toEqual([]);
    expect(of("mapped", { text: "flash 7" })).toHaveLength(1);
  });

  test("are counted as they would be narrowed", () => {
    const filter = { ...NO_FILTER, text: "pad" };
    const counts = countsOf(rows, filter);
    for (const only of Object.keys(counts) as Only[])
      expect(counts[only]).toBe(filtered(rows, { ...filter, only }).length);
  });

  test("stand in groups, of which a folded one keeps its count", () => {
    const grouped = lines(of("mapped"), "desk", new Set(["Lights"]));
    expect(grouped.filter((l) => l.kind === "head")).toEqual([
      { kind: "head", group: "Lights", name: "Lights", count: 6 },
      { kind: "head", group: "Free", name: "Free", count: 1 },
    ]);
    expect(grouped).toHaveLength(3);
    expect(lines(rows, "none", new Set())).toHaveLength(rows.length);
  });
});

test("coverage tells for each page which controls do something", () => {
  const [deck] = coverageOf(live);
  expect(deck!.blocks.map((b) => b.page)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9]);
  const first = (page: number) => deck!.blocks[page - 1]!.cells.slice(0, 5);
  expect(first(1)).toEqual(["mapped", "mapped", "free", "free", "free"]);
  expect(first(3)).toEqual(["mapped", "mapped", "clashing", "free", "free"]);
  const { mapped, free, clashing } = deck!.counts;
  expect(mapped + free + clashing).toBe(9 * deck!.blocks[0]!.cells.length);
});

describe("numbers typed in a cell", () => {
  const action = toggle(7);
  const { parameters } = live.compiled.desks.find((d) => d.id === "lights")!.functions.get("playback.toggle")!;
  const read = (text: string) => readNumbers(text, action, parameters, "page", show);

  test.each([
    ["up, 7", { page, playback: fixed(7) }],
    ["3, 12", { page: fixed(3), playback: fixed(12) }],
    ["up, 1 to 3", { page, playback: { from: "list", values: [1, 2, 3] } }],
    ["up,1 4", { page, playback: { from: "list", values: [1, 4] } }],
  ])("“%s” is understood", (text, bindings) => {
    expect(read(text)).toEqual({ kind: "numbers", bindings });
  });

  test.each([
    ["7", "2 numbers with commas between: page, playback"],
    ["up, 21", "There is no playback 21. The desk has 1 to 20."],
    ["10, 1", "There is no page 10"],
    ["up, up", "“up” is for the page"],
    ["up, seven", "“seven” is no playback"],
    ["up, ", "“” is no playback"],
    ["", "2 numbers"],
  ])("“%s” is refused", (text, why) => {
    expect(read(text)).toEqual({ kind: "wrong", why: expect.stringContaining(why) });
  });

  test("whatever an action has, typed as it stands, stays as it is", () => {
    const strip = { from: "strip" as const, bank: "b", strip: 2 };
    const bindings = fc.constantFrom(page, fixed(1), fixed(20), strip, { from: "list" as const, values: [1, 4, 5, 6] });
    fc.assert(
      fc.property(bindings, bindings, (a, b) => {
        const some = { ...action, bindings: { page: a, playback: b } };
        expect(readNumbers(asTyped(some, parameters, show), some, parameters, "page", show)).toEqual({
          kind: "numbers",
          bindings: some.bindings,
        });
      }),
    );
  });
});
