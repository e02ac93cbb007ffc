/**
 * Our OSC beside two packages from the registry, for the types in which those are right: integers, floats, ASCII
 * strings, blobs, true and false, and bundles of them. Elsewhere (colours, 64 bits, strings beyond ASCII) they are not.
 */
import fc from "fast-check";
import { decode as nodeOscDecode, encode as nodeOscEncode } from "node-osc";
import { fromBuffer, toBuffer } from "osc-min";
import { describe, expect, test } from "vitest";
import { decodeOsc } from "./decode.ts";
import { encodeOsc } from "./encode.ts";
import { IMMEDIATELY, type OscArgument, type OscMessage } from "./types.ts";

const word = fc.stringMatching(/^[ -~]{0,24}$/);
const argument: fc.Arbitrary<OscArgument> = fc.oneof(
  fc.record({ type: fc.constant("i" as const), value: fc.integer() }),
  fc.record({ type: fc.constant("f" as const), value: fc.float({ noNaN: true, noDefaultInfinity: true }) }),
  fc.record({ type: fc.constant("s" as const), value: word }),
  fc.record({ type: fc.constant("b" as const), value: fc.uint8Array({ minLength: 1, maxLength: 24 }) }),
  fc.constantFrom<OscArgument>({ type: "T" }, { type: "F" }),
);
const message: fc.Arbitrary<OscMessage> = fc.record({
  kind: fc.constant("message" as const),
  address: fc.stringMatching(/^(\/[a-z0-9]{1,8}){1,4}$/),
  args: fc.array(argument, { maxLength: 6 }),
});

const MIN_TYPES = { i: "integer", f: "float", s: "string", b: "blob", T: "true", F: "false" } as const;

/** The message as osc-min has it. */
function forOscMin({ address, args }: OscMessage) {
  return {
    oscType: "message" as const,
    address,
    args: args.map((a) => {
      const type = MIN_TYPES[a.type as keyof typeof MIN_TYPES];
      if (a.type === "b") return { type, value: new DataView(a.value.slice().buffer) };
      return "value" in a ? { type, value: a.value } : { type };
    }),
  };
}

/** The values as plain ones, which is how node-osc has them. */
function plain({ args }: OscMessage): unknown[] {
  return args.map((a) =>
    a.type === "T"
      ? true
      : a.type === "F"
        ? false
        : a.type === "b"
          ? Buffer.from(a.value)
          : (a as { value: unknown }).value,
  );
}

function bytesOf(view: DataView): Uint8Array {
  return new Uint8Array(view.buffer, view.byteOffset, view.byteLength);
}

describe("beside osc-min", () => {
  test("messages are written alike, byte for byte, and each reads the other's", () => {
    fc.assert(
      fc.property(message, (m) => {
        const theirs = bytesOf(toBuffer(forOscMin(m) as never));
        expect(Buffer.from(encodeOsc(m))).toEqual(Buffer.from(theirs));
        expect(decodeOsc(theirs)).toEqual({ ok: true, packet: m });
        expect(fromBuffer(Buffer.from(encodeOsc(m)) as never)).toMatchObject({
          oscType: "message",
          address: m.address,
        });
      }),
    );
  });

  test("bundles too", () => {
    fc.assert(
      fc.property(fc.array(message, { maxLength: 4 }), (elements) => {
        const bundle = { kind: "bundle" as const, timeTag: IMMEDIATELY, elements };
        const theirs = { oscType: "bundle", timetag: [0, 1], elements: elements.map(forOscMin) };
        expect(Buffer.from(encodeOsc(bundle))).toEqual(Buffer.from(bytesOf(toBuffer(theirs as never))));
      }),
    );
  });
});

describe("beside node-osc", () => {
  test("it reads what we write, and we read what it writes", () => {
    fc.assert(
      fc.property(message, (m) => {
        const theirs = nodeOscDecode(Buffer.from(encodeOsc(m))) as unknown as {
          address: string;
          args: { value: unknown }[];
        };
        expect(theirs.address).toBe(m.address);
        expect(theirs.args.map((a) => (a !== null && typeof a === "object" && "value" in a ? a.value : a))).toEqual(
          plain(m),
        );
        const read = decodeOsc(Uint8Array.from(nodeOscEncode(forNodeOsc(m) as never)));
        expect(read).toEqual({ ok: true, packet: m });
      }),
    );
  });
});

/** The message as node-osc writes it: with the types named. */
function forNodeOsc({ address, args }: OscMessage) {
  return {
    oscType: "message",
    address,
    args: args.map((a) => {
      if (a.type === "T" || a.type === "F") return { type: "boolean", value: a.type === "T" };
      const { type, value } = a as { type: keyof typeof MIN_TYPES; value: unknown };
      return { type: MIN_TYPES[type], value: a.type === "b" ? Buffer.from(a.value) : value };
    }),
  };
}
