/** Kinds of surfaces that grow control by control, and edits that belong together. */
import { describe, expect, test } from "vitest";
import { mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import { control, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import { told } from "../../../tests/rig/told.ts";
import type { Show } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import { type Edit, parseEdit } from "./edit-kinds.ts";
import { applyEdit, applyStoredPatches } from "./edits.ts";

const padOf = (number: number) =>
  control(`pad-${number}`, { kind: "note", channel: 1, number }, { box: { x: number - 1, y: 0, width: 1, height: 1 } });
const kindOf = (id: string, controls: Control[]) => surfaceProfile(controls, { id });

describe("a kind of surface of one's own, control by control", () => {
  const own = kindOf("own", [padOf(1)]);
  const start: Show = showWith([], {
    profiles: { surfaces: [own], desks: [] },
    surfaces: [{ id: "deck", name: "Own", profile: "own", in: { kind: "screen" }, out: { kind: "screen" } }],
  });
  const controls = (show: Show) => show.profiles!.surfaces[0]!.controls;
  const edited = (show: Show, edit: Edit) => {
    const result = applyEdit(show, edit, profiles);
    if (!result.ok) throw new Error(result.problems.map(told).join(" "));
    expect(applyStoredPatches(result.show, result.inverse)).toEqual(show);
    return result.show;
  };
  test("a control is added, and the board grows to hold it", () => {
    const now = edited(start, { kind: "add-control", profile: "own", control: padOf(12) });
    expect(controls(now).map((c) => c.id)).toEqual(["pad-1", "pad-12"]);
    expect(now.profiles!.surfaces[0]!.size.width).toBeGreaterThanOrEqual(12);
  });
  test("two changes of one control from the same view do not undo each other", () => {
    const named = edited(start, { kind: "change-control", profile: "own", id: "pad-1", set: { name: "Sail" } });
    const both = edited(named, { kind: "change-control", profile: "own", id: "pad-1", set: { kind: "button" } });
    expect(controls(both)[0]).toMatchObject({ name: "Sail", kind: "button" });
  });
  test("one that is mapped is not taken off, and says by what", () => {
    const mapped = edited(start, { kind: "add-mapping", mapping: mapping("pad-1", toggle(1)) });
    const result = applyEdit(mapped, { kind: "remove-control", profile: "own", id: "pad-1" }, profiles);
    expect(result.ok || result.problems[0]).toMatchObject({ code: "in-use", what: "control", id: "pad-1" });
    expect(controls(edited(start, { kind: "remove-control", profile: "own", id: "pad-1" }))).toEqual([]);
  });
  test("of a kind that ships, or of none, nothing is changed", () => {
    for (const profile of ["deck-grid", "nobody"])
      expect(applyEdit(start, { kind: "add-control", profile, control: padOf(2) }, profiles)).toMatchObject({
        ok: false,
        problems: [{ code: "unknown-id", what: "surface-profile" }],
      });
  });
  test("what it is, is changed without its controls", () => {
    const now = edited(start, { kind: "change-surface-profile", id: "own", set: { lightsItself: true, name: "Mine" } });
    expect(now.profiles!.surfaces[0]).toMatchObject({ lightsItself: true, name: "Mine", controls: [padOf(1)] });
  });
});

describe("edits together", () => {
  const plain = showWith([]);
  const surface = { id: "s", name: "New", profile: "fresh", in: { kind: "screen" }, out: { kind: "screen" } } as const;
  const both: Edit = {
    kind: "together",
    does: "add New",
    edits: [
      { kind: "put-surface-profile", profile: kindOf("fresh", []) },
      { kind: "add-surface", surface },
      { kind: "add-control", profile: "fresh", control: padOf(1) },
    ],
  };
  test("each may stand on the one before, and one undo takes all of them back", () => {
    const result = applyEdit(plain, both, profiles);
    if (!result.ok) throw new Error(result.problems.map(told).join(" "));
    expect(result.show.profiles!.surfaces.find((p) => p.id === "fresh")!.controls).toHaveLength(1);
    const undone = applyStoredPatches(result.show, result.inverse) as Show;
    expect(undone.surfaces).toEqual(plain.surfaces);
    expect(undone.profiles?.surfaces.some((p) => p.id === "fresh") ?? false).toBe(false);
  });
  test("where one of them cannot be, none of them is", () => {
    const bad: Edit = { ...both, edits: [...both.edits, { kind: "remove-surface", id: "nobody" }] };
    expect(applyEdit(plain, bad, profiles)).toMatchObject({
      ok: false,
      refused: plain,
      problems: [{ code: "unknown-id", what: "surface", id: "nobody" }],
    });
  });
  test("one within another is refused", () => {
    expect(parseEdit({ kind: "together", does: "x", edits: [both] }).ok).toBe(false);
  });
});
