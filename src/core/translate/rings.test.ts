/** Rule 19 through the whole path: cables and routes that lead back trip, and honest messages never do. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { profiles, showWith } from "../../../tests/rig/shows.ts";
import type { Desk, Route, Show } from "../format/show.ts";
import { TRIP_GENERATIONS } from "../guard/loop.ts";
import { compileShow } from "../mapping/compile.ts";
import { Translator } from "./translator.ts";

/** A message on its way to an input. */
interface Flying {
  readonly atMs: number;
  readonly to: string;
  readonly bytes: Uint8Array;
}

const route = (from: string, to: string): Route => ({
  id: `r-${from}-${to}`,
  name: `${from} to ${to}`,
  on: true,
  from,
  to,
  pass: "all",
});

/** Surfaces s1, s2 … and a MIDI desk d1, joined by routes inside and by what `wire` says outside. */
class Wired {
  readonly translator: Translator;
  readonly out: { from: string; bytes: Uint8Array }[] = [];
  #flying: Flying[] = [];
  #nowMs = 1000;

  constructor(
    surfaces: number,
    routes: readonly Route[],
    /** Which input what leaves an output comes to, and after how long in ms; null = it ends there. */
    readonly wire: (from: string) => readonly { to: string; afterMs: number }[],
    /** Cables by their names; left out, what leads where is known to nobody. */
    cables: Readonly<Record<string, { in?: string; out?: string }>> = {},
  ) {
    const named = (name: string | undefined) =>
      name === undefined ? ({ kind: "screen" } as const) : ({ kind: "cable", name } as const);
    const show: Show = {
      ...showWith([]),
      surfaces: Array.from({ length: surfaces }, (_, i) => ({
        id: `s${i + 1}`,
        name: `S ${i + 1}`,
        profile: "pocket-keys", // no lights, so that all that leaves was passed on
        in: named(cables[`s${i + 1}`]?.in),
        out: named(cables[`s${i + 1}`]?.out),
      })),
      desks: [
        {
          ...({ id: "d1", name: "D 1", profile: "midi", host: "127.0.0.1", port: 1, listenPort: 2 } satisfies Desk),
          midi: { in: named(cables.d1?.in ?? "x"), out: named(cables.d1?.out ?? "y") },
        },
      ],
      routes: [...routes],
    };
    const compiled = compileShow(show, profiles);
    const leave = (from: string, bytes: Uint8Array) => {
      this.out.push({ from, bytes });
      for (const { to, afterMs } of this.wire(from)) this.#flying.push({ atMs: this.#nowMs + afterMs, to, bytes });
    };
    this.translator = new Translator(
      compiled,
      {
        toDesk: (_, bytes, at, length) => leave("d1", bytes.slice(at, at + length)),
        toSurface: (s, bytes, at, length) => leave(`s${s + 1}`, bytes.slice(at, at + length)),
      },
      { links: false },
    );
    this.out.length = 0;
  }

  /** Something is played on an input. */
  play(to: string, bytes: readonly number[]): void {
    this.#arrive(to, Uint8Array.from(bytes));
  }

  #arrive(to: string, bytes: Uint8Array): void {
    if (to === "d1") this.translator.deskBytes(0, bytes, this.#nowMs);
    else this.translator.surfaceBytes(Number(to.slice(1)) - 1, bytes, this.#nowMs);
  }

  /** Lets so much time pass; what is on its way arrives in order. Stops after so many arrivals. */
  wait(ms: number, most = 100_000): number {
    const untilMs = this.#nowMs + ms;
    let arrived = 0;
    for (;;) {
      this.#flying.sort((a, b) => a.atMs - b.atMs);
      const next = this.#flying[0];
      if (!next || next.atMs > untilMs || arrived >= most) break;
      this.#flying.shift();
      this.#nowMs = Math.max(this.#nowMs, next.atMs);
      this.#arrive(next.to, next.bytes);
      arrived++;
    }
    this.#nowMs = untilMs;
    return arrived;
  }

  get tripped(): boolean {
    const { surfaces, desks } = this.translator.world;
    return surfaces.some((s) => s.loop.tripped) || desks.some((d) => d.loop?.tripped);
  }
}

const MESSAGES = {
  note: [0x90, 60, 100],
  controller: [0xb0, 7, 64],
  bend: [0xe0, 0, 64],
  "program change": [0xc0, 5],
  pressure: [0xd0, 9],
  clock: [0xf8],
  start: [0xfa],
  "song position": [0xf2, 1, 2],
  "system exclusive": [0xf0, 0x7d, 1, 2, 3, 4, 5, 0xf7],
} as const;

/** Rings by the routes inside; outside each output leads back to the input of the same name, or of the next. */
const RINGS = {
  "one surface": [[route("s1", "s1")], 1],
  "two surfaces": [[route("s1", "s2"), route("s2", "s1")], 2],
  "three surfaces": [[route("s1", "s2"), route("s2", "s3"), route("s3", "s1")], 3],
  "a MIDI desk and a surface": [[route("s1", "d1"), route("d1", "s1")], 1],
  "a MIDI desk alone": [[route("d1", "d1")], 1],
} as const;

describe("a ring of cables and routes", () => {
  for (const [name, [routes, surfaces]] of Object.entries(RINGS))
    test.each(Object.entries(MESSAGES))(`of ${name} stops %s at every period`, (_what, bytes) => {
      for (const afterMs of [0.2, 5, 60, 400, 900 / routes.length]) {
        const ring = new Wired(surfaces, routes, (from) => [{ to: from, afterMs }]);
        ring.play(name.includes("desk alone") ? "d1" : "s1", bytes);
        ring.wait(1000 * 60, 10_000);
        expect(ring.tripped, `${afterMs} ms`).toBe(true);
        expect(ring.out.length, `${afterMs} ms`).toBeLessThanOrEqual((TRIP_GENERATIONS + 2) * routes.length);
        expect(ring.wait(60_000)).toBe(0);
      }
    });

  test("of two and three trips within 100 ms where the way is short", () => {
    for (const [routes, surfaces] of [RINGS["two surfaces"], RINGS["three surfaces"]]) {
      const ring = new Wired(surfaces, routes, (from) => [{ to: from, afterMs: 3 }]);
      ring.play("s1", MESSAGES.note);
      ring.wait(100);
      expect(ring.tripped).toBe(true);
    }
  });

  // The way out of one surface comes in at another: nothing comes back where it went out.
  const ACROSS = {
    "two surfaces": [[route("s1", "s2")], { s1: { in: "c" }, s2: { out: "c" } }],
    "three surfaces and two cables": [
      [route("s1", "s2"), route("s3", "s4")],
      { s1: { in: "c" }, s2: { out: "d" }, s3: { in: "d" }, s4: { out: "c" } },
    ],
    "a surface and a MIDI desk": [[route("s1", "d1")], { s1: { in: "c" }, d1: { in: "x", out: "c" } }],
    "a MIDI desk and a surface": [[route("d1", "s1")], { s1: { out: "x" }, d1: { in: "x", out: "y" } }],
  } as const;
  for (const [name, [routes, cables]] of Object.entries(ACROSS))
    test.each(Object.entries(MESSAGES))(`across ${name} stops %s at every period`, (_what, bytes) => {
      const all: Readonly<Record<string, { in?: string; out?: string }>> = cables;
      for (const afterMs of [0.2, 5, 60]) {
        const ring = new Wired(
          4,
          routes,
          (from) =>
            Object.entries(all).flatMap(([to, c]) => (c.in && c.in === all[from]?.out ? [{ to, afterMs }] : [])),
          all,
        );
        ring.play(routes[0].from, bytes);
        ring.wait(1000 * 60, 10_000);
        expect(ring.tripped, `${afterMs} ms`).toBe(true);
        expect(ring.out.length, `${afterMs} ms`).toBeLessThanOrEqual((TRIP_GENERATIONS + 2) * routes.length);
        expect(ring.wait(60_000)).toBe(0);
      }
    });

  test("goes on when it is closed by hand and the cable is away", () => {
    let isWired = true;
    const ring = new Wired(1, [route("s1", "s1")], (from) => (isWired ? [{ to: from, afterMs: 5 }] : []));
    ring.play("s1", MESSAGES.note);
    ring.wait(1000);
    expect(ring.tripped).toBe(true);
    isWired = false;
    ring.translator.rearm("surface", 0);
    ring.out.length = 0;
    ring.play("s1", MESSAGES.note);
    expect([ring.out.length, ring.tripped]).toEqual([1, false]);
  });
});

describe("10,000 honest messages", () => {
  const honest = (everyMs: number, bytes: readonly (readonly number[])[], echoMs: number | null) => {
    const through = new Wired(2, [route("s1", "s2"), route("s1", "d1")], (from) =>
      echoMs === null ? [] : [{ to: from, afterMs: echoMs }],
    );
    for (let n = 0; n < 10_000; n++) {
      through.play("s1", bytes[n % bytes.length]!);
      through.wait(everyMs);
    }
    return through;
  };

  test.each([
    [
      "a fast roll",
      8,
      [
        [0x90, 60, 127],
        [0x80, 60, 64],
      ],
      null,
    ],
    ["a clock", 20.8, [[0xf8]], null],
    [
      "a roll on an instrument that echoes each once",
      15,
      [
        [0x90, 60, 127],
        [0x90, 60, 0],
      ],
      2,
    ],
    ["a clock to a desk that echoes each once", 20.8, [[0xf8]], 7],
    ["one program again and again, echoed", 100, [[0xc0, 3]], 40],
  ] as const)("of %s never trip, and all go through", (_what, everyMs, bytes, echoMs) => {
    const through = honest(everyMs, bytes, echoMs);
    expect(through.tripped).toBe(false);
    expect(through.out.filter((o) => o.from === "s2")).toHaveLength(10_000);
    expect(through.out.filter((o) => o.from === "d1")).toHaveLength(10_000);
  });

  test("at any pace, with any echo", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 300, noNaN: true }),
        fc.option(fc.double({ min: 0, max: 250, noNaN: true })),
        fc.constantFrom(...Object.values(MESSAGES)),
        (everyMs, echoMs, bytes) => {
          const through = new Wired(2, [route("s1", "s2")], (from) =>
            echoMs === null ? [] : [{ to: from, afterMs: echoMs }],
          );
          for (let n = 0; n < 200; n++) {
            through.play("s1", bytes);
            through.wait(everyMs);
          }
          expect(through.tripped).toBe(false);
        },
      ),
      { numRuns: 60 },
    );
  });
});
