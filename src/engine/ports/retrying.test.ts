import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { Retrying } from "./retrying.ts";

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

describe("a port that is opened again by itself", () => {
  test("pauses grow to eight seconds, each within a quarter of its length, and are short again once it worked", () => {
    const middle = new Retrying(
      () => {},
      () => {},
      () => 0.5,
    );
    expect(Array.from({ length: 7 }, () => middle.nextPauseMs())).toEqual([250, 500, 1000, 2000, 4000, 8000, 8000]);
    middle.worked();
    expect(middle.nextPauseMs()).toBe(250);
    expect([
      new Retrying(
        () => {},
        () => {},
        () => 0,
      ).nextPauseMs(),
      new Retrying(
        () => {},
        () => {},
        () => 1,
      ).nextPauseMs(),
    ]).toEqual([187.5, 312.5]);
  });
  test("opens once for each time it was dropped, and not before its pause is over", () => {
    let opened = 0;
    const retrying = new Retrying(
      () => opened++,
      () => {},
      () => 0.5,
    );
    retrying.again();
    retrying.again(); // dropped twice before it could open: one attempt, after the longer pause
    vi.advanceTimersByTime(499);
    expect(opened).toBe(0);
    vi.advanceTimersByTime(1);
    expect(opened).toBe(1);
    vi.advanceTimersByTime(60_000);
    expect(opened).toBe(1);
  });
  test("once it is stopped nothing is opened, whatever waits or comes", () => {
    let opened = 0;
    const retrying = new Retrying(
      () => opened++,
      () => {},
    );
    retrying.again();
    retrying.stop();
    retrying.again();
    vi.advanceTimersByTime(60_000);
    expect([opened, retrying.isStopped, vi.getTimerCount()]).toEqual([0, true, 0]);
  });
  test("what is thrown while it is opened is told, and it is tried again", () => {
    const told: string[] = [];
    let attempts = 0;
    const retrying = new Retrying(
      () => {
        attempts++;
        throw new Error(`attempt ${attempts}`);
      },
      (error) => told.push(error.message),
      () => 0.5,
    );
    retrying.now();
    vi.advanceTimersByTime(250 + 500);
    expect(told).toEqual(["attempt 1", "attempt 2", "attempt 3"]);
    retrying.stop();
  });
});
