import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { artDmx, artPoll, sacnPacket } from "../../../tests/rig/dmx-packets.ts";
import type { Control } from "../format/surface-profile.ts";
import { readArtDmx } from "./art-net.ts";
import { artPollReply, readArtPoll } from "./art-poll.ts";
import { readSacn, sacnGroup } from "./sacn.ts";
import { SlotsAsMidi } from "./slots-as-midi.ts";
import { type Levels, Universe } from "./universe.ts";

describe("streaming ACN (E1.31)", () => {
  test("a data packet: its source, priority, number, universe and slots", () => {
    const packet = sacnPacket([1, 2, 255], { universe: 0x0102, priority: 150, sequence: 7, options: 0xc0 });
    expect(readSacn(packet)).toEqual({
      cid: "0102030405060708090a0b0c0d0e0f10",
      sourceName: "Mast lanterns",
      priority: 150,
      sequence: 7,
      isPreview: true,
      isTerminated: true,
      universe: 0x0102,
      startCode: 0,
      slots: Uint8Array.of(1, 2, 255),
    });
  });

  test("a whole universe has 638 octets (4.1), and its group is that of its number (9.3.1)", () => {
    const packet = sacnPacket(new Array(512).fill(9));
    expect(packet).toHaveLength(638);
    expect(readSacn(packet)?.slots).toHaveLength(512);
    expect(sacnGroup(0x1234)).toBe("239.255.18.52");
  });

  test.each<[string, (p: Uint8Array) => void]>([
    ["another preamble", (p) => p.set([0, 0x11], 0)],
    ["another identifier", (p) => p.set([0x42], 4)],
    ["an extended packet (synchronisation, discovery)", (p) => p.set([8], 21)],
    ["a length that is none", (p) => p.set([0], 16)],
    ["layers that do not end together", (p) => p.set([p[116]! + 1], 116)],
    ["another kind of address", (p) => p.set([0xa2], 118)],
    ["more slots than octets", (p) => p.set([1, 0], 123)],
    ["no start code", (p) => p.set([0, 0], 123)],
    ["a priority above 200 (6.2.3)", (p) => p.set([201], 108)],
    ["universe 0", (p) => p.set([0, 0], 113)],
  ])("refused: %s", (_, spoil) => {
    const packet = sacnPacket([1, 2, 3]);
    spoil(packet);
    expect(readSacn(packet)).toBeNull();
  });
});

describe("Art-Net (ArtDmx)", () => {
  test("its number, port address and slots", () => {
    expect(readArtDmx(artDmx([1, 2, 3, 4], 0x23, 0x01, 9))).toEqual({
      sequence: 9,
      physical: 0,
      universe: 0x0123,
      slots: Uint8Array.of(1, 2, 3, 4),
    });
  });

  test.each<[string, Uint8Array]>([
    ["another name", artDmx([1, 2]).map((b, i) => (i === 0 ? 0 : b))],
    ["another operation", artDmx([1, 2]).map((b, i) => (i === 9 ? 0x20 : b))],
    ["an older version", artDmx([1, 2]).map((b, i) => (i === 11 ? 13 : b))],
    ["an odd number of slots", artDmx([1, 2, 3])],
    ["more slots than octets", artDmx([1, 2, 3, 4]).subarray(0, 20)],
    ["a net above 127", artDmx([1, 2], 0, 0x80)],
  ])("refused: %s", (_, bytes) => expect(readArtDmx(bytes)).toBeNull());

  test.each<[string, Uint8Array, ReturnType<typeof readArtPoll>]>([
    ["everybody", artPoll(), { from: 0, to: 0x7fff }],
    ["some port addresses", artPoll([0x10, 0x123]), { from: 0x10, to: 0x123 }],
    ["some, and does not say which", artPoll([0x10, 0x123]).subarray(0, 16), null],
    ["nobody: another operation", artDmx([1, 2]), null],
    ["nobody: an older version", artPoll().map((b, i) => (i === 11 ? 13 : b)), null],
    ["nobody: cut short", artPoll().subarray(0, 13), null],
  ])("a poll asks %s", (_, bytes, asked) => expect(readArtPoll(bytes)).toEqual(asked));

  test("a reply has each field where the table of ArtPollReply has it", () => {
    const node = {
      address: [10, 0, 7, 20],
      hardware: [2, 0, 0, 0, 0, 9],
      port: 6454,
      shortName: "Velvet Hinge",
      longName: `é${"x".repeat(80)}`,
    };
    const bytes = artPollReply(node, 0x1234, 3);
    const at = (from: number, count: number) => [...bytes.subarray(from, from + count)];
    const text = (from: number, room: number) => Buffer.from(bytes.subarray(from, from + room)).toString();
    expect(bytes.length).toBe(239);
    expect(text(0, 8)).toBe("Art-Net\0");
    expect(at(8, 2)).toEqual([0x00, 0x21]); // OpPollReply, low octet first
    expect(at(10, 6)).toEqual([10, 0, 7, 20, 0x36, 0x19]); // address, port 1936h low octet first
    expect(at(18, 2)).toEqual([0x12, 0x03]); // NetSwitch, SubSwitch
    expect(text(26, 18)).toBe(`Velvet Hinge${"\0".repeat(6)}`);
    expect(text(44, 64)).toBe(`?${"x".repeat(62)}\0`);
    expect(at(172, 6)).toEqual([0, 1, 0x80, 0, 0, 0]); // NumPorts, PortTypes: one that gives out DMX512
    expect(at(190, 1)).toEqual([0x04]); // SwOut
    expect(at(201, 12)).toEqual([2, 0, 0, 0, 0, 9, 10, 0, 7, 20, 3, 0x08]); // MAC, BindIp, BindIndex, Status2
  });

  test("neither reader throws, whatever comes", () => {
    const spoiled = (whole: Uint8Array) =>
      fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { maxLength: 6 }).map((changes) => {
        const bytes = whole.slice();
        for (const [at, value] of changes) bytes[at] = value;
        return bytes;
      });
    const any = fc.oneof(
      fc.uint8Array({ maxLength: 700 }),
      spoiled(sacnPacket([1, 2, 3])),
      spoiled(artDmx([1, 2, 3, 4])),
    );
    fc.assert(
      fc.property(any, (bytes) => {
        for (const slots of [readSacn(bytes)?.slots, readArtDmx(bytes)?.slots])
          if (slots) expect(slots.length).toBeLessThanOrEqual(512);
      }),
      { numRuns: 2000 },
    );
  });
});

describe("a universe of several sources", () => {
  const from = (source: string, slots: number[], more: Partial<Levels> = {}): Levels => ({
    source,
    priority: 100,
    sequence: null,
    isTerminated: false,
    slots: Uint8Array.from(slots),
    ...more,
  });
  const first = (u: Universe) => [...u.levels.subarray(0, 2)];

  test("alike in priority: of each slot the highest", () => {
    const u = new Universe(2500);
    u.hear(from("a", [10, 200]), 0);
    u.hear(from("b", [20, 100]), 0);
    expect(first(u)).toEqual([20, 200]);
  });

  test("the higher priority alone, until it ends or is silent", () => {
    const u = new Universe(2500);
    u.hear(from("a", [10, 200]), 0);
    u.hear(from("b", [20, 100], { priority: 150 }), 0);
    expect(first(u)).toEqual([20, 100]);
    u.hear(from("b", [], { isTerminated: true }), 10);
    expect(first(u)).toEqual([10, 200]);
    u.hear(from("b", [20, 100], { priority: 150 }), 2000);
    u.hear(from("a", [10, 200]), 4000);
    expect(u.tick(4501)).toBe(true);
    expect(first(u)).toEqual([10, 200]);
  });

  test("where the last source goes, its levels stay", () => {
    const u = new Universe(2500);
    u.hear(from("a", [10, 200]), 0);
    expect(u.tick(2501)).toBe(false);
    expect([u.sourceCount, ...first(u)]).toEqual([0, 10, 200]);
  });

  test("a packet that comes late is not heard; one far behind begins anew (E1.31, 6.7.2)", () => {
    const u = new Universe(2500);
    u.hear(from("a", [1], { sequence: 250 }), 0);
    expect(u.hear(from("a", [2], { sequence: 249 }), 0)).toBe(false);
    expect(u.hear(from("a", [3], { sequence: 2 }), 0)).toBe(true);
    expect(u.hear(from("a", [4], { sequence: 231 }), 0)).toBe(true);
    expect(first(u)[0]).toBe(4);
  });

  test("a source that sends fewer slots than before has let the others go", () => {
    const u = new Universe(2500);
    u.hear(from("a", [10, 200]), 0);
    u.hear(from("a", [10]), 0);
    expect(first(u)).toEqual([10, 0]);
  });
});

describe("a universe as a surface", () => {
  const control = (sends: Control["sends"]): Control => ({
    id: "c",
    name: "C",
    kind: "fader",
    behaviour: "absolute",
    box: { x: 0, y: 0, width: 1, height: 1 },
    sends,
  });
  function said(controls: Control["sends"][], first: number, ...frames: Record<number, number>[]): string[][] {
    const midi = new SlotsAsMidi(controls.map(control), first, { on: 128, off: 112 });
    return frames.map((frame) => {
      const levels = new Uint8Array(512);
      for (const [address, level] of Object.entries(frame)) levels[Number(address) - 1] = level;
      const list: string[] = [];
      midi.say(levels, (m) => list.push(Buffer.from(m).toString("hex")));
      return list;
    });
  }

  test("a fader has all 256 steps of its slot, both ends exact", () => {
    const fader = { kind: "controller-14", channel: 1, number: 2 } as const;
    expect(said([fader], 101, { 103: 255 }, { 103: 255 }, { 103: 1 }, { 102: 9, 103: 1 })).toEqual([
      ["b0027f", "b0227f"],
      [],
      ["b00200", "b02240"],
      [],
    ]);
    const values = new Set<number>();
    for (let level = 0; level < 256; level++) {
      const [pair] = said([fader], 1, { 3: level });
      values.add(Number.parseInt(pair![0]!.slice(4), 16) * 128 + Number.parseInt(pair![1]!.slice(4), 16));
    }
    expect(values.size).toBe(256);
  });

  test("a switch goes on at its threshold, and off only well below it", () => {
    const note = { kind: "note", channel: 1, number: 9 } as const;
    const frames = [0, 127, 128, 120, 112, 111, 127, 255].map((level) => ({ 10: level }));
    expect(said([note], 1, ...frames)).toEqual([[], [], ["90097f"], [], [], ["800900"], [], ["90097f"]]);
  });

  test("the last slots of the universe are channel 16 as faders and channel 4 as switches; beyond there is nothing", () => {
    const fader = { kind: "controller-14", channel: 16, number: 31 } as const;
    const note = { kind: "note", channel: 4, number: 127 } as const;
    expect(said([fader, note], 1, { 512: 255 })).toEqual([["bf1f7f", "bf3f7f", "937f7f"]]);
    expect(said([fader, note], 2, { 512: 255 })).toEqual([[]]);
  });
});
