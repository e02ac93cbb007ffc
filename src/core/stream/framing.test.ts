import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { encodeOsc } from "../osc/encode.ts";
import { bytesOfText, numberAt, numberText, textOfBytes } from "./byte-text.ts";
import { type Framing, MAX_FRAME_BYTES } from "./framing.ts";
import { LengthFraming } from "./length-framing.ts";
import { LineFraming, MAX_LINE_BYTES } from "./line-framing.ts";
import { SlipFraming } from "./slip-framing.ts";

const KINDS: [string, () => Framing][] = [
  ["length", () => new LengthFraming()],
  ["SLIP", () => new SlipFraming()],
];

function heard(framing: Framing, ...pieces: Uint8Array[]): { messages: number[][]; thrown: number } {
  const messages: number[][] = [];
  let thrown = 0;
  for (const piece of pieces) thrown += framing.read(piece, (bytes) => messages.push([...bytes]));
  return { messages, thrown };
}

/** The bytes cut into pieces of these lengths, in turn. */
function cut(bytes: Uint8Array, lengths: readonly number[]): Uint8Array[] {
  const pieces: Uint8Array[] = [];
  for (let at = 0, k = 0; at < bytes.length; k++) {
    const length = lengths[k % lengths.length]!;
    pieces.push(bytes.slice(at, at + length));
    at += length;
  }
  return pieces;
}

describe("bytes as text", () => {
  test.each([
    ["02 50 57 52 31 03", "\\02PWR1\\03"],
    ["5c 41", "\\\\A"],
    ["ff 20 7e 7f", "\\FF ~\\7F"],
  ])("%s", (hex, text) => {
    const bytes = Uint8Array.from(hex.split(" "), (x) => Number.parseInt(x, 16));
    expect(textOfBytes(bytes)).toBe(text);
    expect(bytesOfText(text)).toEqual(bytes);
  });
  test("any bytes come back; a backslash that means nothing stands for itself", () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 60 }), (bytes) => {
        expect(bytesOfText(textOfBytes(bytes))).toEqual(bytes);
      }),
    );
    expect(textOfBytes(bytesOfText("a\\zz\\"))).toBe("a\\\\zz\\\\");
  });
  test("a number as one byte or two is said and read back, in whatever way it is written", () => {
    expect([numberText(10, 8), numberText(300, 16), numberText(-1, 8), numberText(70_000, 16)]).toEqual([
      "\\0A",
      "\\01\\2C",
      "\\00",
      "\\FF\\FF",
    ]);
    fc.assert(
      fc.property(fc.nat(65_535), fc.constantFrom(8 as const, 16 as const), (n, bits) => {
        const number = bits === 8 ? n & 255 : n;
        const said = numberText(number, bits);
        const bytes = bits === 8 ? [number] : [number >> 8, number & 255];
        expect([...bytesOfText(said)]).toEqual(bytes);
        for (const text of [said, textOfBytes(Uint8Array.from(bytes))])
          expect(numberAt(`x${text}y`, 1, bits)).toEqual({ number, end: 1 + text.length });
      }),
    );
  });
  test.each([
    ["", 8],
    ["A", 16],
    ["\\", 8],
    ["\\z1", 8],
    ["\\0A\\", 16],
    ["é", 8],
  ] as const)("no number: “%s” in %i bits", (text, bits) => expect(numberAt(text, 0, bits)).toBeNull());
  test("in lines: said as bytes and heard as text, with an end or without one", () => {
    const say = (text: string) => new TextEncoder().encode(text);
    const lines = new LineFraming("cr", true);
    expect([...lines.write(say("\\02A\\03"))]).toEqual([2, 0x41, 3, 13]);
    const texts = (framing: LineFraming, ...pieces: number[][]) =>
      heard(framing, ...pieces.map((p) => Uint8Array.from(p))).messages.map((m) =>
        new TextDecoder().decode(Uint8Array.from(m)),
      );
    expect(texts(lines, [6, 0x41], [13, 0x15, 13])).toEqual(["\\06A", "\\15"]);
    const pieces = new LineFraming("none", true);
    expect([...pieces.write(say("\\02A"))]).toEqual([2, 0x41]);
    expect(texts(pieces, [6, 13], [10])).toEqual(["\\06\\0D", "\\0A"]);
    expect(pieces.read(new Uint8Array(MAX_LINE_BYTES + 1), () => {})).toBe(1);
  });
});

describe("messages in a stream", () => {
  const bytes = fc.uint8Array({ minLength: 1, maxLength: 300 });
  test.each(KINDS)("%s: come out as they went in, in whatever pieces", (_name, make) => {
    fc.assert(
      fc.property(
        fc.array(bytes, { maxLength: 8 }),
        fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1 }),
        (messages, lengths) => {
          const framing = make();
          const stream = Uint8Array.from(messages.flatMap((m) => [...framing.write(m)]));
          const out = heard(framing, ...cut(stream, lengths));
          expect(out).toEqual({ messages: messages.map((m) => [...m]), thrown: 0 });
        },
      ),
    );
  });
  test.each([...KINDS, ["lines", () => new LineFraming("lf")] as [string, () => Framing]])(
    "%s: no bytes make it throw, and none make it keep more than a message",
    (_name, make) => {
      fc.assert(
        fc.property(fc.array(fc.uint8Array({ maxLength: 600 }), { maxLength: 12 }), (pieces) => {
          const framing = make();
          for (const { length } of heard(framing, ...pieces).messages) {
            expect(length).toBeGreaterThan(0);
            expect(length).toBeLessThanOrEqual(MAX_FRAME_BYTES);
          }
        }),
        { numRuns: 500 },
      );
    },
  );
  test.each(KINDS)("%s: the longest is taken, one byte more is not", (_name, make) => {
    const of = (length: number) => new Uint8Array(length).fill(7);
    const framing = make();
    expect(heard(framing, framing.write(of(MAX_FRAME_BYTES))).messages.map((m) => m.length)).toEqual([MAX_FRAME_BYTES]);
    expect(heard(framing, framing.write(of(MAX_FRAME_BYTES + 1)))).toEqual({ messages: [], thrown: 1 });
  });
  test.each(KINDS)("%s: a new connection begins with a new message", (_name, make) => {
    const framing = make();
    heard(framing, framing.write(Uint8Array.of(1, 2, 3)).slice(0, 3));
    framing.reset();
    expect(heard(framing, framing.write(Uint8Array.of(9))).messages).toEqual([[9]]);
  });
});

describe("length before each message (OSC 1.0)", () => {
  test("is a 32-bit number, most significant byte first", () => {
    const message = encodeOsc({ kind: "message", address: "/go", args: [] });
    expect([...new LengthFraming().write(message)]).toEqual([0, 0, 0, 8, 0x2f, 0x67, 0x6f, 0, 0x2c, 0, 0, 0]);
  });
  test("that cannot be one loses the stream until the next connection", () => {
    const framing = new LengthFraming();
    expect(heard(framing, Uint8Array.of(0x2f, 0x67, 0x6f, 0, 0x2c, 0, 0, 0))).toEqual({ messages: [], thrown: 1 });
    expect([framing.isLost, heard(framing, framing.write(Uint8Array.of(1))).messages]).toEqual([true, []]);
    framing.reset();
    expect([framing.isLost, heard(framing, framing.write(Uint8Array.of(1))).messages]).toEqual([false, [[1]]]);
  });
  test("of nothing is thrown away, and the next is heard", () => {
    expect(heard(new LengthFraming(), Uint8Array.of(0, 0, 0, 0, 0, 0, 0, 1, 5))).toEqual({
      messages: [[5]],
      thrown: 1,
    });
  });
});

describe("SLIP (RFC 1055)", () => {
  test("stands between two ENDs, with END and ESC replaced", () => {
    expect([...new SlipFraming().write(Uint8Array.of(1, 0xc0, 2, 0xdb, 3))]).toEqual([
      0xc0, 1, 0xdb, 0xdc, 2, 0xdb, 0xdd, 3, 0xc0,
    ]);
  });
  test("one END between two messages is enough, and any number is allowed", () => {
    expect(heard(new SlipFraming(), Uint8Array.of(1, 0xc0, 2, 0xc0, 0xc0, 0xc0, 3, 0xc0)).messages).toEqual([
      [1],
      [2],
      [3],
    ]);
  });
  test("an ESC before anything else, or before the END, breaks its message and no other", () => {
    const stream = Uint8Array.of(0xc0, 1, 0xdb, 9, 0xc0, 2, 0xdb, 0xc0, 3, 0xc0);
    expect(heard(new SlipFraming(), stream)).toEqual({ messages: [[3]], thrown: 2 });
  });
});

describe("lines", () => {
  const text = (t: string) => new TextEncoder().encode(t);
  const lines = (messages: number[][]) => messages.map((m) => new TextDecoder().decode(Uint8Array.from(m)));
  test("end with any line end, in whatever pieces; empty ones are none", () => {
    const { messages } = heard(new LineFraming("lf"), text("at k"), text("ey 1\r"), text("\nok\n\r\rà"), text("\r"));
    expect(lines(messages)).toEqual(["at key 1", "ok", "à"]);
  });
  test.each([
    ["lf", "a\n"],
    ["crlf", "a\r\n"],
    ["cr", "a\r"],
  ] as const)("are said with the end that is asked for: %s", (end, said) => {
    expect(new TextDecoder().decode(new LineFraming(end).write(text("a")))).toBe(said);
  });
  test("a datagram's end ends its last line, and a line never goes on in the next datagram", () => {
    const framing = new LineFraming("lf");
    const messages: number[][] = [];
    for (const datagram of ["one\ntwo", "three\r\n", ""])
      framing.readWhole(text(datagram), (bytes) => messages.push([...bytes]));
    expect(lines(messages)).toEqual(["one", "two", "three"]);
  });
  test("too long a line is thrown away whole, and the next is heard", () => {
    const out = heard(new LineFraming("lf"), text("x".repeat(MAX_LINE_BYTES)), text("x\nafter\n"));
    expect([lines(out.messages), out.thrown]).toEqual([["after"], 1]);
  });
});
