/** The tables that the formats stand on: what must be so of every entry. */
import { describe, expect, test } from "vitest";
import { profiles } from "../../../tests/rig/shows.ts";
import { FREE_EXAMPLES, parseFreeMessage, toDesk } from "../desk/free-message.ts";
import { gesturesOf } from "./gestures.ts";
import { leadToSame, PORT_KINDS } from "./port-kinds.ts";
import type { PortRef } from "./show.ts";
import { CARRIERS, type Carrier, carrierOf, carriersOf, fitsWire, WIRES, type Wire } from "./wires.ts";

const wires = Object.keys(WIRES) as Wire[];

describe("wires and carriers", () => {
  test("every carrier carries some wire, and what needs an address is carried", () => {
    const used = new Set(wires.flatMap((w) => carriersOf(w)));
    expect([...used].sort()).toEqual((Object.keys(CARRIERS) as Carrier[]).sort());
    for (const wire of wires) expect(carriersOf(wire).length > 0, wire).toBe(WIRES[wire].reachedBy === "address");
  });

  test("a desk of the show goes before its kind, and a kind before what is usual", () => {
    for (const kind of wires) {
      const [usual] = carriersOf(kind);
      expect(carrierOf({ wire: { kind } })).toBe(usual ?? null);
      for (const over of carriersOf(kind)) {
        expect(carrierOf({ wire: { kind, over } })).toBe(over);
        expect(carrierOf({ wire: { kind, ...(usual ? { over: usual } : {}) } }, over)).toBe(over);
      }
    }
  });

  test("a message fits its own wire and no other that has templates", () => {
    const fields = wires.flatMap((w) => WIRES[w].template ?? []);
    for (const field of fields)
      for (const wire of wires)
        expect(fitsWire({ [field]: "x" }, wire)).toBe(WIRES[wire].template === null || WIRES[wire].template === field);
  });

  test("a message of one’s own can be begun for every wire", () => {
    for (const kind of wires) {
      const target = toDesk({ kind });
      expect(parseFreeMessage(FREE_EXAMPLES[target.kind], target), kind).toMatchObject({ ok: true });
    }
  });
});

describe("kinds of ports", () => {
  const REFS: { readonly [K in PortRef["kind"]]: readonly [Extract<PortRef, { kind: K }>, PortRef | null] } = {
    screen: [{ kind: "screen" }, null],
    "browser-midi": [
      { kind: "browser-midi", device: "Deck", nth: 1 },
      { kind: "browser-midi", device: "Deck", nth: 2 },
    ],
    "midi-udp": [
      { kind: "midi-udp", host: "127.0.0.1", port: 9000 },
      { kind: "midi-udp", host: "127.0.0.1", port: 9001 },
    ],
    cable: [
      { kind: "cable", name: "one" },
      { kind: "cable", name: "two" },
    ],
    "network-midi": [
      { kind: "network-midi", session: "one" },
      { kind: "network-midi", session: "two" },
    ],
    "computer-midi": [
      { kind: "computer-midi", device: "Deck", nth: 1 } as never,
      { kind: "computer-midi", device: "Deck", nth: 2 } as never,
    ],
    dmx: [{ kind: "dmx", protocol: "sacn", universe: 1, first: 1, reach: "this-computer", on: 128, off: 112 }, null],
    none: [{ kind: "none" }, null],
  };

  test.each(Object.entries(REFS))("%s leads to itself alone, where there could be two", (_kind, [ref, other]) => {
    expect(leadToSame(ref, ref)).toBe(other !== null);
    if (other) expect(leadToSame(ref, other)).toBe(false);
    for (const [another] of Object.values(REFS))
      if (another.kind !== ref.kind) expect(leadToSame(ref, another)).toBe(false);
  });

  test("what is sent to each keeps to a budget", () => {
    for (const [kind, { perS, burst }] of Object.entries(PORT_KINDS)) {
      expect(perS, kind).toBeGreaterThan(0);
      expect(burst, kind).toBeGreaterThan(0);
      expect(burst, kind).toBeLessThan(perS);
    }
  });
});

test("every control of every kind that ships can be made to do something", () => {
  for (const profile of profiles.surfaces.values())
    for (const control of profile.controls) expect(gesturesOf(control).length, control.id).toBeGreaterThan(0);
});
