import { describe, expect, test } from "vitest";
import { type RowsInSlab, SLAB_ROWS, SlabReader, SlabWriter } from "./row-slabs.ts";
import { readRow, rowCount, TrafficRing } from "./traffic-ring.ts";

/** Engine and server with the memory between them; what is freed goes home when the test says so. */
function pair() {
  const ring = new TrafficRing(SLAB_ROWS);
  const writer = new SlabWriter();
  const freed: number[] = [];
  const reader = new SlabReader((slab) => freed.push(slab));
  let next = 0;
  const write = (count: number): RowsInSlab => {
    for (let n = 0; n < count; n++) ring.short(next++, 0, 0, 0x90, 36, 127, 3);
    return structuredClone(writer.write(ring)!); // as the other thread hears it: the memory is the same
  };
  return {
    writer,
    reader,
    freed,
    write,
    keep: (count: number) => reader.take(write(count))!,
    goHome: () => {
      for (const slab of freed.splice(0)) writer.free(slab);
    },
  };
}

const times = (rows: Uint8Array) => Array.from({ length: rowCount(rows) }, (_, k) => readRow(rows, k).atMs);

describe("rows in memory that engine and server both see", () => {
  test("nothing waits: there are no rows to tell of", () => {
    expect(new SlabWriter().write(new TrafficRing(4))).toBeNull();
  });

  test("rows stay what they were while others come, and lie where they were written", () => {
    const { keep } = pair();
    const [first, second] = [keep(3), keep(2)];
    for (let n = 0; n < 10; n++) keep(SLAB_ROWS / 2);
    expect([times(first!), times(second!)]).toEqual([
      [0, 1, 2],
      [3, 4],
    ]);
    expect(second!.buffer).toBe(first!.buffer);
  });

  test("the memory is told of with the first rows that lie in it, and not again", () => {
    const { write } = pair();
    const told = [write(1), write(SLAB_ROWS - 1), write(1), write(1)];
    expect(told.map((rows) => [rows.slab, rows.first, rows.count, rows.memory !== undefined])).toEqual([
      [1, 0, 1, true],
      [1, 1, SLAB_ROWS - 1, false],
      [2, 0, 1, true],
      [2, 1, 1, false],
    ]);
  });

  test("a slab is written again when all of it has been given back, and not before", () => {
    const { writer, reader, freed, keep, goHome } = pair();
    const half = SLAB_ROWS / 2;
    const [first, second] = [keep(half), keep(half)];
    reader.giveBack(first!);
    const third = keep(half); // of another slab: half of the first is still wanted
    expect([freed, times(second!)[0], third.buffer === first!.buffer]).toEqual([[], half, false]);
    reader.giveBack(second!);
    expect(freed).toEqual([1]);
    goHome();
    keep(half);
    expect(keep(half).buffer).toBe(first!.buffer);
    expect(writer.count).toBe(2);
  });

  test("the slab that is being written is not given back while it is", () => {
    const { reader, freed, keep } = pair();
    reader.giveBack(keep(SLAB_ROWS - 1));
    expect(freed).toEqual([]);
    const last = keep(1);
    reader.giveBack(last);
    expect(freed).toEqual([]);
    keep(1); // of the next
    expect(freed).toEqual([1]);
  });

  test("what comes and goes for long takes no more than what was kept at once", () => {
    const { writer, reader, keep, goHome } = pair();
    const kept: { rows: Uint8Array; times: number[] }[] = [];
    for (let n = 0; n < 1500; n++) {
      const rows = keep(1 + ((n * 37) % 400));
      kept.push({ rows, times: times(rows) });
      if (kept.length <= 100) continue;
      const oldest = kept.shift()!;
      expect(times(oldest.rows)).toEqual(oldest.times);
      reader.giveBack(oldest.rows);
      if (n % 7 === 0) goHome(); // the other thread hears of it later
    }
    // 101 blocks of 200 rows on average are five slabs; each may end with room for less than one block.
    expect(writer.count).toBeLessThanOrEqual(9);
  });

  test("rows of an engine that died stay as long as they are wanted, and its slabs go to no other", () => {
    const { reader, freed, keep, write } = pair();
    const old = keep(5);
    const late = write(1);
    reader.forgetWriter();
    expect(reader.take(late)).toBeNull(); // what it said last, without memory that anybody knows
    const next = pair();
    const first = reader.take(next.write(2))!;
    expect([times(old), times(first)]).toEqual([
      [0, 1, 2, 3, 4],
      [0, 1],
    ]);
    reader.giveBack(old);
    expect(freed).toEqual([]);
    reader.giveBack(first);
    reader.take(next.write(SLAB_ROWS - 2));
    reader.take(next.write(3));
    expect(freed).toEqual([]); // one piece of the first slab is still wanted
  });
});
