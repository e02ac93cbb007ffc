import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { hexBytes } from "./hex.ts";
import {
  decodeMachineControl,
  encodeMachineControl,
  MACHINE_COMMANDS,
  type MachineCommand,
} from "./machine-control.ts";
import {
  COMMAND_DATA,
  decodeShowControl,
  encodeShowControl,
  isForDevice,
  SHOW_COMMANDS,
  SHOW_FORMATS,
  type ShowControl,
  sameCue,
  showControlFault,
} from "./show-control.ts";
import {
  frameCount,
  framesADay,
  fullFrame,
  isTime,
  quarterFrameValue,
  readFullFrame,
  TIME_CODE_RATES,
  type TimeCode,
  TimeCodeReader,
  timeCodeAt,
  timeCodeOfSeconds,
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
    for (const [hours, minutes, seconds, frames] of [
      [0x3f, 0, 0, 0],
      [0x21, 60, 0, 0],
      [0x21, 0, 60, 0],
      [0x01, 0, 0, 24],
      [0x21, 0, 0, 25],
      [0x61, 0, 0, 30],
      [0x41, 1, 0, 0], // drop-frame leaves out frames 0 and 1 of the minute,
      [0x41, 59, 0, 1],
    ] as const)
      expect(readFullFrame(Uint8Array.of(0xf0, 0x7f, 0x7f, 1, 1, hours, minutes, seconds, frames, 0xf7))).toBe(
        "malformed",
      );
    // but not of every tenth minute, nor of its other seconds.
    expect(readFullFrame(Uint8Array.of(0xf0, 0x7f, 0x7f, 1, 1, 0x41, 10, 0, 0, 0xf7))).toMatchObject({ minutes: 10 });
    expect(readFullFrame(Uint8Array.of(0xf0, 0x7f, 0x7f, 1, 1, 0x41, 1, 0, 2, 0xf7))).toMatchObject({ frames: 2 });
    expect(readFullFrame(Uint8Array.of(0xf0, 0x7f, 0x7f, 1, 1, 0x41, 1, 0, 0xf7))).toBe("malformed");
    expect(readFullFrame(Uint8Array.of(0xf0, 0x7f, 0x7f, 6, 1, 0xf7))).toBeNull();
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
  test("every second of the day is named by its own time code, and every frame of a second by its own", () => {
    fc.assert(
      fc.property(rate, fc.nat(86_399), fc.nat(29), (r, second, n) => {
        const perS = r === "24" ? 24 : r === "25" ? 25 : 30;
        const frames = n % perS;
        const time = timeCodeOfSeconds(r, second + frames / perS);
        expect(isTime(time)).toBe(true);
        expect(time.hours * 3600 + time.minutes * 60 + time.seconds).toBe(second);
        if (r !== "30-drop" || frames > 1) expect(time.frames).toBe(frames);
      }),
    );
    for (const odd of [Number.NaN, -1, 86_400, 1e9, Number.POSITIVE_INFINITY])
      expect(isTime(timeCodeOfSeconds("30-drop", odd))).toBe(true);
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
const byte7 = fc.nat(127);
const showTime = fc.tuple(byte7, byte7, byte7, byte7, byte7);
/** Every message that the standard has room for. */
const anyShowControl: fc.Arbitrary<ShowControl> = fc
  .record({
    device: byte7,
    format: fc.constantFrom(...(Object.keys(SHOW_FORMATS) as (keyof typeof SHOW_FORMATS)[])),
    command: fc.constantFrom(...(Object.keys(SHOW_COMMANDS) as (keyof typeof SHOW_COMMANDS)[])),
    names: fc.array(cue, { maxLength: 3 }),
    time: showTime,
    timed: fc.boolean(),
    n: fc.nat(16_383),
  })
  .map(({ device, format, command, names, time, timed, n }) => {
    const takes = COMMAND_DATA[command];
    const fields = (["cue", "list", "path"] as const).filter((f) => takes[f]);
    const least = fields.filter((f) => takes[f] === "must").length;
    const said = [...names, "1"].slice(0, Math.max(least, Math.min(fields.length, names.length)));
    return {
      device,
      format,
      command,
      ...(takes.time || (takes.control && timed) ? { time } : {}),
      ...(takes.control ? { control: n, value: 16_383 - n } : {}),
      ...(takes.macro ? { macro: n & 127 } : {}),
      ...Object.fromEntries(said.map((text, i) => [fields[i]!, text])),
    };
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
  // RP-002, "Recommended Minimum Sets" and the tables of commands: which of them carry what.
  test.each<[string, Partial<ShowControl>, string | null]>([
    ["all-off", {}, "08"],
    ["restore", {}, "09"],
    ["reset", {}, "0A"],
    ["load", { cue: "7" }, "05 37"],
    ["timed-go", { time: [0x21, 0, 5, 0, 0], cue: "7", list: "1.1" }, "04 21 00 05 00 00 37 00 31 2E 31"],
    ["set", { control: 130, value: 1 }, "06 02 01 01 00"],
    ["fire", { macro: 9 }, "07 09"],
    ["stop", {}, "02"],
    ["resume", { cue: "1" }, "03 31"],
    ["go-off", { cue: "1", list: "2", path: "3" }, "0B 31 00 32 00 33"],
    ["standby-next", { list: "2" }, "11 32"],
    ["set-clock", { time: [0, 0, 0, 0, 0], list: "2" }, "18 00 00 00 00 00 32"],
    ["open-cue-list", { list: "2" }, "1B 32"],
    ["open-cue-path", { path: "2" }, "1D 32"],
    ["all-off", { cue: "1" }, null],
    ["reset", { list: "1" }, null],
    ["load", {}, null],
    ["go", { list: "2" }, null],
    ["go", { cue: "1", path: "2" }, null],
    ["open-cue-list", {}, null],
    ["open-cue-list", { cue: "1", list: "2" }, null],
    ["standby-next", { cue: "1" }, null],
  ])("%s with %o is %s", (command, more, hex) => {
    const m = { device: 127, format: "all", command, ...more } as ShowControl;
    if (hex === null)
      expect([showControlFault(m) !== null, () => encodeShowControl(m)]).toEqual([true, expect.any(Function)]);
    else expect(hexBytes(encodeShowControl(m))).toBe(`F0 7F 7F 02 7F ${hex} F7`);
    if (hex === null) expect(() => encodeShowControl(m)).toThrow(RangeError);
  });
  test("every command format of the standard has its own number, and each is read", () => {
    const wanted = [
      ...[1, 2, 3, 4, 5, 6, 0x10, 0x11, 0x12, 0x13, 0x14, 0x15, 0x16, 0x17, 0x18],
      ...[0x20, 0x21, 0x22, 0x23, 0x24, 0x25, 0x26, 0x27, 0x28, 0x29, 0x2a],
      ...[0x30, 0x31, 0x32, 0x33, 0x34, 0x35, 0x36, 0x37, 0x38, 0x40, 0x41, 0x42, 0x43, 0x44, 0x45],
      ...[0x50, 0x51, 0x52, 0x53, 0x54, 0x55, 0x56, 0x57, 0x58, 0x60, 0x61, 0x62, 0x63, 0x64, 0x7f],
    ];
    const read = Array.from({ length: 128 }, (_, f) => f).filter((f) =>
      decodeShowControl(Uint8Array.of(0xf0, 0x7f, 1, 2, f, 1, 0xf7)),
    );
    expect(read).toEqual(wanted);
  });
  test("what is no cue number is refused on the way out and malformed on the way in", () => {
    expect(() => encodeShowControl({ device: 1, format: "sound", command: "go", cue: "12a" })).toThrow("cue");
    expect(decodeShowControl(Uint8Array.of(0xf0, 0x7f, 1, 2, 1, 1, 0x41, 0xf7))).toBe("malformed");
    expect(decodeShowControl(Uint8Array.of(0xf0, 0x7f, 1, 2, 1, 6, 1, 1, 1, 0xf7))).toBe("malformed");
    expect(decodeShowControl(Uint8Array.of(0xf0, 0x7f, 1, 2, 1, 5, 0xf7))).toBe("malformed");
    expect(decodeShowControl(Uint8Array.of(0xf0, 0x7f, 1, 2, 1, 1, 0x2e, 0x35, 0xf7))).toMatchObject({ cue: ".5" });
  });
  test.each([
    ["12", "012", true],
    ["0.5", ".5", true],
    ["12.5", "12.50", false],
    ["12", "120", false],
  ])("cues %s and %s are the same: %s", (a, b, same) => {
    expect(sameCue(a, b)).toBe(same);
  });
  test("a device is meant by its own number, by all-call and by groups", () => {
    const meant = Array.from({ length: 128 }, (_, d) => d).filter((d) => isForDevice(5, d));
    expect(meant).toEqual([5, ...Array.from({ length: 16 }, (_, i) => 0x70 + i)]);
    expect(Array.from({ length: 128 }, (_, d) => d).filter((d) => isForDevice(0x71, d))).toEqual([0x71, 0x7f]);
  });
  test("no bytes make it throw", () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 24 }), (bytes) => {
        const real = Uint8Array.of(0xf0, 0x7f, 1, ...bytes, 0xf7);
        for (const message of [bytes, real]) {
          decodeShowControl(message);
          decodeMachineControl(message);
          readFullFrame(message);
        }
      }),
    );
  });
});

describe("machine control", () => {
  const read = (...bytes: number[]) => decodeMachineControl(Uint8Array.of(0xf0, 0x7f, 0x7f, 6, ...bytes, 0xf7));
  const names = (...bytes: number[]) => {
    const all = read(...bytes);
    return Array.isArray(all) ? all.map((c) => c.command) : all;
  };
  test("every message is read as it was written", () => {
    fc.assert(
      fc.property(
        fc.nat(127),
        fc.constantFrom(...(Object.keys(MACHINE_COMMANDS) as MachineCommand[])),
        anyTime,
        fc.option(fc.nat(7)),
        (device, command, time, point) => {
          const to = point === null ? { time } : { point };
          const m = command === "locate" ? { device, command, ...to } : { device, command };
          expect(decodeMachineControl(encodeMachineControl(m))).toEqual([m]);
        },
      ),
    );
  });
  test("several commands in one message are all read, in order, whatever is among them", () => {
    expect(names(0x01, 0x02)).toEqual(["stop", "play"]);
    expect(names(0x44, 6, 1, 0x21, 2, 3, 4, 0, 0x02)).toEqual(["locate", "play"]);
    expect(names(0x47, 3, 0, 1, 0, 0x01)).toEqual(["stop"]); // a shuttle with its speed, which no control has
    expect(names(0x06, 0x7c, 0x07)).toEqual(["record", "wait", "record-exit"]);
  });
  test("locate to a time with the flags of standard time code, and to a stored point", () => {
    expect(read(0x44, 6, 1, 0x21, 0x42, 0x43, 0x24, 0)).toEqual([
      { device: 127, command: "locate", time: { rate: "25", hours: 1, minutes: 2, seconds: 3, frames: 4 } },
    ]);
    expect(read(0x44, 2, 0, 0x09)).toEqual([{ device: 127, command: "locate", point: 1 }]);
  });
  test("locate to a time that is none, or cut short, is malformed", () => {
    expect(names(0x44, 6, 1, 0x21, 0x3c, 0, 0, 0)).toBe("malformed");
    expect(names(0x44, 6, 1, 0x21, 0)).toBe("malformed");
    expect(names(0x44)).toBe("malformed");
  });
});
