import { describe, expect, test } from "vitest";
import { readTake } from "../format/take.ts";
import type { MessageKind } from "../format/wires.ts";
import { hexBytes } from "../midi/hex.ts";
import { encodeOsc } from "../osc/encode.ts";
import { OUTCOME } from "./outcome.ts";
import { takeOf } from "./take-of.ts";
import type { TrafficEntry } from "./traffic-entry.ts";

const kinds = new Map<string, MessageKind>([
  ["lights", "osc"],
  ["vision", "line"],
]);
const row = (atMs: number, device: string, bytes: Uint8Array, more: Partial<TrafficEntry> = {}): TrafficEntry => ({
  seq: atMs,
  atMs,
  out: false,
  side: kinds.has(device) ? "desk" : "surface",
  device,
  code: OUTCOME.sent,
  a: 0,
  b: 0,
  cause: 0,
  hex: hexBytes(bytes),
  length: bytes.length,
  ...more,
});
const meters = encodeOsc({
  kind: "message",
  address: "/now/meters",
  args: [{ type: "b", value: Uint8Array.from({ length: 300 }, (_, i) => i & 255) }],
});

describe("rows of the list as a take", () => {
  test("are read back as they came, each as its wire says it, the first at 0 ms", () => {
    const rows = [
      row(5000, "deck", Uint8Array.of(0x90, 36, 127)),
      row(5010, "vision", new TextEncoder().encode("cut 1")),
      row(5020.5, "lights", meters, { out: true }),
    ];
    const { text, left } = takeOf(rows, kinds);
    const read = readTake(text);
    expect(left).toBe(0);
    expect(read.ok && read.value.map((e) => [e.ms, e.port, e.dir])).toEqual([
      [0, "deck", "in"],
      [10, "vision", "in"],
      [20.5, "lights", "out"],
    ]);
    expect(read.ok && read.value[2]).toMatchObject({
      osc: { address: "/now/meters", args: [{ type: "b", value: expect.stringMatching(/^00 01 02/) }] },
    });
  });
  test("what was not kept whole, what a browser said and what has no bytes are left out and counted; a datagram that is no OSC is kept as bytes", () => {
    const rows = [
      row(1, "lights", meters.subarray(0, 96), { length: meters.length }),
      row(2, "", new TextEncoder().encode("{}"), { side: "browser", code: OUTCOME.refused }),
      row(3, "deck", new Uint8Array(0)),
      row(4, "lights", Uint8Array.of(1, 2, 3, 4)),
      row(5, "deck", Uint8Array.of(0xb0, 20, 1)),
    ];
    const { text, left } = takeOf(rows, kinds);
    const read = readTake(text);
    expect([left, read.ok && read.value.map((e) => ("midi" in e ? e.midi : ""))]).toEqual([
      3,
      ["01 02 03 04", "B0 14 01"],
    ]);
  });
});
