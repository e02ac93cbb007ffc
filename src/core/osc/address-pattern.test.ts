import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { isAddressPattern, matchesAddress, readAddressPattern } from "./address-pattern.ts";

const matches = (pattern: string, address: string) => {
  const read = readAddressPattern(pattern);
  return read !== null && matchesAddress(read, address);
};

describe("address patterns (OSC 1.0, “OSC Message Dispatching and Pattern Matching”)", () => {
  test.each<[string, string, boolean]>([
    ["/a/b", "/a/b", true],
    ["/a/b", "/a/bc", false],
    ["/a/?", "/a/b", true],
    ["/a/?", "/a/", false],
    ["/a?b", "/a/b", false],
    ["/a/*", "/a/", true],
    ["/a/*", "/a/bcd", true],
    ["/a/*", "/a/b/c", false],
    ["/*/b", "/anything/b", true],
    ["/a*c*e", "/abcde", true],
    ["/a*c*e", "/abcd", false],
    ["/a/**", "/a/b", true],
    ["/fader[123]", "/fader2", true],
    ["/fader[123]", "/fader4", false],
    ["/fader[1-8]", "/fader8", true],
    ["/fader[8-1]", "/fader3", true],
    ["/fader[!1-8]", "/fader9", true],
    ["/fader[!1-8]", "/fader3", false],
    ["/fader[!1]", "/fader/", false],
    ["/x[a-]", "/x-", true],
    ["/x[]", "/xa", false],
    ["/cue/{go,stop}", "/cue/stop", true],
    ["/cue/{go,stop}", "/cue/gone", false],
    ["/cue/{go,gone}", "/cue/gone", true],
    ["/cue/{,back/}go", "/cue/go", true],
    ["/{cue,list}/[1-3]/*", "/list/2/name", true],
    ["/cue/{go", "/cue/go", false],
    ["/cue/[1", "/cue/1", false],
  ])("%s and %s: %s", (pattern, address, expected) => {
    expect(matches(pattern, address)).toBe(expected);
  });
  test("an address that is no pattern matches itself and is told from one", () => {
    fc.assert(
      fc.property(fc.stringMatching(/^(\/[a-z0-9.-]{1,8}){1,4}$/), (address) => {
        expect([isAddressPattern(address), matches(address, address)]).toEqual([false, true]);
      }),
    );
    expect(["/a?", "/a*", "/[a]", "/{a}"].every(isAddressPattern)).toBe(true);
  });
  test("no pattern throws, and what a person would fear is done at once", () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom(..."/a*?[]{}!-,b"), maxLength: 40 }),
        fc.string(),
        (pattern, address) => {
          matches(pattern, address);
        },
      ),
      { numRuns: 2000 },
    );
    const address = `/${"a".repeat(4000)}`;
    expect(matches(`/${"*a".repeat(120)}b`, address)).toBe(false);
    expect(matches(`/${"{a,aa,aaa}".repeat(25)}b`, address)).toBe(false);
    expect(readAddressPattern("a".repeat(257))).toBeNull();
  });
});
