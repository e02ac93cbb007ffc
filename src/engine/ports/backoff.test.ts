import { expect, test } from "vitest";
import { Backoff } from "./backoff.ts";

test("pauses double from a quarter of a second to eight, and begin anew once it worked", () => {
  const backoff = new Backoff(() => 0.5);
  expect(Array.from({ length: 7 }, () => backoff.next())).toEqual([250, 500, 1000, 2000, 4000, 8000, 8000]);
  backoff.reset();
  expect(backoff.next()).toBe(250);
});

test("each varies by up to a quarter", () => {
  expect([0, 1].map((random) => new Backoff(() => random).next())).toEqual([187.5, 312.5]);
});
