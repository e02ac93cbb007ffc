import { readFileSync } from "node:fs";
import { describe, expect, test } from "vitest";
import type { DeskProfile } from "../format/desk-profile.ts";
import type { Control, SurfaceProfile } from "../format/surface-profile.ts";
import { fitsRow, likelyFunctions, stripsOf } from "./strips.ts";

const read = (file: string) => JSON.parse(readFileSync(`profiles/${file}.json`, "utf8"));
const tide = read("tide-strips.surface") as SurfaceProfile;
const grid = read("deck-grid.surface") as SurfaceProfile;
const sound = read("undertow-sound.desk") as DeskProfile;
const channelFunctions = sound.functions.filter((f) => f.parameters.includes("channel"));
const ids = (controls: readonly (Control | null)[]) => controls.map((c) => c?.id ?? null);

describe("strips", () => {
  test("are the columns under the longest row; what stands in none is left out", () => {
    const strips = stripsOf(tide.controls)!;
    expect([strips.columns, strips.rows.map((r) => r.name)]).toEqual([8, ["Knob", "Push", "Select", "Mute", "Fader"]]);
    expect(ids(strips.rows[3]!.controls)).toEqual([1, 2, 3, 4, 5, 6, 7, 8].map((n) => `mute-${n}`));
    expect(strips.beside).toHaveLength(8);
  });

  test("in whatever order they were chosen, and with holes where a column has none", () => {
    const some = tide.controls.filter((c) => !["mute-2", "mute-5"].includes(c.id)).toReversed();
    const strips = stripsOf(some)!;
    expect(ids(strips.rows[3]!.controls)).toEqual([
      "mute-1",
      null,
      "mute-3",
      "mute-4",
      null,
      "mute-6",
      "mute-7",
      "mute-8",
    ]);
  });

  test("need two rows and two columns", () => {
    const of = (pattern: RegExp) => stripsOf(tide.controls.filter((c) => pattern.test(c.id)));
    expect([of(/^fader/), of(/-1$/), stripsOf([])]).toEqual([null, null, null]);
    expect(of(/^(fader|mute)-[12]$/)?.columns).toBe(2);
  });

  test("pads in a grid are strips as well", () => {
    const pads = stripsOf(grid.controls.filter((c) => c.kind === "pad"))!;
    expect([pads.columns, pads.rows.length]).toEqual([6, 5]);
  });
});

describe("likely functions", () => {
  test("by name, then by what the controls are, and none twice", () => {
    const { rows } = stripsOf(tide.controls)!;
    expect(likelyFunctions(rows, channelFunctions).map((f) => f?.id ?? null)).toEqual([
      "channel.pan",
      null,
      "channel.select",
      "channel.mute",
      "channel.level",
    ]);
    const pads = stripsOf(grid.controls.filter((c) => c.kind === "pad"))!;
    expect(likelyFunctions(pads.rows, channelFunctions)).toEqual([null, null, null, null, null]);
  });

  test("whatever is proposed can be driven by the row", () => {
    for (const profile of [tide, grid]) {
      const strips = stripsOf(profile.controls);
      if (!strips) continue;
      likelyFunctions(strips.rows, sound.functions).forEach((fn, i) => {
        if (fn) expect(fitsRow(strips.rows[i]!, fn)).toBe(true);
      });
    }
  });
});
