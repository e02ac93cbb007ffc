import fc from "fast-check";
import { produceWithPatches } from "immer";
import { describe, expect, test } from "vitest";
import { mapping, showWith, toggle } from "../../../tests/rig/shows.ts";
import type { Show } from "../format/show.ts";
import { applyStoredPatches } from "./edits.ts";
import { patched } from "./patched.ts";
import { shortPatches } from "./short-patches.ts";

const COUNT = 300;
const show = showWith(
  Array.from({ length: COUNT }, (_, n) => mapping(`pad-${(n % 30) + 1}`, toggle((n % 20) + 1), { id: `m-${n}` })),
);

function edited(change: (draft: Show) => void) {
  const [next, patches, inverse] = produceWithPatches(show, change);
  return { next, ...shortPatches(show, next, patches, inverse) };
}

describe("patches of a long list of mappings", () => {
  test("one taken out of the middle, and one put in, take one step there and one back", () => {
    const out = edited((draft) => void draft.mappings.splice(5, 1));
    expect([out.patches, out.inverse.length]).toEqual([[{ op: "remove", path: ["mappings", 5] }], 1]);
    const put = edited((draft) => void draft.mappings.splice(5, 0, { ...show.mappings[0]!, id: "new" }));
    expect([put.patches.length, put.inverse]).toEqual([1, [{ op: "remove", path: ["mappings", 5] }]]);
  });
  test("changes that lie far from each other stay as they are", () => {
    const { patches } = edited((draft) => {
      for (let n = 0; n < COUNT; n += 15) draft.mappings[n]!.name = "Other";
    });
    expect(patches.length).toBe(COUNT / 15);
  });
  test("lead to the edited show and back, by both that carry them out, whatever was edited", () => {
    const at = fc.nat(COUNT + 5);
    const change = fc.oneof(
      fc.record({ out: at, count: fc.integer({ min: 1, max: 40 }) }),
      fc.record({ in: at, count: fc.integer({ min: 1, max: 40 }) }),
      fc.record({ renamed: at, count: fc.integer({ min: 1, max: 40 }) }),
      fc.constant("show" as const),
    );
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 4 }), (changes) => {
        const { next, patches, inverse } = edited((draft) => {
          for (const c of changes)
            if (c === "show") draft.name += "!";
            else if ("out" in c) draft.mappings.splice(c.out, c.count);
            else if ("in" in c)
              draft.mappings.splice(c.in, 0, ...show.mappings.slice(0, c.count).map((m) => ({ ...m })));
            else for (const m of draft.mappings.slice(c.renamed, c.renamed + c.count)) m.note += "?";
        });
        expect(applyStoredPatches(show, patches)).toEqual(next);
        expect(applyStoredPatches(next, inverse)).toEqual(show);
        expect(patched(show, patches)).toEqual(next);
        expect(patched(next, inverse)).toEqual(show);
      }),
      { numRuns: 100 },
    );
  });
});
