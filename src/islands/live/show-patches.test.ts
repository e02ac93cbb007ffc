/** A page that is told an edit as patches knows what one knows that is given the whole show. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { liveStateOf } from "../../../tests/rig/row-names.ts";
import { fixed, level, mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import { parseEdit } from "../../core/edit/edit-kinds.ts";
import { applyEdit } from "../../core/edit/edits.ts";
import type { Show } from "../../core/format/show.ts";
import { type LiveState, withPatches, withShow } from "./apply-changes.ts";

const LAYERS = [
  { id: "base", name: "Base" },
  { id: "shift", name: "Shift" },
];
const first = showWith(
  [1, 2, 3].map((n) => mapping(`pad-${n}`, toggle(n))),
  { layers: LAYERS },
);
const pads = fc.uniqueArray(fc.integer({ min: 4, max: 30 }), { minLength: 1, maxLength: 20 });
const anyEdit = fc.oneof(
  pads.map((list) => (_: Show, at: number) => ({
    kind: "together",
    does: "a series",
    edits: list.map((n) => ({
      kind: "add-mapping",
      mapping: { ...mapping(`pad-${n}`, toggle((n % 15) + 1)), id: `new-${at}-${n}` },
    })),
  })),
  fc.nat().map((n) => (show: Show) => {
    const found = show.mappings[n % Math.max(1, show.mappings.length)];
    return found ? { kind: "remove-mapping", id: found.id } : { kind: "rename-show", name: "Empty" };
  }),
  fc.nat().map((n) => (show: Show) => {
    const found = show.mappings[n % Math.max(1, show.mappings.length)];
    return found
      ? { kind: "change-mapping", id: found.id, set: { layers: ["shift"] } }
      : { kind: "rename-show", name: "Empty" };
  }),
  fc.constant((_: Show, at: number) => ({ kind: "rename-show", name: `Show ${at}` })),
  fc.constant((_: Show, at: number) => ({
    kind: "add-mapping",
    mapping: { ...mapping("fader-1", level(1, fixed(2))), id: `fader-${at}` },
  })),
);

/** What a page shows of a show, as plain data. */
function known({ show, history, compiled, context }: LiveState) {
  return { show, history, clashes: compiled.clashes, starts: compiled.actionStart, active: context.active };
}

describe("an edit that is told as patches", () => {
  test("leaves what it does not touch as it was", () => {
    const page = liveStateOf(first);
    const patches = [{ op: "replace" as const, path: ["mappings", 1, "on"], value: false }];
    const told = withPatches(page, patches, page.history, { atMs: 1 });
    expect(told.show.mappings.map((m, i) => m === page.show.mappings[i])).toEqual([true, false, true]);
    expect(told.compiled.desks).toBe(page.compiled.desks);
  });

  test("leaves the page with what the whole show would", () => {
    fc.assert(
      fc.property(fc.array(anyEdit, { minLength: 1, maxLength: 8 }), (edits) => {
        let page = liveStateOf(first);
        edits.forEach((make, at) => {
          const parsed = parseEdit(make(page.show, at));
          if (!parsed.ok) throw new Error(JSON.stringify(parsed.problems));
          const answer = applyEdit(page.show, parsed.edit, profiles);
          if (!answer.ok) return;
          const patches = JSON.parse(JSON.stringify(answer.patches));
          const history = { ...page.history, turn: page.history.turn + 1 };
          const told = withPatches(page, patches, history, { atMs: at });
          expect(known(told)).toEqual(known(withShow(page, answer.show, history, { atMs: at })));
          page = told;
        });
      }),
      { numRuns: Number(process.env.VELVET_RUNS ?? 40) },
    );
  });
});
