/** Copied mappings on other controls: as they were, moved on, beside what is there, and in another show. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { fixed, flash, level, library, mapping, page, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import { type MappingsDocument, readMappings } from "../format/mappings-document.ts";
import type { Mapping, Show } from "../format/show.ts";
import { writeMappings } from "../format/write-mappings.ts";
import { compileShow } from "../mapping/compile.ts";
import { applyEdit, applyStoredPatches } from "./edits.ts";
import { type PasteInto, type PasteTarget, type PasteWish, pasteEdits, pasteLines, swapEdits } from "./pasting.ts";

const deck = library.surfaces.find((s) => s.id === "deck-grid")!;
const control = (id: string) => deck.controls.find((c) => c.id === id)!;
const PLAIN: PasteWish = { what: "mappings", moveOn: 0, scope: { layers: null, page: null } };

function into(show: Show): PasteInto {
  const compiled = compileShow(show, profiles);
  let n = 0;
  return {
    show,
    functionOf: (desk, id) => compiled.desks.find((d) => d.id === desk)?.functions.get(id),
    deskOfKind: (profile) => show.desks.find((d) => d.profile === profile)?.id,
    hasControl: (_, id) => deck.controls.some((c) => c.id === id),
    pageDesk: "lights",
    newId: (prefix) => `${prefix}-new-${++n}`,
  };
}

function copied(show: Show, ...controls: string[]): MappingsDocument {
  const read = readMappings(
    writeMappings({
      controls: controls.map((c) => ({ surface: "deck", control: c })),
      mappings: show.mappings.filter((m) => controls.includes(m.control)),
      desks: [{ id: "lights", profile: "quay-lights" }],
    }),
  );
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.value;
}

const onto = (show: Show, ...controls: string[]): PasteTarget[] =>
  controls.map((id) => ({ surface: "deck", control: control(id), has: show.mappings.filter((m) => m.control === id) }));

const numbersOf = (mappings: readonly Mapping[]) =>
  mappings.flatMap((m) => m.actions.map((a) => (a.bindings.playback as { value: number }).value));

describe("what was copied, on other controls", () => {
  const held = mapping("pad-1", flash(1), { id: "m-hold", gesture: "hold", layers: ["shift"] });
  const show = showWith([mapping("pad-1", toggle(1)), held, mapping("pad-2", toggle(2)), mapping("fader-1", level(1))]);

  test("stands as it was, under new names", () => {
    const [line] = pasteLines(copied(show, "pad-1"), onto(show, "pad-9"), PLAIN, into(show));
    expect(line).toMatchObject({ trouble: null, taken: [] });
    expect(line!.mappings).toMatchObject([
      { surface: "deck", control: "pad-9", gesture: "press", layers: [], actions: [{ function: "playback.toggle" }] },
      {
        surface: "deck",
        control: "pad-9",
        gesture: "hold",
        layers: ["shift"],
        actions: [{ function: "playback.flash" }],
      },
    ]);
    const ids = line!.mappings.flatMap((m) => [m.id, ...m.actions.map((a) => a.id)]);
    expect(ids.every((id) => id.includes("-new-"))).toBe(true);
    expect(new Set(ids).size).toBe(4);
  });

  test("one for many counts on with each; several for their row move on by round", () => {
    const wish = { ...PLAIN, moveOn: 1 };
    const one = pasteLines(copied(show, "pad-2"), onto(show, "pad-3", "pad-4", "pad-5"), wish, into(show));
    expect(numbersOf(one.flatMap((l) => l.mappings))).toEqual([3, 4, 5]);
    const two = { ...PLAIN, moveOn: 2 };
    const both = pasteLines(
      copied(show, "pad-1", "pad-2"),
      onto(show, "pad-3", "pad-4", "pad-5", "pad-6"),
      two,
      into(show),
    );
    expect(both.map((l) => numbersOf(l.mappings))).toEqual([[3, 3], [4], [5, 5], [6]]);
  });

  test("a number that the desk does not have is told, and nothing of its line is put in", () => {
    const lines = pasteLines(copied(show, "pad-2"), onto(show, "pad-9"), { ...PLAIN, moveOn: 19 }, into(show));
    expect(lines[0]!.trouble).toMatchObject({ kind: "out-of-range", number: 21 });
    expect(pasteEdits(lines, "mappings", {}, into(show))).toEqual([]);
  });

  test("what is taken is replaced, kept or left, where it says the same gesture at the same place", () => {
    const lines = pasteLines(copied(show, "pad-1"), onto(show, "pad-2"), PLAIN, into(show));
    expect(lines[0]!.taken.map((m) => m.id)).toEqual(["m-pad-2"]);
    const kinds = (answer: "keep" | "replace" | "leave") =>
      pasteEdits(lines, "mappings", { "pad-2": answer }, into(show)).map((e) => e.kind);
    expect(kinds("replace")).toEqual(["remove-mapping", "add-mapping", "add-mapping"]);
    expect(kinds("keep")).toEqual(["add-mapping", "add-mapping"]);
    expect(kinds("leave")).toEqual([]);
  });

  test("on one layer or page, whatever it was", () => {
    const wish: PasteWish = { ...PLAIN, scope: { layers: ["shift"], page: 3 } };
    const [line] = pasteLines(copied(show, "pad-1"), onto(show, "pad-1"), wish, into(show));
    expect(line!.mappings).toMatchObject([
      { layers: ["shift"], pages: { desk: "lights", in: [3] } },
      { layers: ["shift"], pages: { desk: "lights", in: [3] } },
    ]);
  });

  test("it stays in its bundle where there is that bundle, and is in none elsewhere", () => {
    const guest = {
      ...show,
      bundles: [{ id: "guest", name: "Guest", on: true }],
      mappings: show.mappings.map((m) => ({ ...m, bundle: "guest" })),
    };
    const bundles = (here: Show) =>
      pasteLines(copied(guest, "pad-2"), onto(here, "pad-9"), PLAIN, into(here))[0]!.mappings.map((m) => m.bundle);
    expect([bundles(guest), bundles(show)]).toEqual([["guest"], [undefined]]);
  });

  test("a control that cannot make the gesture makes its own, and takes over as it can", () => {
    const [line] = pasteLines(copied(show, "fader-1"), onto(show, "pad-9"), PLAIN, into(show));
    expect(line!.mappings).toMatchObject([{ gesture: "press", takeover: "jump" }]);
  });

  test("actions join those that are there; lights and shapes alone leave everything else", () => {
    const looks = showWith([
      mapping("pad-1", toggle(1), { look: { colour: "#336699" } }),
      mapping("pad-2", toggle(2)),
      mapping("fader-1", level(1, page, { shape: { input: [0, 0.5], invert: true } })),
      mapping("fader-2", level(2, page, { shape: { input: [0, 1], invert: false, steps: 5 } })),
    ]);
    const make = (what: PasteWish["what"], from: string, to: string) =>
      pasteEdits(
        pasteLines(copied(looks, from), onto(looks, to), { ...PLAIN, what }, into(looks)),
        what,
        {},
        into(looks),
      );
    expect(make("actions", "pad-1", "pad-2")).toMatchObject([{ kind: "add-action", mapping: "m-pad-2" }]);
    expect(make("actions", "pad-1", "pad-9")).toMatchObject([{ kind: "add-mapping" }]);
    expect(make("lights", "pad-1", "pad-2")).toEqual([
      { kind: "change-mapping", id: "m-pad-2", set: { look: { colour: "#336699" } } },
    ]);
    expect(make("shapes", "fader-1", "fader-2")).toEqual([
      {
        kind: "change-action",
        mapping: "m-fader-2",
        id: "l-2",
        set: { shape: { input: [0, 0.5], invert: true, steps: null } },
      },
    ]);
    expect(make("shapes", "pad-1", "fader-2")).toEqual([]);
  });

  test("another show gives its own desk of the kind, and says where it has none", () => {
    const other = showWith([], {
      desks: [{ ...show.desks[0]!, id: "rig", name: "Rig" }],
      layers: [{ id: "base", name: "Base" }],
    });
    const [line] = pasteLines(copied(show, "pad-1"), onto(other, "pad-1"), PLAIN, into(other));
    expect(line!.trouble).toBeNull();
    expect(line!.mappings.map((m) => [m.actions[0]!.desk, m.layers])).toEqual([
      ["rig", []],
      ["rig", []],
    ]);
    const none = showWith([], { desks: [] });
    expect(pasteLines(copied(show, "pad-1"), onto(none, "pad-1"), PLAIN, into(none))[0]!.trouble).toMatchObject({
      kind: "no-function",
    });
  });

  test("what is cut moves, and keeps its id; what finds no place stays where it was", () => {
    const lines = pasteLines(copied(show, "pad-1", "pad-2"), onto(show, "pad-9"), PLAIN, into(show));
    const cut = ["m-pad-1", "m-hold", "m-pad-2", "m-gone-long-ago"];
    const moved = (edits: ReturnType<typeof pasteEdits>) => {
      const made = applyEdit(show, { kind: "together", does: "move", edits }, profiles);
      if (!made.ok) throw new Error("refused");
      return made.show.mappings.map((m) => `${m.id} on ${m.control}`).sort();
    };
    expect(moved(pasteEdits(lines, "mappings", {}, into(show), cut))).toEqual([
      "m-fader-1 on fader-1",
      "m-hold on pad-9",
      "m-pad-1 on pad-9",
      "m-pad-2 on pad-2",
    ]);
    // By one along: what stands in the way moves on itself.
    const along = pasteLines(copied(show, "pad-1", "pad-2"), onto(show, "pad-2", "pad-3"), PLAIN, into(show));
    expect(moved(pasteEdits(along, "mappings", {}, into(show), cut))).toEqual([
      "m-fader-1 on fader-1",
      "m-hold on pad-2",
      "m-pad-1 on pad-2",
      "m-pad-2 on pad-3",
    ]);
    // What is left out stays too.
    expect(moved(pasteEdits(along, "mappings", { "pad-2": "leave" }, into(show), cut))).toContain("m-pad-1 on pad-1");
    expect(pasteEdits(lines, "lights", {}, into(show), cut)).toEqual([]);
  });

  test("two that are swapped have each other's", () => {
    const edits = swapEdits(
      show.mappings,
      { surface: "deck", control: "pad-1" },
      { surface: "deck", control: "pad-2" },
    );
    const swapped = applyEdit(show, { kind: "together", does: "swap", edits }, profiles);
    if (!swapped.ok) throw new Error("refused");
    const of = (id: string) => swapped.show.mappings.filter((m) => m.control === id).map((m) => m.id);
    expect([of("pad-1"), of("pad-2")]).toEqual([["m-pad-2"], ["m-pad-1", "m-hold"]]);
  });
});

test("whatever is copied wherever, what is put in makes a valid show, and undone it is as before", () => {
  const pads = ["pad-1", "pad-2", "pad-3", "fader-1", "shift"].filter((id) => control(id));
  const show = showWith([
    mapping("pad-1", [toggle(1), flash(2, fixed(3))]),
    mapping("pad-2", toggle(2), { layers: ["shift"], pages: { desk: "lights", in: [2, 3] } }),
    mapping("pad-3", flash(3), { gesture: "hold", whileHeld: { surface: "deck", control: "pad-1" } }),
    mapping("fader-1", level(1)),
  ]);
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.constantFrom(...pads), { minLength: 1 }),
      fc.uniqueArray(fc.constantFrom(...pads, "pad-9", "fader-2"), { minLength: 1 }),
      fc.constantFrom<PasteWish["what"]>("mappings", "actions", "lights", "shapes"),
      fc.integer({ min: -3, max: 20 }),
      fc.constantFrom<PasteWish["scope"]["layers"]>(null, [], ["shift"]),
      fc.constantFrom(null, 0, 5),
      fc.constantFrom("keep" as const, "replace" as const, "leave" as const),
      fc.subarray(show.mappings.map((m) => m.id)),
      (from, to, what, moveOn, layers, onPage, answer, cut) => {
        const given = into(show);
        const lines = pasteLines(
          copied(show, ...from),
          onto(show, ...to),
          { what, moveOn, scope: { layers, page: onPage } },
          given,
        );
        const edits = pasteEdits(lines, what, Object.fromEntries(to.map((t) => [t, answer])), given, cut);
        if (edits.length === 0) return;
        const made = applyEdit(show, { kind: "together", does: "paste", edits }, profiles);
        expect(made).toMatchObject({ ok: true });
        if (made.ok) expect(applyStoredPatches(made.show, made.inverse)).toEqual(show);
      },
    ),
    { numRuns: 400 },
  );
});

test.each([
  ["", "not-json"],
  ["{", "not-json"],
  ["[]", "wrong-format"],
  [JSON.stringify({ format: "velvet-hinge/mappings", version: 9, controls: [], mappings: [] }), "newer-version"],
])("a text that is no mappings is refused: %s", (text) => {
  expect(readMappings(text)).toMatchObject({ ok: false });
});
