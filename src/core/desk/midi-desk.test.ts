import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { profiles } from "../../../tests/rig/shows.ts";
import { problemClause } from "../../words/problems.ts";
import { readDeskProfile } from "../edit/read.ts";
import { MIDI_TEMPLATES, MidiTemplate } from "../format/desk-profile.ts";
import type { Rule } from "../format/rules.ts";
import { hexBytes } from "../midi/hex.ts";
import { SHOW_COMMANDS } from "../midi/show-control.ts";
import { type FreeTarget, TO_SURFACE as MIDI, parseFreeMessage } from "./free-message.ts";
import { midiFields } from "./midi-fields.ts";
import { encodeMidiTemplate, midiTemplateFaults, type NumberRanges, sysexTokens } from "./midi-template.ts";
import { type Says, valueText } from "./wire-numbers.ts";

const says = (number: (name: string) => number): Says => ({ number, text: (name) => valueText(number(name)) });
const hex = (t: MidiTemplate, numbers: Record<string, number> = {}) =>
  hexBytes(
    encodeMidiTemplate(
      t,
      says((n) => numbers[n] ?? 0),
    ),
  );
/** Names that may stand in the messages below, with the numbers they go to. */
const NAMES: NumberRanges = new Map([
  ["channel", { from: 1, to: 16 }],
  ["n", { from: 0, to: 127 }],
  ["wide", { from: 0, to: 16_383 }],
  ["s", { from: 0, to: 59 }],
  ["low", { from: -5, to: 5 }],
  ["value", { from: 0, to: 127 }],
  ["pulse", null],
]);

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
      { midi: "machine-control", device: 127, command: "locate", minutes: "{s}", seconds: 30 },
      "F0 7F 7F 06 44 06 01 20 05 1E 00 00 F7",
    ],
    [{ midi: "continue" }, "FB"],
    [{ midi: "song-position", value: 8193 }, "F2 01 40"],
    [
      { midi: "nrpn", channel: 1, number: 130, value: "{value}", close: true },
      "B0 63 01 B0 62 02 B0 06 00 B0 26 00 B0 63 7F B0 62 7F",
    ],
    [
      { midi: "show-control", device: 1, format: "fog", command: "go", cue: "{n}.5", list: 2, path: "1.{channel}" },
      "F0 7F 01 02 56 01 35 2E 35 00 32 00 31 2E 33 F7",
    ],
    [{ midi: "show-control", device: 1, format: "all", command: "all-off" }, "F0 7F 01 02 7F 08 F7"],
    [
      { midi: "show-control", device: 1, format: "all", command: "timed-go", rate: "30", seconds: "{s}", cue: 7 },
      "F0 7F 01 02 7F 04 60 00 05 00 00 37 F7",
    ],
    [{ midi: "machine-control", device: 1, command: "locate", point: 2 }, "F0 7F 01 06 44 02 00 0A F7"],
    [
      { midi: "full-frame", rate: "24", hours: 1, minutes: 2, seconds: "{s}", frames: 23 },
      "F0 7F 7F 01 01 01 02 05 17 F7",
    ],
    [{ midi: "full-frame", rate: "25", value: 3661 }, "F0 7F 7F 01 01 21 01 01 00 F7"],
    [
      { midi: "quarter-frames", rate: "30-drop", hours: 10, minutes: "{s}", frames: 2 },
      "F1 02 F1 10 F1 20 F1 30 F1 45 F1 50 F1 6A F1 74",
    ],
  ])("%j", (template, wanted) => {
    expect(MidiTemplate.parse(template)).toEqual(template);
    expect(midiTemplateFaults(template, NAMES)).toEqual([]);
    expect(hex(template, { channel: 3, n: 5, s: 5 })).toBe(wanted);
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
        const bytes = encodeMidiTemplate(
          template,
          says(() => n),
        );
        expect(bytes[0]! >= 0x80).toBe(true);
        const body = [...bytes].slice(1);
        // Data bytes everywhere but at the status bytes of the further messages and at the end of SysEx.
        for (const b of body)
          if (b >= 0x80)
            expect(bytes[0] === 0xf0 ? b === 0xf7 : bytes[0] === 0xf1 ? b === 0xf1 : b >= 0xb0 && b <= 0xcf).toBe(true);
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
    [{ midi: "controller", channel: 1, number: 200, value: 1 }, "number 200 is not 0 to 127"],
    [{ midi: "controller", channel: 0, number: 1, value: 1 }, "channel 0 is not 1 to 16"],
    [{ midi: "controller-14", channel: 1, number: 40, value: 1 }, "number 40 is not 0 to 31"],
    [
      { midi: "controller", channel: 1, number: "{wide}", value: 1 },
      "“{wide}” goes from 0 to 16383, and this number only from 0 to 127",
    ],
    [
      { midi: "controller", channel: 1, number: 1, value: "{low}" },
      "“{low}” goes from -5 to 5, and this value only from 0 to 127",
    ],
    [{ midi: "sysex", bytes: "F0 7D {wide} F7" }, "“{wide}” goes from 0 to 16383, and this bytes only from 0 to 127"],
    [{ midi: "nrpn", channel: 1, number: 16_383, value: 1 }, "number 16383 is not 0 to 16382"],
    [{ midi: "show-control", device: 128, format: "all", command: "go" }, "device 128 is not 0 to 127"],
    [{ midi: "show-control", device: 1, format: "all", command: "reset", cue: 1 }, "a show-control message has no cue"],
    [{ midi: "show-control", device: 1, format: "all", command: "load" }, "a show-control message needs its cue"],
    [
      { midi: "show-control", device: 1, format: "all", command: "go", list: 2 },
      "a list is sent only behind a cue, and there is none",
    ],
    [
      { midi: "show-control", device: 1, format: "all", command: "go", cue: "{low}" },
      "“{low}” goes from -5 to 5, and this cue only from 0 to 5",
    ],
    [
      { midi: "show-control", device: 1, format: "all", command: "go", cue: "1..2" },
      "“1..2” is not a cue number, such as 12 or 12.5",
    ],
    [{ midi: "machine-control", device: 1, command: "play", seconds: 1 }, "a machine-control message has no seconds"],
    [
      { midi: "full-frame", rate: "25", value: "{n}", hours: 1 },
      "the time is given by its value already: leave out its hours",
    ],
  ])("%j is refused", (template, wanted) => {
    expect(
      midiTemplateFaults(template, NAMES).map(({ fault }) => problemClause({ code: "template", path: [], ...fault })),
    ).toContain(wanted);
  });
  test("every field that takes a number takes the value, and says it", () => {
    let tried = 0;
    for (const midi of MIDI_TEMPLATES)
      for (const command of midi === "show-control"
        ? Object.keys(SHOW_COMMANDS)
        : midi === "machine-control"
          ? ["locate"]
          : [undefined]) {
        const begun = {
          midi,
          ...(command === undefined ? {} : { command }),
          ...(midi === "show-control" ? { format: "all" } : {}),
        } as MidiTemplate;
        const fields = midiFields(begun);
        for (const [field, rule] of Object.entries(fields)) {
          if (rule.is !== "number" && rule.is !== "cue") continue;
          const others = Object.fromEntries(
            Object.entries(fields).flatMap(([f, r]) =>
              f !== field && (r.needed || f === "cue" || f === "list") && r.is !== "word" ? [[f, 1]] : [],
            ),
          );
          const t = {
            ...begun,
            ...others,
            ...("rate" in fields && field !== "point" ? { rate: "30" } : {}),
            [field]: "{value}",
          } as MidiTemplate;
          const ranges: NumberRanges = new Map([["value", { from: 1, to: 7 }]]);
          expect([t, midiTemplateFaults(t, ranges)]).toEqual([t, []]);
          const at = (value: number) =>
            hexBytes(
              encodeMidiTemplate(
                t,
                says(() => value),
              ),
            );
          expect([t, at(7)]).toEqual([
            t,
            hexBytes(
              encodeMidiTemplate(
                { ...t, [field]: 7 },
                says(() => 0),
              ),
            ),
          ]);
          expect([t, at(3) === at(7)]).toEqual([t, false]);
          tried++;
        }
      }
    expect(tried).toBeGreaterThan(80);
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
