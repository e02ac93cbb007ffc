/** An engine that follows a dead one goes on as that one would have gone on. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { i, Rig } from "../../../tests/rig/rig.ts";
import { fixed, flash, go, mapping, shift, showWith, toggle } from "../../../tests/rig/shows.ts";
import { UNKNOWN } from "../desk/state-store.ts";
import type { Mapping } from "../format/show.ts";
import { encodeOsc } from "../osc/encode.ts";
import { houseValue, setHouseValue } from "../run-state/world.ts";
import { type Carried, fitting, holdingOf, lastHolding, sameInBoth, takeOver } from "./taking-over.ts";

const steps = (control: string, order: NonNullable<Mapping["order"]>) =>
  mapping(
    control,
    [1, 2, 3].map((n) => ({ ...go(n), set: n })),
    { order },
  );
const gesture = (control: string, of: Mapping["gesture"], n: number, more: Partial<Mapping> = {}) =>
  mapping(control, flash(n, fixed(1)), { id: `m-${control}-${of}`, gesture: of, ...more });

const SHOW = showWith([
  steps("pad-1", "in-turn"),
  steps("pad-2", "in-turn-stop"),
  gesture("pad-3", "hold", 1),
  gesture("pad-3", "tap", 2),
  gesture("pad-3", "double", 3),
  gesture("pad-4", "tap", 4),
  gesture("pad-4", "double", 5),
  mapping("pad-5", [{ ...flash(6), delayMs: 300 }, toggle(7)]),
  mapping("pad-6", [{ ...go(8), delayMs: 700 }]),
  gesture("pad-7", "release", 9),
  mapping("pad-8", shift()),
  mapping("pad-9", flash(10), { layers: ["base"] }),
  mapping("pad-9", flash(11), { id: "m-shifted", layers: ["shift"] }),
]);
const PADS = 9;

type Step = { pad: number } | { ms: number };

const step = fc.oneof(
  { weight: 3, arbitrary: fc.record({ pad: fc.integer({ min: 1, max: PADS }) }) },
  { weight: 1, arbitrary: fc.record({ ms: fc.constantFrom(20, 100, 260, 520) }) },
);

/** Plays steps: a pad that is up is pressed, and one that is down is let go. What was sent, and answered after a while. */
function play(rig: Rig, down: Set<number>, played: readonly Step[], before: readonly string[] = []): string[] {
  const sent: string[] = [];
  for (const s of played) {
    if ("ms" in s) {
      for (const text of new Map([...before, ...sent].map((t) => [t.split(" ")[0], t])).values()) answer(rig, text);
      rig.wait(s.ms);
    } else if (down.delete(s.pad)) rig.release(`pad-${s.pad}`);
    else {
      down.add(s.pad);
      rig.press(`pad-${s.pad}`);
    }
    sent.push(...rig.sent());
  }
  return sent;
}

/** What changes at the desk: what is sent again, because the new engine heard from the desk for the first time, does not. */
function changes(sent: readonly string[]): string[] {
  const newest = new Map<string, string>();
  return sent.filter((text) => {
    const [what, value] = text.split(" ") as [string, string?];
    if (value === undefined) return true;
    const isNew = newest.get(what) !== value;
    newest.set(what, value);
    return isNew;
  });
}

/** The desk reports what it was told last of a playback. */
function answer(rig: Rig, sent: string): void {
  const [, what, value] = /^\/set\/(playback\/\d+\/\d+\/(?:on|flash)) ([01])$/.exec(sent) ?? [];
  if (what) rig.desk(`/now/${what}`, i(Number(value)));
}

/** As the server keeps it: through a copy, with nothing of the engine in it. */
function carriedFrom({ translator: { world } }: Rig): Carried {
  const values = Object.fromEntries(
    world.desks.map(({ id, store }) => [
      id,
      Array.from({ length: store.source.length }, (_, index) => index)
        .filter((index) => store.source[index] !== UNKNOWN)
        .map((index) => [index, store.number(index), store.source[index]!, 0] as [number, number, number, number]),
    ]),
  );
  return structuredClone({ values, controls: {}, holding: holdingOf(world), missed: "by-sockets" });
}

function followed(before: Rig): Rig {
  const next = new Rig(SHOW);
  next.nowMs = before.nowMs;
  takeOver(next.translator, carriedFrom(before), next.nowMs);
  next.translator.tick(next.nowMs);
  return next;
}

describe("an engine that takes over", () => {
  test("gestures, delays, places in lists, layers and what is held go on, wherever it is cut", () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 30 }), fc.array(step, { maxLength: 30 }), (first, second) => {
        const rig = Rig.onPage(1, SHOW);
        const down = new Set<number>();
        const before = play(rig, down, first);
        const next = followed(rig);
        next.sent();
        const after = [...second, ...[...down].map((pad) => ({ pad })), { ms: 2000 }];
        const sent = play(rig, new Set(down), after, before);
        expect(changes(play(next, new Set(down), after, before))).toEqual(changes(sent));
      }),
      { numRuns: 300 },
    );
  });

  test("another show: values, faders and kept commands of what is the same in both, and the house by its names", () => {
    const layers = [
      { id: "base", name: "Base" },
      { id: "shift", name: "Shift" },
    ];
    const variables = [
      { id: "a", name: "A", from: 0, to: 9, start: 1, wraps: false },
      { id: "b", name: "B", from: 0, to: 9, start: 2, wraps: false },
    ];
    const lights = SHOW.desks[0]!;
    const other = { ...lights, id: "other", name: "Other", port: 9300, listenPort: 9301 };
    const before = { ...SHOW, layers, variables, desks: [lights, other] };
    const now = {
      ...before,
      desks: [
        { ...lights, name: "Renamed" },
        { ...other, port: 9400 },
      ],
      variables: [{ ...variables[0]!, id: "c", name: "C", start: 7 }, variables[1]!],
    };
    const rig = new Rig(before);
    setHouseValue(rig.translator.world, "variable", 1, 5);
    rig.desk("/now/page", i(3)).datagram(encodeOsc({ kind: "message", address: "/now/page", args: [i(4)] }), 1);
    const whole = {
      ...carriedFrom(rig),
      controls: { deck: [[30, 0.5, -1, 0, 0] as [number, number, number, number, number]] },
    };
    const carried = fitting({ ...whole, holding: lastHolding(rig.translator.world) }, before, now);
    expect(Object.keys(carried.values)).toEqual(["lights"]);
    const next = new Rig(now);
    takeOver(next.translator, carried, next.nowMs);
    const { world } = next.translator;
    expect(world.desks.map((d, index) => d.pageUp(world.context.compiled.desks[index]!))).toEqual([3, null, null]);
    expect([houseValue(world, "variable", 0), houseValue(world, "variable", 1)]).toEqual([7, 5]);
    expect(world.surfaces[0]!.position(30)).toBe(0.5);
    expect(fitting(whole, before, before)).toBe(whole);
    const kinds = { surfaces: [], desks: [] };
    expect(sameInBoth(before, { ...before, profiles: kinds })).toEqual(new Set(["lights", "other", "deck", "house"]));
  });

  test("names, notes and sleep of desks, surfaces and their parts take nothing of what is known", () => {
    const said = {
      ...SHOW,
      desks: SHOW.desks.map((d) => ({ ...d, name: "Otherwise", pages: { 2: { note: "later" } } })),
      surfaces: SHOW.surfaces.map((s) => ({
        ...s,
        name: "X",
        controls: { "pad-1": { name: "A" } },
        asleep: ["pad-2"],
      })),
    };
    expect(sameInBoth(SHOW, said)).toEqual(sameInBoth(SHOW, { ...SHOW, desks: [...SHOW.desks] }));
  });

  test("what waits too long is not done any more, but what lets something go is", () => {
    const rig = Rig.onPage(1, SHOW).press("pad-5").release("pad-5").tap("pad-6");
    rig.sent();
    const next = new Rig(SHOW);
    next.nowMs = rig.nowMs + 60_000; // the whole program was away
    takeOver(next.translator, carriedFrom(rig), next.nowMs);
    expect(next.wait(20).sent()).toEqual(["/set/playback/1/6/flash 0"]);
  });

  test("of another show it takes what is in it still", () => {
    const rig = Rig.onPage(1, SHOW).tap("pad-1").press("pad-3").press("pad-7");
    const carried = carriedFrom(rig);
    const next = new Rig(showWith([steps("pad-1", "in-turn"), gesture("pad-3", "tap", 2)]));
    next.nowMs = rig.nowMs;
    takeOver(next.translator, carried, next.nowMs);
    next.sent();
    next.desk("/now/page", i(1)).tap("pad-1").wait(1000).release("pad-3").release("pad-7");
    expect(next.sent()).toEqual(["/set/playback/1/2/go"]);
  });
});
