import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { SurfaceProfile } from "../format/surface-profile.ts";
import { type LabelBlock, labelBlocks } from "./label-blocks.ts";
import { labelSheets, MARGIN_MM, PAPERS, type Sheet } from "./label-sheets.ts";
import { drawSheet, fitName } from "./label-svg.ts";
import { listSheets } from "./list-sheets.ts";
import { textWidth } from "./text-width.ts";

const profile = (file: string) => JSON.parse(readFileSync(`profiles/${file}.surface.json`, "utf8")) as SurfaceProfile;
const grid = profile("deck-grid");
const strips = profile("tide-strips");
const SIZE = { padWidthMm: 24, padHeightMm: 18.5, stripMm: 15 };
const DRAWING = { head: "Regatta", textMm: 4, colours: true, cutMarks: true, numbers: true };
const named = (name: string) => () => ({ name, note: "go", colour: "#86cbd6" });
const blocks = (of: SurfaceProfile, name = "Swell") => labelBlocks(of, "Deck", SIZE, named(name), true);

/** The rectangles of labels in a document, in mm. */
function rects(svg: string): Map<string, { x: number; y: number; width: number; height: number }> {
  const found = svg.matchAll(
    /<rect data-control="([^"]+)" x="([\d.-]+)" y="([\d.-]+)" width="([\d.]+)" height="([\d.]+)"/g,
  );
  return new Map(
    Array.from(found, ([, id, x, y, width, height]) => [
      id!,
      { x: Number(x), y: Number(y), width: Number(width), height: Number(height) },
    ]),
  );
}

describe("labels at their true size", () => {
  test("a grid of pads is one block, as the pads lie; what is no pad is a strip for each row", () => {
    const found = blocks(grid);
    expect(found.map((b) => [b.title, b.labels.length, b.widthMm, b.heightMm])).toEqual([
      ["Deck, pads", 30, 144, 92.5],
      ["Deck, faders", 6, expect.closeTo(121, 0), 15],
      ["Deck, buttons", 1, expect.closeTo(23, 0), 15],
    ]);
    expect(blocks(strips).map((b) => b.title)).toEqual([
      "Deck, knobs",
      "Deck, buttons",
      "Deck, buttons",
      "Deck, buttons",
      "Deck, buttons",
      "Deck, faders",
    ]);
  });

  test("the document says millimetres, and each label lies where its pad does", () => {
    const [sheet] = labelSheets(blocks(grid), PAPERS.a4);
    const { svg } = drawSheet(sheet!, DRAWING);
    expect(svg).toMatch(/^<svg [^>]*width="210mm" height="297mm" viewBox="0 0 210 297"/);
    const found = rects(svg);
    expect(found.get("pad-1")).toEqual({ x: MARGIN_MM, y: MARGIN_MM, width: 24, height: 18.5 });
    expect(found.get("pad-30")).toEqual({ x: MARGIN_MM + 5 * 24, y: MARGIN_MM + 4 * 18.5, width: 24, height: 18.5 });
    // One mark at each edge, above and below, left and right.
    const marks = /<path d="([^"]+)"/.exec(svg)![1]!;
    expect(marks.match(/M/g)).toHaveLength(2 * (7 + 6));
    expect(marks).toContain(`M${MARGIN_MM} `);
  });

  test("free controls are empty labels, or none", () => {
    const nothing = () => null;
    expect(labelBlocks(grid, "Deck", SIZE, nothing, false)).toEqual([]);
    const empty = labelBlocks(grid, "Deck", SIZE, nothing, true);
    expect(empty.flatMap((b) => b.labels)).toHaveLength(37);
    const { svg } = drawSheet(labelSheets(empty, PAPERS.a4)[0]!, DRAWING);
    expect(svg).toContain(">17</text>");
  });

  test("nothing of a name is markup", () => {
    const { svg } = drawSheet(labelSheets(blocks(grid, '<script>"&\u0000'), PAPERS.a4)[0]!, { ...DRAWING, textMm: 2 });
    expect(svg).not.toContain("<script");
    expect(svg).not.toContain("\u0000");
    expect(svg).toContain("&lt;");
  });
});

describe("on paper", () => {
  const inside = ({ widthMm, heightMm, placed }: Sheet) =>
    placed.every(
      ({ block, xMm, yMm }) =>
        xMm >= 0 && yMm >= 0 && xMm + block.widthMm <= widthMm + 0.01 && yMm + block.heightMm <= heightMm + 0.01,
    );
  const ids = (sheets: readonly Sheet[]) =>
    sheets.flatMap((s) => s.placed.flatMap((p) => p.block.labels.map((l) => l.control))).sort();

  test.each([
    ["A4", PAPERS.a4],
    ["Letter", PAPERS.letter],
    ["tape", PAPERS.tape],
    ["a small own size", { widthMm: 90, heightMm: 80, isTape: false }],
  ])("%s: every label is there once, and inside its sheet", (_name, paper) => {
    for (const of of [grid, strips, profile("pocket-keys")]) {
      const all = blocks(of);
      const sheets = labelSheets(all, paper);
      expect(sheets.every(inside)).toBe(true);
      expect(ids(sheets)).toEqual(all.flatMap((b) => b.labels.map((l) => l.control)).sort());
    }
  });

  test("any block is cut between labels, never through one", () => {
    const size = fc.record({ columns: fc.integer({ min: 1, max: 40 }), rows: fc.integer({ min: 1, max: 30 }) });
    fc.assert(
      fc.property(size, fc.integer({ min: 5, max: 60 }), ({ columns, rows }, mm) => {
        const labels = Array.from({ length: columns * rows }, (_, i) => ({
          control: `c-${i}`,
          number: "1",
          name: "x",
          note: "",
          colour: null,
          xMm: (i % columns) * mm,
          yMm: Math.floor(i / columns) * mm,
          widthMm: mm,
          heightMm: mm,
        }));
        const block: LabelBlock = { title: "t", labels, widthMm: columns * mm, heightMm: rows * mm };
        const sheets = labelSheets([block], PAPERS.a4);
        expect(sheets.every(inside)).toBe(true);
        expect(ids(sheets)).toEqual(labels.map((l) => l.control).sort());
      }),
    );
  });
});

describe("names", () => {
  test.each([
    ["as it is", "Swell", { lines: ["Swell"], sizeMm: 4, isFitted: false }],
    ["narrower", "Storm lantern", { lines: ["Storm lantern"], sizeMm: 4, isFitted: true }],
    ["smaller", "Foghorn waltz, late", { lines: ["Foghorn waltz, late"], isFitted: true }],
    ["on two lines", "Foghorn waltz of the harbour master", { lines: ["Foghorn waltz of", "the harbour master"] }],
  ])("%s", (_name, text, wanted) => {
    expect(fitName(text, 21.2, 12, 4)).toMatchObject(wanted);
  });

  test("whatever they are, they stay in their label", () => {
    const name = fc.oneof(fc.string({ unit: "binary", maxLength: 120 }), fc.string({ maxLength: 120 }));
    const mm = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    fc.assert(
      fc.property(name, mm(4, 100), mm(2, 40), mm(2, 8), (text, room, height, size) => {
        const { lines, sizeMm } = fitName(text, room, height, size);
        expect(lines.length * sizeMm).toBeLessThanOrEqual(height + 0.001);
        // Drawn narrower where it has to be, down to 76 %; one sign alone may be wider than its label.
        for (const line of lines)
          if ([...line].length > 2) expect(textWidth(line, sizeMm, "bold") * 0.76).toBeLessThanOrEqual(room + 0.001);
      }),
      { numRuns: 500 },
    );
  });
});

test("the list of all mappings goes on to as many sheets as it takes", () => {
  const lines = Array.from({ length: 300 }, (_, i) => ({ control: `Pad ${i}`, does: "Lights: go <", where: "Base" }));
  const sheets = listSheets([{ title: "Deck grid", lines }], PAPERS.a4, "Regatta");
  expect(sheets).toHaveLength(3);
  const svgs = sheets.map((sheet) => sheet.svg);
  expect(svgs.join("").match(/>Pad \d+</g)).toHaveLength(300);
  expect(svgs[2]).toContain("sheet 3 of 3");
  expect(svgs[0]).toContain("go &lt;");
  expect(listSheets([], PAPERS.a4, "Regatta")).toHaveLength(1);
});
