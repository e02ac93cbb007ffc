import { describe, expect, test } from "vitest";
import { LaterBundles, MOST_WAITING } from "./later-bundles.ts";
import { MOST_AHEAD_MS, timeTagMs } from "./time-tags.ts";
import { IMMEDIATELY } from "./types.ts";

/** 2026-07-04 21:30:00.250 UTC; NTP counts from 1900, 70 years with 17 leap days before 1970. */
const AT_MS = Date.UTC(2026, 6, 4, 21, 30, 0, 250);
const tag = (ms: number) => {
  const seconds = Math.floor(ms / 1000) + (70 * 365 + 17) * 86_400;
  return (BigInt(seconds) << 32n) | BigInt(Math.round(((ms % 1000) / 1000) * 2 ** 32));
};

describe("time tags", () => {
  test("count seconds from 1900 and their fractions", () => {
    expect(timeTagMs(0x83aa_7e80_0000_0000n)).toBe(0); // 1970, as RFC 5905 has it: 2,208,988,800 s
    expect(timeTagMs(0x83aa_7e81_8000_0000n)).toBe(1500);
    expect(timeTagMs(tag(AT_MS))).toBeCloseTo(AT_MS, 3);
  });
  test.each<[string, bigint, object]>([
    ["at once", IMMEDIATELY, { is: "now" }],
    ["now", tag(AT_MS), { is: "now" }],
    ["past", tag(AT_MS - 1), { is: "now" }],
    ["ahead", tag(AT_MS + 120), { is: "later", dueMs: expect.closeTo(AT_MS + 120, 2) }],
    ["ten minutes ahead", tag(AT_MS + 600_000), { is: "later", dueMs: expect.closeTo(AT_MS + 600_000, 2) }],
    [
      "as far ahead as is believed",
      tag(AT_MS + MOST_AHEAD_MS),
      { is: "later", dueMs: expect.closeTo(AT_MS + MOST_AHEAD_MS, 2) },
    ],
    ["from another clock", tag(AT_MS + MOST_AHEAD_MS + 1), { is: "too-far" }],
    ["of 1900", 0n, { is: "now" }],
    ["the greatest there is", 0xffff_ffff_ffff_ffffn, { is: "too-far" }],
  ])("%s", (_name, at, wanted) => {
    expect(new LaterBundles().timeOf(at, AT_MS)).toEqual(wanted);
  });
});

describe("bundles that wait", () => {
  const bundle = { kind: "bundle", timeTag: 5n, elements: [] } as const;
  test("come out when they are due, the earliest first, whatever came first", () => {
    const later = new LaterBundles<string>();
    for (const [of, dueMs] of [
      ["c", 30],
      ["a", 10],
      ["b", 20],
      ["d", 40],
    ] as const)
      later.add({ of, bundle: { ...bundle, elements: [] }, dueMs, row: 0 });
    expect([later.takeDue(9), later.takeDue(30).map((w) => w.of), later.count, later.takeDue(30)]).toEqual([
      [],
      ["a", "b", "c"],
      1,
      [],
    ]);
  });
  test("are no more than there is room for", () => {
    const later = new LaterBundles<number>();
    const ahead = tag(AT_MS + 1000);
    for (let n = 0; n < MOST_WAITING; n++) {
      const time = later.timeOf(ahead, AT_MS);
      if (time.is === "later") later.add({ of: n, bundle: { ...bundle, elements: [] }, dueMs: time.dueMs, row: 0 });
    }
    expect([later.count, later.timeOf(ahead, AT_MS), later.timeOf(IMMEDIATELY, AT_MS)]).toEqual([
      MOST_WAITING,
      { is: "no-room" },
      { is: "now" },
    ]);
  });
});
