import { describe, expect, test } from "vitest";
import { library } from "../../../tests/rig/shows.ts";
import { control, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import { moveBytes, pressBytes } from "../surface/press-bytes.ts";
import { fits } from "./fits.ts";
import { IDENTITY_REQUEST, identityIn, sameIdentity } from "./identity.ts";

const heard = (...all: (number[] | Uint8Array)[]) =>
  all.map((b, i) => ({ source: "u", atMs: i, bytes: Uint8Array.from(b) }));
const own = surfaceProfile([control("a", { kind: "note", channel: 5, number: 99 })], { id: "own" });
const all = [...library.surfaces, own];

describe("which kind it may be", () => {
  test.each(library.surfaces.map((p) => [p.id, p] as const))("what %s sends is taken for it", (id, profile) => {
    const messages = profile.controls.flatMap((c) => {
      const bytes = c.behaviour === "absolute" ? moveBytes(c, 0.3) : pressBytes(c, true);
      return bytes.length > 0 ? [bytes] : [];
    });
    const [best] = fits(all, heard(...messages));
    expect(best!.share).toBe(1);
    expect(
      fits(all, heard(...messages))
        .filter((f) => f.share === 1)
        .map((f) => f.profile),
    ).toContain(id);
  });
  test("half of what was heard is half a fit; a fader that was moved for long counts once", () => {
    const long = Array.from({ length: 40 }, (_, v) => [0xbf, 119, v]);
    expect(fits([own], heard([0x94, 99, 100], [0x84, 99, 0], ...long))).toEqual([{ profile: "own", share: 0.5 }]);
  });
  test("nothing heard, or nothing that fits, is no kind", () => {
    expect(fits(all, [])).toEqual([]);
    expect(fits([own], heard([0x90, 1, 1]))).toEqual([]);
  });
});

describe("what a unit says that it is", () => {
  test("the request is that of the standard", () => {
    expect(IDENTITY_REQUEST).toEqual([0xf0, 0x7e, 0x7f, 0x06, 0x01, 0xf7]);
  });
  test.each([
    ["a maker of one byte", [0xf0, 0x7e, 0x00, 0x06, 0x02, 0x7d, 1, 2, 3, 4, 9, 9, 9, 9, 0xf7], "7D 01 02 03 04"],
    [
      "a maker of three bytes",
      [0xf0, 0x7e, 0x10, 0x06, 0x02, 0, 0x21, 0x7f, 1, 2, 3, 4, 9, 9, 9, 9, 0xf7],
      "00 21 7F 01 02 03 04",
    ],
  ])("%s, family and member", (_, bytes, wanted) => {
    expect(identityIn(Uint8Array.from(bytes))).toBe(wanted);
  });
  test("what is no reply, or cut short, says nothing", () => {
    for (const bytes of [[], [0xf0, 0x7e, 0, 0x06, 0x01, 0xf7], [0xf0, 0x7e, 0, 0x06, 0x02, 0x7d, 1], [0x90, 1, 2]])
      expect(identityIn(Uint8Array.from(bytes))).toBeNull();
  });
  test("capitals and spaces make no difference", () => {
    expect(sameIdentity("7D 01 0a", "7d010A")).toBe(true);
  });
});
