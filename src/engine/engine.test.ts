import { expect, test, vi } from "vitest";
import { library, mapping, shift, showWith } from "../../tests/rig/shows.ts";
import { Engine } from "./engine.ts";
import type { EngineBatch, FromEngine } from "./messages.ts";
import type { MidiSystem } from "./ports/midi-system.ts";

test("a device of the computer that is pulled out lets go of what it held", async () => {
  let devices = ["Grid 24:0"];
  let hear: (bytes: Uint8Array) => void = () => {};
  const computer: MidiSystem = {
    hasVirtual: false,
    inputs: () => devices,
    outputs: () => devices,
    openInput: (_, message) => {
      hear = message;
      return { close: () => {} };
    },
    openOutput: () => ({ send: () => {}, close: () => {} }),
  };
  const told: FromEngine[] = [];
  const engine = new Engine(
    (message) => told.push(message),
    () => performance.now(),
    async () => computer,
  );
  const newest = () => told.findLast((m): m is EngineBatch => m.kind === "batch");
  const port = { kind: "computer-midi", device: "Grid", nth: 1 } as const;
  const { surfaces, desks } = library;
  const show = showWith([mapping("pad-1", shift())], {
    surfaces: [{ id: "deck", name: "Deck grid", profile: "deck-grid", in: port, out: port }],
  });
  engine.handle({ kind: "load", show, profiles: { surfaces, desks }, load: 1 });
  try {
    await vi.waitFor(() => expect(newest()?.surfaces.deck?.inPort.state).toBe("open"));
    hear(Uint8Array.of(0x90, 36, 127));
    await vi.waitFor(() => expect(newest()!.held).toMatchObject([{ surface: "deck", control: "pad-1" }]));
    devices = [];
    await vi.waitFor(() => expect(newest()!.surfaces.deck!.inPort.state).toBe("waiting"), 5000);
    await vi.waitFor(() => expect(newest()!.held).toEqual([]));
  } finally {
    engine.handle({ kind: "stop" });
    await vi.waitFor(() => expect(told.at(-1)).toEqual({ kind: "stopped" }), 5000);
  }
});

test("what hands hold is told at the end of the turn, for an engine that dies before its next batch", async () => {
  const told: FromEngine[] = [];
  const engine = new Engine(
    (message) => told.push(message),
    () => performance.now(),
  );
  const { surfaces, desks } = library;
  engine.handle({
    kind: "load",
    show: showWith([mapping("pad-1", shift())]),
    profiles: { surfaces, desks },
    load: 1,
  });
  const held = () => {
    const holding = told.flatMap((m) => (m.kind === "batch" || m.kind === "holding" ? (m.holding ?? []) : []));
    return holding.at(-1)?.held.map((h) => h.control);
  };
  const turn = () => new Promise((done) => setImmediate(done));
  try {
    for (const [velocity, now] of [
      [127, ["pad-1"]],
      [0, []],
    ] as const) {
      engine.handle({ kind: "midi-bytes", id: "deck", bytes: Uint8Array.of(0x90, 36, velocity) });
      await turn();
      expect(held()).toEqual(now);
    }
  } finally {
    engine.handle({ kind: "stop" });
    await vi.waitFor(() => expect(told.at(-1)).toEqual({ kind: "stopped" }), 5000);
  }
});
