import { describe, expect, test } from "vitest";
import { MemoryWatch } from "./memory-watch.ts";

const LIMIT = 1000;

/** When the watch says that it is too much, of what is used at each time in s; null = never. */
function endsAt(usedAtS: (s: number) => number, untilS = 60): number | null {
  let used = 0;
  const watch = new MemoryWatch(() => ({ used, limit: LIMIT }));
  watch.begin(0);
  for (let ms = 0; ms <= untilS * 1000; ms += 17) {
    used = usedAtS(ms / 1000);
    if (watch.isTooMuch(ms)) return ms / 1000;
  }
  return null;
}

describe("the watch over an engine's memory", () => {
  test("ends one that takes more and more, well before its limit", () => {
    const s = endsAt((t) => 50 + 20 * t)!;
    expect(50 + 20 * s).toBeGreaterThan(0.3 * LIMIT);
    expect(50 + 20 * s).toBeLessThan(0.35 * LIMIT);
  });
  test("leaves a large show alone, which takes much from the beginning on", () => {
    expect(endsAt((t) => Math.min(700, 2000 * t))).toBeNull();
  });
  test("leaves alone what goes up and down below that", () => {
    expect(endsAt((t) => 100 + 180 * Math.abs(Math.sin(t)))).toBeNull();
  });
  test("another show is measured by itself", () => {
    let used = 50;
    const watch = new MemoryWatch(() => ({ used, limit: LIMIT }));
    watch.begin(0);
    watch.isTooMuch(0);
    used = 700;
    watch.begin(20_000);
    expect(watch.isTooMuch(20_001)).toBe(false);
    expect(watch.isTooMuch(40_000)).toBe(false);
  });
  test("before there is a show nothing is too much", () => {
    expect(new MemoryWatch(() => ({ used: LIMIT, limit: LIMIT })).isTooMuch(5000)).toBe(false);
  });
});
