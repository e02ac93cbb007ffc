/** Which edits may wait while a show runs on as it was. */
import { describe, expect, test } from "vitest";
import { mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import type { Show } from "../format/show.ts";
import { parseEdit } from "./edit-kinds.ts";
import { applyEdit } from "./edits.ts";
import { cannotWait } from "./may-wait.ts";

const show = showWith([mapping("pad-1", toggle(1))]);
const [first] = show.mappings;

function edited(edit: object): Show {
  const parsed = parseEdit(edit);
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.problems));
  const result = applyEdit(show, parsed.edit, profiles);
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  return result.show;
}

describe("edits that may wait", () => {
  test.each<[string, object]>([
    ["a mapping that comes", { kind: "add-mapping", mapping: { ...mapping("pad-2", toggle(2)), id: "second" } }],
    ["one that goes", { kind: "remove-mapping", id: first!.id }],
    ["its light", { kind: "change-mapping", id: first!.id, set: { look: { colour: "#ff0000" } } }],
    ["a name", { kind: "rename-surface", id: "deck", name: "Left hand" }],
    ["the name of a desk", { kind: "rename-desk", id: "lights", name: "Lamps" }],
    ["a control that sleeps", { kind: "set-asleep", id: "deck", control: "pad-1", on: true }],
    ["the show's name", { kind: "rename-show", name: "Second night" }],
  ])("%s", (_, edit) => expect(cannotWait(show, edited(edit))).toBeNull());

  const range = { kind: "any", message: "note", channel: 1, from: 1, to: 9 } as const;
  test.each<[string, string, Show]>([
    ["a desk that goes elsewhere", "desk", { ...show, desks: show.desks.map((d) => ({ ...d, port: 1234 })) }],
    ["a surface that comes", "surface", { ...show, surfaces: [...show.surfaces, { ...show.surfaces[0]!, id: "new" }] }],
    ["a way of a surface", "surface", edited({ kind: "set-surface-ports", id: "deck", in: { kind: "none" } })],
    ["a layer", "layer", edited({ kind: "add-layer", layer: { id: "third", name: "Third" } })],
    ["a bank", "bank", { ...show, banks: [{ id: "b", name: "B", first: 1, last: 8, size: 8 }] }],
    [
      "a variable",
      "variable",
      { ...show, variables: [{ id: "v", name: "V", from: 0, to: 1, start: 0, wraps: false }] },
    ],
    ["a group", "group", { ...show, groups: [{ id: "g", name: "G", surface: "deck", controls: ["pad-1"] }] }],
    ["a range of messages", "control", { ...show, mappings: [{ ...first!, message: range as never }] }],
  ])("not %s", (_, what, next) => expect(cannotWait(show, next)).toBe(what));
});
