import { describe, expect, test } from "vitest";
import { Budget, DIN_MESSAGES_PER_S } from "./budget.ts";
import { ECHO_WITHIN_MS, LoopDetector, TRIP_AFTER, WINDOW_MS } from "./loop.ts";

describe("rule 19: a port's budget", () => {
  test("a burst goes at once, then as many as the line carries", () => {
    const budget = new Budget(1000, 10);
    const taken = (atMs: number, tries: number) =>
      Array.from({ length: tries }, () => budget.take(atMs)).filter(Boolean).length;
    expect(taken(0, 50)).toBe(10);
    expect(taken(5, 50)).toBe(5);
    expect(taken(5, 50)).toBe(0);
    expect(taken(10_000, 50)).toBe(10); // a long rest saves up no more than a burst
  });
  test("what may not wait goes on credit, and the credit is bounded", () => {
    const budget = new Budget(1000, 4);
    for (let n = 0; n < 100; n++) budget.force(0);
    expect(budget.take(4)).toBe(false); // four on credit are paid back first
    expect(budget.take(5)).toBe(true);
  });
  test("time that stands still or goes back gives nothing", () => {
    const budget = new Budget(1000, 1);
    expect([budget.take(10), budget.take(10), budget.take(5), budget.take(11)]).toEqual([true, false, false, true]);
  });
  test("a DIN cable carries about a thousand messages a second", () => {
    expect(Math.round(DIN_MESSAGES_PER_S)).toBe(1042);
  });
  test("a budget of nothing is a fault of ours", () => {
    expect(() => new Budget(0, 1)).toThrow(RangeError);
  });
});

describe("rule 19: a port that hears itself", () => {
  test("trips when the same messages come back again and again within 100 ms", () => {
    const loop = new LoopDetector();
    let n = 0;
    for (; n < 1000 && !loop.tripped; n++) {
      loop.sent(0x90, n % 4, 5, n);
      loop.heard(0x90, n % 4, 5, n + 0.5);
    }
    expect(n).toBe(TRIP_AFTER);
    expect(n).toBeLessThan(WINDOW_MS);
    expect(loop.heard(0xb0, 1, 1, 5000)).toBe(true); // open until somebody closes it
    loop.rearm();
    expect(loop.heard(0xb0, 1, 1, 5000)).toBe(false);
  });
  test("does not trip on hands, which never answer within milliseconds that often", () => {
    const loop = new LoopDetector();
    for (let n = 0; n < 10_000; n++) {
      loop.sent(0x90, 1, 5, n * 10);
      loop.heard(0x90, 1, 5, n * 10 + 1);
    }
    expect(loop.tripped).toBe(false);
  });
  test("does not trip on messages that went out long ago, or that never did", () => {
    const loop = new LoopDetector();
    for (let n = 0; n < 500; n++) {
      loop.sent(0x90, 1, 5, n * 0.1);
      loop.heard(0x90, 1, 6, n * 0.1);
    }
    for (let n = 0; n < 500; n++) loop.heard(0x90, 1, 5, 50 + ECHO_WITHIN_MS + 1 + n * 0.1);
    expect(loop.tripped).toBe(false);
  });
});
