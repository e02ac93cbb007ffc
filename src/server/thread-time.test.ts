import { describe, expect, test } from "vitest";
import { threadTimeMs } from "./thread-time.ts";

/** The main thread has the number of its process. */
const MAIN = process.pid;

describe.runIf(process.platform === "linux")("time that a thread has had a processor", () => {
  test("grows while it works, by no more than has passed", () => {
    const before = threadTimeMs(MAIN)!;
    const from = performance.now();
    // Counted in hundredths of a second: until some have gone by.
    while (threadTimeMs(MAIN)! - before < 50) Math.sqrt(performance.now());
    // Other threads of the process are none of its time.
    expect(threadTimeMs(MAIN)! - before).toBeLessThanOrEqual(performance.now() - from + 20);
  });

  test("is not told of a thread that is not there, or that has no number", () => {
    expect(threadTimeMs(2 ** 30)).toBeNull();
    expect(threadTimeMs(0)).toBeNull();
  });
});
