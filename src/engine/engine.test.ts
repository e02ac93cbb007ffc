import { createSocket } from "node:dgram";
import { once } from "node:events";
import { afterEach, describe, expect, test, vi } from "vitest";
import { fixed, flash, library, mapping, shift, showWith } from "../../tests/rig/shows.ts";
import type { Action, Mapping } from "../core/format/show.ts";
import { encodeOsc } from "../core/osc/encode.ts";
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
    { loadMidi: async () => computer },
  );
  const newest = () => told.findLast((m): m is EngineBatch => m.kind === "batch");
  const held = () => told.findLast((m): m is EngineBatch => m.kind === "batch" && m.status !== undefined)?.status?.held;
  const port = { kind: "computer-midi", device: "Grid", nth: 1 } as const;
  const { surfaces, desks } = library;
  const show = showWith([mapping("pad-1", shift())], {
    surfaces: [{ id: "deck", name: "Deck grid", profile: "deck-grid", in: port, out: port }],
  });
  engine.handle({ kind: "load", passwords: {}, show, profiles: { surfaces, desks }, load: 1 });
  try {
    await vi.waitFor(() => expect(newest()?.surfaces.deck?.inPort.state).toBe("open"));
    hear(Uint8Array.of(0x90, 36, 127));
    await vi.waitFor(() => expect(held()).toMatchObject([{ surface: "deck", control: "pad-1" }]));
    devices = [];
    await vi.waitFor(() => expect(newest()!.surfaces.deck!.inPort.state).toBe("waiting"), 5000);
    await vi.waitFor(() => expect(held()).toEqual([]));
  } finally {
    engine.handle({ kind: "stop" });
    await vi.waitFor(() => expect(told.at(-1)).toEqual({ kind: "stopped" }), 5000);
  }
});

describe("what hands hold is told at the end of the turn, for an engine that dies before its next batch", () => {
  const told: FromEngine[] = [];
  let engine: Engine;
  const newest = () =>
    told.flatMap((m) => (m.kind === "batch" || m.kind === "holding" ? (m.holding?.held ?? []) : [])).at(-1);
  const start = (gesture: Mapping["gesture"], action: Action) => {
    told.length = 0;
    engine = new Engine(
      (message) => told.push(structuredClone(message)), // as a thread hears it
      () => performance.now(),
    );
    const lights = {
      id: "lights",
      name: "Lights",
      profile: "quay-lights",
      host: "127.0.0.1",
      whenSilent: "send" as const,
    };
    const show = showWith([mapping("pad-1", action, { gesture })], {
      desks: [{ ...lights, port: 19_650, listenPort: 19_651 }],
    });
    const { surfaces, desks } = library;
    engine.handle({ kind: "load", passwords: {}, show, profiles: { surfaces, desks }, load: 1 });
  };
  const note = (velocity: number) =>
    engine.handle({ kind: "midi-bytes", id: "deck", bytes: Uint8Array.of(0x90, 36, velocity) });
  afterEach(async () => {
    engine.handle({ kind: "stop" });
    await vi.waitFor(() => expect(told.at(-1)).toEqual({ kind: "stopped" }), 5000);
  });

  test("a press with what its release has to do, and its end", async () => {
    start("press", shift());
    note(127);
    await new Promise((done) => setImmediate(done));
    expect(newest()).toMatchObject({ control: "pad-1", releases: [{ kind: "layer", layer: "shift" }] });
    note(0);
    await new Promise((done) => setImmediate(done));
    expect(told.findLast((m) => m.kind === "holding" || (m.kind === "batch" && m.holding))).toMatchObject({
      holding: { held: [] },
    });
  });

  test("a press in whose very turn the engine ends", () => {
    start("press", flash(1, fixed(1)));
    note(127);
    engine.leave();
    expect(told.at(-1)).toMatchObject({ kind: "holding", holding: { held: [{ control: "pad-1" }] } });
  });

  test("a hold that only the time decides", async () => {
    start("hold", flash(1, fixed(1)));
    note(127);
    await vi.waitFor(() => expect(newest()?.releases).toMatchObject([{ kind: "desk", desk: "lights" }]));
  });
});

test("what a desk sends that is no message counts as dropped, and not as heard", async () => {
  const told: FromEngine[] = [];
  const engine = new Engine((message) => told.push(structuredClone(message)), Date.now);
  const lights = {
    id: "lights",
    name: "Lights",
    profile: "quay-lights",
    host: "127.0.0.1",
    port: 19_652,
    listenPort: 19_653,
  };
  const show = showWith([], { desks: [lights] });
  const { surfaces, desks } = library;
  engine.handle({ kind: "load", passwords: {}, show, profiles: { surfaces, desks }, load: 1 });
  const counts = () =>
    told.findLast((m): m is EngineBatch => m.kind === "batch" && m.desks?.lights !== undefined)?.desks?.lights;
  const socket = createSocket("udp4").bind(lights.port, lights.host);
  await once(socket, "listening");
  try {
    await vi.waitFor(() => expect(counts()?.port.state).toBe("open"), 5000);
    const good = encodeOsc({ kind: "message", address: "/now/page", args: [{ type: "i", value: 2 }] });
    for (let n = 0; n < 5; n++) socket.send(Uint8Array.of(1, 2, 3, n), lights.listenPort, lights.host);
    for (let n = 0; n < 3; n++) socket.send(good, lights.listenPort, lights.host);
    await vi.waitFor(() => expect(counts()).toMatchObject({ in: 3, dropped: 5 }), 5000);
  } finally {
    socket.close();
    engine.handle({ kind: "stop" });
    await vi.waitFor(() => expect(told.at(-1)).toEqual({ kind: "stopped" }), 5000);
  }
});

describe("an engine that fails", () => {
  const { surfaces, desks } = library;
  const told: FromEngine[] = [];
  let nowMs = 1000;
  let engine: Engine;
  const loaded = () => {
    told.length = 0;
    nowMs = 1000;
    engine = new Engine(
      (message) => told.push(structuredClone(message)),
      () => nowMs,
    );
    const show = showWith([mapping("pad-1", shift()), mapping("pad-2", flash(1, fixed(1)), { gesture: "hold" })]);
    engine.handle({ kind: "load", passwords: {}, show, profiles: { surfaces, desks }, load: 1 });
  };
  const note = (number: number, velocity: number) =>
    engine.handle({ kind: "midi-bytes", id: "deck", bytes: Uint8Array.of(0x90, number, velocity) });
  const fail = () => expect(() => engine.handle({ kind: "fail", how: "throw" })).toThrow("told to fail");
  const layer = () =>
    told.findLast((m): m is EngineBatch => m.kind === "batch" && m.status !== undefined)?.status?.layer;
  /** Lets the engine's clock go on, carried by messages of no control. */
  const wait = (ms: number) => {
    for (const untilMs = nowMs + ms; nowMs < untilMs; ) {
      nowMs += 20;
      note(1, 1);
    }
  };
  afterEach(async () => {
    engine.handle({ kind: "stop" });
    await vi.waitFor(() => expect(told.at(-1)).toEqual({ kind: "stopped" }), 5000);
  });

  test("goes on in place: what is held is still held, and its release does what it was to do", () => {
    loaded();
    note(36, 127);
    wait(100);
    expect(layer()).toBe("shift");
    fail();
    expect(engine.recover()).toBe(true);
    wait(100);
    expect(layer()).toBe("shift");
    note(36, 0);
    wait(100);
    expect(layer()).toBe("base");
  });

  test("a gesture that was not decided yet is decided after it", () => {
    loaded();
    note(37, 127);
    wait(100);
    fail();
    expect(engine.recover()).toBe(true);
    wait(1500);
    const held = told.flatMap((m) => (m.kind === "batch" && m.holding ? [m.holding.held] : [])).at(-1);
    expect(held).toMatchObject([{ control: "pad-2", releases: [{ kind: "desk", desk: "lights" }] }]);
  });

  test("does so eight times in ten seconds and then leaves it to another one", () => {
    loaded();
    const recovered = Array.from({ length: 9 }, () => {
      wait(200);
      return engine.recover();
    });
    expect(recovered).toEqual([...new Array<boolean>(8).fill(true), false]);
    wait(11_000);
    expect(engine.recover()).toBe(true);
  });
  test("does not where the fault comes again at once: it lies in what was carried over", () => {
    loaded();
    expect([engine.recover(), engine.recover()]).toEqual([true, false]);
    wait(200);
    expect(engine.recover()).toBe(true);
  });

  test("has nothing to go on with before there is a show", () => {
    told.length = 0;
    engine = new Engine(
      (message) => told.push(message),
      () => nowMs,
    );
    expect(engine.recover()).toBe(false);
  });
});

describe("how often the server is told", () => {
  /** Batches in a second of an engine's clock in which so many messages come. */
  const batchesAt = async (perS: number): Promise<number> => {
    let nowMs = 1000;
    const told: FromEngine[] = [];
    const engine = new Engine(
      (message) => told.push(message),
      () => nowMs,
    );
    const { surfaces, desks } = library;
    engine.handle({ kind: "load", passwords: {}, show: showWith([]), profiles: { surfaces, desks }, load: 1 });
    // In one turn, so that no timer of the real clock comes between.
    for (let n = 0; n < perS; n++) {
      nowMs += 1000 / perS;
      engine.handle({ kind: "midi-bytes", id: "deck", bytes: Uint8Array.of(0x90, 36, n & 127) });
    }
    const batches = told.filter((m) => m.kind === "batch").length;
    engine.handle({ kind: "stop" });
    await vi.waitFor(() => expect(told.at(-1)).toEqual({ kind: "stopped" }), 5000);
    return batches;
  };

  test("thirty times a second and no more, and half as often in a flood", async () => {
    const [slow, brisk, flood] = [await batchesAt(300), await batchesAt(1000), await batchesAt(10_000)];
    for (const count of [slow, brisk]) expect(count).toBeGreaterThan(24);
    for (const count of [slow, brisk]) expect(count).toBeLessThanOrEqual(30);
    expect(flood).toBeGreaterThan(12);
    expect(flood).toBeLessThanOrEqual(15);
  });
});
