import { describe, expect, test } from "vitest";
import { liveStateOf } from "../../../tests/rig/row-names.ts";
import { showWith } from "../../../tests/rig/shows.ts";
import type { PortRef } from "../../core/format/show.ts";
import { addressOf, typedAddress } from "./AddressFields.tsx";
import { cableNames, freshCable, portFrom, portKey, portOptions, portWords } from "./ports.ts";

const REFS: PortRef[] = [
  { kind: "screen" },
  { kind: "browser-midi", device: "Grid", nth: 2 },
  { kind: "midi-udp", host: "127.0.0.1", port: 9200, listenPort: 9201 } as PortRef,
  { kind: "cable", name: "To | from" },
  { kind: "network-midi", session: "s-1" },
  { kind: "computer-midi", device: "Strips", nth: 1 } as PortRef,
  { kind: "dmx", protocol: "sacn", universe: 3, first: 1, on: 128, off: 100, reach: "this-computer" } as PortRef,
  { kind: "none" },
];

describe("a port as a choice of a list", () => {
  test("comes back from its key as it was", () => {
    for (const ref of REFS) expect(portFrom(portKey(ref))).toEqual(ref);
  });

  test("has words of its own, whatever it is", () => {
    const words = REFS.map((ref) => portWords(ref, [{ id: "s-1", name: "Cabin" } as never]));
    expect(words).toEqual([
      "drawn on the screen",
      "Grid · number 2 · in a browser",
      "MIDI over UDP 127.0.0.1:9200",
      "cable “To | from”",
      "session “Cabin” on the network",
      "Strips · of this computer",
      "sACN universe 3 from channel 1",
      "none",
    ]);
  });

  test("a session that is gone is told by its id", () => {
    expect(portWords({ kind: "network-midi", session: "s-9" })).toBe("session “s-9” on the network");
  });
});

describe("what a surface can be given", () => {
  const show = showWith([]);
  const live = (more: object) => ({ show, computerMidi: { inputs: ["Grid", "Grid"], outputs: [] }, ...more }) as never;
  const closed = { kind: "unasked" } as never;

  test("devices of this computer with one name are counted, and only those of the wanted way are offered", () => {
    const labels = portOptions({ kind: "screen" }, closed, "input", live({})).map((o) => o.label);
    expect(labels).toEqual([
      "drawn on the screen",
      "Grid · of this computer",
      "Grid · number 2 · of this computer",
      "none",
    ]);
    expect(portOptions({ kind: "screen" }, closed, "output", live({})).map((o) => o.label)).toEqual([
      "drawn on the screen",
      "none",
    ]);
  });

  test("a device that two browsers have is offered once, and what is chosen stays though it is gone", () => {
    const device = { name: "Pads", nth: 1, input: true, output: false };
    const midi = { kind: "open", devices: [device] } as never;
    const gone: PortRef = { kind: "browser-midi", device: "Old one", nth: 1 };
    const options = portOptions(gone, midi, "input", live({ computerMidi: { inputs: [], outputs: [] } }), [
      device as never,
    ]);
    expect(options.map((o) => o.label)).toEqual([
      "drawn on the screen",
      "Pads · in a browser",
      "none",
      "Old one · in a browser",
    ]);
  });

  test("cables are named in order, once each, and a fresh one has a free number", () => {
    const cable = (name: string): PortRef => ({ kind: "cable", name });
    const wired = { ...show, surfaces: [{ ...show.surfaces[0]!, in: cable("Cable 2"), out: cable("Cable 1") }] };
    expect(cableNames(wired)).toEqual(["Cable 1", "Cable 2"]);
    expect(freshCable(cableNames(wired))).toBe("Cable 3");
    expect(freshCable(["Cable 2"])).toBe("Cable 1");
    expect(liveStateOf(wired).show).toEqual(wired);
  });
});

describe("the address of a desk as it is typed", () => {
  const desk = showWith([]).desks[0]!;

  test("comes back as it was, and carries a login only where there is one", () => {
    const typed = typedAddress(desk);
    expect(typed).toMatchObject({ host: "127.0.0.1", port: "9100", listenPort: "9101", user: "", password: "" });
    expect(addressOf(typed)).toEqual({ host: "127.0.0.1", port: 9100, listenPort: 9101 });
    expect(addressOf({ ...typed, host: " 10.0.0.2 ", user: "ada" })).toEqual({
      host: "10.0.0.2",
      port: 9100,
      listenPort: 9101,
      login: { user: "ada" },
    });
    expect(addressOf({ ...typed, user: "ada", password: "x" }).login).toEqual({ user: "ada", password: "x" });
  });

  test("what is no number goes on to be refused by the edit, not to a port of its own", () => {
    expect(addressOf({ ...typedAddress(desk), port: "ninety" }).port).toBeNaN();
  });
});
