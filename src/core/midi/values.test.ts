import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { controller14Bytes, parameterBytes, programBytes } from "./compound.ts";
import { isParameterController, NO_PARAMETER } from "./controllers.ts";
import { hexBytes } from "./hex.ts";
import { noteName, parseNote, parseNumber } from "./numbers.ts";
import { FIRST_WITHIN_MS, NO_VALUE, PAIR_AT_MOST_MS, Pair14, widen7 } from "./pair-14.ts";
import { ParameterNumbers } from "./parameter-numbers.ts";
import { MidiParser } from "./parser.ts";
import { decodeRelative, encodeRelative, RELATIVE_ENCODINGS } from "./relative.ts";

const value14 = fc.nat(16_383);

type Half = ["m" | "l", number] | number;

/** Values that come out of a series of halves; a number before a half lets that many ms pass, one by one. */
function pair(...halves: Half[]): number[] {
  const p = new Pair14();
  const out: number[] = [];
  let atMs = 0;
  for (const half of halves) {
    if (typeof half === "number") {
      for (const end = atMs + half; atMs < end; ) out.push(p.due(++atMs));
    } else out.push(half[0] === "m" ? p.msb(half[1], atMs) : p.lsb(half[1], atMs), p.takeFurther());
  }
  return out.filter((v) => v !== NO_VALUE);
}

describe("rule 3: a 14-bit value in two messages", () => {
  const v = (msb: number, lsb: number) => (msb << 7) | lsb;
  test("MSB then LSB: nothing comes out between the two", () => {
    expect(pair(["m", 10], ["l", 127], 30, ["m", 11], ["l", 0])).toEqual([v(10, 127), v(11, 0)]);
  });
  test("LSB then MSB as well", () => {
    expect(pair(["l", 127], ["m", 10], 30, ["l", 0], ["m", 11])).toEqual([v(10, 127), v(11, 0)]);
  });
  test("an MSB alone comes out after its wait, and at once when that is known", () => {
    const p = new Pair14();
    expect([p.msb(64, 0), p.due(FIRST_WITHIN_MS), p.due(FIRST_WITHIN_MS + 1)]).toEqual([
      NO_VALUE,
      NO_VALUE,
      widen7(64),
    ]);
    expect(p.msb(127, 40)).toBe(16_383);
    expect(p.isWaiting).toBe(false);
  });
  test("two MSBs in a row are two MSBs alone", () => {
    expect(pair(["m", 127], ["m", 0], ["m", 5])).toEqual([widen7(127), 0, widen7(5)]);
  });
  test("where LSBs are known, an MSB alone sets the LSB to zero, and does so also when the next follows at once", () => {
    expect(pair(["m", 0x40], ["l", 0x7f], 200, ["m", 0x41], 200)).toEqual([v(0x40, 0x7f), v(0x41, 0)]);
    expect(pair(["m", 0x40], ["l", 0x7f], 200, ["m", 0x41], 2, ["m", 0x42], 200)).toEqual([
      v(0x40, 0x7f),
      v(0x41, 0),
      v(0x42, 0),
    ]);
  });
  test.each([1, 12, 20, 29])("halves that come %i ms apart never show half a value, in either order", (gapMs) => {
    const steps = Array.from({ length: 40 }, (_, n) => [3 + n, (n * 37) % 128] as const);
    const wanted = steps.map(([m, l]) => v(m, l));
    expect(pair(...steps.flatMap(([m, l]): Half[] => [["m", m], gapMs, ["l", l], 40]))).toEqual(wanted);
    expect(pair(...steps.flatMap(([m, l]): Half[] => [["l", l], gapMs, ["m", m], 40]))).toEqual(wanted);
  });
  test("a unit that needs longer still is waited for from its second value on", () => {
    const out = pair(...[1, 2, 3, 4].flatMap((n): Half[] => [["m", n], 60, ["l", 100], 200]));
    expect(out).toEqual([widen7(1), v(1, 100), v(2, 100), v(3, 100), v(4, 100)]);
  });
  test("a unit that leaves out an unchanged MSB is read", () => {
    expect(pair(["m", 10], ["l", 1], 30, ["l", 2], 30, ["l", 3])).toEqual([v(10, 1), v(10, 2), v(10, 3)]);
  });
  test("joining an LSB-first stream in the middle is put right at the first pause", () => {
    const out = pair(["m", 10], ["l", 127], ["m", 11], 50, ["l", 5], ["m", 12]);
    expect(out.at(-1)).toBe(v(12, 5));
  });
  test("an LSB alone with no MSB ever is no value", () => {
    expect(pair(["l", 5], 50, ["l", 6], 50)).toEqual([]);
  });
  test("whatever arrives, every value is in range, and a half waits no longer than it may", () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.boolean(), fc.nat(127), fc.nat(30)), { maxLength: 60 }), (steps) => {
        const p = new Pair14();
        let atMs = 0;
        for (const [msb, value, waitMs] of steps) {
          atMs += waitMs;
          for (const out of [p.due(atMs), msb ? p.msb(value, atMs) : p.lsb(value, atMs), p.takeFurther()])
            expect(out >= NO_VALUE && out <= 16_383).toBe(true);
        }
        p.due(atMs + PAIR_AT_MOST_MS + 1);
        expect(p.isWaiting).toBe(false);
      }),
    );
  });
});

describe("rule 3: parameter numbers", () => {
  /** Reads bursts of bytes; each but the first comes `betweenMs` after the one before. */
  function read(bursts: Uint8Array | Uint8Array[], betweenMs = 100): string[] {
    const said: string[] = [];
    let atMs = 0;
    const reader = new ParameterNumbers({
      knows: () => true,
      value: (registered, number, value) => said.push(`${registered ? "RPN" : "NRPN"} ${number} = ${value}`),
      step: (registered, number, step) => said.push(`${registered ? "RPN" : "NRPN"} ${number} ${step}`),
    });
    const parser = new MidiParser({
      short: (_status, number, value) => {
        if (isParameterController(number)) reader.controller(number, value, atMs);
        if (number === 121) reader.deselect();
      },
      sysex: () => {},
      dropped: () => {},
    });
    for (const burst of [bursts].flat()) {
      parser.feed(burst);
      for (const end = atMs + betweenMs; atMs < end; ) reader.due(++atMs);
    }
    reader.due(atMs + PAIR_AT_MOST_MS + 1);
    return said;
  }
  const named = (registered: boolean, number: number) =>
    registered ? [101, number >> 7, 100, number & 127] : [99, number >> 7, 98, number & 127];
  const NULL = [101, 127, 100, 127];
  test.each([
    ["an MSB alone", [6, 0x40], widen7(0x40)],
    ["both halves", [6, 0x40, 38, 1], (0x40 << 7) | 1],
    ["both halves, the LSB first", [38, 1, 6, 0x40], (0x40 << 7) | 1],
  ])("%s, and the number that names none right behind it: the value is not lost", (_, data, value) => {
    expect(read(Uint8Array.of(0xb0, ...named(false, 130), ...data, ...NULL))).toEqual([`NRPN 130 = ${value}`]);
  });
  test("two knobs on one channel, one of 14 bits and one of an MSB only: each is read in its own way", () => {
    const bursts = Array.from({ length: 12 }, (_, n) => [
      Uint8Array.of(0xb0, ...named(false, 1), 6, 20 + n, 38, 9 * n, ...named(false, 2), 6, n),
    ]).flat();
    expect(read(bursts, 5)).toEqual(
      bursts.flatMap((_, n) => [`NRPN 1 = ${((20 + n) << 7) | (9 * n)}`, `NRPN 2 = ${widen7(n)}`]),
    );
  });
  test("a button that presses and lets go at once does both, whether it is named anew or not", () => {
    const press = [...named(false, 130), 6, 127];
    const release = [...named(false, 130), 6, 0];
    expect(read(Uint8Array.of(0xb0, ...press, ...release))).toEqual(["NRPN 130 = 16383", "NRPN 130 = 0"]);
    expect(read(Uint8Array.of(0xb0, ...press, 6, 0))).toEqual(["NRPN 130 = 16383", "NRPN 130 = 0"]);
  });
  test("no half of one parameter gets into another", () => {
    const bytes = Uint8Array.of(0xb0, ...named(true, 0), 6, 12, ...named(false, 130), 38, 5);
    expect(read(bytes)).toEqual([`RPN 0 = ${widen7(12)}`]);
  });
  test("controller 121 names no parameter any more, and what had come of one is given out", () => {
    expect(read(Uint8Array.of(0xb0, ...named(true, 5), 6, 127, 121, 0, 6, 3))).toEqual(["RPN 5 = 16383"]);
  });
  test("a step right behind an MSB: the value first", () => {
    expect(read(Uint8Array.of(0xb0, ...named(true, 5), 6, 0, 96, 0))).toEqual(["RPN 5 = 0", "RPN 5 1"]);
  });
  test("whatever is named how often, every value belongs to the parameter it was sent for", () => {
    const one = fc.record({
      registered: fc.boolean(),
      number: fc.constantFrom(0, 1, 128, 130, 5000),
      msb: fc.nat(127),
      lsb: fc.nat(127),
      closes: fc.boolean(),
      gapMs: fc.nat(12),
    });
    fc.assert(
      fc.property(fc.array(one, { maxLength: 30 }), (all) => {
        // Each parameter of 14 bits or of 7 for good: that is how units are.
        const wide = (p: { number: number }) => p.number % 2 === 0;
        const bursts = all.map((p) =>
          Uint8Array.of(
            0xb0,
            ...named(p.registered, p.number),
            6,
            p.msb,
            ...(wide(p) ? [38, p.lsb] : []),
            ...(p.closes ? NULL : []),
          ),
        );
        const wanted = all.map(
          (p) => `${p.registered ? "RPN" : "NRPN"} ${p.number} = ${wide(p) ? (p.msb << 7) | p.lsb : widen7(p.msb)}`,
        );
        expect(read(bursts, 40)).toEqual(wanted);
      }),
    );
  });
  test("written and read back, they are the same", () => {
    fc.assert(
      fc.property(fc.boolean(), fc.nat(NO_PARAMETER - 1), value14, (registered, number, value) => {
        const bytes = parameterBytes(registered, 3, number, value);
        expect(read(bytes)).toEqual([`${registered ? "RPN" : "NRPN"} ${number} = ${value}`]);
      }),
    );
  });
  test("data entry with its MSB alone is 7 bits over the whole range", () => {
    expect(read(Uint8Array.of(0xb0, 99, 1, 98, 2, 6, 127))).toEqual(["NRPN 130 = 16383"]);
  });
  test("increment and decrement are steps, whatever their value", () => {
    expect(read(Uint8Array.of(0xb0, 101, 0, 100, 5, 96, 0, 97, 77))).toEqual(["RPN 5 1", "RPN 5 -1"]);
  });
  test("the number 127, 127 closes: data entry after it says nothing", () => {
    expect(read(Uint8Array.of(0xb0, 99, 1, 98, 2, 99, 127, 98, 127, 6, 5, 38, 5))).toEqual([]);
  });
  test("halves of a registered and a non-registered number are not mixed", () => {
    expect(read(Uint8Array.of(0xb0, 99, 1, 100, 2, 6, 5, 38, 5))).toEqual([]);
  });
});

describe("rule 3: relative encoders", () => {
  test.each(RELATIVE_ENCODINGS)("%s: steps written and read are the same, from -63 to 63", (encoding) => {
    for (let steps = -63; steps <= 63; steps++)
      expect(decodeRelative(encoding, encodeRelative(encoding, steps))).toBe(steps);
  });
  test.each([
    ["twos-complement", 1, 1],
    ["twos-complement", 127, -1],
    ["sign-bit", 65, -1],
    ["sign-bit", 64, 0],
    ["offset-64", 63, -1],
    ["offset-64", 65, 1],
  ] as const)("%s: %i is %i", (encoding, value, steps) => {
    expect(decodeRelative(encoding, value)).toBe(steps);
  });
  test("more steps than the encoding holds are cut, never turned around", () => {
    for (const encoding of RELATIVE_ENCODINGS) {
      expect(decodeRelative(encoding, encodeRelative(encoding, 500))).toBe(63);
      expect(decodeRelative(encoding, encodeRelative(encoding, -500))).toBeLessThanOrEqual(-63);
    }
  });
});

describe("values of several messages as bytes", () => {
  test("a 14-bit controller is its MSB and its LSB 32 above", () => {
    expect(hexBytes(controller14Bytes(2, 7, 16_383))).toBe("B1 07 7F B1 27 7F");
    expect(() => controller14Bytes(1, 32, 0)).toThrow("not 0..31");
  });
  test("a program change has its bank before it", () => {
    expect(hexBytes(programBytes(1, 5, 130))).toBe("B0 00 01 B0 20 02 C0 05");
    expect(hexBytes(programBytes(1, 5))).toBe("C0 05");
  });
});

describe("numbers as people write them", () => {
  test.each(["C3", "C4"] as const)("every note has a name that reads back, where note 60 is %s", (middleC) => {
    expect(noteName(60, middleC)).toBe(middleC);
    for (let note = 0; note <= 127; note++) expect(parseNote(noteName(note, middleC), middleC)).toBe(note);
  });
  test.each([
    ["Bb2", 58],
    ["b♭2", 58],
    [" f#-1 ", 18],
    ["50", 50],
    ["32h", 50],
    ["0x32", 50],
    ["H3", null],
    ["C99", null],
    ["128", null],
    ["", null],
    ["-1", null],
  ])("“%s” is %s", (text, note) => {
    expect(parseNote(text, "C3")).toBe(note);
  });
  test("a number outside its range is none", () => {
    expect([parseNumber("16383", 0, 16_383), parseNumber("16384", 0, 16_383), parseNumber("1.5", 0, 9)]).toEqual([
      16_383,
      null,
      null,
    ]);
  });
});
