import { describe, expect, test } from "vitest";
import { bundleDueMs, MOST_AHEAD_MS, timeTagMs } from "./time-tags.ts";
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
  test.each<[string, bigint, number]>([
    ["at once", IMMEDIATELY, 0],
    ["now", tag(AT_MS), 0],
    ["past", tag(AT_MS - 1), 0],
    ["ahead", tag(AT_MS + 120), 120],
    ["as far ahead as is believed", tag(AT_MS + MOST_AHEAD_MS), MOST_AHEAD_MS],
    ["from another clock", tag(AT_MS + MOST_AHEAD_MS + 1), 0],
    ["of 1900", 0n, 0],
    ["the greatest there is", 0xffff_ffff_ffff_ffffn, 0],
  ])("%s", (_name, at, laterMs) => {
    expect(bundleDueMs(at, AT_MS) - AT_MS).toBeCloseTo(laterMs, 2);
  });
});
