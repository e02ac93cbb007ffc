import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { checkDeskProfile } from "../edit/check-desk-profile.ts";
import { DeskProfile } from "../format/desk-profile.ts";
import { encodeOsc } from "../osc/encode.ts";
import type { OscArgument } from "../osc/types.ts";
import { exampleOf } from "./listen.ts";
import { encodeMessage } from "./message-template.ts";
import { isKnown, likelyUse, readTyped, type TypedAs, typedFunction, unknownDesk, withTyped } from "./typed.ts";
import { saysFor } from "./wire-numbers.ts";

const osc = unknownDesk("k-osc", "House lights", "osc");
const lines = unknownDesk("k-lines", "House switcher", "lines");
const heard = (address: string, ...args: OscArgument[]) =>
  exampleOf(encodeOsc({ kind: "message", address, args }), "osc")!;

describe("what was typed", () => {
  test("an address becomes a level from 0 to 1, its numbers parameters, and the same heard back its state", () => {
    const example = readTyped("/quay/fan/3/level", "osc")!;
    const use = likelyUse([example]);
    expect(use).toMatchObject({ as: "level", type: "f", range: [0, 1], marks: [null, null, "fan", null] });
    const made = typedFunction([example], use, osc);
    expect(made.parameters).toEqual([{ id: "fan", name: "fan", from: 1, to: 8 }]);
    expect(made.fn).toMatchObject({
      name: "fan level",
      acts: "level",
      parameters: ["fan"],
      state: "fan-level",
      send: [{ address: "/quay/fan/{fan}/level", arguments: [{ type: "f", value: "{value}" }] }],
    });
    expect(made.state!.heard).toEqual({ address: "/quay/fan/{fan}/level", argument: 0 });
  });
  test("a line becomes a press with its numbers as parameters; as a level the value stands behind it", () => {
    const example = readTyped("CUT 3", "lines")!;
    const use = likelyUse([example]);
    expect(use).toMatchObject({ as: "press", marks: [null, "cut"] });
    expect(typedFunction([example], use, lines).fn.send).toEqual([{ line: "CUT {cut}" }]);
    const level = typedFunction([example], { ...use, as: "level", range: [0, 100] }, lines);
    expect(level.fn.send).toEqual([{ line: "CUT {cut} {value}" }]);
    expect(level.state!.heard).toEqual({ line: "CUT {cut} {value}" });
  });
  test("arguments behind an address are its constants, or say what its value is like", () => {
    expect(likelyUse([readTyped("/mute/2 1", "osc")!])).toMatchObject({ as: "switch", type: "i" });
    expect(likelyUse([readTyped("/level/2 200", "osc")!])).toMatchObject({ as: "level", type: "i", range: [0, 200] });
    const press = readTyped('/say 3 0.5 "hello there"', "osc")!;
    const { fn } = typedFunction([press], { ...likelyUse([press]), as: "press" }, osc);
    expect(fn.send).toEqual([
      {
        address: "/say",
        arguments: [
          { type: "i", value: 3 },
          { type: "f", value: 0.5 },
          { type: "s", value: "hello there" },
        ],
      },
    ]);
  });
  test.each(["", "  ", "quay", "//", "/a//b", "/*", "/a,b"])("%j is no address", (text) => {
    expect(readTyped(text, "osc")).toBeNull();
  });
  test("an empty line is no line", () => {
    expect(readTyped("  ", "lines")).toBeNull();
  });
});

describe("what was heard", () => {
  test("several of one shape tell the range of parameter and value", () => {
    const all = [heard("/ch/1/gain", { type: "i", value: 3 }), heard("/ch/12/gain", { type: "i", value: 90 })];
    const use = likelyUse(all);
    expect(use).toMatchObject({ as: "level", type: "i", range: [0, 90] });
    expect(typedFunction(all, use, osc).parameters).toEqual([{ id: "ch", name: "ch", from: 1, to: 12 }]);
  });
  test("what a function or state covers is known, whatever its numbers", () => {
    const example = readTyped("/quay/fan/3/level", "osc")!;
    const profile = withTyped(osc, typedFunction([example], likelyUse([example]), osc));
    expect(isKnown(profile, heard("/quay/fan/7/level", { type: "f", value: 0.2 }))).toBe(true);
    expect(isKnown(profile, heard("/quay/fan/7/mute", { type: "f", value: 0.2 }))).toBe(false);
    const line = readTyped("CUT 3", "lines")!;
    expect(
      isKnown(withTyped(lines, typedFunction([line], likelyUse([line]), lines)), readTyped("CUT 8", "lines")!),
    ).toBe(true);
  });
});

describe("whatever is typed, in whatever way it is meant", () => {
  const word = fc.constantFrom("quay", "fan", "3", "12", "level", "Go", "0", "a-b", "x.y");
  test("makes a profile that holds, and bytes that can be sent", () => {
    fc.assert(
      fc.property(
        fc.array(word, { minLength: 1, maxLength: 5 }),
        fc.constantFrom<TypedAs>("level", "switch", "press", "text"),
        fc.boolean(),
        (words, as, isOsc) => {
          const empty = isOsc ? osc : lines;
          const example = readTyped(isOsc ? `/${words.join("/")}` : words.join(" "), isOsc ? "osc" : "lines")!;
          const use = likelyUse([example]);
          const made = typedFunction([example], { ...use, as }, empty);
          const profile = withTyped(empty, made);
          expect(DeskProfile.safeParse(profile).error).toBeUndefined();
          expect(checkDeskProfile(profile)).toEqual([]);
          const parameters = made.fn.parameters.map((id) => profile.parameters.find((p) => p.id === id)!);
          const bytes = encodeMessage(
            made.fn.send[0]!,
            saysFor(
              parameters,
              parameters.map((p) => p.from),
              1,
            ),
          );
          expect(bytes.length).toBeGreaterThan(0);
        },
      ),
      { numRuns: 400 },
    );
  });
});
