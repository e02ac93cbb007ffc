/** A show that was compiled from the tables of the one before is what compiling it anew makes of it, byte for byte. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import {
  action,
  fixed,
  flash,
  house,
  level,
  mapping,
  page,
  profiles,
  shift,
  showWith,
  toggle,
} from "../../../tests/rig/shows.ts";
import type { Action, Mapping, Show } from "../format/show.ts";
import { type CompiledShow, compileShow } from "./compile.ts";
import { isOfFewMappings, recompile } from "./recompile.ts";

const layers = [
  { id: "base", name: "Base" },
  { id: "shift", name: "Shift" },
];
const more: Partial<Show> = {
  layers,
  banks: [{ id: "bank", name: "Strips", first: 1, last: 20, size: 5 }],
  bundles: [{ id: "guest", name: "Guest", on: false }],
};
const listed = (n: number): Action => ({
  ...toggle(n),
  bindings: { page, playback: { from: "list", values: [n, n + 1, n + 2] } as never },
});
const SCOPES: Partial<Mapping>[] = [
  {},
  { layers: ["shift"] },
  { pages: { desk: "lights", in: [2, 3] } },
  { whileHeld: { surface: "deck", control: "pad-30" } },
  { when: [{ desk: "lights", state: "grand", parameters: {}, from: 0, to: 0.5 }] },
  { on: false },
  { times: { holdMs: 700 } },
  { order: "in-turn" },
  { bundle: "guest" },
];
const ACTIONS: ((n: number) => Action)[] = [
  (n) => toggle(n),
  (n) => flash(n, fixed(1)),
  (n) => action("go", "playback.go", { page: fixed(1), playback: fixed(n) }),
  (n) => listed(n),
  (n) => ({ ...toggle(n), on: false }),
  (n) => ({ ...toggle(n), bindings: { page, playback: { from: "message", part: "number", offset: n - 40 } } }),
  () => shift(),
  (n) => house("bank.by", { bank: fixed(1), by: fixed(n) }),
];
const one = fc.record({
  control: fc.integer({ min: 1, max: 29 }),
  scope: fc.nat(SCOPES.length - 1),
  actions: fc.array(fc.nat(ACTIONS.length - 1), { maxLength: 4 }),
});
type One = typeof one extends fc.Arbitrary<infer T> ? T : never;
let ids = 0;
function mappingOf({ control, scope, actions }: One): Mapping {
  const made = actions.map((k, i) => ({ ...ACTIONS[k]!((control % 15) + 1), id: `a${i}` }));
  return { ...mapping(`pad-${control}`, made), ...SCOPES[scope], id: `m${ids++}` };
}
const fine = { factor: 0.1, while: { surface: "deck", control: "pad-30" } };
const fader: Mapping = mapping("fader-1", { ...level(1), shape: { ...level(1).shape, fine } });

const edit = fc.oneof(
  fc.record({ kind: fc.constant("set" as const), at: fc.nat(), with: one }),
  fc.record({ kind: fc.constant("add" as const), at: fc.nat(), with: one }),
  fc.record({ kind: fc.constant("remove" as const), at: fc.nat() }),
  fc.record({ kind: fc.constant("rename" as const), at: fc.nat() }),
  fc.record({ kind: fc.constant("move" as const), at: fc.nat() }),
  fc.record({ kind: fc.constant("fine" as const), at: fc.nat() }),
);
type Edit = typeof edit extends fc.Arbitrary<infer T> ? T : never;

function edited(show: Show, change: Edit): Show {
  const mappings = show.mappings.slice();
  const at = change.at % Math.max(1, mappings.length);
  if (change.kind === "add") mappings.splice(at, 0, mappingOf(change.with));
  else if (change.kind === "fine") mappings.splice(at, 0, { ...fader, id: `m${ids++}` });
  else if (mappings.length === 0) return show;
  else if (change.kind === "remove") mappings.splice(at, 1);
  else if (change.kind === "set") mappings[at] = { ...mappingOf(change.with), id: mappings[at]!.id };
  else if (change.kind === "rename") mappings[at] = { ...mappings[at]!, name: "Renamed" };
  else mappings.push(...mappings.splice(at, 1));
  return { ...show, mappings };
}

/** All of it as plain data; surfaces and desks are those of before, and are compared as such. */
function plain({ surfaces: _, desks: __, given: ___, ...tables }: CompiledShow) {
  const { actionTable, actions, mappingOf, ...rest } = tables;
  return {
    ...rest,
    mappingOf: tables.show.mappings.map(({ id }) => mappingOf.get(id)),
    ints: actionTable.ints,
    actions: actions.map(({ desk, fn, ...a }) => ({ ...a, desk: desk.id, fn: fn.fn.id })),
  };
}

describe("a show compiled from the one before", () => {
  test("equals the show compiled anew, through any edits of its mappings", () => {
    fc.assert(
      fc.property(fc.array(one, { maxLength: 25 }), fc.array(edit, { minLength: 1, maxLength: 12 }), (first, edits) => {
        let show = showWith(first.map(mappingOf), more);
        let compiled = compileShow(show, profiles);
        for (const change of edits) {
          show = edited(show, change);
          const next = recompile(compiled, show, profiles);
          if (next === null) throw new Error("it was to be compiled from the one before");
          expect(plain(next.compiled)).toEqual(plain(compileShow(show, profiles)));
          expect(next.compiled.desks).toBe(compiled.desks);
          compiled = next.compiled;
        }
      }),
      { numRuns: Number(process.env.VELVET_RUNS ?? 60) },
    );
  });

  const show = showWith(
    [1, 2, 3].map((n) => mapping(`pad-${n}`, toggle(n))),
    more,
  );
  const compiled = compileShow(show, profiles);
  const last = show.mappings[2]!;
  test.each<[string, Show, boolean]>([
    ["nothing changed", { ...show }, true],
    ["its name changed", { ...show, name: "Another" }, true],
    ["a desk was renamed", { ...show, desks: show.desks.map((d) => ({ ...d, name: "x" })) }, false],
    ["a layer came", { ...show, layers: [...layers, { id: "third", name: "Third" }] }, false],
    ["a radio group came", { ...show, mappings: [...show.mappings.slice(0, 2), { ...last, radio: "one" }] }, false],
    [
      "a range came",
      {
        ...show,
        mappings: [
          ...show.mappings,
          { ...last, id: "r", control: "all", message: { kind: "note", from: 1, to: 9 } as never },
        ],
      },
      false,
    ],
    [
      "all came at once",
      { ...show, mappings: Array.from({ length: 65 }, (_, i) => ({ ...last, id: `n${i}` })) },
      false,
    ],
  ])("where %s", (_, now, isOne) => {
    expect(recompile(compiled, now, profiles) !== null).toBe(isOne);
  });
});

test("edits of a few mappings and of the name are told from all others by their paths", () => {
  const paths = (...list: (string | number)[][]) => isOfFewMappings(list);
  expect(paths(["mappings", 3, "name"], ["mappings", 3], ["name"])).toBe(true);
  expect(paths(["mappings"])).toBe(false);
  expect(paths(["mappings", "length"])).toBe(true);
  for (const list of ["surfaces", "desks", "layers", "profiles"]) expect(paths(["mappings", 1], [list, 0])).toBe(false);
  expect(paths(...Array.from({ length: 65 }, (_, at) => ["mappings", at]))).toBe(false);
  expect(paths()).toBe(true);
});
