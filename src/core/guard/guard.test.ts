import { describe, expect, test } from "vitest";
import { Budget, DIN_MESSAGES_PER_S } from "./budget.ts";
import {
  LoopDetector,
  NOT_CAUSED,
  RETURN_WITHIN_MS,
  TRIP_AFTER,
  TRIP_GENERATIONS,
  TRIP_GENERATIONS_ANY,
  WINDOW_MS,
  wordOf,
  wordOfBytes,
} from "./loop.ts";

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

const note = (d1: number, d2 = 5) => wordOf(0x90, d1, d2);

describe("rule 19: a port that hears itself by echoes", () => {
  test("trips when the same messages come back again and again within 100 ms", () => {
    const loop = new LoopDetector();
    let n = 0;
    for (; n < 1000 && !loop.tripped; n++) {
      loop.sent(note(n % 4), NOT_CAUSED, n);
      loop.heard(note(n % 4), n + 0.5);
    }
    expect(n).toBe(TRIP_AFTER);
    expect(n).toBeLessThan(WINDOW_MS);
    loop.rearm();
    expect(loop.tripped).toBe(false);
  });
  test("does not trip on hands, which never answer within milliseconds that often", () => {
    const loop = new LoopDetector();
    for (let n = 0; n < 10_000; n++) {
      loop.sent(note(1), NOT_CAUSED, n * 10);
      loop.heard(note(1), n * 10 + 1);
    }
    expect(loop.tripped).toBe(false);
  });
  test("does not trip on messages that went out long ago, or that never did", () => {
    const loop = new LoopDetector();
    for (let n = 0; n < 500; n++) {
      loop.sent(note(1), NOT_CAUSED, n * 0.1);
      loop.heard(note(1, 6), n * 0.1);
    }
    for (let n = 0; n < 500; n++) loop.heard(note(1), 50 + RETURN_WITHIN_MS + 1 + n * 0.1);
    expect(loop.tripped).toBe(false);
  });
});

describe("rule 19: a port that hears itself by generations", () => {
  /** One message that comes back after so long, and is sent on with its generation; answers the sendings it took. */
  function ring(periodMs: (n: number) => number, word = note(60)): number {
    const loop = new LoopDetector();
    let atMs = 0;
    let generation = 0;
    for (let n = 0; n < 1000; n++) {
      loop.sent(word, generation, atMs);
      atMs += periodMs(n);
      generation = loop.heard(word, atMs);
      if (loop.tripped) return n + 1;
    }
    return Number.POSITIVE_INFINITY;
  }

  test("trips at the eighth return, whatever its period up to a second", () => {
    for (const periodMs of [0, 0.1, 1, 5, 20, 60, 200, 500, 950])
      expect(
        ring(() => periodMs),
        `${periodMs} ms`,
      ).toBe(TRIP_GENERATIONS);
    expect(ring(() => 1100)).toBe(Number.POSITIVE_INFINITY);
  });
  test("trips at a pace that a network spoils, only later", () => {
    const sent = ring((n) => 30 + ((n * 7919) % 41));
    expect(sent).toBeGreaterThan(TRIP_GENERATIONS);
    expect(sent).toBeLessThanOrEqual(TRIP_GENERATIONS_ANY);
  });
  test("a message of any length", () => {
    for (const bytes of [[0xf8], [0xc0, 5], [0x90, 60, 64], [0xf0, 0x7d, 1, 2, 3, 0xf7]]) {
      const word = wordOfBytes(Uint8Array.from([1, ...bytes, 9]), 1, bytes.length);
      expect(ring(() => 5, word)).toBe(TRIP_GENERATIONS);
    }
  });
  test("messages differ by every byte, also long ones", () => {
    const base = Uint8Array.of(0xf0, 0x7d, 1, 2, 3, 0xf7);
    const words = new Set<number>();
    for (let at = 0; at < base.length; at++) {
      const other = Uint8Array.from(base);
      other[at] = base[at]! ^ 1;
      words.add(wordOfBytes(other, 0, other.length));
    }
    expect(words.size).toBe(base.length);
  });
  test("never trips on 10,000 honest messages, each of which comes back once", () => {
    for (const everyMs of [4, 20.8, 80, 125, 300]) {
      const loop = new LoopDetector();
      for (let n = 0; n < 10_000; n++) {
        const atMs = n * everyMs;
        loop.sent(note(60), 0, atMs); // by hands, or by a clock
        expect(loop.heard(note(60), atMs + 2)).toBe(1); // its echo, which causes nothing
        if (loop.tripped) throw new Error(`tripped at ${n}, every ${everyMs} ms`);
      }
    }
  });
});
