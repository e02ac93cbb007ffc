import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { profiles } from "../../../tests/rig/shows.ts";
import { problemClause } from "../../words/problems.ts";
import { readDeskProfile } from "../edit/read.ts";
import { MIDI_TEMPLATES, MidiTemplate } from "../format/desk-profile.ts";
import type { Rule } from "../format/rules.ts";
import { hexBytes } from "../midi/hex.ts";
import { type FreeTarget, TO_SURFACE as MIDI, parseFreeMessage } from "./free-message.ts";
import { encodeMidiTemplate, midiTemplateFaults, sysexTokens } from "./midi-template.ts";

const hex = (t: MidiTemplate, numbers: Record<string, number> = {}) =>
  hexBytes(encodeMidiTemplate(t, (n) => numbers[n] ?? 0).bytes);

const OSC: FreeTarget = { kind: "osc", isBytes: false };
const LINE: FreeTarget = { kind: "line", isBytes: false };

describe("MIDI messages of a desk profile", () => {
  test.each<[MidiTemplate, string]>([
    [{ midi: "note-on", channel: "{channel}", number: "{n}", value: "{value}" }, "92 05 00"],
    [{ midi: "poly-pressure", channel: 1, number: "{n}", value: "{value}" }, "A0 05 00"],
    [{ midi: "program", channel: 1, number: "{n}", bank: 130 }, "B0 00 01 B0 20 02 C0 05"],
    [{ midi: "rpn", channel: 1, number: "{n}", value: "{value}" }, "B0 65 00 B0 64 05 B0 06 00 B0 26 00"],
    [{ midi: "sysex", bytes: "F0 7D {n} {value:14} F7" }, "F0 7D 05 00 00 F7"],
    [
      { midi: "show-control", device: 1, format: "sound", command: "set", number: "{n}", value: "{value}" },
      "F0 7F 01 02 10 06 05 00 00 00 F7",
    ],
    [{ midi: "show-control", device: 1, format: "all", command: "fire", number: "{n}" }, "F0 7F 01 02 7F 07 05 F7"],
    [
      { midi: "machine-control", device: 127, command: "locate", minutes: "{n}", seconds: 30 },
      "F0 7F 7F 06 44 06 01 20 05 1E 00 00 F7",
    ],
    [{ midi: "continue" }, "FB"],
  ])("%j", (template, wanted) => {
    expect(MidiTemplate.parse(template)).toEqual(template);
    expect(midiTemplateFaults(template, ["channel", "n", "value"])).toEqual([]);
    expect(hex(template, { channel: 3, n: 5 })).toBe(wanted);
  });
  test("whatever the numbers, the bytes are whole MIDI messages", () => {
    const kinds = fc.constantFrom(...MIDI_TEMPLATES);
    fc.assert(
      fc.property(kinds, fc.integer({ min: -100, max: 20_000 }), (midi, n) => {
        const template: MidiTemplate = {
          midi,
          channel: "{n}",
          number: "{n}",
          value: "{n}",
          device: "{n}",
          bytes: "F0 7D {n} {n:14} F7",
          format: "all",
          command: midi === "machine-control" ? "play" : "go",
          cue: "{n}",
        };
        const { bytes } = encodeMidiTemplate(template, () => n);
        expect(bytes[0]! >= 0x80).toBe(true);
        const body = [...bytes].slice(1);
        // Data bytes everywhere but at the status bytes of the further messages and at the end of SysEx.
        for (const b of body) if (b >= 0x80) expect(bytes[0] === 0xf0 ? b === 0xf7 : b >= 0xb0 && b <= 0xcf).toBe(true);
      }),
    );
  });
  test.each<[MidiTemplate, string]>([
    [{ midi: "note-on", channel: 1 }, "a note-on message needs its number"],
    [{ midi: "bend", channel: 1, value: 0, number: 3 }, "a bend message has no number"],
    [
      { midi: "controller", channel: "{lane}", number: 1, value: 1 },
      "“lane” cannot stand in this message: it is none of the parameters",
    ],
    [{ midi: "sysex", bytes: "F0 7D" }, "“F0 7D” is not hexadecimal pairs from F0 to F7"],
    [{ midi: "sysex", bytes: "F0 90 F7" }, "“F0 90 F7” is not hexadecimal pairs from F0 to F7"],
    [{ midi: "sysex", bytes: "F0 {lane} F7" }, "“lane” cannot stand in this message: it is none of the parameters"],
    [{ midi: "show-control", device: 1, format: "all", command: "dance" }, "show control has no command “dance”"],
    [{ midi: "machine-control", device: 1, command: "dance" }, "machine control has no command “dance”"],
  ])("%j is refused", (template, wanted) => {
    expect(
      midiTemplateFaults(template, ["value"]).map(({ fault }) =>
        problemClause({ code: "template", path: [], ...fault }),
      ),
    ).toContain(wanted);
  });
  test("a profile with such a message is refused whole, with its place", () => {
    const good = structuredClone(profiles.desks.get("midi")!);
    expect(readDeskProfile(good).ok).toBe(true);
    const bad = { ...good, functions: [{ ...good.functions[0]!, send: [{ midi: "note-on", channel: 1 }] }] };
    const read = readDeskProfile(bad);
    expect(read.ok ? [] : read.problems.map((p) => p.path)).toContainEqual(["functions", 0, "send", 0, "number"]);
  });
  test("SysEx tokens", () => {
    expect(sysexTokens("F0 7D {a} {b:14} F7")).toEqual([
      0xf0,
      0x7d,
      { name: "a", wide: false },
      { name: "b", wide: true },
      0xf7,
    ]);
  });
});

describe("a message of one's own", () => {
  test.each<[string, number, string, FreeTarget?]>([
    ["B0 07 {value}", 1, "B0 07 7F"],
    ["F0 7D {value:14} F7", 0.5, "F0 7D 40 00 F7"],
    ["90 3C 7F 80 3C 40", 0, "90 3C 7F 80 3C 40"],
    ["/a {value}", 0.5, "2F 61 00 00 2C 66 00 00 3F 00 00 00", OSC],
    ['/a 1 "x y"', 0, "2F 61 00 00 2C 69 73 00 00 00 00 01 78 20 79 00", OSC],
    ["cut 1", 1, "63 75 74 20 31", LINE],
    ["fade {value}", 0.5, "66 61 64 65 20 30 2E 35", LINE],
    ["{{a}}", 1, "7B 61 7D", LINE],
    ["V{value:8}", 1, "56 5C 46 46", { ...LINE, isBytes: true }],
  ])("“%s” at %d", (text, value, wanted, target = MIDI) => {
    const parsed = parseFreeMessage(text, target);
    expect(parsed.ok && hexBytes(parsed.message.bytes(value))).toBe(wanted);
  });
  test.each<[FreeTarget["kind"], Rule, readonly string[]]>([
    ["midi", "free-midi", ["", "B0 07", "3C", "B0 07 {what}", "hello", "/a 1", "cut 1", "F0 7D"]],
    ["osc", "free-osc", ["", "hello", "/a*b", "/a{1}", "B0 07 00", "cut 1"]],
    ["line", "free-line", ["", "cut {input}", "cut {", "two\nlines", "V{value:8}"]],
  ])("to a port of %s, what is written for another is refused with %s", (kind, rule, all) => {
    for (const text of all) expect(parseFreeMessage(text, { kind, isBytes: false }), text).toEqual({ ok: false, rule });
  });
  test("no text makes it throw", () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 80 }), (text) => {
        for (const target of [MIDI, OSC, LINE]) {
          const parsed = parseFreeMessage(text, target);
          if (parsed.ok) parsed.message.bytes(0.5);
        }
      }),
    );
  });
});
