import fc from "fast-check";
import { applyPatches, enablePatches, produceWithPatches } from "immer";
import { describe, expect, test } from "vitest";
import { mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import { applyEdit } from "./edits.ts";
import { patched } from "./patched.ts";

enablePatches();

const change = fc.record({
  at: fc.nat(5),
  what: fc.constantFrom("push", "unshift", "splice", "set", "remove", "swap", "shorten", "replace"),
  value: fc.oneof(fc.string(), fc.record({ id: fc.string() }), fc.constant(null)),
});
interface Draft {
  list: { id: string; more: unknown[] }[];
  map: Record<string, unknown>;
}

describe("a document with patches", () => {
  test("is what immer makes of them, and what no path leads to stays the same object", () => {
    const document = (): Draft => ({
      list: Array.from({ length: 5 }, (_, i) => ({ id: `${i}`, more: [i, { deep: i }] })),
      map: { a: { b: 1 }, c: 2 },
    });
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 12 }), (changes) => {
        const before = document();
        const text = JSON.stringify(before);
        const [after, patches] = produceWithPatches(before, (draft) => {
          for (const { at, what, value } of changes) {
            const item = draft.list[at];
            if (what === "push") draft.list.push({ id: "new", more: [value] });
            else if (what === "unshift") draft.list.unshift({ id: "first", more: [] });
            else if (what === "splice") draft.list.splice(at, 2, { id: "spliced", more: [value] });
            else if (what === "set") draft.map[`k${at}`] = value;
            else if (what === "remove") delete draft.map.a;
            else if (what === "shorten") draft.list.length = Math.min(draft.list.length, at);
            else if (what === "swap") draft.list.reverse();
            else if (item) item.more = [value, ...item.more];
          }
        });
        const own = patched(before, patches);
        expect(own).toEqual(after);
        expect(own).toEqual(applyPatches(before, patches));
        expect(JSON.stringify(before)).toBe(text);
        if (!patches.some((p) => p.path[0] === "map")) expect(own.map).toBe(before.map);
        own.list.forEach((item) => {
          const old = before.list.find((b) => b === item);
          if (old) expect(item).toBe(old);
        });
      }),
    );
  });
  test("an edit of one mapping leaves all others the same objects", () => {
    const show = showWith([1, 2, 3].map((n) => mapping(`pad-${n}`, toggle(n))));
    const result = applyEdit(
      show,
      { kind: "change-mapping", id: show.mappings[1]!.id, set: { name: "Here" } },
      profiles,
    );
    if (!result.ok) throw new Error("the edit was refused");
    const own = patched(show, JSON.parse(JSON.stringify(result.patches)) as typeof result.patches);
    expect(own).toEqual(result.show);
    expect([own.mappings[0], own.mappings[2], own.desks]).toEqual([show.mappings[0], show.mappings[2], show.desks]);
    expect([own.mappings[0] === show.mappings[0], own.desks === show.desks]).toEqual([true, true]);
  });
  test.each([
    [[{ op: "replace", path: ["gone", "deep"], value: 1 }]],
    [[{ op: "add", path: [], value: 1 }]],
    [[{ op: "remove", path: ["list", 9, "id"] }]],
  ] as const)("%o leads nowhere and is thrown", (patches) => {
    expect(() => patched({ list: [] }, patches)).toThrow();
  });
});
