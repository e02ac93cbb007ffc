import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { DeskState, HeardMidi } from "../format/desk-profile.ts";
import { parseHexBytes } from "../midi/hex.ts";
import { heardValue } from "./hearing.ts";
import { linePattern, matchLine, parseLinePattern } from "./line-pattern.ts";
import { compileMidiPattern, matchMidi } from "./midi-pattern.ts";
import { ownNumber, saysFor, valueText, wireNumber } from "./wire-numbers.ts";

function line(pattern: string, text: string): string[] | null {
  const parsed = parseLinePattern(pattern);
  if (!parsed.ok) throw new Error(parsed.fault.fault);
  return matchLine(parsed.pattern, text);
}

describe("lines as a desk says them", () => {
  test.each<[string, string, string[] | null]>([
    ["ok", "ok", []],
    ["ok", "okay", null],
    ["at key {key} {value}", "at key 3 1", ["3", "1"]],
    ["at key {key} {value}", "at key 3", null],
    ["at key {key} {value}", "at keys 3 1", null],
    ["at name {input} {value}", 'at name 3 "Quay camera"', ["3", "Quay camera"]],
    ["at name {input} {value}", "at name 3 Quay camera", ["3", "Quay camera"]],
    ["at name {input} {value}", 'at name 3 ""', ["3", ""]],
    ["{input}={value};", "7=12;", ["7", "12"]],
    ["{input}={value};", "7=12", null],
    ["{input}={value}", "a b=12", null],
    ["no {any}", "no such", ["such"]],
    ["no {any}", "no ", null],
    ["\\02{a:8}{value:8}\\03", "\\02\\0AA\\03", ["10", "65"]],
    ["\\02{a:8}{value:16}", "\\02\\\\\\01\\2C", ["92", "300"]],
    ["\\02{a:8}\\03", "\\02\\0A\\04", null],
    ["\\02{a:8}\\03", "\\02\\0A\\03more", null],
    ["\\02{a:16}", "\\02\\0A", null],
    ["{a:8} is {value}", "\\07 is on", ["7", "on"]],
  ])("“%s” takes “%s” as %j", (pattern, text, found) => {
    expect(line(pattern, text)).toEqual(found);
  });
  test("two names with nothing between them are refused", () => {
    expect(["at {a}{b}", "at {a}{b:8}"].map((text) => parseLinePattern(text).ok)).toEqual([false, false]);
    expect(parseLinePattern("at {a:8}{b}").ok).toBe(true); // a byte ends by itself
  });
  test("each byte can be written in two ways, and is heard in both", () => {
    const heard = matchLine(linePattern("\\41\\0a{value:8}", true)!, "A\\0A\\05");
    expect(heard).toEqual(["5"]);
  });
  test("no line keeps it busy or throws", () => {
    fc.assert(
      fc.property(fc.string(), fc.constantFrom("a {x} b {value}", "{x}:{y}:{value};", "{value}"), (text, pattern) => {
        const found = line(pattern, text);
        if (found) expect(found.every((w) => text.includes(w))).toBe(true);
      }),
    );
  });
});

describe("MIDI as a desk says it", () => {
  const program: HeardMidi = { midi: "program", channel: 10, number: "{value}" };
  const name: HeardMidi = { midi: "sysex", bytes: "F0 7D 42 01 {kit} {value:text} F7" };
  test.each<[string, HeardMidi, string, Record<string, number | string> | null]>([
    ["a program", program, "C9 0C", { value: 12 }],
    ["a program of another channel", program, "C8 0C", null],
    ["a name", name, "F0 7D 42 01 09 42 65 6C 6C F7", { kit: 9, value: "Bell" }],
    ["a name that is empty", name, "F0 7D 42 01 09 F7", { kit: 9, value: "" }],
    ["another SysEx", name, "F0 7D 42 02 09 42 F7", null],
    ["one that is cut short", name, "F0 7D 42 F7", null],
    ["a bend", { midi: "bend", channel: "{strip}", value: "{value}" }, "E2 00 40", { strip: 3, value: 8192 }],
    ["a note's end", { midi: "note", channel: 1, number: 60, value: "{value}" }, "80 3C 40", { value: 0 }],
    ["two bytes of one value", { midi: "sysex", bytes: "F0 01 {value:14} F7" }, "F0 01 02 03 F7", { value: 259 }],
    ["bytes behind what was expected", { midi: "sysex", bytes: "F0 01 {value} F7" }, "F0 01 02 03 F7", null],
  ])("%s", (_name, pattern, hex, found) => {
    const match = matchMidi(compileMidiPattern(pattern), parseHexBytes(hex)!);
    expect(match && Object.fromEntries(match)).toEqual(found);
  });
});

describe("values and numbers on the wire", () => {
  const state = (value: DeskState["value"], heard?: DeskState["heard"]): DeskState => ({
    id: "s",
    name: "s",
    parameters: [],
    value,
    ...(heard ? { heard } : {}),
  });
  const level: DeskState["value"] = { kind: "number", range: { from: -90, to: 10, unit: "dB" } };
  test.each<[string, DeskState, number | string, number | string | null]>([
    ["a number as it is", state(level), -12.5, -12.5],
    ["a number in a text", state(level), "-12.5", -12.5],
    ["a word that is no number", state(level), "loud", null],
    ["an empty word", state(level), " ", null],
    ["a scale", state(level, { line: "x {value}", scale: { from: 0, to: 255 } }), "255", 10],
    ["a scale upside down", state(level, { line: "x {value}", scale: { from: 1, to: 0 } }), 0, 10],
    ["seven bits of MIDI", state(level, { midi: "controller", channel: 1, number: 7, value: "{value}" }), 0, -90],
    ["fourteen", state(level, { midi: "bend", channel: 1, value: "{value}" }), 16_383, 10],
    ["a switch in words", state({ kind: "switch" }), "ON", 1],
    ["a switch that is off", state({ kind: "switch" }), "off", 0],
    ["counting from another number", state({ kind: "whole", from: 1, to: 16, wireFrom: 8 }), 9, 2],
    ["a colour", state({ kind: "colour" }), "#e9b44cff", "#e9b44c"],
  ])("%s", (_name, of, raw, value) => {
    expect(heardValue(of, raw)).toBe(value);
  });
  test("where counting starts, there and back", () => {
    const kit = { from: 1, to: 16, wireFrom: 8 };
    expect([wireNumber(kit, 1), ownNumber(kit, 8), wireNumber({ from: 3 }, 5)]).toEqual([8, 1, 5]);
  });
  test("texts have their digits, values no more than they need", () => {
    const says = saysFor([{ id: "ch", name: "ch", from: 1, to: 64, wireFrom: 0, digits: 2 }], [5], -12.25);
    expect([says.text("ch"), says.number("ch"), says.text("value")]).toEqual(["04", 4, "-12.25"]);
    expect([valueText(1), valueText(0.1 + 0.2), valueText(-0)]).toEqual(["1", "0.3", "0"]);
  });
});
