import { beforeEach, describe, expect, test } from "vitest";
import { hexBytes, parseHexBytes } from "../../core/midi/hex.ts";
import { Instrument } from "./instrument.ts";

let instrument: Instrument;
beforeEach(() => {
  instrument = new Instrument();
});
const hear = (hex: string) => {
  const { out, as } = instrument.hear(parseHexBytes(hex)!);
  return [as, ...out.map((b) => hexBytes(b))];
};

describe("the stand-in instrument, as PROTOCOL.md says", () => {
  test.each<[string, string, string[]]>([
    ["the first kit", "C9 08", ["done", "C9 08"]],
    ["the last", "C9 17", ["done", "C9 17"]],
    ["a program below them", "C9 07", ["unknown kit"]],
    ["a program above them", "C9 18", ["unknown kit"]],
    ["a program of another channel", "C0 08", ["not for it"]],
    ["volume", "B9 07 40", ["done", "B9 07 40"]],
    ["another controller", "B9 0A 40", ["not for it"]],
    [
      "who it is",
      "F0 7E 7F 06 01 F7",
      ["answered", "F0 7E 00 06 02 7D 42 00 01 00 01 00 00 00 F7"], // MIDI 1.0, "General Information"
    ],
    ["another’s SysEx", "F0 7D 43 00 F7", ["not for it"]],
  ])("%s", (_name, hex, wanted) => {
    expect(hear(hex)).toEqual(wanted);
  });
  test("it tells all names and colours, then where it stands", () => {
    hear("C9 0A");
    const all = hear("F0 7D 42 00 F7").slice(1);
    expect(all).toHaveLength(16 * 2 + 2);
    expect(all[0]).toBe(`F0 7D 42 01 08 ${hexBytes(new TextEncoder().encode("Ship bells"))} F7`);
    expect(all[1]).toBe(`F0 7D 42 02 08 ${hexBytes(new TextEncoder().encode("#d8b066"))} F7`);
    expect(all.slice(-2)).toEqual(["C9 0A", "B9 07 64"]);
  });
  test("a hand at the instrument is told too, and only what there is", () => {
    expect(instrument.choose(16)?.map((b) => hexBytes(b))).toEqual(["C9 17"]);
    expect([instrument.choose(17), instrument.turnVolume(128)]).toEqual([null, null]);
  });
  test("keys sound until they are let go, also by velocity 0", () => {
    hear("99 3C 40");
    hear("99 40 40");
    hear("99 3C 00");
    expect(instrument.sounding).toEqual([0x40]);
  });
});
