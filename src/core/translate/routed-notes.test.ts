import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { Rig } from "../../../tests/rig/rig.ts";
import { showWith, synth } from "../../../tests/rig/shows.ts";
import type { Show } from "../format/show.ts";
import { parseHexBytes } from "../midi/hex.ts";

import { holdingOf, takeOver } from "./taking-over.ts";

type Route = NonNullable<Show["routes"]>[number];

const other = { ...synth, id: "other", name: "Other" };
const route = (more: Partial<Route> = {}): Route => ({
  id: "r",
  name: "R",
  on: true,
  from: "deck",
  to: "synth",
  pass: "all",
  ...more,
});
const show = (...routes: Route[]) => showWith([], { desks: [...showWith([]).desks, synth, other], routes });
const with_ =
  (...routes: Route[]) =>
  (before: Show) => ({ ...before, routes });

describe("rule 6 for routes: what was passed on ends where it went", () => {
  const held = (...routes: Route[]) => {
    const rig = Rig.onPage(1, show(...(routes.length > 0 ? routes : [route()]))).hex("90 3C 7F");
    rig.sent();
    return rig;
  };
  test.each<[string, Route[]]>([
    ["is switched off", [route({ on: false })]],
    ["is removed", []],
    ["has another channel", [route({ channels: [{ from: 1, to: 2 }] })]],
    ["passes no notes any more", [route({ kinds: ["clock"] })]],
    ["goes to another desk", [route({ to: "other" })]],
  ])("a route that %s while a note is held", (_, now) => {
    const rig = held();
    expect(rig.edit(with_(...now)).sent()).toEqual([]); // the finger is still on the key
    expect(rig.hex("80 3C 33").sent()).toEqual(["80 3C 33"]);
    expect(rig.translator.world.held.list()).toEqual([]);
    // The next press goes the new way, and only that.
    const next = rig.hex("90 3C 7F 80 3C 40").sent();
    expect(next).toEqual(
      now.length === 0 || now[0]!.kinds || !now[0]!.on
        ? []
        : now[0]!.channels
          ? ["91 3C 7F", "81 3C 40"]
          : ["90 3C 7F", "80 3C 40"],
    );
  });
  test("the channel it went out on is the one it ends on", () => {
    const rig = held(route({ channels: [{ from: 1, to: 5 }] }));
    expect(rig.edit(with_(route())).hex("90 3C 00").sent()).toEqual(["94 3C 00"]);
  });
  test("a show without the desk, or without the surface: it is let go before they go", () => {
    const rig = held();
    rig.edit((before) => ({ ...before, desks: before.desks.filter((d) => d.id !== "synth"), routes: [] }));
    expect(rig.sent()).toEqual(["80 3C 40"]);
    const gone = held();
    gone.edit((before) => ({ ...before, surfaces: [], routes: [] }));
    expect(gone.sent()).toEqual(["80 3C 40"]);
  });
  test.each<[string, (rig: Rig) => void]>([
    ["everything is released", (rig) => rig.translator.releaseAll(rig.nowMs)],
    ["the surface is gone", (rig) => rig.translator.surfaceGone(0, rig.nowMs)],
    ["all notes of its channel are off", (rig) => rig.hex("B0 7B 00")],
    ["the system is reset", (rig) => rig.hex("FF")],
  ])("%s: it is let go", (_, ends) => {
    const rig = held(route({ kinds: ["note"] }));
    ends(rig);
    expect([rig.sent(), rig.translator.world.held.list()]).toEqual([["80 3C 40"], []]);
  });
  test("a pedal is let go as a key is", () => {
    const rig = Rig.onPage(1, show(route())).hex("B0 40 7F");
    rig.edit(with_()).sent();
    expect(rig.hex("B0 40 00").sent()).toEqual(["B0 40 00"]);
    const gone = Rig.onPage(1, show(route())).hex("B0 40 7F");
    gone.sent();
    gone.translator.surfaceGone(0, gone.nowMs);
    expect(gone.sent()).toEqual(["B0 40 00"]);
  });
  test("two routes: each ends what it began", () => {
    const rig = held(route(), route({ id: "r2", to: "other", channels: [{ from: 1, to: 3 }] }));
    expect(rig.edit(with_()).hex("80 3C 40").sent()).toEqual(["80 3C 40", "82 3C 40"]);
  });
  test("what a MIDI desk holds by a route is let go with it", () => {
    const made = showWith([], {
      desks: [...showWith([]).desks, synth, other],
      routes: [route({ from: "synth", to: "other" })],
    });
    const rig = new Rig(made).wait(20);
    const d = made.desks.findIndex((x) => x.id === "synth");
    rig.translator.deskBytes(d, parseHexBytes("90 3C 7F")!, rig.nowMs);
    expect(rig.sent()).toEqual(["90 3C 7F"]);
    rig.translator.deskGone(d, rig.nowMs);
    expect(rig.sent()).toEqual(["80 3C 40"]);
  });

  test("an engine that takes over ends it too, whatever routes it has", () => {
    const holding = structuredClone(holdingOf(held().translator.world));
    const next = Rig.onPage(1, show());
    takeOver(next.translator, { values: {}, controls: {}, holding, missed: "by-sockets" }, next.nowMs);
    next.sent();
    expect([next.hex("80 3C 40").sent(), next.translator.world.held.list()]).toEqual([["80 3C 40"], []]);
  });

  const step = fc.oneof(
    fc.record({ note: fc.integer({ min: 60, max: 63 }), channel: fc.nat(2), on: fc.boolean() }),
    fc.record({
      routes: fc.array(
        fc.record({
          to: fc.constantFrom("synth", "other"),
          on: fc.boolean(),
          from: fc.integer({ min: 1, max: 3 }),
          as: fc.integer({ min: 1, max: 4 }),
        }),
        { maxLength: 3 },
      ),
    }),
  );
  test("whatever hands play and whatever becomes of the routes: no note hangs once the keys are up", () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
        const rig = Rig.onPage(1, show(route()));
        const down = new Set<string>();
        const sounding = new Map<string, number>();
        const hear = () => {
          for (const text of rig.sent()) {
            const [status, note, velocity] = text.split(" ").map((h) => Number.parseInt(h, 16)) as [
              number,
              number,
              number,
            ];
            const key = `${status & 15} ${note}`;
            sounding.set(key, status >= 0x90 && status < 0xa0 && velocity > 0 ? 1 : 0);
          }
        };
        const play = (channel: number, note: number, on: boolean) => {
          const hex = (n: number) => n.toString(16).padStart(2, "0");
          rig.hex(`${hex((on ? 0x90 : 0x80) | channel)} ${hex(note)} 40`);
          if (on) down.add(`${channel} ${note}`);
          else down.delete(`${channel} ${note}`);
          hear();
        };
        for (const s of steps) {
          if ("note" in s) play(s.channel, s.note, s.on);
          else {
            const routes = s.routes.map((r, i) =>
              route({ id: `r${i}`, to: r.to, on: r.on, channels: [{ from: r.from, to: r.as }] }),
            );
            rig.edit(with_(...routes));
            hear();
          }
        }
        for (const key of down) play(Number(key.split(" ")[0]), Number(key.split(" ")[1]), false);
        expect([...sounding].filter(([, on]) => on === 1)).toEqual([]);
        expect(rig.translator.world.held.list()).toEqual([]);
      }),
      { numRuns: 300 },
    );
  });
});
