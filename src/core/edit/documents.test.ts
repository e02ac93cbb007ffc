import { readFileSync } from "node:fs";
import { describe, expect, test } from "vitest";
import deckGrid from "../../../profiles/deck-grid.surface.json" with { type: "json" };
import quayLights from "../../../profiles/quay-lights.desk.json" with { type: "json" };
import { mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import { told } from "../../../tests/rig/told.ts";
import { parseJson, type Read } from "../format/read-format.ts";
import { checkShow } from "./check-show.ts";
import { readDeskProfile, readShow, readSurfaceProfile } from "./read.ts";

type Json = Record<string, never> & { [key: string]: Json };

/** A copy with one place changed; `undefined` takes it away. */
function changed(document: unknown, path: (string | number)[], value: unknown): unknown {
  const copy = structuredClone(document) as Json;
  const last = path.at(-1) as string;
  const parent = path.slice(0, -1).reduce<Json>((at, key) => at[key as string]!, copy);
  if (value === undefined) delete parent[last];
  else parent[last] = value as never;
  return copy;
}

function faults(read: Read<unknown>): string[] {
  return read.ok ? [] : read.problems.map(told);
}

const demo: unknown = JSON.parse(readFileSync("examples/lantern-regatta.show.json", "utf8"));

describe("a show document", () => {
  test("the demo show is read, and nothing in it is lost", () => {
    const read = readShow(demo, profiles);
    expect(read.ok && read.value).toEqual(demo);
  });

  const BAD: [string, (string | number)[], unknown, string][] = [
    [
      "another format",
      ["format"],
      "something/else",
      'format: expected a document of the format “velvet-hinge/show”, found "something/else".',
    ],
    [
      "a newer version",
      ["version"],
      9,
      "version: version 9 was written by a newer Velvet Hinge; this one reads up to version 2.",
    ],
    ["a version that is none", ["version"], "1", "version: expected 2."],
    ["a missing name", ["name"], undefined, "name: expected a text."],
    ["an empty name", ["name"], " ", "name: a name must not be empty."],
    ["a field nobody knows", ["colour"], "red", "there is no field “colour” here."],
    [
      "a fault deep inside",
      ["mappings", 3, "actions", 0, "shape", "invert"],
      "yes",
      "mappings[3].actions[0].shape.invert: expected true or false.",
    ],
    [
      "an input range upside down",
      ["mappings", 3, "actions", 0, "shape", "input"],
      [0.8, 0.2],
      "mappings[3].actions[0].shape.input[1]: the end of the travel must lie above its start.",
    ],
    [
      "an unknown kind of binding",
      ["mappings", 0, "actions", 0, "bindings", "page"],
      { from: "moon" },
      "mappings[0].actions[0].bindings.page.from: this “from” is not known.",
    ],
    [
      "a desk that is not there",
      ["mappings", 0, "actions", 0, "desk"],
      "stage",
      "mappings[0].actions[0].desk: there is no desk “stage”.",
    ],
    [
      "a function the desk does not have",
      ["mappings", 0, "actions", 0, "function"],
      "dance",
      "mappings[0].actions[0].function: there is no function “dance”.",
    ],
    [
      "a playback the desk does not have",
      ["mappings", 0, "actions", 0, "bindings", "playback"],
      { from: "fixed", value: 21 },
      "mappings[0].actions[0].bindings.playback.value: playback 21: the desk has 1 to 20.",
    ],
    [
      "a number that is missing",
      ["mappings", 0, "actions", 0, "bindings", "playback"],
      undefined,
      "mappings[0].actions[0].bindings.playback: playback has no number.",
    ],
    [
      "a control the surface does not have",
      ["mappings", 0, "control"],
      "pad-99",
      "mappings[0].control: there is no control “pad-99”.",
    ],
    [
      "a gesture the control cannot make",
      ["mappings", 0, "gesture"],
      "move",
      "mappings[0].gesture: a pad of this kind has no “Move”; it has Press, Release, Tap, Hold, Double tap or While held.",
    ],
    [
      "a layer that is not there",
      ["mappings", 0, "layers"],
      ["attic"],
      "mappings[0].layers[0]: there is no layer “attic”.",
    ],
    ["an id twice", ["mappings", 1, "id"], "m-1", "mappings[1].id: duplicate id: there is another mapping “m-1”."],
    [
      "a profile that is not there",
      ["desks", 0, "profile"],
      "big-desk",
      "desks[0].profile: there is no kind of desk “big-desk”.",
    ],
    ["a port number out of range", ["desks", 0, "port"], 70_000, "desks[0].port: expected at most 65535."],
    ["a base layer that is missing", ["layers", 0, "id"], "ground", "layers: there is no layer “base”."],
  ];
  test.each(BAD)("%s is refused, with its place", (_name, path, value, sentence) => {
    expect(faults(readShow(changed(demo, path, value), profiles))).toContain(sentence);
  });

  test("all faults are told at once", () => {
    const twice = changed(
      changed(demo, ["mappings", 0, "control"], "x"),
      ["mappings", 5, "actions", 0, "function"],
      "y",
    );
    expect(faults(readShow(twice, profiles))).toHaveLength(2);
  });
  test("an output beyond the desk's range is refused", () => {
    const shape = { input: [0, 1] as [number, number], invert: false, output: [0, 2] as [number, number] };
    const action = { ...toggle(1), function: "playback.level", shape };
    const show = showWith([mapping("fader-1", action)]);
    expect(checkShow(show, profiles).map(told)).toEqual([
      "mappings[0].actions[0].shape.output[1]: Playback level 2: the desk has 0 to 1.",
    ]);
  });
  test.each([
    ["nothing", ""],
    ["half a document", '{"format":'],
    ["text", "hello"],
  ])("%s is no JSON document", (_n, text) => {
    expect(faults(parseJson(text))[0]).toMatch(/^this is not a JSON document/);
  });
  test.each([null, 3, "show", []])("%o is not a show", (document) => {
    expect(faults(readShow(document, profiles))[0]).toMatch(
      /^format: expected a document of the format “velvet-hinge\/show”/,
    );
  });
});

describe("a desk profile", () => {
  test("ours is read", () => {
    expect(faults(readDeskProfile(quayLights))).toEqual([]);
  });
  test.each<[string, (string | number)[], unknown, string]>([
    [
      "a template with an unknown name",
      ["functions", 0, "send", 0, "address"],
      "/set/{moon}/level",
      "functions[0].send[0].address: “moon” cannot stand in this address: it is none of the parameters.",
    ],
    [
      "braces that do not pair",
      ["functions", 0, "send", 0, "address"],
      "/set/{page/level",
      "functions[0].send[0].address: “/set/{page/level” has a “{” that is not closed; write “{{” for a brace of the text.",
    ],
    [
      "an argument with an unknown name",
      ["functions", 0, "send", 0, "arguments", 0, "value"],
      "{moon}",
      "functions[0].send[0].arguments[0].value: “{moon}” cannot stand in this argument: it is none of the parameters.",
    ],
    [
      "a range upside down",
      ["parameters", 0, "to"],
      0,
      "parameters[0].to: the end of a range must not lie below its start.",
    ],
    [
      "a range on the wire upside down",
      ["functions", 0, "range", "to"],
      -1,
      "functions[0].range.to: the end of a range must lie above its start.",
    ],
    ["a state that is not there", ["functions", 0, "state"], "moon", "functions[0].state: there is no state “moon”."],
    [
      "a parameter that is not there",
      ["functions", 0, "parameters", 0],
      "moon",
      "functions[0].parameters[0]: there is no parameter “moon”.",
    ],
    [
      "overlapping feedback patterns",
      ["states", 1, "heard", "address"],
      "/now/playback/{page}/{playback}/level",
      "states[1].heard.address: “/now/playback/{page}/{playback}/level” is already heard by the state “playback.level”.",
    ],
    ...["ask", "/scène", "/a b", "/a#b", "/a*", "/a,b", "/a?", "/[a]"].map(
      (address): [string, (string | number)[], unknown, string] => [
        `the address ${address}, which is none`,
        ["query", 0, "address"],
        address,
        "query[0].address: an OSC address is “/” and then letters, digits and signs of ASCII, without spaces and # * , ? [ ] { }.",
      ],
    ),
    [
      "an address with a brace of its own",
      ["query", 0, "address"],
      "/a{{b",
      "query[0].address: an OSC address is “/” and then letters, digits and signs of ASCII, without spaces and # * , ? [ ] { }.",
    ],
    [
      "more values than a desk may keep",
      ["parameters", 1, "to"],
      4000,
      "states: this kind of desk would keep 180014 values; 65536 are the most.",
    ],
  ])("%s is refused, with its place", (_name, path, value, sentence) => {
    expect(faults(readDeskProfile(changed(quayLights, path, value)))).toContain(sentence);
  });
});

describe("a surface profile", () => {
  test("ours is read", () => {
    expect(faults(readSurfaceProfile(deckGrid))).toEqual([]);
  });
  test.each<[string, (string | number)[], unknown, string]>([
    [
      "two controls that send the same",
      ["controls", 1, "sends", "number"],
      36,
      "controls[1].sends: the control “pad-1” already sends note 36 on channel 1.",
    ],
    [
      "a palette that is not there",
      ["controls", 0, "light", "palette"],
      "moon",
      "controls[0].light.palette: there is no palette “moon”.",
    ],
    [
      "a controller that is a channel mode message",
      ["controls", 30, "sends", "number"],
      120,
      "controls[30].sends.number: expected at most 119.",
    ],
    [
      "a channel that does not exist",
      ["controls", 0, "sends", "channel"],
      17,
      "controls[0].sends.channel: expected at most 16.",
    ],
  ])("%s is refused, with its place", (_name, path, value, sentence) => {
    expect(faults(readSurfaceProfile(changed(deckGrid, path, value)))).toContain(sentence);
  });
});

describe("a document that nobody would write by hand", () => {
  test("nested deeper than any of ours is refused before anything is made of it", () => {
    for (const text of ["[".repeat(100_000), `${'{"a":'.repeat(5000)}1${"}".repeat(5000)}`]) {
      const read = parseJson(text);
      expect(read.ok ? null : read.problems[0]).toMatchObject({
        code: "not-json",
        reason: "nested deeper than 64 levels",
      });
    }
  });
  test("brackets inside of texts are no nesting", () => {
    expect(parseJson(JSON.stringify({ a: "[{".repeat(500), b: 'say \\"[' }))).toMatchObject({ ok: true });
  });
});
