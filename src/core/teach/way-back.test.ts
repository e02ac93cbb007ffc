import { describe, expect, test } from "vitest";
import { Control, type ControlMessage, MotorMessage } from "../format/surface-profile.ts";
import { levelBytes, ringOf, wayBack } from "./way-back.ts";

describe("where a level is shown", () => {
  test.each<[ControlMessage, number[][], number[][]]>([
    [{ kind: "controller", channel: 3, number: 21 }, [[0xb2, 21, 0]], [[0xb2, 21, 127]]],
    [{ kind: "bend", channel: 9 }, [[0xe8, 0, 0]], [[0xe8, 127, 127]]],
    [{ kind: "relative", channel: 1, number: 16, encoding: "twos-complement" }, [[0xb0, 16, 0]], [[0xb0, 16, 127]]],
    [{ kind: "clicks", channel: 1, number: 16, right: 1, left: 127 }, [[0xb0, 16, 0]], [[0xb0, 16, 127]]],
    [
      { kind: "controller-14", channel: 1, number: 7 },
      [
        [0xb0, 7, 0],
        [0xb0, 39, 0],
      ],
      [
        [0xb0, 7, 127],
        [0xb0, 39, 127],
      ],
    ],
  ])(
    "of %j: back to its own message, and such a motor and ring are ones that a profile may have",
    (sends, low, high) => {
      const way = wayBack(sends)!;
      expect([levelBytes(way, 0), levelBytes(way, 1)]).toEqual([low, high]);
      expect(MotorMessage.safeParse(way).success).toBe(true);
      const ring = ringOf(way);
      expect(ring === null).toBe(sends.kind === "bend");
      if (ring) expect(Control.shape.ring.safeParse(ring).success).toBe(true);
    },
  );

  test("what carries no level has none", () => {
    expect(wayBack({ kind: "note", channel: 1, number: 1 })).toBeNull();
    expect(wayBack({ kind: "transport", message: "start" })).toBeNull();
  });
});
