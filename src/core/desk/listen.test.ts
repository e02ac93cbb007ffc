import { describe, expect, test } from "vitest";
import { library } from "../../../tests/rig/shows.ts";
import { told } from "../../../tests/rig/told.ts";
import { readDeskProfile } from "../edit/read.ts";
import type { DeskProfile } from "../format/desk-profile.ts";
import { parseHexBytes } from "../midi/hex.ts";
import { encodeOsc } from "../osc/encode.ts";
import type { OscArgument } from "../osc/types.ts";
import { exampleOf, functionFrom, newParameters, shapeKey, stateFrom, suggestMarks } from "./listen.ts";

const osc = (address: string, ...args: OscArgument[]) =>
  exampleOf(encodeOsc({ kind: "message", address, args }), "osc")!;
const line = (text: string) => exampleOf(new TextEncoder().encode(text), "lines")!;
const midi = (hex: string) => exampleOf(parseHexBytes(hex)!, "midi")!;
const f = (value: number): OscArgument => ({ type: "f", value });
const empty = (kind: DeskProfile["wire"]["kind"]): DeskProfile => ({
  format: "velvet-hinge/desk-profile",
  version: 2,
  id: "mine",
  name: "Mine",
  kind: "lighting",
  about: "",
  wire: { kind, port: 9000, checkAtDesk: [] },
  parameters: [],
  states: [],
  functions: [],
  query: [],
});

describe("what was heard becomes a profile", () => {
  test("parts that vary are parameters, called after the word before them", () => {
    const heard = [osc("/now/playback/3/2/level", f(0.5)), osc("/now/playback/3/7/level", f(1))];
    expect(suggestMarks(heard)).toEqual([null, null, null, "playback", null]);
    expect(stateFrom(heard, suggestMarks(heard), 0, "level", "Level")).toEqual({
      id: "level",
      name: "Level",
      parameters: ["playback"],
      value: { kind: "number", range: { from: 0, to: 1, unit: "%" } },
      heard: { address: "/now/playback/3/{playback}/level", argument: 0 },
    });
  });
  test("of one message all numbers may count; two after one word are told apart", () => {
    const heard = [osc("/now/playback/3/2/level", f(0.5))];
    const marks = suggestMarks(heard);
    expect(marks).toEqual([null, null, "playback", "playback-2", null]);
    expect(newParameters(heard, marks, empty("osc")).map((p) => [p.id, p.from, p.to])).toEqual([
      ["playback", 1, 8],
      ["playback-2", 1, 8],
    ]);
  });
  test("parameters that are there already are used", () => {
    const lights = library.desks.find((d) => d.id === "quay-lights")!;
    expect(newParameters([osc("/x/playback/30", f(1))], [null, null, "playback"], lights)).toEqual([]);
  });
  test.each<[string, ReturnType<typeof osc>[], object]>([
    ["a switch", [line("at key 3 1"), line("at key 4 0")], { kind: "switch" }],
    ["a text", [line('at name 3 "Quay camera"')], { kind: "text" }],
    ["a colour", [line("at colour 3 #e9b44c")], { kind: "colour" }],
    ["a level", [line("at audio 3 -12.5")], { kind: "number", range: { from: -12.5, to: 1, unit: "none" } }],
    ["an OSC colour", [osc("/c", { type: "r", value: "#e9b44cff" })], { kind: "colour" }],
    ["a controller", [midi("B9 07 40")], { kind: "number", range: { from: 0, to: 127, unit: "none" } }],
  ])("%s", (_name, heard, value) => {
    expect(stateFrom(heard, suggestMarks(heard), 0, "s", "S").value).toEqual(value);
  });
  test("messages of one shape belong together, whatever their numbers", () => {
    expect(shapeKey(line("at key 3 1"))).toBe(shapeKey(line("at key 4 0")));
    expect(shapeKey(line("at key 3 1"))).not.toBe(shapeKey(line("at aux 1")));
    expect(shapeKey(midi("B9 07 40"))).not.toBe(shapeKey(midi("C9 07")));
  });
  test("a function says what was heard", () => {
    expect(functionFrom([line("key 3 1")], [null, "key"], 0, "key", "Keyer")).toMatchObject({
      acts: "toggle",
      parameters: ["key"],
      send: [{ line: "key {key} {value}" }],
    });
    expect(functionFrom([osc("/set/grand", f(0.4))], [null, null], 0, "grand", "Grand")).toMatchObject({
      acts: "level",
      send: [{ address: "/set/grand", arguments: [{ type: "f", value: "{value}" }] }],
    });
    expect(functionFrom([midi("91 24 7F")], [null, "note"], 0, "n", "Note")).toMatchObject({
      send: [{ midi: "note-on", channel: 2, number: "{note}", value: "{value}" }],
    });
  });
  test.each<[DeskProfile["wire"]["kind"], ReturnType<typeof osc>[][]]>([
    ["osc", [[osc("/a/1/level", f(0.5)), osc("/a/2/level", f(0.5))], [osc("/b", { type: "s", value: "x" })]]],
    ["lines", [[line("at key 3 1")], [line('at name 3 "Quay camera"')], [line("at aux 2")]]],
    ["midi", [[midi("B9 07 40")], [midi("C9 0A")], [midi("F0 7D 42 01 08 41 F7")], [midi("E0 00 40")]]],
  ])("everything that is made of %s is a valid profile", (wire, all) => {
    const profile = empty(wire);
    all.forEach((heard, k) => {
      const marks = suggestMarks(heard);
      profile.parameters.push(...newParameters(heard, marks, profile));
      profile.states.push(stateFrom(heard, marks, 0, `s-${k}`, `S ${k}`));
      profile.functions.push(functionFrom(heard, marks, 0, `f-${k}`, `F ${k}`));
    });
    const read = readDeskProfile(profile);
    expect(read.ok ? [] : read.problems.map(told)).toEqual([]);
  });
  test("what is no message of the desk’s kind is nothing", () => {
    expect([exampleOf(Uint8Array.of(1, 2, 3), "osc"), exampleOf(Uint8Array.of(0xf8), "midi")]).toEqual([null, null]);
  });
});
