import { describe, expect, test } from "vitest";
import { profiles, showWith } from "../../../tests/rig/shows.ts";
import { control, encoder, fader, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import { told } from "../../../tests/rig/told.ts";
import { shippedProfiles } from "../../server/profiles.ts";
import { checkSurfaceProfile } from "../edit/check-surface-profile.ts";
import { profilesOf } from "../format/profiles.ts";
import type { Show } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import { compileShow } from "../mapping/compile.ts";
import { keyWord, playedKeys } from "./computer-keys.ts";

const KINDS = surfaceProfile([
  control("go", { kind: "note", channel: 16, number: 60 }, { keys: ["Space"] }),
  control("once", { kind: "program", channel: 1, number: 5 }, { behaviour: "one-shot", keys: ["KeyQ"] }),
  encoder(
    "level",
    { kind: "relative", channel: 16, number: 20, encoding: "twos-complement" },
    {
      keys: ["ArrowDown", "ArrowUp"],
    },
  ),
]);

function keysOf(surfaces: Show["surfaces"], kinds = [KINDS]) {
  const all = profilesOf([...profiles.surfaces.values(), ...kinds], [...profiles.desks.values()]);
  return playedKeys(compileShow({ ...showWith([]), surfaces }, all).surfaces);
}
const surface = (id: string, more: Partial<Show["surfaces"][number]> = {}): Show["surfaces"][number] => ({
  id,
  name: id,
  profile: KINDS.id,
  in: { kind: "screen" },
  out: { kind: "screen" },
  ...more,
});

describe("the keys of a computer", () => {
  test("press and let go, or turn a step, with the bytes the control sends", () => {
    const keys = keysOf([surface("a")]);
    expect([...keys].map(([code, k]) => [code, k.control, [...k.down], k.up && [...k.up]])).toEqual([
      ["Space", "go", [0x9f, 60, 127], [0x8f, 60, 64]],
      ["KeyQ", "once", [0xc0, 5], []],
      ["ArrowDown", "level", [0xbf, 20, 127], null],
      ["ArrowUp", "level", [0xbf, 20, 1], null],
    ]);
  });
  test("play the first surface that has them, and none whose bytes come from elsewhere", () => {
    const real = surface("real", { in: { kind: "cable", name: "c" } });
    expect(keysOf([real, surface("b"), surface("c")]).get("Space")!.surface).toBe("b");
    expect(keysOf([real]).size).toBe(0);
  });
  test("of our own profile are all there", () => {
    const own = shippedProfiles().surfaces.find((s) => s.id === "computer-keys")!;
    const keys = keysOf([surface("k", { profile: own.id })], [own]);
    expect(keys.size).toBe(41); // 26 letters, 10 digits, space, two pairs of arrows
    expect([keys.get("KeyA")!.control, keys.get("Digit0")!.control, keys.get("ArrowLeft")!.control]).toEqual([
      "key-a",
      "key-0",
      "left-right",
    ]);
  });
  test("are called by what stands on them", () => {
    expect(["KeyQ", "Digit1", "Space", "ArrowUp", "F5"].map(keyWord)).toEqual(["Q", "1", "Space", "↑", "F5"]);
  });
  const checked = (...controls: Control[]) => checkSurfaceProfile(surfaceProfile(controls)).map(told);
  const note = { kind: "note", channel: 1, number: 1 } as const;
  test.each<[string, string[], string]>([
    [
      "a pair for what is pressed",
      checked(control("a", note, { keys: ["KeyA", "KeyB"] })),
      "controls[0].keys: one key presses it.",
    ],
    [
      "one key for what turns",
      checked(encoder("a", { kind: "relative", channel: 1, number: 1, encoding: "offset-64" }, { keys: ["KeyA"] })),
      "controls[0].keys: two keys turn it: one down, one up.",
    ],
    [
      "a key for a fader",
      checked(fader("a", { kind: "bend", channel: 1 }, { keys: ["KeyA"] })),
      "controls[0].keys: a fader is not pressed: no key can play it.",
    ],
    [
      "a key twice",
      checked(control("a", note, { keys: ["KeyA"] }), control("b", { ...note, number: 2 }, { keys: ["KeyA"] })),
      "controls[1].keys[0]: duplicate id: there is another key “KeyA”.",
    ],
  ])("%s is refused", (_name, problems, words) => {
    expect(problems).toEqual([words]);
  });
});
