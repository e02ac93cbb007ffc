import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { hexBytes } from "./hex.ts";
import {
  decodeMachineControl,
  encodeMachineControl,
  MACHINE_COMMANDS,
  type MachineCommand,
} from "./machine-control.ts";
import { decodeShowControl, encodeShowControl, SHOW_COMMANDS, SHOW_FORMATS, type ShowControl } from "./show-control.ts";
import {
  frameCount,
  framesADay,
  fullFrame,
  quarterFrameValue,
  readFullFrame,
  TIME_CODE_RATES,
  type TimeCode,
  TimeCodeReader,
  timeCodeAt,
  timeCodeWords,
} from "./time-code.ts";

const rate = fc.constantFrom(...TIME_CODE_RATES);
const anyTime: fc.Arbitrary<TimeCode> = fc
  .tuple(rate, fc.nat(3_000_000))
  .map(([r, n]) => timeCodeAt(r, n % framesADay(r)));

describe("rule 3: time code", () => {
  test("frame count and time are each other's reverse, at every rate", () => {
    fc.assert(
      fc.property(rate, fc.nat(3_000_000), (r, n) => {
        const count = n % framesADay(r);
        expect(frameCount(timeCodeAt(r, count))).toBe(count);
      }),
    );
  });
  test.each([
    ["00:00:59;29", "00:01:00;02"],
    ["00:09:59;29", "00:10:00;00"],
    ["23:59:59;29", "00:00:00;00"],
  ])("drop-frame: after %s comes %s", (before, after) => {
    const [hours, minutes, seconds, frames] = before.split(/[:;]/).map(Number) as [number, number, number, number];
    const count = frameCount({ rate: "30-drop", hours, minutes, seconds, frames });
    expect(timeCodeWords(timeCodeAt("30-drop", count + 1))).toBe(after);
  });
  test("an hour of drop-frame is 108 numbers short of an hour of 30", () => {
    expect(frameCount({ rate: "30-drop", hours: 1, minutes: 0, seconds: 0, frames: 0 })).toBe(108_000 - 108);
  });
  test("full messages are read as they were written", () => {
    fc.assert(
      fc.property(anyTime, (t) => {
        expect(readFullFrame(fullFrame(t))).toEqual(t);
      }),
    );
    expect(readFullFrame(Uint8Array.of(0xf0, 0x7f, 0x7f, 1, 1, 0x3f, 99, 0, 0, 0xf7))).toBeNull();
  });
  test("eight quarter frames in a row tell the time, forwards and backwards, and each further one a quarter more", () => {
    fc.assert(
      fc.property(anyTime, fc.boolean(), (t, backwards) => {
        const reader = new TimeCodeReader();
        const start = frameCount(t);
        const step = backwards ? -1 : 1;
        const said: (number | undefined)[] = [];
        // Two times in a row: the second stands two frames on.
        for (const [n, frames] of [0, 2 * step].entries()) {
          const time = timeCodeAt(t.rate, start + frames);
          for (let k = 0; k < 8; k++) {
            const piece = backwards ? 7 - k : k;
            said[n * 8 + k] = reader.quarter(piece, quarterFrameValue(time, piece))?.quarters;
          }
        }
        expect(said.slice(0, 7)).toEqual(Array(7).fill(undefined));
        const first = said[7]!;
        expect(first).toBe(start * 4 + (backwards ? 0 : 7));
        // Up to the last piece, which reads the time anew (and so passes midnight).
        expect(said.slice(8, 15)).toEqual(Array.from({ length: 7 }, (_, k) => first + step * (k + 1)));
        expect(said[15]).toBe(frameCount(timeCodeAt(t.rate, start + 2 * step)) * 4 + (backwards ? 0 : 7));
      }),
    );
  });
  test("a jump makes the reader start anew in the place of guessing", () => {
    const reader = new TimeCodeReader();
    const t = timeCodeAt("25", 1000);
    for (let p = 0; p < 8; p++) reader.quarter(p, quarterFrameValue(t, p));
    expect(reader.quarter(4, 0)).toBeNull();
    expect(reader.full(t).quarters).toBe(4000);
    expect(reader.quarter(0, 0)).toBeNull();
  });
  test("no piece and no value makes it throw or leave the day", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(7), fc.nat(15)), { maxLength: 80 }), (pieces) => {
        const reader = new TimeCodeReader();
        for (const [piece, value] of pieces) {
          const at = reader.quarter(piece, value);
          if (at) expect(Math.abs(at.quarters)).toBeLessThan(framesADay(at.rate) * 4 + 16);
        }
      }),
    );
  });
});

const cue = fc.tuple(fc.nat(999), fc.option(fc.nat(99))).map(([a, b]) => (b === null ? `${a}` : `${a}.${b}`));
const anyShowControl: fc.Arbitrary<ShowControl> = fc
  .record({
    device: fc.nat(127),
    format: fc.constantFrom(...(Object.keys(SHOW_FORMATS) as (keyof typeof SHOW_FORMATS)[])),
    command: fc.constantFrom(...(Object.keys(SHOW_COMMANDS) as (keyof typeof SHOW_COMMANDS)[])),
    cues: fc.array(cue, { maxLength: 3 }),
    n: fc.nat(16_383),
  })
  .map(({ device, format, command, cues, n }) => {
    const head = { device, format, command };
    if (command === "set") return { ...head, control: n, value: 16_383 - n };
    if (command === "fire") return { ...head, macro: n & 127 };
    const named = Object.fromEntries(["cue", "list", "path"].slice(0, cues.length).map((k, i) => [k, cues[i]]));
    return command === "timed-go" ? { ...head, time: [1, 2, 3, 4, 5], ...named } : { ...head, ...named };
  });

describe("show control", () => {
  test("every message is read as it was written", () => {
    fc.assert(
      fc.property(anyShowControl, (m) => {
        expect(decodeShowControl(encodeShowControl(m))).toEqual(m);
      }),
    );
  });
  test("go, cue 12.5 of list 3, to lighting on device 1", () => {
    const bytes = encodeShowControl({ device: 1, format: "lighting", command: "go", cue: "12.5", list: "3" });
    expect(hexBytes(bytes)).toBe("F0 7F 01 02 01 01 31 32 2E 35 00 33 F7");
  });
  test("what is no cue number is refused on the way out and not understood on the way in", () => {
    expect(() => encodeShowControl({ device: 1, format: "sound", command: "go", cue: "12a" })).toThrow("“12a”");
    expect(decodeShowControl(Uint8Array.of(0xf0, 0x7f, 1, 2, 1, 1, 0x41, 0xf7))).toBeNull();
  });
  test("no bytes make it throw", () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 24 }), (bytes) => {
        decodeShowControl(bytes);
        decodeMachineControl(bytes);
        readFullFrame(bytes);
      }),
    );
  });
});

describe("machine control", () => {
  test("every message is read as it was written", () => {
    fc.assert(
      fc.property(
        fc.nat(127),
        fc.constantFrom(...(Object.keys(MACHINE_COMMANDS) as MachineCommand[])),
        anyTime,
        (device, command, time) => {
          const m = command === "locate" ? { device, command, time } : { device, command };
          expect(decodeMachineControl(encodeMachineControl(m))).toEqual(m);
        },
      ),
    );
  });
  test("locate to a time that is none is not understood", () => {
    expect(decodeMachineControl(Uint8Array.of(0xf0, 0x7f, 1, 6, 0x44, 6, 1, 0x21, 75, 0, 0, 0, 0xf7))).toBeNull();
  });
});
