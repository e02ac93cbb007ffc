import { readFileSync } from "node:fs";
import fc from "fast-check";
import Papa from "papaparse";
import { describe, expect, test } from "vitest";
import { library } from "../../../tests/rig/shows.ts";
import { csvFaultWords } from "../../words/csv.ts";
import { WHOLE_TRAVEL } from "../format/givens.ts";
import { profilesOf } from "../format/profiles.ts";
import type { Show } from "../format/show.ts";
import { firstBindings } from "../mapping/first-bindings.ts";
import { readCsvRows } from "./csv-reader.ts";
import type { Edit } from "./edit-kinds.ts";
import { applyEdit } from "./edits.ts";
import { CSV_COLUMNS, type CsvInto, csvRows, MOST_CSV_ROWS } from "./mappings-csv.ts";

const show = JSON.parse(readFileSync("examples/lantern-regatta.show.json", "utf8")) as Show;
const profiles = profilesOf(library.surfaces, library.desks);

function into(of: Show): CsvInto {
  const controlsOf = (id: string) => profiles.surfaces.get(of.surfaces.find((s) => s.id === id)!.profile)!.controls;
  const profileOf = (id: string) => profiles.desks.get(of.desks.find((d) => d.id === id)?.profile ?? "");
  let ids = 0;
  return {
    show: of,
    controlsOf,
    functionsOf: (desk) => profileOf(desk)?.functions ?? [],
    parameterOf: (desk, id) => profileOf(desk)?.parameters.find((p) => p.id === id),
    deskIds: () => of.desks,
    pageDesk: "lights",
    pageParameter: (desk) => profileOf(desk)?.page?.parameter,
    newMapping: (surface, control) => ({
      id: `new-${++ids}`,
      name: "",
      note: "",
      on: true,
      surface,
      control: control.id,
      gesture: control.behaviour === "absolute" ? "move" : "press",
      layers: [],
      takeover: "jump",
      look: {},
      actions: [],
    }),
    newAction: (desk, fn) => ({
      id: `action-${++ids}`,
      on: true,
      desk,
      function: fn.id,
      bindings: firstBindings(fn, profileOf(desk)!.parameters, profileOf(desk)!.page?.parameter, 1),
      shape: WHOLE_TRAVEL,
    }),
  };
}

/** The demo show without what its house does: that desk has a profile of its own for each show. */
const bare: Show = {
  ...show,
  mappings: show.mappings.filter((m) => m.actions.every((a) => a.desk !== "house")),
};
const column = (name: (typeof CSV_COLUMNS)[number]) => CSV_COLUMNS.indexOf(name);
/** The rows of the show, of which one is changed. */
function changed(row: number, cells: Partial<Record<(typeof CSV_COLUMNS)[number], string>>): string[][] {
  const rows = csvRows(bare);
  for (const [name, text] of Object.entries(cells)) rows[row - 1]![column(name as (typeof CSV_COLUMNS)[number])] = text;
  return rows;
}
const read = (rows: string[][], removes = false, of = bare) => readCsvRows(rows, into(of), removes);
function readIn(rows: string[][], removes = false, of = bare): Show {
  const { edits, faults } = read(rows, removes, of);
  expect(faults).toEqual([]);
  const result = applyEdit(of, { kind: "together", does: "read", edits: [...edits] } as Edit, profiles);
  if (!result.ok) throw new Error(JSON.stringify(result.problems[0]));
  return result.show;
}
const told = (rows: string[][]) => read(rows).faults.map((f) => csvFaultWords(f));

describe("mappings as a table", () => {
  test("written and read in again, nothing changes", () => {
    const rows = csvRows(bare);
    expect(read(rows)).toMatchObject({ edits: [], changes: [], faults: [], same: rows.length - 1 });
  });

  test("also through a file, with whatever stands in names", () => {
    const name = fc.string({ unit: "grapheme", maxLength: 40 }).map((s) => s.trim());
    fc.assert(
      fc.property(name, name, (one, two) => {
        const named = { ...bare, mappings: bare.mappings.slice(0, 3).map((m) => ({ ...m, name: one, note: two })) };
        const text = Papa.unparse(csvRows(named), { newline: "\r\n" });
        const { data } = Papa.parse<string[]>(text);
        expect(readCsvRows(data, into(named), false)).toMatchObject({ edits: [], faults: [] });
      }),
    );
  });

  test.each<[string, Parameters<typeof changed>[1], object]>([
    [
      "a number",
      { numbers: "page=2; playback=7" },
      { actions: [{ bindings: { page: { value: 2 }, playback: { value: 7 } } }] },
    ],
    [
      "several numbers",
      { numbers: "playback=7 to 9" },
      { actions: [{ bindings: { playback: { values: [7, 8, 9] } } }] },
    ],
    ["a name", { name: "Sluice" }, { name: "Sluice" }],
    ["switched off", { on: "no" }, { on: false }],
    ["a light", { light: "#ff0000" }, { look: { colour: "#ff0000" } }],
    ["layers by their names", { layers: "Shift; Base" }, { layers: ["shift", "base"] }],
    ["pages", { pages: "1 3 4" }, { pages: { desk: "lights", in: [1, 3, 4] } }],
    ["a gesture in words", { gesture: "Hold" }, { gesture: "hold" }],
    [
      "another function by its name",
      { function: "Go playback", numbers: "playback=3" },
      { actions: [{ function: "playback.go" }] },
    ],
    ["another control by its name", { control: "Pad 18" }, { control: "pad-18" }],
    ["a delay", { "delay ms": "250" }, { actions: [{ delayMs: 250 }] }],
  ])("changes %s, and nothing else", (_name, cells, wanted) => {
    const next = readIn(changed(2, cells));
    expect(next.mappings[0]).toMatchObject(wanted);
    expect(next.mappings.slice(1)).toEqual(bare.mappings.slice(1));
    // What the table has no column for is as it was.
    expect(next.mappings[0]!.actions[0]!.shape).toEqual(bare.mappings[0]!.actions[0]!.shape);
  });

  test("rows without an id are new; rows that share a word are the actions of one", () => {
    const row = (cells: Record<string, string>) => CSV_COLUMNS.map((c) => cells[c] ?? "");
    const next = readIn([
      [...CSV_COLUMNS],
      row({
        surface: "Deck grid",
        control: "Pad 15",
        desk: "Lights",
        function: "Playback on or off",
        numbers: "playback=5",
      }),
      row({ mapping: "both", surface: "deck", control: "pad-16", desk: "lights", function: "playback.go" }),
      row({ mapping: "both", surface: "deck", control: "pad-16", desk: "vision", function: "cut" }),
    ]);
    const fresh = next.mappings.slice(bare.mappings.length);
    expect(fresh.map((m) => [m.control, m.actions.map((a) => a.function)])).toEqual([
      ["pad-15", ["playback.toggle"]],
      ["pad-16", ["playback.go", "cut"]],
    ]);
    expect(fresh[0]!.actions[0]!.bindings).toMatchObject({
      page: { from: "page" },
      playback: { from: "fixed", value: 5 },
    });
  });

  test("what no row names is removed only where that is wished", () => {
    const rows = csvRows(bare).slice(0, 11);
    expect(readIn(rows).mappings).toHaveLength(bare.mappings.length);
    const kept = new Set(rows.slice(1).map((r) => r[0]));
    expect(new Set(readIn(rows, true).mappings.map((m) => m.id))).toEqual(kept);
  });

  test.each<[Parameters<typeof changed>[1], string]>([
    [{ surface: "nowhere" }, "Row 3: “nowhere” is no surface here. There is Deck grid, Tide strips or Pocket keys."],
    [{ control: "pad-99" }, "Row 3: “pad-99” is no control here."],
    [{ desk: "moon" }, "Row 3: “moon” is no desk here."],
    [{ function: "fly" }, "Row 3: “fly” is no function here."],
    [{ numbers: "playback=900" }, "Row 3: there is no playback 900. The desk has 1 to 20."],
    [{ numbers: "tide=1" }, "Row 3: “tide=1” is no number of this function here. There is page or playback."],
    [{ numbers: "playback=many" }, "Row 3: “playback=many” cannot stand in the column “numbers”."],
    [{ numbers: "playback=up" }, "Row 3: “playback=up” cannot stand in the column “numbers”."],
    [{ gesture: "wave" }, "Row 3: “wave” is no gesture here."],
    [{ gesture: "turn" }, "Row 3: this control cannot make “turn”."],
    [{ layers: "Attic" }, "Row 3: “Attic” is no layer here. There is Base or Shift."],
    [{ on: "perhaps" }, "Row 3: “perhaps” is no yes or no here. There is yes or no."],
    [
      { light: "red" },
      "Row 3: “red” cannot stand in the column “light”. Write a colour as #rrggbb, or nothing for the desk’s own.",
    ],
    [{ pages: "all" }, "Row 3: “all” cannot stand in the column “pages”."],
    [{ name: "x".repeat(81) }, "Row 3: “"],
    [{ "delay ms": "-1" }, "Row 3: “-1” cannot stand in the column “delay ms”."],
  ])("a wrong row is told, and nothing is read in: %j", (cells, sentence) => {
    const rows = changed(3, cells);
    rows[1]![column("name")] = "changed too";
    expect(told(rows)).toEqual([expect.stringContaining(sentence)]);
    expect(read(rows).edits).toEqual([]);
  });

  describe("several rows of one mapping", () => {
    const first = bare.mappings.find((m) => m.actions.length === 1)!;
    const two = { ...first, actions: [...first.actions, { ...first.actions[0]!, id: "second" }] };
    const withTwo: Show = { ...bare, mappings: bare.mappings.map((m) => (m === first ? two : m)) };
    const rowsOf = () => {
      const rows = csvRows(withTwo);
      return { rows, at: rows.flatMap((row, i) => (row[0] === two.id ? [i] : [])) as [number, number] };
    };
    const nameOf = (of: Show) => of.mappings.find((m) => m.id === two.id)!.name;
    test("any of them may say what changes, and the others need not", () => {
      for (const nth of [0, 1] as const) {
        const { rows, at } = rowsOf();
        expect(at).toHaveLength(2);
        rows[at[nth]]![column("name")] = "Sluice";
        expect(nameOf(readIn(rows, false, withTwo))).toBe("Sluice");
      }
    });
    test("what they say of it must not differ, but where one says nothing new", () => {
      const { rows, at } = rowsOf();
      rows[at[0]]![column("name")] = "Sluice";
      rows[at[1]]![column("name")] = "Weir";
      expect(read(rows, false, withTwo).faults.map((f) => csvFaultWords(f))).toEqual([
        `Row ${at[1] + 1}: row ${at[0] + 1} says something else in the column “name”, and is of the same mapping.`,
      ]);
      rows[at[1]]![column("name")] = "Sluice";
      expect(nameOf(readIn(rows, false, withTwo))).toBe("Sluice");
    });
    test("of a new one, further rows may leave empty where it lies, and must not lead elsewhere", () => {
      const row = (cells: Record<string, string>) => CSV_COLUMNS.map((c) => cells[c] ?? "");
      const first = row({
        mapping: "both",
        surface: "deck",
        control: "pad-15",
        desk: "lights",
        function: "playback.go",
      });
      const more = { mapping: "both", desk: "vision", function: "cut" };
      const next = readIn([[...CSV_COLUMNS], first, row({ ...more, name: "Sluice" })]).mappings.at(-1)!;
      expect([next.name, next.control, next.actions.length]).toEqual(["Sluice", "pad-15", 2]);
      expect(told([[...CSV_COLUMNS], first, row({ ...more, control: "pad-16" })])[0]).toContain(
        "row 2 says something else in the column “control”",
      );
    });
  });

  test("heads that are wrong, missing or alone; too many rows; a row that stands there twice", () => {
    expect(told([])).toEqual([expect.stringContaining("there is nothing in this file")]);
    expect(told([[...CSV_COLUMNS]])).toEqual([expect.stringContaining("there is nothing in this file")]);
    expect(
      told([
        ["mapping", "colour"],
        ["", ""],
      ]),
    ).toEqual(["Row 1: there is no column called “colour”. Take it out, or correct its head."]);
    expect(
      told([
        ["mapping", "surface"],
        ["", ""],
      ]),
    ).toEqual([expect.stringContaining("there is no column “control”")]);
    const many = [[...CSV_COLUMNS], ...Array.from({ length: 100_000 }, () => ["x"])];
    expect(told(many)).toEqual([expect.stringContaining(`more than ${MOST_CSV_ROWS} rows`)]);
    const rows = csvRows(bare);
    expect(told([...rows, rows[1]!])).toEqual([`Row ${rows.length + 1}: this action stands in row 2 already.`]);
  });

  test("whatever the cells say, it is read or told, and never half", () => {
    const cell = fc.oneof(
      fc.constantFrom(
        "",
        "deck",
        "pad-1",
        "lights",
        "playback.toggle",
        "page=up",
        "{",
        '{"from":"page"}',
        ";=",
        "yes",
        "hold",
      ),
      fc.string({ maxLength: 12 }),
    );
    fc.assert(
      fc.property(fc.array(fc.array(cell, { maxLength: 22 }), { maxLength: 8 }), (some) => {
        const { edits, faults } = read([[...CSV_COLUMNS], ...some]);
        if (faults.length > 0) expect(edits).toEqual([]);
        else if (edits.length > 0) {
          const result = applyEdit(bare, { kind: "together", does: "read", edits: [...edits] } as Edit, profiles);
          // What only the whole show can tell is refused by it, whole.
          if (result.ok) expect(result.show.mappings.length).toBeGreaterThanOrEqual(bare.mappings.length);
        }
      }),
      { numRuns: 500 },
    );
  });
});
