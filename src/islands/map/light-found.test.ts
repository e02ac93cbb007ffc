import { describe, expect, test } from "vitest";
import { Control, SurfaceProfile } from "../../core/format/surface-profile.ts";
import { lightOf, unknownKind } from "../../core/teach/board.ts";
import { litBy } from "./light-found.ts";

const RED = { name: "red", colour: "#e5484d", value: 5 };

function control(id: string, kind: "note" | "controller", number: number, profile: SurfaceProfile): Control {
  const sends = { kind, channel: 1, number } as const;
  const box = { x: number % 8, y: Math.floor(number / 8), width: 1, height: 1 };
  const light = lightOf(profile, sends);
  return { id, name: id, kind: "pad", behaviour: "springs-back", box, sends, ...(light ? { light } : {}) };
}

function kindOf(...made: ["note" | "controller", number][]): SurfaceProfile {
  const empty = unknownKind("k", "Cliff");
  return { ...empty, controls: made.map(([kind, n]) => control(`${kind}-${n}`, kind, n, empty)) };
}

/** The kind with the edits done. */
function changed(profile: SurfaceProfile, edits: ReturnType<typeof litBy>): SurfaceProfile {
  let now = profile;
  for (const e of edits)
    if (e.kind === "change-surface-profile") now = { ...now, palettes: e.set.palettes ?? now.palettes };
    else if (e.kind === "change-control")
      now = {
        ...now,
        controls: now.controls.map((c) =>
          c.id === e.id ? Control.parse({ ...c, light: e.set.light ?? undefined }) : c,
        ),
      };
  return SurfaceProfile.parse(now);
}

describe("what the light probe finds", () => {
  test("the first colour takes the place of what was supposed, the next stands beside it", () => {
    const kind = kindOf(["note", 1], ["note", 2]);
    const red = changed(kind, litBy(kind, kind.controls[0]!, kind.palettes[0]!, RED));
    expect(red.palettes.map((p) => p.colours.map((c) => [c.name, c.full]))).toEqual([[["red", 5]]]);
    const both = changed(red, litBy(red, red.controls[1]!, red.palettes[0]!, { ...RED, name: "orange", value: 9 }));
    expect(both.palettes[0]!.colours.map((c) => c.name)).toEqual(["red", "orange"]);
    const again = changed(both, litBy(both, both.controls[1]!, both.palettes[0]!, { ...RED, name: "pink", value: 9 }));
    expect(again.palettes[0]!.colours.map((c) => c.name)).toEqual(["red", "pink"]);
  });

  test("notes and controllers that shared a palette have one each, and the pads keep theirs", () => {
    const kind = kindOf(["note", 1], ["controller", 2], ["controller", 3]);
    const now = changed(kind, litBy(kind, kind.controls[1]!, kind.palettes[0]!, RED));
    const [first, second] = now.palettes;
    expect(now.controls.map((c) => c.light?.palette)).toEqual([first!.id, second!.id, second!.id]);
    expect([first!.colours, second!.colours.map((c) => c.name)]).toEqual([kind.palettes[0]!.colours, ["red"]]);
  });

  test("those that were said to have no light have one now", () => {
    const kind = kindOf(["note", 1], ["note", 2]);
    const dark = { ...kind, controls: kind.controls.map(({ light: _, ...c }) => c) };
    const now = changed(dark, litBy(dark, dark.controls[0]!, dark.palettes[0]!, RED));
    expect(now.controls.map((c) => [c.light?.number, c.light?.palette])).toEqual([
      [1, now.palettes[0]!.id],
      [2, now.palettes[0]!.id],
    ]);
  });
});
