import { describe, expect, test } from "vitest";
import { control, encoder, fader, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import { checkSurfaceProfile } from "../edit/check-surface-profile.ts";
import type { Control } from "../format/surface-profile.ts";
import { hole, restOfRow, taughtControl, tidied } from "./board.ts";
import { pressures, touchNotes } from "./fingers.ts";
import { bankGuess, rowOffer } from "./rows.ts";

const pad = (number: number, channel = 1) =>
  control(`pad-${channel}-${number}`, { kind: "note", channel, number }, { behaviour: "springs-back" });
const knob = (number: number) => fader(`knob-${number}`, { kind: "controller", channel: 1, number }, { kind: "knob" });
const numbers = (offer: ReturnType<typeof rowOffer>) =>
  offer?.rest.map((s) => (s as { number: number }).number) ?? null;

describe("the rest of a row", () => {
  test("three pads that go up by one offer the sixteen they begin", () => {
    expect(numbers(rowOffer([36, 37, 38].map((n) => pad(n))))).toEqual([
      39, 40, 41, 42, 43, 44, 45, 46, 47, 48, 49, 50, 51,
    ]);
  });
  test("three faders offer eight, and by whatever step they go up", () => {
    expect(numbers(rowOffer([10, 12, 14].map(knob)))).toEqual([16, 18, 20, 22, 24]);
  });
  test("it ends where MIDI ends, and where a control is drawn already", () => {
    expect(numbers(rowOffer([122, 123, 124].map((n) => pad(n))))).toEqual([125, 126, 127]);
    expect(numbers(rowOffer([pad(40), ...[36, 37, 38].map((n) => pad(n))]))).toEqual([39]);
    expect(rowOffer([pad(39), ...[36, 37, 38].map((n) => pad(n))])).toBeNull();
  });
  test("nothing is offered for what is not even, not alike, or on several channels", () => {
    expect(rowOffer([36, 37].map((n) => pad(n)))).toBeNull();
    expect(rowOffer([36, 37, 39].map((n) => pad(n)))).toBeNull();
    expect(rowOffer([38, 37, 36].map((n) => pad(n)))).toBeNull();
    expect(rowOffer([pad(36), pad(37), pad(38, 2)])).toBeNull();
    expect(rowOffer([pad(36), knob(37), pad(38)])).toBeNull();
  });
});

describe("a bank of the surface itself", () => {
  const eight = Array.from({ length: 8 }, (_, i) => pad(36 + i));
  test("the same numbers on another channel", () => {
    expect(bankGuess([...eight, pad(36, 2), pad(37, 2)])).toEqual({
      shift: { channels: 1, numbers: 0 },
      pairs: [
        { now: "pad-2-36", first: "pad-1-36" },
        { now: "pad-2-37", first: "pad-1-37" },
      ],
    });
  });
  test("the next block of as many numbers", () => {
    expect(bankGuess([...eight, pad(44), pad(45)])?.shift).toEqual({ channels: 0, numbers: 8 });
  });
  test("one more pad is no bank, nor is a neighbour, nor anything beside a few controls", () => {
    expect(bankGuess([...eight, pad(36, 2)])).toBeNull();
    expect(bankGuess([...eight.slice(0, 6), pad(42), pad(43)])).toBeNull();
    expect(bankGuess([pad(36), pad(37), pad(38), pad(36, 2), pad(37, 2)])).toBeNull();
  });
});

describe("where controls lie", () => {
  const start = surfaceProfile([], { size: { width: 8, height: 4 } });
  const add = (controls: readonly Control[], c: Control): Control[] => [
    ...controls,
    { ...c, box: hole(controls, c.kind) },
  ];
  test("pads above, knobs below them and faders below those, none on another", () => {
    const kinds = [
      ...Array.from({ length: 40 }, (_, i) => pad(i)),
      ...[1, 2, 3].map(knob),
      fader("f", { kind: "bend", channel: 1 }),
    ];
    const laid = kinds.reduce(add, [] as Control[]);
    for (const a of laid)
      for (const b of laid)
        if (a !== b)
          expect(
            a.box.x < b.box.x + b.box.width &&
              b.box.x < a.box.x + a.box.width &&
              a.box.y < b.box.y + b.box.height &&
              b.box.y < a.box.y + a.box.height,
          ).toBe(false);
    expect(laid.find((c) => c.kind === "fader")!.box.y).toBeGreaterThan(laid.find((c) => c.kind === "knob")!.box.y);
  });
  test("rows where nothing lies are taken out once it is done", () => {
    const laid = [pad(1), knob(2)].reduce(add, [] as Control[]);
    expect(laid[1]!.box.y).toBe(4);
    const tidy = tidied(laid)!;
    expect(tidy.map((c) => c.box.y)).toEqual([0, 1]);
    expect(tidied(tidy)).toBeNull();
  });
  test("a whole row is drawn like its first, and is a profile that holds", () => {
    const first = [36, 37, 38].map((n) => pad(n)).reduce(add, [] as Control[]);
    const offer = rowOffer(first)!;
    const rest = restOfRow({ ...start, controls: first }, first.at(-1)!, offer.rest);
    const whole = { ...start, size: { width: 8, height: 8 }, controls: [...first, ...rest] };
    expect(whole.controls).toHaveLength(16);
    expect(checkSurfaceProfile(whole)).toEqual([]);
  });
  test("what sends a note or a controller is lit by the same message; what is moved is not", () => {
    const lit = { ...start, palettes: [{ id: "lit", off: 0, colours: [] }] };
    const found = { source: "u", confidence: 1, moved: 1, messages: 1 } as const;
    const button = {
      ...found,
      kind: "button",
      sends: { kind: "controller", channel: 2, number: 9 },
      behaviour: "springs-back",
    } as const;
    const mover = {
      ...found,
      kind: "fader",
      sends: { kind: "controller", channel: 2, number: 9 },
      behaviour: "absolute",
    } as const;
    expect(taughtControl(lit, button).light).toEqual({ kind: "controller", channel: 2, number: 9, palette: "lit" });
    expect(taughtControl(lit, mover).light).toBeUndefined();
  });
});

describe("fingers", () => {
  const heard = (...all: number[][]) => all.map((b, i) => ({ source: "u", atMs: i * 10, bytes: Uint8Array.from(b) }));
  const motor = fader("fader-1", { kind: "bend", channel: 1 });
  test("a note that is down while one fader moves is the touch of that fader", () => {
    const once = [
      [0x90, 104, 127],
      [0xe0, 0, 10],
      [0xe0, 0, 12],
      [0xe0, 0, 14],
      [0x90, 104, 0],
    ];
    expect([...touchNotes([motor], heard(...once, ...once))]).toEqual([
      ["fader-1", { kind: "note", channel: 1, number: 104 }],
    ]);
  });
  test("a pad that is pressed without a fader, or while several move, is a pad", () => {
    const other = encoder("knob-1", { kind: "controller", channel: 1, number: 3 }, { behaviour: "absolute" });
    expect([...touchNotes([motor], heard([0x90, 36, 127], [0x80, 36, 0]))]).toEqual([]);
    const both = heard(
      [0x90, 36, 127],
      [0xe0, 0, 1],
      [0xe0, 0, 2],
      [0xe0, 0, 3],
      [0xb0, 3, 1],
      [0xb0, 3, 2],
      [0xb0, 3, 3],
    );
    expect([...touchNotes([motor, other], both)]).toEqual([]);
  });
  test("pressure belongs to the pad it names, or to the one that is held", () => {
    const pads = [pad(36), pad(37)];
    const all = heard([0x90, 36, 99], [0xa0, 36, 20], [0x80, 36, 0], [0x90, 37, 90], [0xd0, 40], [0x80, 37, 0]);
    expect([...pressures(pads, all)]).toEqual([
      ["pad-1-36", { kind: "poly-pressure", channel: 1, number: 36 }],
      ["pad-1-37", { kind: "channel-pressure", channel: 1 }],
    ]);
  });
});
