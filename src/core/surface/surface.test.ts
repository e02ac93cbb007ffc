import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { library } from "../../../tests/rig/shows.ts";
import type { Control } from "../format/surface-profile.ts";
import { COMMAND_DATA, decodeShowControl, SHOW_COMMANDS, type ShowCommand } from "../midi/show-control.ts";
import { controlState, LIGHT_MODE } from "./look.ts";
import { lightOf, lightValue, nearestColour } from "./palette.ts";
import { moveBytes, pressBytes } from "./press-bytes.ts";

const palette = library.surfaces[0]!.palettes[0]!;

describe("rule 17: desk colours map to the nearest the surface has", () => {
  test("a colour the surface has is itself", () => {
    for (const c of palette.colours) expect(nearestColour(palette, c.colour).name).toBe(c.name);
  });
  test.each([
    ["#ff0000", "red"],
    ["#00ff00", "lime"],
    ["#0000ff", "indigo"],
    ["#ffffff", "white"],
    ["#ffcc00", "yellow"],
    ["#808080", "slate"],
  ])("%s is nearest to %s, as eyes judge", (colour, name) => {
    expect(nearestColour(palette, colour).name).toBe(name);
  });
  test("an alpha channel is left out, and what is no colour takes the first", () => {
    expect(nearestColour(palette, "#4fa3c7ff").name).toBe("blue");
    expect(nearestColour(palette, "blue?").name).toBe(palette.colours[0]!.name);
  });
  test("every light survives the way over the wire", () => {
    for (const c of palette.colours)
      for (const mode of ["dim", "full", "pulse"] as const)
        expect(lightOf(palette, lightValue(palette, mode, c.colour))).toEqual({ mode, colour: c.colour });
    expect(lightOf(palette, lightValue(palette, "off", "#ffffff")).mode).toBe("off");
    expect(lightOf(palette, 127).mode).toBe("off");
  });
  test("no two lights share a value", () => {
    const values = palette.colours.flatMap((c) => [c.dim, c.full, c.pulse]);
    expect(new Set([palette.off, ...values]).size).toBe(values.length + 1);
  });
});

describe("the state of a control", () => {
  const facts = { mapped: true, held: false, silent: false, unconfirmed: false, value: null };
  test.each([
    [{ ...facts, mapped: false, held: true }, "free"],
    [{ ...facts, silent: true, unconfirmed: true, value: 1 }, "silent"],
    [{ ...facts, unconfirmed: true, value: 1 }, "unconfirmed"],
    [{ ...facts, value: 0.01 }, "on"],
    [{ ...facts, value: 0, held: true }, "available"],
    [{ ...facts, held: true }, "held"],
    [facts, "available"],
  ])("%o is %s", (f, wanted) => {
    expect(controlState(f)).toBe(wanted);
  });
  test("what needs attention never looks like what is well", () => {
    for (const state of ["silent", "unconfirmed"] as const) expect(LIGHT_MODE[state]).toBe("pulse");
    for (const state of ["on", "available", "held", "free"] as const) expect(LIGHT_MODE[state]).not.toBe("pulse");
  });
});

describe("an on-screen control sends what a real one sends", () => {
  const control = (sends: Control["sends"]): Control => ({
    id: "c",
    name: "C",
    kind: "fader",
    behaviour: "absolute",
    box: { x: 0, y: 0, width: 1, height: 1 },
    sends,
  });
  test.each<[string, Uint8Array, number[]]>([
    ["a pad pressed", pressBytes(control({ kind: "note", channel: 2, number: 60 }), true), [0x91, 60, 127]],
    ["a pad let go", pressBytes(control({ kind: "note", channel: 2, number: 60 }), false), [0x81, 60, 64]],
    [
      "a button on a controller",
      pressBytes(control({ kind: "controller", channel: 1, number: 7 }), true),
      [0xb0, 7, 127],
    ],
    ["and let go", pressBytes(control({ kind: "controller", channel: 1, number: 7 }), false), [0xb0, 7, 0]],
    ["a fader half way", moveBytes(control({ kind: "controller", channel: 1, number: 7 }), 0.5), [0xb0, 7, 64]],
    ["a fader past its end", moveBytes(control({ kind: "controller", channel: 1, number: 7 }), 1.2), [0xb0, 7, 127]],
    ["a 14-bit fader at its top", moveBytes(control({ kind: "bend", channel: 16 }), 1), [0xef, 127, 127]],
    ["a 14-bit fader in its middle", moveBytes(control({ kind: "bend", channel: 1 }), 8192 / 16_383), [0xe0, 0, 64]],
    ["a key played softly", moveBytes(control({ kind: "note", channel: 1, number: 60 }), 0.001), [0x90, 60, 1]],
    ["a bend pressed", pressBytes(control({ kind: "bend", channel: 1 }), false), [0xe0, 0, 0]],
  ])("%s", (_name, bytes, wanted) => {
    expect([...bytes]).toEqual(wanted);
  });
  test("a command of show control is what its desk would send, whatever the profile leaves open", () => {
    for (const command of Object.keys(SHOW_COMMANDS) as ShowCommand[])
      for (const list of [undefined, "3"]) {
        const sends = {
          kind: "show-control",
          command,
          ...(list && COMMAND_DATA[command].list ? { list } : {}),
        } as const;
        const heard = decodeShowControl(pressBytes(control(sends), true));
        expect(heard).toMatchObject({ device: 127, format: "all", command });
        if ("list" in sends) expect(heard).toMatchObject({ list: "3" });
      }
  });
  test("fourteen bits are not lost on the way", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 16_383 }), (value14) => {
        const [, low, high] = moveBytes(control({ kind: "bend", channel: 1 }), value14 / 16_383);
        expect((high! << 7) | low!).toBe(value14);
      }),
    );
  });
});
