import { describe, expect, test } from "vitest";
import { numberPorts, rememberedNumbers, rememberNumbers } from "./port-numbers.ts";

const two = [
  { id: "a", name: "Deck" },
  { id: "b", name: "Deck" },
  { id: "c", name: "Strips" },
];
const none = new Map<string, number>();

describe("which of several devices is which", () => {
  test("as they come, each name counted by itself", () => {
    expect([...numberPorts(two, none)]).toEqual([
      ["a", 1],
      ["b", 2],
      ["c", 1],
    ]);
  });
  test("the second stays the second while the first is gone", () => {
    const known = numberPorts(two, none);
    expect(numberPorts([two[1]!, two[2]!], known).get("b")).toBe(2);
  });
  test("what comes back in another socket takes the number that is free", () => {
    const known = numberPorts(two, none);
    const back = numberPorts([{ id: "new", name: "Deck" }, two[1]!], known);
    expect([back.get("new"), back.get("b")]).toEqual([1, 2]);
  });
  test("the order in which the browser lists them does not matter", () => {
    const known = numberPorts(two, none);
    expect(new Map(numberPorts([...two].reverse(), known))).toEqual(known);
  });
  test("two that claim one number: the first keeps it", () => {
    const known = new Map([
      ["a", 1],
      ["b", 1],
    ]);
    expect([...numberPorts(two.slice(0, 2), known).values()]).toEqual([1, 2]);
  });
  test("is remembered over a reload, and nonsense in its place is nothing", () => {
    const kept = new Map<string, string>();
    const storage = {
      getItem: (k: string) => kept.get(k) ?? null,
      setItem: (k: string, v: string) => kept.set(k, v),
    } as unknown as Storage;
    const numbers = numberPorts(two, none);
    rememberNumbers(storage, numbers);
    expect(rememberedNumbers(storage)).toEqual(numbers);
    for (const text of ["{", "7", '[["a"],[1,2],null]']) {
      kept.set([...kept.keys()][0]!, text);
      expect(rememberedNumbers(storage).size).toBe(0);
    }
  });
});
