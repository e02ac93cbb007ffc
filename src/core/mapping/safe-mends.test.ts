/** What may be mended at once changes nothing that any control does, and the advice is gone. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { Rig } from "../../../tests/rig/rig.ts";
import { house, mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import { parseEdit } from "../edit/edit-kinds.ts";
import { applyEdit } from "../edit/edits.ts";
import type { Mapping, Show } from "../format/show.ts";
import { adviceFor } from "./advice.ts";
import { compileShow } from "./compile.ts";
import { safeMend, safeMends } from "./safe-mends.ts";

const adviceOf = (show: Show) => adviceFor(compileShow(show, profiles));
const at = (control: string, id: string, n: number, more: Partial<Mapping> = {}): Mapping => ({
  ...mapping(control, toggle(n)),
  id,
  ...more,
});

function mended(show: Show): Show {
  const edits = safeMends(show, adviceOf(show)).map(({ mapping: id, set }) => ({ kind: "change-mapping", id, set }));
  if (edits.length === 0) return show;
  const parsed = parseEdit({ kind: "together", does: "mend", edits });
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.problems));
  const result = applyEdit(show, parsed.edit, profiles);
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  return result.show;
}

describe("what may be mended at once", () => {
  test("of two mappings that say the same, the one that no touch reaches is switched off", () => {
    const show = showWith([at("pad-1", "first", 1), at("pad-1", "second", 2)]);
    expect(adviceOf(show).map((a) => safeMend(show, a))).toEqual([null, { mapping: "second", set: { on: false } }]);
    expect(adviceOf(mended(show))).toEqual([]);
  });

  test("one that another mapping runs is left as it is", () => {
    const runs = at("pad-2", "runs", 1, { actions: [house("mapping.run", {}, { target: "second" })] });
    const show = showWith([at("pad-1", "first", 1), at("pad-1", "second", 2), runs]);
    expect(adviceOf(show).map((a) => a.code)).toEqual(["clash", "clash"]);
    expect(safeMends(show, adviceOf(show))).toEqual([]);
  });

  const range = (from: number): Mapping => ({
    ...at("all", "range", 2),
    gesture: "move",
    message: { kind: "any", of: "controller", channels: [1, 1], numbers: [from, 127] },
  });
  test("a range ends where controls end", () => {
    const next = mended(showWith([range(100)]));
    expect(next.mappings[0]!.message?.numbers).toEqual([100, 119]);
    expect(adviceOf(next)).toEqual([]);
  });

  test("somebody has to decide of a range of nothing but channel mode, of a group of one, and of a layer nothing enters", () => {
    const show = showWith([
      range(121),
      at("pad-1", "alone", 1, { radio: "scenes" }),
      at("pad-2", "lost", 1, { layers: ["shift"] }),
    ]);
    const codes = adviceOf(show).map((a) => a.code);
    expect(codes).toEqual(["reserved-range", "radio-alone", "layer-unreachable"]);
    expect(safeMends(show, adviceOf(show))).toEqual([]);
  });

  test("whatever clashes: the same bytes leave as before", () => {
    const one = fc.record({
      pad: fc.integer({ min: 1, max: 3 }),
      n: fc.integer({ min: 1, max: 9 }),
      radio: fc.constantFrom(undefined, "a", "b"),
      layer: fc.constantFrom(undefined, "base"),
    });
    fc.assert(
      fc.property(
        fc.array(one, { maxLength: 8 }),
        fc.array(fc.integer({ min: 1, max: 3 }), { maxLength: 12 }),
        (mappings, presses) => {
          const show = showWith(
            mappings.map(({ pad, n, radio, layer }, i) =>
              at(`pad-${pad}`, `m${i}`, n, { ...(radio ? { radio } : {}), layers: layer ? [layer] : [] }),
            ),
          );
          const played = (of: Show) => {
            const rig = Rig.onPage(1, of);
            for (const pad of presses) rig.tap(`pad-${pad}`);
            return rig.sent();
          };
          expect(played(mended(show))).toEqual(played(show));
        },
      ),
      { numRuns: Number(process.env.VELVET_RUNS ?? 60) },
    );
  });
});
