import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { control, encoder, fader, once, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import type { Control, SurfaceProfile } from "../format/surface-profile.ts";
import { controller14Bytes, parameterBytes } from "../midi/compound.ts";
import { parseHexBytes } from "../midi/hex.ts";
import { encodeMachineControl } from "../midi/machine-control.ts";
import { type MessagePart, NO_PART, partNumber } from "../midi/message-parts.ts";
import { MidiParser } from "../midi/parser.ts";
import { encodeShowControl } from "../midi/show-control.ts";
import { fullFrame, quarterFrameValue, timeCodeAt } from "../midi/time-code.ts";
import { compileSurface } from "./compile-surface.ts";
import { expandBanks } from "./internal-banks.ts";
import { SurfaceReader } from "./reader.ts";

const surface = {
  id: "s",
  name: "S",
  profile: "test-surface",
  in: { kind: "none" },
  out: { kind: "none" },
} as const;

/** A reader for these controls; what hands did comes out as words. */
function reading(controls: Control[]) {
  const compiled = compileSurface(surface, surfaceProfile(controls), 0);
  const did: string[] = [];
  const name = (c: number) => controls[c]!.id;
  const said = (v: number) => Math.round(v * 16_383);
  const reader = new SurfaceReader(compiled, {
    press: (c, v) => did.push(`${name(c)} press ${said(v)}`),
    release: (c) => did.push(`${name(c)} release`),
    move: (c, v) => did.push(`${name(c)} ${said(v)}`),
    turn: (c, steps) => did.push(`${name(c)} ${steps > 0 ? "+" : ""}${steps}`),
    touch: (c, on) => did.push(`${name(c)} ${on ? "touched" : "let go"}`),
    pressure: (c, v) => did.push(`${name(c)} pressure ${said(v)}`),
  });
  let atMs = 0;
  const parser = new MidiParser({
    short: (status, d1, d2) => {
      if (!reader.short(status, d1, d2, 0, atMs)) did.push("?");
    },
    sysex: (bytes) => {
      const read = reader.sysex(bytes, 0);
      if (read !== "taken") did.push(read === "nobody" ? "?" : read);
    },
    dropped: () => {},
  });
  const play = {
    reader,
    did: () => did.splice(0),
    part: (part: MessagePart) => reader.parts[partNumber(part)]!,
    bytes: (bytes: Uint8Array) => {
      parser.feed(bytes);
      return play;
    },
    hex: (text: string) => play.bytes(parseHexBytes(text)!),
    wait: (ms: number) => {
      atMs += ms;
      reader.due(atMs);
      return play;
    },
  };
  return play;
}

describe("rule 3: a surface's values in full resolution", () => {
  test("a 14-bit controller: no half-new value, both ends exact", () => {
    const play = reading([fader("f", { kind: "controller-14", channel: 2, number: 7 })]);
    for (const value of [0, 1, 8191, 8192, 16_383]) play.bytes(controller14Bytes(2, 7, value)).wait(20);
    expect(play.did()).toEqual(["f 0", "f 1", "f 8191", "f 8192", "f 16383"]);
  });
  test("its MSB alone moves it over the whole range", () => {
    const play = reading([fader("f", { kind: "controller-14", channel: 1, number: 7 })]);
    play.hex("B0 07 7F").wait(40).hex("B0 07 00");
    expect(play.did()).toEqual(["f 16383", "f 0"]);
  });
  test("parameter numbers, registered or not", () => {
    const play = reading([
      fader("n", { kind: "nrpn", channel: 1, number: 300 }),
      fader("r", { kind: "rpn", channel: 1, number: 300 }),
    ]);
    play
      .bytes(parameterBytes(false, 1, 300, 5000))
      .wait(20)
      .bytes(parameterBytes(true, 1, 300, 16_383))
      .wait(20);
    expect(play.did()).toEqual(["n 5000", "r 16383"]);
    play.hex("B0 60 00 B0 61 00");
    expect(play.did()).toEqual(["r +1", "r -1"]);
  });
  test("a parameter number nobody has is nobody's", () => {
    const play = reading([fader("n", { kind: "nrpn", channel: 1, number: 300 })]);
    expect(
      play
        .bytes(parameterBytes(false, 1, 301, 5000))
        .wait(20)
        .did(),
    ).toEqual(["?", "?"]); // its name says nothing yet, its data entry does
  });
  test("without a parameter number in the profile its controllers stay free for controls", () => {
    expect(
      reading([fader("f", { kind: "bend", channel: 1 })])
        .hex("B0 06 10")
        .did(),
    ).toEqual(["?"]);
  });
  test.each([
    ["twos-complement", "B0 10 02 B0 10 7E"],
    ["sign-bit", "B0 10 02 B0 10 42"],
    ["offset-64", "B0 10 42 B0 10 3E"],
  ] as const)("an encoder of the kind %s", (encoding, hex) => {
    const play = reading([encoder("e", { kind: "relative", channel: 1, number: 16, encoding })]);
    expect(play.hex(hex).did()).toEqual(["e +2", "e -2"]);
  });
  test("an encoder that only clicks", () => {
    const play = reading([encoder("e", { kind: "clicks", channel: 1, number: 16, right: 1, left: 0 })]);
    expect(play.hex("B0 10 01 B0 10 00 B0 10 05").did()).toEqual(["e +1", "e -1", "?"]);
  });
  test("pressure: of a pad, and as a control of its own", () => {
    const play = reading([
      control(
        "p",
        { kind: "note", channel: 1, number: 40 },
        {
          pressure: { kind: "poly-pressure", channel: 1, number: 40 },
        },
      ),
      fader("ch", { kind: "channel-pressure", channel: 2 }),
    ]);
    expect(play.hex("A0 28 7F D1 00 A0 29 10").did()).toEqual(["p pressure 16383", "ch 0", "?"]);
  });
  test("a touch note is a touch and no press", () => {
    const play = reading([
      fader("f", { kind: "bend", channel: 1 }, { touch: { kind: "note", channel: 1, number: 104 } }),
    ]);
    expect(play.hex("90 68 7F 90 68 00").did()).toEqual(["f touched", "f let go"]);
  });
  test("program change: a button by its number, a selector by its place, the bank in front", () => {
    const play = reading([
      once("five", { kind: "program", channel: 1, number: 5 }),
      fader("any", { kind: "program", channel: 2 }),
    ]);
    expect(play.hex("C0 05 C0 06").did()).toEqual(["five press 16383", "?"]);
    play.hex("B1 00 01 B1 20 02 C1 7F");
    expect(play.did()).toEqual(["any 16383"]);
    expect([play.part("number"), play.part("bank"), play.part("value")]).toEqual([127, 130, NO_PART]);
  });
  test("SysEx by its beginning, the longest first, with a value of 7 or 14 bits", () => {
    const play = reading([
      once("any", { kind: "sysex", prefix: "F0 7D" }),
      fader("v7", { kind: "sysex", prefix: "F0 7D 01", valueAt: 0 }),
      fader("v14", { kind: "sysex", prefix: "F0 7D 02", valueAt: 1, bits: 14 }),
    ]);
    play.hex("F0 7D 09 F7 F0 7D 01 7F F7 F0 7D 02 00 7F 7F F7 F0 7D 02 00 F7 F0 7E F7");
    expect(play.did()).toEqual(["any press 16383", "v7 16383", "v14 16383", "?", "?"]);
  });
  test("clock, start, stop, continue and song position", () => {
    const play = reading([
      once("tick", { kind: "transport", message: "clock" }),
      once("go", { kind: "transport", message: "start" }),
      fader("song", { kind: "song-position" }),
    ]);
    expect(play.hex("FA F8 F2 7F 7F FC").did()).toEqual(["go press 16383", "tick press 16383", "song 16383", "?"]);
  });
  test("show and machine control: what the profile leaves out may be anything", () => {
    const play = reading([
      once("twelve", { kind: "show-control", command: "go", cue: "12" }),
      once("go", { kind: "show-control", command: "go" }),
      once("rec", { kind: "machine-control", command: "record", device: 3 }),
    ]);
    play.bytes(encodeShowControl({ device: 1, format: "lighting", command: "go", cue: "12", list: "3" }));
    expect(play.did()).toEqual(["twelve press 16383"]);
    play.bytes(encodeShowControl({ device: 1, format: "lighting", command: "go", cue: "13.5" }));
    expect([play.did(), play.part("cue"), play.part("cue-before"), play.part("cue-after")]).toEqual([
      ["go press 16383"],
      NO_PART,
      13,
      5,
    ]);
    play.bytes(encodeMachineControl({ device: 3, command: "record" }));
    play.bytes(encodeMachineControl({ device: 4, command: "record" }));
    expect(play.did()).toEqual(["rec press 16383", "?"]);
  });
  test("time code is a place in the day, by full and by quarter frames", () => {
    const play = reading([fader("tc", { kind: "time-code" })]);
    const noon = timeCodeAt("25", (framesOf(24) * 25) / 2);
    play.bytes(fullFrame(noon));
    expect(play.did()).toEqual(["tc 8192"]);
    for (let p = 0; p < 8; p++) play.bytes(Uint8Array.of(0xf1, (p << 4) | quarterFrameValue(noon, p)));
    expect(play.did()).toEqual(["tc 8192"]);
    expect(play.reader.timeCode).toEqual({ rate: "25", quarters: (framesOf(24) * 25 * 4) / 2 + 7, direction: 1 });
  });
  test("no bytes at all make it throw", () => {
    const play = reading([
      fader("f", { kind: "controller-14", channel: 1, number: 7 }),
      fader("n", { kind: "nrpn", channel: 1, number: 300 }),
      fader("tc", { kind: "time-code" }),
      once("go", { kind: "show-control", command: "go" }),
      fader("v14", { kind: "sysex", prefix: "F0 7D 02", valueAt: 1, bits: 14 }),
    ]);
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 64 }), (bytes) => {
        play.bytes(bytes).wait(5);
      }),
    );
    expect(play.did().length).toBeGreaterThan(0);
  });
});

function framesOf(hours: number): number {
  return hours * 3600;
}

describe("a surface whose own bank button shifts what it sends", () => {
  const profile: SurfaceProfile = surfaceProfile(
    [
      control("pad", { kind: "note", channel: 1, number: 36 }, { banked: true }),
      control("shift", { kind: "note", channel: 1, number: 100 }),
    ],
    {
      banks: [
        { id: "a", name: "A", channels: 0, numbers: 0 },
        { id: "b", name: "B", channels: 0, numbers: 16 },
        { id: "c", name: "C", channels: 1, numbers: 0 },
      ],
    },
  );
  test("has one control for each bank, each with its own message; what is not banked is there once", () => {
    expect(expandBanks(profile).controls.map((c) => [c.id, c.bank, c.sends])).toEqual([
      ["pad", "a", { kind: "note", channel: 1, number: 36 }],
      ["shift", undefined, { kind: "note", channel: 1, number: 100 }],
      ["pad.b", "b", { kind: "note", channel: 1, number: 52 }],
      ["pad.c", "c", { kind: "note", channel: 2, number: 36 }],
    ]);
  });
  test("a profile without banks is left as it is", () => {
    const plain = surfaceProfile([]);
    expect(expandBanks(plain)).toBe(plain);
  });
});
