import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { matchesAddress, readAddressPattern } from "./address-pattern.ts";
import { AddressTree, PatternBudget, STEPS_A_DATAGRAM } from "./address-tree.ts";

const parts = ["now", "playback", "page", "1", "2", "12", "level", "on", "a-b"];
const address = fc.array(fc.constantFrom(...parts), { minLength: 1, maxLength: 4 }).map((p) => `/${p.join("/")}`);
const patternPart = fc.oneof(
  fc.constantFrom(...parts),
  fc.constantFrom("*", "?", "[0-9]", "[!a-z]*", "{level,on}", "p*", "*e*", "{1,12}", "[12]"),
  fc.constantFrom("[", "{", "{a", "[b"),
);
const pattern = fc.array(patternPart, { minLength: 1, maxLength: 5 }).map((p) => `/${p.join("/")}`);

describe("addresses as a tree", () => {
  test("finds exactly what the standard's rule finds, address by address", () => {
    fc.assert(
      fc.property(fc.uniqueArray(address, { maxLength: 30 }), pattern, (addresses, text) => {
        const tree = new AddressTree(new Map(addresses.map((a) => [a, a])));
        const found = tree.find(text, new PatternBudget());
        const read = readAddressPattern(text);
        if (!read || found === null) {
          expect(found).toBe(read === null ? null : found);
          return;
        }
        expect([...found].sort()).toEqual(addresses.filter((a) => matchesAddress(read, a)).sort());
      }),
      { numRuns: 2000 },
    );
  });

  test("an address that begins another one is found as well", () => {
    const tree = new AddressTree(
      new Map([
        ["/page", 1],
        ["/page/1/name", 2],
        ["/page/1", 3],
      ]),
    );
    expect(tree.find("/*", new PatternBudget())).toEqual([1]);
    expect(tree.find("/page/*", new PatternBudget())).toEqual([3]);
    expect(tree.find("/*/*/*", new PatternBudget())).toEqual([2]);
  });

  test("what is no pattern is none", () => {
    const tree = new AddressTree(new Map([["/a", 1]]));
    for (const text of ["a", "", "/{a/b}", "/[", `/${"*?".repeat(200)}`])
      expect(tree.find(text, new PatternBudget()) ?? []).toEqual([]);
  });
});

describe("the work of one datagram", () => {
  // As many addresses as the largest desks have.
  const addresses = new Map<string, number>();
  for (let page = 1; page <= 9; page++)
    for (let playback = 1; playback <= 200; playback++)
      for (const what of ["level", "on", "flash", "name", "colour"])
        addresses.set(`/now/playback/${page}/${playback}/${what}`, addresses.size);
  const tree = new AddressTree(addresses);

  test.each([
    "/*/*/*/*/level",
    "/*/*/*/*/*",
    "/????/????????/?/*/*",
    "/{now,then}/*/[1-9]/{1,2,3}*/*",
    "/*n*/*p*/*/*/*e*",
  ])("of “%s” repeated is bounded", (text) => {
    const budget = new PatternBudget();
    let found = 0;
    for (let n = 0; n < 2000; n++) found += tree.find(text, budget)?.length ?? 0;
    expect(budget.isSpent).toBe(true);
    expect(found).toBeLessThan(STEPS_A_DATAGRAM);
    budget.begin();
    expect(budget.isSpent).toBe(false);
  });

  test("is enough for a pattern that fits a page of a desk", () => {
    const budget = new PatternBudget();
    expect(tree.find("/now/playback/3/*/level", budget)).toHaveLength(200);
    expect(budget.isSpent).toBe(false);
  });
});
