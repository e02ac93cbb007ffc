import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { hexBytes, parseHexBytes } from "./hex.ts";
import { DEFAULT_MAX_SYSEX_BYTES, eachMessage, type MidiDropReason, MidiParser } from "./parser.ts";

/** Everything the parser says about these pieces, as short texts. */
function heard(pieces: (string | Uint8Array)[], maxSysexBytes?: number): string[] {
  const out: string[] = [];
  const parser = new MidiParser(
    {
      short: (status, d1, d2, length) => out.push(hexBytes(Uint8Array.of(status, d1, d2).subarray(0, length))),
      sysex: (bytes) => out.push(`sysex ${hexBytes(bytes)}`),
      dropped: (reason, count) => out.push(`${reason} ${count}`),
    },
    maxSysexBytes,
  );
  for (const piece of pieces) parser.feed(typeof piece === "string" ? parseHexBytes(piece)! : piece);
  return out;
}

describe("rule 1: a stream of MIDI bytes", () => {
  const ROWS: [name: string, pieces: string[], wanted: string[]][] = [
    ["whole messages", ["90 3C 40 80 3C 40"], ["90 3C 40", "80 3C 40"]],
    ["running status", ["90 3C 40 3C 00 40 7F"], ["90 3C 40", "90 3C 00", "90 40 7F"]],
    ["running status over pieces", ["90 3C", "40 3E", "41"], ["90 3C 40", "90 3E 41"]],
    ["running status of one data byte", ["C0 05 06"], ["C0 05", "C0 06"]],
    ["real-time bytes inside a message", ["90 F8 3C FE 40"], ["F8", "FE", "90 3C 40"]],
    ["real-time bytes inside SysEx", ["F0 01 F8 02 F7"], ["F8", "sysex F0 01 02 F7"]],
    ["SysEx in pieces", ["F0 7E", "00 06", "01 F7"], ["sysex F0 7E 00 06 01 F7"]],
    ["an unfinished message before another", ["90 3C B0 07 10"], ["unfinished-message 2", "B0 07 10"]],
    ["SysEx cut short by a status byte", ["F0 01 02 90 3C 40"], ["unfinished-sysex 3", "90 3C 40"]],
    ["stray data bytes", ["3C 40 90 3C 40"], ["data-without-status 1", "data-without-status 1", "90 3C 40"]],
    ["SysEx ends running status", ["90 3C 40 F0 01 F7 3C"], ["90 3C 40", "sysex F0 01 F7", "data-without-status 1"]],
    ["system common ends running status", ["90 3C 40 F3 01 3C"], ["90 3C 40", "F3 01", "data-without-status 1"]],
    ["undefined status bytes", ["F4 F5 F9 FD"], Array<string>(4).fill("undefined-status 1")],
    ["an end of SysEx without a start", ["F7 90 3C 40"], ["undefined-status 1", "90 3C 40"]],
    ["song position", ["F2 01 02"], ["F2 01 02"]],
    ["tune request", ["F6"], ["F6"]],
    ["two statuses in a row", ["90 90 3C 40"], ["90 3C 40"]],
    ["a whole message inside SysEx", ["F0 01 90 3C 40 F7"], ["unfinished-sysex 2", "90 3C 40", "undefined-status 1"]],
  ];
  test.each(ROWS)("%s", (_name, pieces, wanted) => {
    expect(heard(pieces)).toEqual(wanted);
  });

  test("SysEx is kept up to its limit and dropped past it, with the reason", () => {
    const limit = 16;
    const sysex = (length: number) => Uint8Array.from([0xf0, ...Array<number>(length - 2).fill(1), 0xf7]);
    expect(heard([sysex(limit - 1)], limit)).toEqual([`sysex ${hexBytes(sysex(limit - 1))}`]);
    expect(heard([sysex(limit)], limit)).toEqual([`sysex ${hexBytes(sysex(limit))}`]);
    expect(heard([sysex(limit + 1), "90 3C 40"], limit)).toEqual([`sysex-too-long ${limit + 1}`, "90 3C 40"]);
  });

  test("splitting the byte stream anywhere yields the same messages", () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), fc.array(fc.nat(200), { maxLength: 20 }), (bytes, cuts) => {
        const places = [0, ...cuts.map((c) => Math.min(c, bytes.length)).sort((a, b) => a - b), bytes.length];
        const pieces = places.slice(1).map((end, k) => bytes.subarray(places[k], end));
        expect(heard(pieces, 64)).toEqual(heard([bytes], 64));
      }),
    );
  });

  test("no bytes make it throw, lose count of bytes or keep more than its limit", () => {
    const maxSysexBytes = 512;
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ maxLength: 700 }), { maxLength: 12 }), (pieces) => {
        let counted = 0;
        let running = 0; // messages may leave their status byte out
        const parser = new MidiParser(
          {
            short: (_s, _a, _b, length) => {
              counted += length;
              running++;
            },
            sysex: (bytes) => {
              counted += bytes.length;
            },
            dropped: (_r: MidiDropReason, count) => {
              counted += count;
            },
          },
          maxSysexBytes,
        );
        for (const piece of pieces) parser.feed(piece);
        const fed = pieces.reduce((sum, p) => sum + p.length, 0);
        expect(counted).toBeLessThanOrEqual(fed + running);
        expect(parser.heldBytes).toBeLessThanOrEqual(maxSysexBytes);
      }),
    );
  });

  test("an endless SysEx holds no more than the limit, and what follows is understood", () => {
    const out: string[] = [];
    const parser = new MidiParser({
      short: (status) => out.push(status.toString(16)),
      sysex: () => out.push("sysex"),
      dropped: (reason) => out.push(reason),
    });
    parser.feed(Uint8Array.of(0xf0));
    const piece = new Uint8Array(4096).fill(1);
    for (let k = 0; k < 100; k++) parser.feed(piece);
    expect(parser.heldBytes).toBe(DEFAULT_MAX_SYSEX_BYTES);
    parser.feed(Uint8Array.of(0xf7, 0x90, 1, 1));
    expect(out).toEqual(["sysex-too-long", "90"]);
    expect(parser.heldBytes).toBeLessThan(1024); // the dump does not pin its buffer
  });

  test("a port that was closed leaves nothing behind for the next message", () => {
    const out: string[] = [];
    const parser = new MidiParser({
      short: (status, d1, d2) => out.push(`${status.toString(16)} ${d1} ${d2}`),
      sysex: () => out.push("sysex"),
      dropped: (reason) => out.push(reason),
    });
    parser.feed(Uint8Array.of(0x90, 60));
    parser.reset();
    parser.feed(Uint8Array.of(64, 0x90, 60, 65));
    expect(out).toEqual(["unfinished-message", "data-without-status", "90 60 65"]);
  });

  test("a block of messages comes apart into those it was made of", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            fc.tuple(fc.integer({ min: 0x80, max: 0xbf }), fc.nat(127), fc.nat(127)),
            fc.tuple(fc.integer({ min: 0xc0, max: 0xdf }), fc.nat(127)),
            fc.constantFrom([0xf1, 5], [0xf2, 1, 2], [0xf6], [0xf8], [0xff]),
            fc.array(fc.nat(127), { maxLength: 300 }).map((data) => [0xf0, ...data, 0xf7]),
          ),
          { minLength: 1, maxLength: 8 },
        ),
        (messages) => {
          const apart: number[][] = [];
          eachMessage(Uint8Array.from(messages.flat()), (m) => apart.push([...m]));
          expect(apart).toEqual(messages);
        },
      ),
    );
  });
});
