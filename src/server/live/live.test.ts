import { EventEmitter } from "node:events";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterEach, beforeEach, describe, expect, test } from "vitest";
import { WebSocket } from "ws";
import { library, mapping, showWith, toggle } from "../../../tests/rig/shows.ts";
import { mayDo, ROLES } from "../../core/format/roles.ts";
import { NOTHING_UNFINISHED } from "../../core/hands/unfinished.ts";
import { MESSAGE_ROLES, SESSION_ENDED } from "../../core/live/message-roles.ts";
import { type ClientMessage, LiveChanges, MAX_CLIENT_MESSAGE_BYTES, ServerMessage } from "../../core/live/protocol.ts";
import { OUTCOME, OUTCOMES, type OutcomeFacts, outcomeOf } from "../../core/trace/outcome.ts";
import { ROWS_KEPT } from "../../core/trace/row-pieces.ts";
import { type RowsInSlab, SlabWriter } from "../../core/trace/row-slabs.ts";
import { decodeTrafficFrame } from "../../core/trace/traffic-frame.ts";
import { trafficNames } from "../../core/trace/traffic-names.ts";
import { TrafficRing } from "../../core/trace/traffic-ring.ts";
import type { EngineBatch } from "../../engine/messages.ts";
import { EntryReader } from "../../islands/live/entry-reader.ts";
import { AT_THIS_COMPUTER, type Who } from "../access/who.ts";
import { LiveHub, readClientMessage } from "./hub.ts";
import { Mirror } from "./mirror.ts";
import { TrafficLog } from "./traffic-log.ts";

const show = showWith([mapping("pad-1", toggle(1))]);

function batch(more: Partial<EngineBatch> = {}): EngineBatch {
  return {
    kind: "batch",
    load: 1,
    atMs: 1,
    rows: null,
    rests: null,
    desks: {},
    surfaces: {},
    values: {},
    controls: {},
    ...more,
  };
}

/** The engine's end of the memory for rows. */
let slabs: SlabWriter;
beforeEach(() => {
  slabs = new SlabWriter();
});

function rows(count: number, from = 0): RowsInSlab {
  const ring = new TrafficRing(4096);
  for (let n = 0; n < count; n++)
    ring.outcome(ring.short(from + n, 0, 0, 0x90, 36, 127, 3), OUTCOME.sent, 0, 0, 1, 0, 0);
  return slabs.write(ring)!;
}

describe("what the server keeps for the browsers", () => {
  let mirror: Mirror;
  beforeEach(() => {
    mirror = new Mirror(library.profiles);
    mirror.setShow(1, show);
  });

  test("a snapshot has everything, a batch only what changed, and both are what the protocol says", () => {
    mirror.take(
      batch({
        values: {
          lights: [
            [3, 0.5, 2, 0],
            [4, "Spray", 2, 0],
          ],
        },
        controls: { deck: [[30, 0.5, -1, 1, 0]] },
      }),
    );
    expect(mirror.takeChanges()).toMatchObject({
      values: {
        lights: [
          [3, 0.5, 2, 0],
          [4, "Spray", 2, 0],
        ],
      },
    });
    mirror.take(batch({ values: { lights: [[3, 1, 2, 0]] } }));
    const live = mirror.takeChanges()!;
    expect(live.values).toEqual({ lights: [[3, 1, 2, 0]] });
    const snapshot = mirror.snapshot();
    expect(snapshot.values).toEqual({
      lights: [
        [3, 1, 2, 0],
        [4, "Spray", 2, 0],
      ],
    });
    for (const l of [live, snapshot]) expect(LiveChanges.safeParse(JSON.parse(JSON.stringify(l))).success).toBe(true);
    expect(mirror.takeChanges()).toBeNull();
  });
  test("what seldom changes is told when the engine tells it, and stands in every snapshot", () => {
    const computerMidi = { state: "not-looked" as const, detail: "", inputs: [], outputs: [], hasVirtual: false };
    const held = [{ surface: "deck", control: "pad-1", sinceMs: 5 }];
    const status = {
      layer: "base",
      layers: ["shift"],
      sessions: {},
      computerMidi,
      strangers: [],
      held,
      teaches: false,
    };
    mirror.take(batch({ status }));
    expect(mirror.takeChanges()).toMatchObject({ layers: ["shift"], held, computerMidi });
    mirror.take(batch({ status: { ...status, held: [] } }));
    const live = mirror.takeChanges()!;
    expect([live.held, live.layers, live.computerMidi]).toEqual([[], ["shift"], undefined]);
    mirror.take(batch());
    expect(mirror.takeChanges()).not.toHaveProperty("layers");
    expect(mirror.snapshot()).toMatchObject({ ...status, held: [] });
  });
  test("rows are told with the names of the show they were written under", () => {
    mirror.take(batch({ rows: rows(1) }));
    mirror.setShow(2, showWith([mapping("pad-2", toggle(1), { id: "other" })]));
    mirror.take(batch({ load: 2, rows: rows(1) }));
    expect(mirror.log.newest(10).map((e) => [e.mapping, e.control ?? e.action, e.device, e.hex])).toEqual([
      ["m-pad-1", "pad-1", "deck", "90247f"],
      ["other", "pad-1", "deck", "90247f"],
    ]);
  });
  test("the bottom line has what is news to a person, and nothing else", () => {
    const ring = new TrafficRing(64);
    for (const code of Object.values(OUTCOME)) ring.outcome(ring.short(1, 0, 0, 0x90, 36, 127, 3), code, 0, 0, 1, 0, 0);
    mirror.take(batch({ rows: slabs.write(ring)! }));
    const told = mirror.snapshot().line!.map((e) => OUTCOMES[outcomeOf(e.code)!] as OutcomeFacts);
    expect(told.length).toBeGreaterThan(1);
    expect(told.filter((facts) => facts.upkeep || facts.inListOnly)).toEqual([]);
  });
  test("the newest rows are kept, and no more than the list holds", () => {
    const log = new TrafficLog(
      () => trafficNames(show, library.profiles),
      1,
      (slab) => slabs.free(slab),
    );
    for (let n = 0; n < 110; n++) log.append(1, rows(2000, n * 2000));
    expect(slabs.count).toBeLessThan(55); // two blocks to a slab: those of the first were written again
    const reader = new EntryReader();
    const cursor = log.cursor(true);
    let count = 0;
    let first = -1;
    for (let frame = log.next(cursor); frame; frame = log.next(cursor)) {
      const entries = reader.read(frame.buffer as ArrayBuffer);
      if (first < 0) first = entries[0]!.atMs;
      count += entries.length;
    }
    expect([count, first, cursor.next]).toEqual([ROWS_KEPT, 20_000, 220_000]);
  });
  test("a browser that was too slow goes on with what is still kept; one that asks for nothing old gets only news", () => {
    const log = new TrafficLog(() => trafficNames(show, library.profiles));
    log.append(1, rows(10));
    const slow = log.cursor(true);
    const fresh = log.cursor(false);
    for (let n = 0; n < 110; n++) log.append(1, rows(2000, n * 2000));
    const firstOf = (cursor: typeof slow) => decodeTrafficFrame(log.next(cursor)!.buffer as ArrayBuffer)!.head.first;
    expect([firstOf(slow), firstOf(log.cursor(true))]).toEqual([20_010, 20_010]);
    expect(fresh.next).toBe(10);
    const later = log.cursor(false);
    expect(log.next(later)).toBeNull();
    log.append(1, rows(3));
    expect(new EntryReader().read(log.next(later)!.buffer as ArrayBuffer)).toHaveLength(3);
  });
  test("a message that is longer than a row is told whole to who listens on the page", () => {
    const bytes = Uint8Array.from({ length: 700 }, (_, i) => i & 255);
    const ring = new TrafficRing(16);
    ring.outcome(ring.long(1, 0, 0, bytes, 0, bytes.length), OUTCOME.notAControl, -1, -1, 0, 0, 0);
    mirror.take(batch({ rows: slabs.write(ring), rests: ring.takeRests() }));
    const [told] = new EntryReader().read(mirror.log.next(mirror.log.cursor(true))!.buffer as ArrayBuffer);
    expect([told!.length, told!.hex]).toEqual([700, Buffer.from(bytes).toString("hex")]);
  });
  test("rows of an engine that died stay, and those of the next follow them", () => {
    mirror.take(batch({ rows: rows(2) }));
    mirror.engineDied();
    slabs = new SlabWriter();
    mirror.take(batch({ rows: rows(1, 7) }));
    expect(mirror.log.newest(10).map((e) => e.atMs)).toEqual([0, 1, 7]);
    expect(mirror.takeChanges()!.engineRestarts).toBe(-1);
  });
  test("what a browser said wrongly is counted, and stands in the list between the rows of the engine", () => {
    mirror.take(batch({ rows: rows(2) }));
    mirror.refuse(5, "This “kind” is not known.", "{}", 2);
    mirror.take(batch({ rows: rows(1) }));
    expect(mirror.takeChanges()!.refused).toBe(1);
    const told = mirror.log.newest(10);
    expect(told.map((e) => e.side)).toEqual(["surface", "surface", "browser", "surface"]);
    expect(told[2]).toMatchObject({ code: OUTCOME.refused, reason: "This “kind” is not known.", hex: "7b7d" });
  });
  test("lights are kept by number, and a flood of them becomes one picture", () => {
    for (let n = 0; n < 5000; n++) mirror.surfaceOut("deck", Uint8Array.of(0x90, 36 + (n % 3), n % 128));
    const live = mirror.takeChanges()!;
    expect(live.lights!.deck!.length).toBeLessThan(2100);
    expect(mirror.snapshot().lights).toEqual({
      deck: [
        [0x90, 36, 4998 % 128],
        [0x90, 37, 4999 % 128],
        [0x90, 38, 4997 % 128],
      ].sort((a, b) => a[1]! - b[1]!),
    });
  });
  test("a new engine is given what the dead one knew and what hands hold", () => {
    const held = { surface: "deck", control: "pad-1", message: 0, sinceMs: 5, cause: 1, releases: [] };
    const layers = { locked: [], held: ["shift"] };
    mirror.take(
      batch({
        values: { lights: [[3, 0.5, 2, 0]] },
        controls: { deck: [[30, 0.5, -1, 1, 0]] },
        holding: { held: [held], layers, kept: [], underWay: {}, unfinished: NOTHING_UNFINISHED },
      }),
    );
    mirror.take(batch());
    expect(mirror.carried(show)).toEqual({
      values: { lights: [[3, 0.5, 2, 0]] },
      controls: { deck: [[30, 0.5, -1, 1, 0]] },
      missed: "by-sockets",
      holding: { held: [held], layers, kept: [], underWay: {}, unfinished: NOTHING_UNFINISHED },
    });
    mirror.setHolding({ held: [], layers, kept: [], underWay: {}, unfinished: NOTHING_UNFINISHED });
    expect(mirror.carried(show).holding.held).toEqual([]);
  });
});

describe("what a browser may say", () => {
  test("is checked: what is not understood is refused with a reason", () => {
    expect(readClientMessage('{"kind":"redraw"}')).toEqual({ ok: true, message: { kind: "redraw" } });
    for (const [text, reason] of [
      [null, "Expected text, found bytes."],
      ["{", "Expected a JSON message."],
      ["[]", "Expected an object with fields."],
      ['{"kind":"erase"}', "This “kind” is not known."],
      ['{"kind":"screen-midi","surface":"deck","bytes":[300]}', "First byte: expected at most 255."],
      ['{"kind":"screen-midi","surface":"deck","bytes":[]}', "Bytes: expected at least 1 entry."],
      ['{"kind":"redraw","now":true}', "There is no field “now” here."],
    ] as const)
      expect(readClientMessage(text)).toEqual({ ok: false, reason });
  });
});

describe("the live socket", () => {
  let server: Server;
  let hub: LiveHub;
  let changed: LiveChanges | null = null;
  let twoShows = false;
  let log: TrafficLog;
  let heard: ClientMessage[] = [];
  let who: Who = AT_THIS_COMPUTER;
  let refused: [reason: string, beginning: string, length: number][] = [];
  const events = new EventEmitter();
  const snapshot = (): ServerMessage => ({
    kind: "snapshot",
    build: "of this test",
    who: { role: "edit", isHere: true },
    withPassword: [],
    onHold: null,
    show,
    history: { show: 1, turn: 0, revision: 0, savedAtMs: 0, undo: null, redo: null },
    surfaceProfiles: [],
    deskProfiles: [],
    live: { atMs: 0 },
  });

  beforeEach(async () => {
    heard = [];
    who = AT_THIS_COMPUTER;
    refused = [];
    changed = null;
    twoShows = false;
    log = new TrafficLog(() => trafficNames(show, library.profiles));
    hub = new LiveHub({
      message: (_client, message) => {
        heard.push(message);
        events.emit("heard");
      },
      refused: (reason, beginning, length) => refused.push([reason, beginning, length]),
      devicesChanged: () => events.emit("devices"),
      left: (client) => events.emit("left", client.number),
      snapshot,
      areTwoShows: () => twoShows,
      changes: () => {
        const now = changed;
        changed = null;
        events.emit("asked");
        return now;
      },
      traffic: log,
    });
    server = createServer();
    server.on("upgrade", (request, socket, head) => hub.upgrade(request, socket, head, who));
    await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  });
  afterEach(async () => {
    hub.close();
    await new Promise((done) => server.close(done));
  });

  /** A browser, and its messages one by one. */
  function connect(): { socket: WebSocket; next(): Promise<ServerMessage> } {
    const socket = new WebSocket(`ws://127.0.0.1:${(server.address() as AddressInfo).port}/live`);
    const queue: ServerMessage[] = [];
    const waiting: ((m: ServerMessage) => void)[] = [];
    socket.on("message", (data) => {
      const message = ServerMessage.parse(JSON.parse(String(data)));
      const wake = waiting.shift();
      if (wake) wake(message);
      else queue.push(message);
    });
    return {
      socket,
      next: () => new Promise((resolve) => (queue.length > 0 ? resolve(queue.shift()!) : waiting.push(resolve))),
    };
  }
  function tell(changes: NonNullable<typeof changed>): void {
    changed = changes;
    hub.changed();
  }
  const once = (name: string) => new Promise((resolve) => events.once(name, resolve));

  test("starts with a snapshot and goes on with batches", async () => {
    const { next } = connect();
    expect((await next()).kind).toBe("snapshot");
    tell({ atMs: 5, layer: "shift" });
    expect(await next()).toEqual({ kind: "batch", live: { atMs: 5, layer: "shift" } });
  });
  const SAID: Readonly<Record<ClientMessage["kind"], object>> = {
    "screen-midi": { surface: "deck", bytes: [144, 36, 1] },
    "device-midi": { name: "Grid", nth: 1, bytes: [144, 36, 1] },
    devices: { devices: [] },
    "watch-traffic": { on: true, history: false },
    shows: { show: "edited" },
    "try-desk": { desk: "lights" },
    teach: { on: true },
    play: {},
    "send-once": { to: "desk", id: "lights", bytes: [1] },
    "end-bypass": { surface: "deck", control: "pad-1" },
    redraw: {},
    "release-all": {},
    rearm: { id: "deck" },
    "look-for-midi": {},
    look: { universes: true, ports: [9000] },
    "refuse-peer": { session: "s", host: "10.0.7.9", port: 5004 },
  };
  test.each(ROLES)("somebody who is here to %s is let say what the role may, and nothing else", async (role) => {
    who = { role, session: "a-session" };
    const { socket, next } = connect();
    await next();
    for (const [kind, more] of Object.entries(SAID)) {
      const may = mayDo(role, MESSAGE_ROLES[kind as ClientMessage["kind"]]);
      const isHub = kind === "shows" || kind === "devices" || kind === "watch-traffic";
      const before = heard.length;
      const heardIt = may ? once(kind === "devices" ? "devices" : "heard") : Promise.resolve();
      socket.send(JSON.stringify({ kind, ...more }));
      if (!may)
        expect(await next(), kind).toMatchObject({
          kind: "refused",
          reason: expect.stringContaining(`you are here to ${role}`),
        });
      else if (kind !== "watch-traffic" && kind !== "shows") await heardIt;
      expect(heard.length - before, kind).toBe(may && !isHub ? 1 : 0);
    }
  });
  test("a page is told of the show that it shows: the one that runs, or the one that is edited", async () => {
    twoShows = true;
    const [runs, edits] = [connect(), connect()];
    await runs.next();
    await edits.next();
    runs.socket.send(JSON.stringify({ kind: "shows", show: "running" }));
    expect((await runs.next()).kind).toBe("snapshot"); // the other show, whole
    hub.broadcast({ kind: "notice", text: "edited" }, "edited");
    hub.broadcast({ kind: "notice", text: "running" }, "running");
    expect(await edits.next()).toEqual({ kind: "notice", text: "edited" });
    expect(await runs.next()).toEqual({ kind: "notice", text: "running" });
    hub.broadcast({ kind: "notice", text: "both" });
    expect([await edits.next(), await runs.next()]).toEqual(Array(2).fill({ kind: "notice", text: "both" }));
  });
  test("what a session has open is closed with it, and nothing else", async () => {
    who = { role: "run", session: "one" };
    const one = connect();
    await one.next();
    who = { role: "run", session: "two" };
    const two = connect();
    await two.next();
    const closed = new Promise((resolve) => one.socket.once("close", resolve));
    hub.endSession("one");
    expect(await closed).toBe(SESSION_ENDED);
    tell({ atMs: 5 });
    expect(await two.next()).toEqual({ kind: "batch", live: { atMs: 5 } });
  });
  test("what is told whole goes out in the same turn where the pace allows, and else with the next batch", async () => {
    const { next } = connect();
    await next();
    let asked = 0;
    events.on("asked", () => asked++);
    tell({ atMs: 1 }); // waits for the end of the turn, and is taken along
    changed = { atMs: 2 };
    hub.changedWhole();
    expect(asked).toBe(1);
    changed = { atMs: 3 };
    hub.changedWhole();
    expect(asked).toBe(1);
    const told = [await next(), await next()];
    expect(told.map((m) => (m.kind === "batch" ? m.live.atMs : m.kind))).toEqual([2, 3]);
    events.removeAllListeners("asked");
  });
  test("a message that is not understood is answered and does nothing else", async () => {
    const { socket, next } = connect();
    await next();
    socket.send('{"kind":"erase"}');
    expect(await next()).toMatchObject({ kind: "refused" });
    socket.send('{"kind":"redraw"}');
    await once("heard");
    expect(heard).toEqual([{ kind: "redraw" }]);
    expect(refused).toEqual([["This “kind” is not known.", '{"kind":"erase"}', 16]]);
  });
  test("one that is too long closes that browser's socket and nobody else's", async () => {
    const one = connect();
    const two = connect();
    await Promise.all([one.next(), two.next()]);
    one.socket.on("error", () => {});
    one.socket.send("x".repeat(MAX_CLIENT_MESSAGE_BYTES + 1));
    await new Promise((resolve) => one.socket.once("close", resolve));
    tell({ atMs: 7 });
    expect((await two.next()).kind).toBe("batch");
    expect(refused).toEqual([["longer than 131072 bytes.", "", 0]]);
  });
  test("one that never gets anything right is shut out", async () => {
    const { socket, next } = connect();
    await next();
    for (let n = 0; n < 60; n++) socket.send("nonsense");
    const code = await new Promise((resolve) => socket.once("close", resolve));
    expect(code).toBe(1008);
  });
  test("a browser that falls behind gets a fresh snapshot and not an endless queue", async () => {
    const { socket, next } = connect();
    await next();
    (socket as unknown as { _socket: { pause(): void } })._socket.pause();
    const filler = "x".repeat(200_000);
    let sent = 0;
    const client = [...hub.clients][0] as unknown as { behind: boolean };
    while (!client.behind && sent < 2000) {
      tell({ atMs: 1, layer: filler });
      sent++;
      await once("asked"); // the hub takes one batch at its own pace
    }
    expect(client.behind).toBe(true);
    (socket as unknown as { _socket: { resume(): void } })._socket.resume();
    let batches = 0;
    let message = await next();
    // On a slow machine a beat, which says only that the server is there, comes between them.
    while (message.kind === "batch" || message.kind === "beat") {
      if (message.kind === "batch") batches++;
      message = await next();
    }
    expect(message.kind).toBe("snapshot");
    expect(batches).toBeLessThanOrEqual(sent);
  });
  test("traffic goes to who watches, history first, and never to the others", async () => {
    log.append(1, rows(5));
    const watcher = new WebSocket(`ws://127.0.0.1:${(server.address() as AddressInfo).port}/live`);
    const opened = new Promise((done) => watcher.once("message", done));
    const other = connect();
    const reader = new EntryReader();
    const got: number[] = [];
    const enough = new Promise<void>((done) =>
      watcher.on("message", (data: Buffer, binary) => {
        if (!binary) return;
        for (const e of reader.read(Uint8Array.from(data).buffer)) got.push(e.seq);
        if (got.length === 8) done();
      }),
    );
    await other.next();
    await opened;
    watcher.send('{"kind":"watch-traffic","on":true,"history":true}');
    await new Promise<void>((done) => {
      const look = () => (got.length === 5 ? done() : setImmediate(look));
      look();
    });
    log.append(1, rows(3));
    tell({ atMs: 9 });
    await enough;
    expect(got).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
    expect((await other.next()).kind).toBe("batch"); // a binary message would not have parsed
    watcher.terminate();
  });
  test("devices are known while the browser is there, and gone with it", async () => {
    const { socket, next } = connect();
    await next();
    socket.send(JSON.stringify({ kind: "devices", devices: [{ name: "Deck", nth: 1, input: true, output: true }] }));
    await once("devices");
    expect([...hub.clients].map((c) => c.devices.length)).toEqual([1]);
    socket.close();
    await once("devices");
    expect(hub.clients.size).toBe(0);
  });
});
