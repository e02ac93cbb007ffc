import { describe, expect, test } from "vitest";
import type { LiveClient } from "./hub.ts";
import { Teaching } from "./teaching.ts";

/** A page, and what it is told. */
function page(number: number) {
  const heard: string[] = [];
  const client = { number, send: ({ kind }: { kind: string }) => void heard.push(kind) } as unknown as LiveClient;
  return { client, heard };
}

describe("hands teach as long as a page says so", () => {
  test("the first says it, and the last takes it back; between them nothing is told", () => {
    const told: boolean[] = [];
    const teaching = new Teaching((on) => told.push(on));
    const [one, two] = [page(1).client, page(2).client];
    teaching.set(one, true);
    teaching.set(two, true);
    teaching.set(two, true);
    teaching.set(one, false);
    expect([told, teaching.isOn]).toEqual([[true], true]);
    teaching.set(two, false); // as when its window is closed
    expect([told, teaching.isOn]).toEqual([[true, false], false]);
  });
  test("whoever plays ends it for all; who had them teach is told, once", () => {
    const told: boolean[] = [];
    const teaching = new Teaching((on) => told.push(on));
    const [one, two] = [page(1), page(2)];
    teaching.end();
    teaching.set(one.client, true);
    teaching.set(two.client, true);
    teaching.set(two.client, false);
    teaching.end();
    teaching.end();
    expect(told).toEqual([true, false]);
    expect([one.heard, two.heard]).toEqual([["play"], []]);
  });
});
