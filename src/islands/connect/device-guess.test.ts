import { describe, expect, test } from "vitest";
import { library } from "../../../tests/rig/shows.ts";
import type { SurfaceProfile } from "../../core/format/surface-profile.ts";
import { rememberedKinds, rememberKind } from "../live/remembered-kinds.ts";
import { TAUGHT } from "./add-taught.ts";
import { guessKind, type Known } from "./device-guess.ts";

const deck = library.surfaces.find((p) => p.id === "deck-grid")!;
const heard = (...notes: number[]) =>
  notes.map((n, i) => ({ source: "u", atMs: i, bytes: Uint8Array.from([0x90, n, 1]) }));
const device = (more: Partial<Known>): Known => ({
  name: "Some unit",
  heard: [],
  identity: undefined,
  before: undefined,
  ...more,
});
const guessed = (more: Partial<Known>, profiles: readonly SurfaceProfile[] = library.surfaces) =>
  guessKind(device(more), profiles).kind;

describe("one guess of what a device is", () => {
  test("nothing known: it is taught as it is touched", () => {
    expect(guessed({})).toBe(TAUGHT);
    expect(guessed({ heard: heard(1, 2, 3) })).toBe(TAUGHT);
  });
  test("what it says of itself comes first, then what it was before, then its name, then what was heard", () => {
    const known = { ...deck, id: "known", name: "Known", identity: "7D 01 02 03 04" };
    const all = [...library.surfaces, known];
    const more = { identity: "7d 01 02 03 04", before: "tide-strips", name: "Pocket keys", heard: heard(36, 37, 38) };
    expect(guessed(more, all)).toBe("known");
    expect(guessed({ ...more, identity: undefined }, all)).toBe("tide-strips");
    expect(guessed({ ...more, identity: undefined, before: undefined }, all)).toBe("pocket-keys");
    expect(guessed({ heard: more.heard })).toBe("deck-grid");
  });
  test("one message speaks for nothing, and a kind that is gone is no kind", () => {
    expect(guessed({ heard: heard(36) })).toBe(TAUGHT);
    expect(guessed({ before: "gone" })).toBe(TAUGHT);
  });
  test("how well each fits stands beside it", () => {
    const { options } = guessKind(device({ heard: heard(36, 37, 127) }), [deck]);
    expect(options.map((o) => o.label)).toEqual(["a surface I teach as I touch", "Deck grid, fits 67 %"]);
  });
});

describe("kinds that are remembered by the names of devices", () => {
  const storage = () => {
    const kept = new Map<string, string>();
    return { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => void kept.set(k, v) };
  };
  test("by id or whole, the newest of forty", () => {
    const s = storage();
    for (let i = 0; i < 45; i++) rememberKind(s, `Unit ${i}`, i % 2 ? "deck-grid" : deck);
    expect(Object.keys(rememberedKinds(s))).toHaveLength(40);
    expect(rememberedKinds(s)["Unit 44"]).toMatchObject({ id: "deck-grid" });
  });
  test.each(["", "{", "null", "[1]", '{"x": 3, "y": {"id": 1}}'])(
    "what is kept as %j is no kind and no fault",
    (text) => {
      const s = storage();
      s.setItem("velvet-hinge.kinds", text);
      expect(rememberedKinds(s)).toEqual({});
    },
  );
});
