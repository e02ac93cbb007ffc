/** Names and notes of controls and pages, and bundles: what people say of a show, and what goes with what. */
import { describe, expect, test } from "vitest";
import { mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import type { Show } from "../format/show.ts";
import { compileShow } from "../mapping/compile.ts";
import { checkShow } from "./check-show.ts";
import { parseEdit } from "./edit-kinds.ts";
import { applyEdit } from "./edits.ts";

const show = showWith([mapping("pad-1", toggle(1)), mapping("pad-2", toggle(2))]);

function edited(from: Show, edit: object) {
  const parsed = parseEdit(edit);
  return parsed.ok ? applyEdit(from, parsed.edit, profiles) : parsed;
}
function changed(from: Show, ...edits: object[]): Show {
  return edits.reduce<Show>((now, edit) => {
    const result = edited(now, edit);
    if (!("show" in result)) throw new Error(JSON.stringify(result));
    return result.show;
  }, from);
}
const named = (set: object, control = "pad-1") => ({ kind: "name-control", id: "deck", control, set });
const controlName = (of: Show, id: string) =>
  compileShow(of, profiles).surfaces[0]!.profile.controls.find((c) => c.id === id)!.name;

describe("a control", () => {
  test("is called what people call it, on this surface alone, until they take it back", () => {
    const next = changed(show, named({ name: "Mast", note: "only with the crew" }));
    expect(next.surfaces[0]!.controls).toEqual({ "pad-1": { name: "Mast", note: "only with the crew" } });
    expect([controlName(next, "pad-1"), controlName(next, "pad-2")]).toEqual(["Mast", "Pad 2"]);
    expect(changed(next, named({ note: null })).surfaces[0]!.controls).toEqual({ "pad-1": { name: "Mast" } });
    expect(changed(next, named({ name: null, note: null })).surfaces).toEqual(show.surfaces);
  });

  test.each<[string, object, string]>([
    ["that is not there", named({ name: "x" }, "pad-99"), "unknown-id"],
    ["of a surface that is not there", { ...named({ name: "x" }), id: "none" }, "unknown-id"],
    ["with an empty name", named({ name: "" }), "not-valid"],
    ["with a note that is too long", named({ note: "x".repeat(401) }), "not-valid"],
  ])("%s cannot be named", (_, edit, code) => {
    const result = edited(show, edit);
    expect(!result.ok && result.problems[0]?.code).toBe(code);
  });

  test("in a file, what is said of one that the surface does not have is refused with its place", () => {
    const wrong = { ...show, surfaces: [{ ...show.surfaces[0]!, controls: { "pad-99": { name: "x" } } }] };
    expect(checkShow(wrong, profiles)).toEqual([
      { code: "unknown-id", path: ["surfaces", 0, "controls", "pad-99"], what: "control", id: "pad-99" },
    ]);
  });

  test("takes its words along where its surface becomes another kind, and loses them where it becomes nothing", () => {
    const both = changed(show, named({ name: "Mast" }), named({ name: "Gulls" }, "pad-2"));
    const becomes = { "pad-1": "pad-7", "pad-2": null };
    const next = changed(both, { kind: "replace-surface", id: "deck", profile: "deck-grid", becomes });
    expect(next.surfaces[0]!.controls).toEqual({ "pad-7": { name: "Mast" } });
  });
});

describe("a page", () => {
  const page = (set: object) => ({ kind: "name-page", id: "lights", page: 2, set });
  test("has a name and a note of its own at its desk", () => {
    const next = changed(show, page({ name: "Tide" }), page({ note: "after the break" }));
    expect(next.desks[0]!.pages).toEqual({ 2: { name: "Tide", note: "after the break" } });
    expect(changed(next, page({ name: null, note: null })).desks).toEqual(show.desks);
  });
});

describe("a bundle", () => {
  const guest = { id: "guest", name: "Guest", on: true };
  const bundled = changed(
    show,
    { kind: "put-bundle", item: guest },
    { kind: "change-mapping", id: show.mappings[0]!.id, set: { bundle: "guest" } },
  );
  const on = (of: Show) => [...compileShow(of, profiles).mappingOn];

  test("that is off has all of its mappings off, and they come back as they were", () => {
    const off = changed(bundled, { kind: "put-bundle", item: { ...guest, on: false } });
    expect([on(bundled), on(off)]).toEqual([
      [1, 1],
      [0, 1],
    ]);
    const one = changed(off, { kind: "change-mapping", id: show.mappings[1]!.id, set: { bundle: "guest", on: false } });
    expect(on(changed(one, { kind: "put-bundle", item: guest }))).toEqual([1, 0]);
  });

  test("that is removed leaves its mappings, in none", () => {
    const next = changed(bundled, { kind: "remove-part", list: "bundles", id: "guest" });
    expect(next.mappings).toEqual(show.mappings);
    expect(next.bundles ?? []).toEqual([]);
  });

  test("that is not there is refused, in an edit and in a file", () => {
    const result = edited(show, { kind: "change-mapping", id: show.mappings[0]!.id, set: { bundle: "none" } });
    expect(!result.ok && result.problems).toMatchObject([{ code: "unknown-id", what: "bundle", id: "none" }]);
  });
});
