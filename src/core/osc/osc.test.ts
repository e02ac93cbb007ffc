import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { describeOsc, oscProblemWords } from "../../words/osc.ts";
import { parseHexBytes } from "../midi/hex.ts";
import { decodeOsc, MAX_BUNDLE_DEPTH, MAX_OSC_PACKET_BYTES } from "./decode.ts";
import { encodeOsc } from "./encode.ts";
import { IMMEDIATELY, type OscArgument, type OscPacket } from "./types.ts";

const hex = (text: string) => parseHexBytes(text)!;

// OSC 1.0, "OSC Message Examples", as printed there.
const STANDARD: [string, OscPacket, string][] = [
  [
    "the oscillator's frequency",
    { kind: "message", address: "/oscillator/4/frequency", args: [{ type: "f", value: 440 }] },
    "2F 6F 73 63 69 6C 6C 61 74 6F 72 2F 34 2F 66 72 65 71 75 65 6E 63 79 00 2C 66 00 00 43 DC 00 00",
  ],
  [
    "five arguments of four types",
    {
      kind: "message",
      address: "/foo",
      args: [
        { type: "i", value: 1000 },
        { type: "i", value: -1 },
        { type: "s", value: "hello" },
        { type: "f", value: Math.fround(1.234) },
        { type: "f", value: Math.fround(5.678) },
      ],
    },
    "2F 66 6F 6F 00 00 00 00 2C 69 69 73 66 66 00 00 00 00 03 E8 FF FF FF FF 68 65 6C 6C 6F 00 00 00 3F 9D F3 B6 40 B5 B2 2D",
  ],
];

describe("OSC 1.0, “OSC Message Examples”", () => {
  test.each(STANDARD)("%s is written as printed there", (_name, packet, bytes) => {
    expect(encodeOsc(packet)).toEqual(hex(bytes));
  });
  test.each(STANDARD)("%s is read as printed there", (_name, packet, bytes) => {
    expect(decodeOsc(hex(bytes))).toEqual({ ok: true, packet });
  });
});

const text = fc.string({ unit: "grapheme", maxLength: 20 }).filter((t) => !t.includes("\0") && t.isWellFormed());
const leaf: fc.Arbitrary<OscArgument> = fc.oneof(
  fc.record({ type: fc.constant("i" as const), value: fc.integer() }),
  fc.record({ type: fc.constant("f" as const), value: fc.float({ noNaN: true }) }),
  fc.record({ type: fc.constant("d" as const), value: fc.double({ noNaN: true }) }),
  fc.record({ type: fc.constant("s" as const), value: text }),
  fc.record({ type: fc.constant("S" as const), value: text }),
  fc.record({ type: fc.constant("b" as const), value: fc.uint8Array({ maxLength: 20 }) }),
  fc.record({ type: fc.constant("h" as const), value: fc.bigInt({ min: -(2n ** 63n), max: 2n ** 63n - 1n }) }),
  fc.record({ type: fc.constant("t" as const), value: fc.bigInt({ min: 0n, max: 2n ** 64n - 1n }) }),
  fc.record({ type: fc.constant("c" as const), value: fc.constantFrom("a", "Z", "7") }),
  fc.record({ type: fc.constant("r" as const), value: fc.constantFrom("#e9b44cff", "#00000000", "#ffffffff") }),
  fc.record({
    type: fc.constant("m" as const),
    value: fc.tuple(fc.nat(255), fc.nat(255), fc.nat(255), fc.nat(255)),
  }),
  fc.constantFrom<OscArgument>({ type: "T" }, { type: "F" }, { type: "N" }, { type: "I" }),
);
const argument = fc.oneof(
  { weight: 8, arbitrary: leaf },
  fc.record({ type: fc.constant("[" as const), value: fc.array(leaf, { maxLength: 4 }) }),
);
const message = fc.record({
  kind: fc.constant("message" as const),
  address: fc.constantFrom("/a", "/ab", "/abc", "/abcd", "/set/playback/1/2/level"),
  args: fc.array(argument, { maxLength: 6 }),
});
const packet: fc.Arbitrary<OscPacket> = fc.oneof(
  message,
  fc.record({
    kind: fc.constant("bundle" as const),
    timeTag: fc.constantFrom(IMMEDIATELY, 2n ** 63n),
    elements: fc.array(message, { maxLength: 4 }),
  }),
);

describe("OSC packets", () => {
  test("every packet survives the way to bytes and back, in multiples of four", () => {
    fc.assert(
      fc.property(packet, (p) => {
        const bytes = encodeOsc(p);
        expect(bytes.length % 4).toBe(0);
        expect(decodeOsc(bytes)).toEqual({ ok: true, packet: p });
      }),
    );
  });
  test("random bytes are refused with a place, or read; they never throw", () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 120 }), (bytes) => {
        const result = decodeOsc(bytes);
        if (!result.ok) expect(oscProblemWords(result.problem)).toMatch(/, at byte \d+$/);
      }),
    );
  });
  test("a valid packet with one byte changed never throws, and what is read can be written", () => {
    fc.assert(
      fc.property(packet, fc.nat(), fc.nat(255), (p, at, value) => {
        const bytes = encodeOsc(p);
        bytes[at % bytes.length] = value;
        const result = decodeOsc(bytes);
        if (result.ok) expect(encodeOsc(result.packet).length % 4).toBe(0);
      }),
    );
  });

  const BAD: [string, string, string, number][] = [
    ["an empty datagram", "", "osc-empty", 0],
    ["a length that is not a multiple of four", "2F 61 00", "osc-not-aligned", 3],
    ["something that is no address", "61 62 63 00", "osc-bad-address", 0],
    ["an address without an end", "2F 61 62 63", "osc-bad-string", 0],
    ["padding that is not zero", "2F 61 00 01", "osc-bad-padding", 3],
    ["arguments without type tags", "2F 61 00 00 69 00 00 00", "osc-no-type-tags", 4],
    ["an unknown type", "2F 61 00 00 2C 78 00 00", "osc-unknown-type", 5],
    ["an argument that is cut short", "2F 61 00 00 2C 69 69 00 00 00 00 01", "osc-truncated", 12],
    ["bytes after the last argument", "2F 61 00 00 2C 00 00 00 00 00 00 01", "osc-trailing-bytes", 8],
    ["a blob longer than the datagram", "2F 61 00 00 2C 62 00 00 00 00 00 09 01 00 00 00", "osc-bad-blob", 8],
    ["a blob of negative length", "2F 61 00 00 2C 62 00 00 FF FF FF FF", "osc-bad-blob", 8],
    ["an array that is not closed", "2F 61 00 00 2C 5B 69 00 00 00 00 01", "osc-open-array", 4],
    ["an array closed twice", "2F 61 00 00 2C 5D 00 00", "osc-open-array", 5],
    ["a bundle that is called otherwise", "23 62 75 6E 64 6C 00 00 00 00 00 00 00 00 00 01", "osc-bad-bundle", 0],
    [
      "an element longer than its bundle",
      "23 62 75 6E 64 6C 65 00 00 00 00 00 00 00 00 01 00 00 00 08 2F 61 00 00",
      "osc-bad-bundle",
      16,
    ],
  ];
  test.each(BAD)("%s is refused", (_name, bytes, code, atByte) => {
    expect(decodeOsc(hex(bytes))).toEqual({ ok: false, problem: { code, atByte } });
  });

  test("bundles nest up to the limit and no deeper", () => {
    const nested = (depth: number): OscPacket =>
      depth === 0
        ? { kind: "message", address: "/a", args: [] }
        : { kind: "bundle", timeTag: IMMEDIATELY, elements: [nested(depth - 1)] };
    expect(decodeOsc(encodeOsc(nested(MAX_BUNDLE_DEPTH - 1))).ok).toBe(true);
    expect(decodeOsc(encodeOsc(nested(MAX_BUNDLE_DEPTH))).ok).toBe(true);
    expect(decodeOsc(encodeOsc(nested(MAX_BUNDLE_DEPTH + 1)))).toMatchObject({
      ok: false,
      problem: { code: "osc-too-deep" },
    });
  });
  test("what is longer than a datagram can be is refused before it is read", () => {
    expect(decodeOsc(new Uint8Array(MAX_OSC_PACKET_BYTES + 1))).toMatchObject({ problem: { code: "osc-too-large" } });
  });
  test("a blob does not pin the datagram it came in", () => {
    const bytes = encodeOsc({ kind: "message", address: "/a", args: [{ type: "b", value: Uint8Array.of(1, 2) }] });
    const result = decodeOsc(bytes);
    bytes.fill(0);
    expect(result).toMatchObject({ packet: { args: [{ value: Uint8Array.of(1, 2) }] } });
  });
});

describe("OSC in words", () => {
  test.each<[OscPacket, string]>([
    [
      {
        kind: "message",
        address: "/a",
        args: [
          { type: "f", value: 0.1 },
          { type: "s", value: "x" },
        ],
      },
      "/a 0.1 “x”",
    ],
    [{ kind: "message", address: "/a", args: [{ type: "[", value: [{ type: "T" }, { type: "N" }] }] }, "/a [true nil]"],
    [
      {
        kind: "message",
        address: "/a",
        args: [
          { type: "b", value: new Uint8Array(3) },
          { type: "m", value: [0, 144, 60, 1] },
        ],
      },
      "/a 3 bytes 0 144 60 1",
    ],
    [{ kind: "bundle", timeTag: IMMEDIATELY, elements: [] }, "empty bundle"],
    [
      {
        kind: "bundle",
        timeTag: IMMEDIATELY,
        elements: [
          { kind: "message", address: "/a", args: [] },
          { kind: "message", address: "/b", args: [] },
        ],
      },
      "/a and 1 more in a bundle",
    ],
  ])("a packet as a short line (%#)", (p, words) => {
    expect(describeOsc(encodeOsc(p))).toBe(words);
  });
  test("the beginning of a long one, and what is none", () => {
    expect(describeOsc(encodeOsc({ kind: "message", address: "/long", args: [] }), 400)).toBe("/long, 400 bytes");
    expect(describeOsc(hex("2F 61 00"))).toBe("not OSC: its length is not a multiple of four, at byte 3");
  });
});
