import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { BEAT_EVERY_MS } from "../../core/live/beat.ts";
import { GIVEN_UP_AFTER_MS, Heard, LOST_AFTER_MS } from "./heard.ts";

describe("a page that listens for the server", () => {
  let told: (number | null)[];
  let givenUp: number;
  let heard: Heard;
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ["setInterval", "clearInterval", "Date", "performance"] });
    told = [];
    givenUp = 0;
    heard = new Heard({ lost: (since) => told.push(since), givenUp: () => givenUp++ });
  });
  afterEach(() => {
    heard.stop();
    vi.useRealTimers();
  });
  /** Lets time pass while the server says something each second. */
  const beats = (n: number) => {
    for (let i = 0; i < n; i++) {
      vi.advanceTimersByTime(BEAT_EVERY_MS);
      heard.now();
    }
  };

  test("says nothing while it is heard, and within two seconds since when it is not", () => {
    beats(20);
    expect(told).toEqual([]);
    const last = Date.now();
    vi.advanceTimersByTime(2000);
    expect(told).toEqual([last]);
    vi.advanceTimersByTime(4000);
    expect(told).toHaveLength(1);
    heard.now();
    expect(told.at(-1)).toBeNull();
  });

  test("says so at once where the connection is closed", () => {
    beats(2);
    heard.closed();
    heard.closed();
    expect(told).toEqual([Date.now()]);
  });

  test("gives up a connection on which nothing comes, and then again after as long", () => {
    vi.advanceTimersByTime(GIVEN_UP_AFTER_MS + 500);
    expect(givenUp).toBe(1);
    vi.advanceTimersByTime(GIVEN_UP_AFTER_MS + 500);
    expect(givenUp).toBe(2);
  });

  test("that was asleep itself listens before it says what it misses", () => {
    beats(1);
    vi.setSystemTime(Date.now() + 60_000);
    vi.advanceTimersByTime(250);
    expect(told).toEqual([]);
    vi.advanceTimersByTime(LOST_AFTER_MS + 250);
    expect(told).toHaveLength(1);
  });
});
