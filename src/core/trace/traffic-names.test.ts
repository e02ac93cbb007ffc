/** Names of rows: a show that is called the same as another has the same ones. */
import { describe, expect, test } from "vitest";
import { library, mapping, showWith, toggle } from "../../../tests/rig/shows.ts";
import { profilesOf } from "../format/profiles.ts";
import type { Mapping, Show } from "../format/show.ts";
import { isCalledTheSame, trafficNames } from "./traffic-names.ts";

const show = showWith([mapping("pad-1", toggle(1)), mapping("pad-2", toggle(2))]);
const names = (of: Show) => trafficNames(of, profilesOf(library.surfaces, library.desks));
const first = (set: Partial<Mapping>): Show => ({
  ...show,
  mappings: [{ ...show.mappings[0]!, ...set }, show.mappings[1]!],
});
const action = show.mappings[0]!.actions[0]!;

describe("a show that is called the same", () => {
  test.each<[string, Show]>([
    ["with another light", first({ look: { colour: "#ff0000" } })],
    ["with a note", first({ note: "later" })],
    ["with another number", first({ actions: [{ ...action, bindings: {} }] })],
    ["with another name of its own", { ...show, name: "Second night" }],
  ])("%s", (_, next) => {
    expect(isCalledTheSame(show, next)).toBe(true);
    expect(names(next)).toEqual(names(show));
  });

  test.each<[string, Show]>([
    ["an action that is off", first({ actions: [{ ...action, on: false }] })],
    ["another action", first({ actions: [action, { ...action, id: "second" }] })],
    ["another mapping", { ...show, mappings: show.mappings.slice(1) }],
    ["mappings in another order", { ...show, mappings: show.mappings.toReversed() }],
    ["a desk called otherwise", { ...show, desks: show.desks.map((d) => ({ ...d, name: "Lamps" })) }],
    [
      "a control called otherwise",
      { ...show, surfaces: show.surfaces.map((s) => ({ ...s, controls: { "pad-1": { name: "A" } } })) },
    ],
  ])("not with %s", (_, next) => {
    expect(isCalledTheSame(show, next)).toBe(false);
    expect(names(next)).not.toEqual(names(show));
  });
});
