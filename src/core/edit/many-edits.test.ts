/** One change of many mappings: only those that it changes, and undone all are as they were. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { fixed, level, library, mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import type { Mapping } from "../format/show.ts";
import type { OneEdit } from "./edit-kinds.ts";
import { applyEdit, applyStoredPatches } from "./edits.ts";
import { countOn, gesturesOfAll, setOnAll, takeOverAll } from "./many-edits.ts";

const deck = library.surfaces.find((s) => s.id === "deck-grid")!;
const controlOf = (m: Mapping) => deck.controls.find((c) => c.id === m.control);
const all = [
  mapping("pad-1", toggle(1)),
  mapping("pad-2", toggle(2), { on: false }),
  mapping("fader-1", level(1)),
  mapping("fader-2", level(2), { takeover: "jump" }),
];

describe("a change of many", () => {
  test("leaves alone what is so already", () => {
    expect(setOnAll(all, { on: false }).map((e) => "id" in e && e.id)).toEqual(["m-pad-1", "m-fader-1", "m-fader-2"]);
    expect(setOnAll(all, { pages: null })).toEqual([]);
    expect(setOnAll([{ ...all[0]!, pages: { desk: "lights", in: [1] } }], { pages: null })).toHaveLength(1);
    expect(setOnAll(all, { look: {} })).toEqual([]);
  });
  test("takeover is for what stays where it is put", () => {
    expect(takeOverAll(all, "jump", controlOf)).toEqual([
      { kind: "change-mapping", id: "m-fader-1", set: { takeover: "jump" } },
    ]);
  });
  test("the gestures that all can make", () => {
    const controls = all.map((m) => controlOf(m)!);
    expect(gesturesOfAll(controls)).toEqual([]);
    expect(gesturesOfAll(controls.slice(0, 2))).toContain("hold");
    expect(gesturesOfAll([])).toEqual([]);
  });
  test("numbers count on in their order; what follows something else counts too, what is so already is left", () => {
    const actions = [toggle(5), toggle(2), toggle(9)].map((action, i) => ({ mapping: `m-${i}`, action }));
    expect(countOn(actions, "playback", 1, 1).map((e) => "mapping" in e && e.mapping)).toEqual(["m-0", "m-2"]);
    expect(countOn(actions, "nothing", 1, 1)).toEqual([]);
  });
});

test("any sequence of changes of many, undone, is the show as it was", () => {
  const show = showWith(all);
  const change = fc.oneof(
    fc.boolean().map((on) => (now: readonly Mapping[]) => setOnAll(now, { on })),
    fc
      .constantFrom("jump" as const, "catch" as const, "converge" as const)
      .map((t) => (now: readonly Mapping[]) => takeOverAll(now, t, controlOf)),
    fc
      .constantFrom<string[]>([], ["base"], ["base", "shift"])
      .map((layers) => (now: readonly Mapping[]) => setOnAll(now, { layers })),
    fc
      .constantFrom<Mapping["pages"] | null>(null, { desk: "lights", in: [2] })
      .map((pages) => (now: readonly Mapping[]) => setOnAll(now, { pages })),
    fc.constantFrom({}, { colour: "#336699" }).map((look) => (now: readonly Mapping[]) => setOnAll(now, { look })),
    fc.tuple(fc.integer({ min: 1, max: 16 }), fc.constantFrom(0, 1)).map(
      ([first, step]) =>
        (now: readonly Mapping[]) =>
          countOn(
            now.flatMap((m) => m.actions.map((action) => ({ mapping: m.id, action }))),
            "playback",
            first,
            step,
          ),
    ),
    fc.constant((now: readonly Mapping[]) =>
      now.slice(0, 1).map((m): OneEdit => ({ kind: "remove-mapping", id: m.id })),
    ),
    fc.nat(3).map((n) => (now: readonly Mapping[]) => {
      const extra: Mapping = { ...mapping("pad-9", toggle(9, fixed(1))), id: `m-new-${n}` };
      return now.some((m) => m.id === extra.id) ? [] : [{ kind: "add-mapping", mapping: extra } as OneEdit];
    }),
  );
  fc.assert(
    fc.property(fc.array(change, { maxLength: 8 }), (changes) => {
      let now = show;
      const back: Parameters<typeof applyStoredPatches>[1][] = [];
      for (const make of changes) {
        const edits = make(now.mappings);
        if (edits.length === 0) continue;
        const result = applyEdit(now, { kind: "together", does: "change", edits }, profiles);
        // What a bulk edit makes is never refused: it would leave a person with half of what was meant.
        expect(result).toMatchObject({ ok: true });
        if (!result.ok) return;
        now = result.show;
        back.unshift(result.inverse);
      }
      for (const inverse of back) now = applyStoredPatches(now, inverse) as typeof now;
      expect(now).toEqual(show);
    }),
  );
});
