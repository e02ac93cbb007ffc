import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { OUTCOME } from "./outcome.ts";
import { DIRECTION_OUT, ROW_DATA_BYTES, readRow, rowCount, SIDE_DESK, TrafficRing } from "./traffic-ring.ts";

const rows = (block: Uint8Array | null) =>
  block ? Array.from({ length: rowCount(block) }, (_, k) => readRow(block, k)) : [];

describe("the ring of traffic", () => {
  test("a row is read back as it was written", () => {
    const ring = new TrafficRing(4);
    const row = ring.short(12.5, 0, 3, 0x90, 60, 127, 3);
    ring.outcome(row, OUTCOME.sent, 7, 8, 0.25, -1, 0);
    expect(rows(ring.drain())).toEqual([
      {
        sequence: 1,
        atMs: 12.5,
        out: false,
        desk: false,
        device: 3,
        length: 3,
        bytes: Uint8Array.of(0x90, 60, 127),
        code: 0,
        mapping: 7,
        subject: 8,
        a: 0.25,
        b: -1,
        cause: 0,
      },
    ]);
  });
  test("a message from memory of words is the same row as one from bytes", () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 4, maxLength: 160 }).map((b) => b.slice(0, b.length & ~3)),
        (bytes) => {
          const words = new Int32Array(bytes.slice().buffer);
          const one = new TrafficRing(4);
          one.toDesk(5, 2, words, 0, bytes.length, OUTCOME.action, 3, 1, 0.5, 9, 4);
          const two = new TrafficRing(4);
          two.outcome(
            two.long(5, DIRECTION_OUT | SIDE_DESK, 2, bytes, 0, bytes.length),
            OUTCOME.action,
            3,
            1,
            0.5,
            9,
            4,
          );
          expect(rows(one.drain())).toEqual(rows(two.drain()));
        },
      ),
    );
  });
  test("a long message keeps its beginning and its length", () => {
    const ring = new TrafficRing(4);
    const bytes = Uint8Array.from({ length: 300 }, (_, k) => k & 255);
    ring.outcome(ring.long(0, 0, 0, bytes, 0, 300), OUTCOME.reported, -1, -1, 0, 0, 0);
    const [row] = rows(ring.drain());
    expect(row).toMatchObject({ length: 300, bytes: bytes.slice(0, ROW_DATA_BYTES) });
  });
  test("the newest rows are kept, the others are counted as lost", () => {
    const ring = new TrafficRing(8);
    for (let n = 1; n <= 20; n++)
      ring.outcome(ring.short(n, 0, 0, 0xf8, 0, 0, 1), OUTCOME.notAControl, -1, -1, 0, 0, 0);
    expect(rows(ring.drain()).map((r) => r.sequence)).toEqual([13, 14, 15, 16, 17, 18, 19, 20]);
    expect(ring.lost).toBe(12);
    expect(ring.drain()).toBeNull();
  });
  test("drained in any portions, every row comes once and in order", () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 8 }), { maxLength: 30 }), (portions) => {
        const ring = new TrafficRing(8);
        let written = 0;
        const seen: number[] = [];
        for (const portion of portions) {
          for (let n = 0; n < portion; n++) {
            ring.outcome(ring.short(0, 0, 0, 0xf8, 0, 0, 1), OUTCOME.notAControl, -1, -1, ++written, 0, 0);
          }
          seen.push(...rows(ring.drain()).map((r) => r.a));
        }
        expect(seen).toEqual(Array.from({ length: written }, (_, k) => k + 1));
      }),
    );
  });
  test("an outcome for a row that is gone changes nothing", () => {
    const ring = new TrafficRing(2);
    const old = ring.short(0, 0, 0, 1, 2, 3, 3);
    for (let n = 0; n < 2; n++) ring.outcome(ring.short(0, 0, 0, 4, 5, 6, 3), OUTCOME.noControl, -1, -1, 0, 0, 0);
    ring.outcome(old, OUTCOME.looped, 1, 1, 1, 1, 1);
    expect(rows(ring.drain()).map((r) => r.code)).toEqual([OUTCOME.noControl, OUTCOME.noControl]);
  });
  test("a size that is no power of two is a fault of ours", () => {
    expect(() => new TrafficRing(3)).toThrow(RangeError);
  });
});
