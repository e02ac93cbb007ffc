import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { describeMidi } from "../../words/midi.ts";
import { hexBytes, parseHexBytes } from "./hex.ts";
import { decodeShort, encodeShort, type MidiMessage } from "./message.ts";
import { decimalAndHex, noteName } from "./numbers.ts";
import { dataBytesOf } from "./parser.ts";

describe("rule 2: what a status byte and a value mean", () => {
  test("note-on with velocity 0 is a note-off", () => {
    expect(decodeShort(0x92, 60, 0)).toEqual({ kind: "note-off", channel: 3, note: 60, velocity: 64 });
    expect(decodeShort(0x92, 60, 1)).toEqual({ kind: "note-on", channel: 3, note: 60, velocity: 1 });
  });
  test.each([119, 120, 127])("controller %i", (number) => {
    expect(decodeShort(0xb0, number, 5)?.kind).toBe(number < 120 ? "controller" : "channel-mode");
  });
});

const ch = fc.integer({ min: 1, max: 16 });
const v7 = fc.integer({ min: 0, max: 127 });
const anyMessage: fc.Arbitrary<MidiMessage> = fc.oneof(
  fc.record({
    kind: fc.constant("note-on" as const),
    channel: ch,
    note: v7,
    velocity: fc.integer({ min: 1, max: 127 }),
  }),
  fc.record({ kind: fc.constant("note-off" as const), channel: ch, note: v7, velocity: v7 }),
  fc.record({ kind: fc.constant("poly-pressure" as const), channel: ch, note: v7, value: v7 }),
  fc.record({
    kind: fc.constant("controller" as const),
    channel: ch,
    number: fc.integer({ min: 0, max: 119 }),
    value: v7,
  }),
  fc.record({
    kind: fc.constant("channel-mode" as const),
    channel: ch,
    number: fc.integer({ min: 120, max: 127 }),
    value: v7,
  }),
  fc.record({ kind: fc.constant("program" as const), channel: ch, number: v7 }),
  fc.record({ kind: fc.constant("channel-pressure" as const), channel: ch, value: v7 }),
  fc.record({ kind: fc.constant("bend" as const), channel: ch, value14: fc.integer({ min: 0, max: 16_383 }) }),
  fc.record({
    kind: fc.constant("time-code" as const),
    piece: fc.integer({ min: 0, max: 7 }),
    value: fc.integer({ min: 0, max: 15 }),
  }),
  fc.record({ kind: fc.constant("song-position" as const), beats: fc.integer({ min: 0, max: 16_383 }) }),
  fc.record({ kind: fc.constant("song-select" as const), number: v7 }),
  fc.constantFrom(
    ...(["tune-request", "clock", "start", "continue", "stop", "active-sensing", "reset"] as const).map((kind) => ({
      kind,
    })),
  ),
);

describe("short messages", () => {
  test("every message survives the way to bytes and back, in its length", () => {
    fc.assert(
      fc.property(anyMessage, (message) => {
        const bytes = encodeShort(message);
        expect(bytes.length).toBe(dataBytesOf(bytes[0]!) + 1);
        expect(decodeShort(bytes[0]!, bytes[1] ?? 0, bytes[2] ?? 0)).toEqual(message);
      }),
    );
  });
  test.each([
    { kind: "note-on", channel: 0, note: 60, velocity: 1 },
    { kind: "note-on", channel: 17, note: 60, velocity: 1 },
    { kind: "note-on", channel: 1, note: 128, velocity: 1 },
    { kind: "controller", channel: 1, number: 1, value: 1.5 },
  ] as MidiMessage[])("a number out of range is a fault of ours: %o", (message) => {
    expect(() => encodeShort(message)).toThrow(RangeError);
  });
});

describe("MIDI in words", () => {
  test("the octave number follows the setting", () => {
    expect([noteName(60, "C3"), noteName(60, "C4"), noteName(0, "C3"), noteName(127, "C4")]).toEqual([
      "C3",
      "C4",
      "C-2",
      "G9",
    ]);
  });
  test.each([
    ["90 32 7F", "note 50 · D2 = 127, ch 1"],
    ["9F 32 00", "note 50 · D2 off, ch 16"],
    ["B0 14 40", "controller 20 = 64, ch 1"],
    ["B0 7B 00", "channel mode 123 = 0, ch 1"],
    ["E1 00 40", "bend 8192, ch 2"],
    ["C0 05", "program 5, ch 1"],
    ["D0 05", "pressure = 5, ch 1"],
    ["A0 3C 05", "pressure on note 60 = 5, ch 1"],
    ["F2 04 00", "song position 4"],
    ["F1 23", "time code piece 2 = 3"],
    ["F3 02", "song 2"],
    ["FE", "active sensing"],
    ["F0 7E 7F 06 01 F7", "SysEx, 6 bytes"],
    ["40 40", "not a MIDI message"],
  ])("%s reads “%s”", (hex, words) => {
    expect(describeMidi(parseHexBytes(hex)!, "C3")).toBe(words);
  });
  test("hex is printed and read back", () => {
    fc.assert(
      fc.property(fc.uint8Array(), (bytes) => {
        expect(parseHexBytes(hexBytes(bytes))).toEqual(bytes);
      }),
    );
  });
  test.each(["9", "9G", "90 3", "0x90"])("“%s” is not hex bytes", (text) => {
    expect(parseHexBytes(text)).toBeNull();
  });
  test("a long message is cut where asked, and says so", () => {
    expect(hexBytes(Uint8Array.of(1, 2, 3), 2)).toBe("01 02 …");
    expect(decimalAndHex(50)).toBe("50 · 32h");
  });
});
