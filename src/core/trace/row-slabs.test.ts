import { describe, expect, test } from "vitest";
import { RowSlabs, SLAB_ROWS } from "./row-slabs.ts";
import { ROW_BYTES } from "./traffic-ring.ts";

const rows = (count: number, fill: number) => new Uint8Array(count * ROW_BYTES).fill(fill);

describe("memory of rows that stay", () => {
  test("what is kept is a copy, and stays what it was while others come", () => {
    const slabs = new RowSlabs();
    const given = rows(3, 1);
    const views = [slabs.keep(given), slabs.keep(rows(2, 2))];
    given.fill(9);
    for (let n = 0; n < 10; n++) slabs.keep(rows(SLAB_ROWS / 2, 3));
    expect(views).toEqual([rows(3, 1), rows(2, 2)]);
  });

  test("a slab is used again when all of it has been given back, and not before", () => {
    const slabs = new RowSlabs();
    const half = SLAB_ROWS / 2;
    const [first, second] = [slabs.keep(rows(half, 1)), slabs.keep(rows(half, 2))];
    slabs.giveBack(first!);
    const third = slabs.keep(rows(half, 3)); // of another slab: half of the first is still wanted
    expect([second![0], third.buffer === first!.buffer]).toEqual([2, false]);
    slabs.giveBack(second!);
    slabs.keep(rows(half, 4));
    expect(slabs.keep(rows(half, 5)).buffer).toBe(first!.buffer);
    expect(slabs.count).toBe(2);
  });

  test("what comes and goes for long takes no more than what was kept at once", () => {
    const slabs = new RowSlabs();
    const kept: Uint8Array[] = [];
    for (let n = 0; n < 5000; n++) {
      kept.push(slabs.keep(rows(1 + ((n * 37) % 400), n & 255)));
      if (kept.length > 100) slabs.giveBack(kept.shift()!);
    }
    // 101 blocks of 200 rows on average are five slabs; each may end with room for less than one block.
    expect(slabs.count).toBeLessThanOrEqual(8);
  });

  test("the slab that is being filled is not used again while it is", () => {
    const slabs = new RowSlabs();
    slabs.giveBack(slabs.keep(rows(SLAB_ROWS - 1, 1)));
    const next = slabs.keep(rows(1, 2));
    const after = slabs.keep(rows(2, 3));
    expect([next[0], after[0], next.buffer === after.buffer]).toEqual([2, 3, false]);
    expect(slabs.count).toBe(2);
  });

  test("more rows than a slab has get memory of their own", () => {
    const slabs = new RowSlabs();
    const many = slabs.keep(rows(SLAB_ROWS + 1, 7));
    slabs.giveBack(many);
    expect([many.length, many[0], slabs.count]).toEqual([(SLAB_ROWS + 1) * ROW_BYTES, 7, 0]);
  });
});
