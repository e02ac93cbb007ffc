import { describe, expect, test } from "vitest";
import { profiles, showWith, vision } from "../../../tests/rig/shows.ts";
import { parseFreeMessage, toDesk } from "../../core/desk/free-message.ts";
import { compileShow } from "../../core/mapping/compile.ts";
import { firstMessage, messageFor } from "./own-message.ts";

const plain = showWith([]);
const compiled = compileShow({ ...plain, desks: [...plain.desks, vision] }, profiles);

describe("a message of one’s own", () => {
  test("begins as what its target speaks: OSC, a line, or MIDI", () => {
    expect(["lights", "vision", "deck"].map((id) => firstMessage(compiled, id))).toEqual([
      "/example {value}",
      "example {value}",
      "B0 07 {value}",
    ]);
  });

  test("what is proposed is taken", () => {
    for (const { profile, id } of compiled.desks)
      expect(parseFreeMessage(firstMessage(compiled, id), toDesk(profile.wire)), id).toMatchObject({ ok: true });
  });

  test("stays where another target takes it, and begins anew where it does not", () => {
    expect(messageFor(compiled, "vision", "cut 1")).toBe("cut 1");
    expect(messageFor(compiled, "lights", "cut 1")).toBe("/example {value}");
    expect(messageFor(compiled, "deck", "/level 1")).toBe("B0 07 {value}");
    expect(messageFor(compiled, "lights", "/level 1")).toBe("/level 1");
  });
});
