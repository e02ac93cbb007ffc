import { EventEmitter, once } from "node:events";
import { createServer, type Server, type Socket } from "node:net";
import { afterEach, describe, expect, test } from "vitest";
import type { PortState } from "../../core/live/protocol.ts";
import { encodeOsc } from "../../core/osc/encode.ts";
import type { Framing } from "../../core/stream/framing.ts";
import { LengthFraming } from "../../core/stream/length-framing.ts";
import { type LineEnd, LineFraming, MAX_LINE_BYTES } from "../../core/stream/line-framing.ts";
import { SlipFraming } from "../../core/stream/slip-framing.ts";
import { TcpPort } from "./tcp.ts";

const closing: (() => Promise<unknown>)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

async function desk(port = 0): Promise<{ server: Server; port: number; next(): Promise<Socket> }> {
  const server = createServer();
  const waiting: Socket[] = [];
  const all = new Set<Socket>();
  server.on("connection", (socket) => {
    all.add(socket);
    socket.on("error", () => {});
    waiting.push(socket);
    server.emit("queued");
  });
  server.listen(port, "127.0.0.1");
  await once(server, "listening");
  closing.push(() => {
    for (const socket of all) socket.destroy();
    return new Promise((done) => server.close(done));
  });
  return {
    server,
    port: (server.address() as { port: number }).port,
    async next() {
      while (waiting.length === 0) await once(server, "queued");
      return waiting.shift()!;
    },
  };
}

function open(port: number, framing: Framing = new LineFraming("lf")) {
  const events = new EventEmitter();
  const lines: string[] = [];
  const states: PortState[] = [];
  const line = new TcpPort(
    { host: "127.0.0.1", port },
    framing,
    {
      message: (bytes) => {
        lines.push(new TextDecoder().decode(bytes));
        events.emit("line");
        events.emit("bytes", bytes);
      },
      refused: () => events.emit("refused"),
      state: (state) => {
        states.push(state);
        events.emit(state.state, state);
      },
    },
    () => 0.5,
  );
  closing.push(() => line.close());
  line.open();
  const until = async (count: number) => {
    while (lines.length < count) await once(events, "line");
    return lines;
  };
  return { line, events, lines, states, until };
}

const text = (t: string): [Uint8Array, number, number] => {
  const bytes = new TextEncoder().encode(t);
  return [bytes, 0, bytes.length];
};

describe("lines over TCP", () => {
  test.each([
    ["lf", "\n"],
    ["crlf", "\r\n"],
    ["cr", "\r"],
  ] as const)("go out with their end: %s", async (name, end) => {
    const there = await desk();
    const { line, events } = open(there.port, new LineFraming(name satisfies LineEnd));
    const [socket] = await Promise.all([there.next(), once(events, "open")]);
    line.send(...text("cut 1"));
    const [data] = (await once(socket, "data")) as [Buffer];
    expect(String(data)).toBe(`cut 1${end}`);
    expect(line.counted.out).toBe(1);
  });
  test("come in whole, in whatever pieces and with whatever end", async () => {
    const there = await desk();
    const { until } = open(there.port);
    const socket = await there.next();
    socket.setNoDelay(true);
    for (const piece of ["at k", "ey 1 1\nat ", "key 2 1\r", "\nok\r\n\n", "à\n"]) {
      socket.write(piece);
      await new Promise((done) => setImmediate(done));
    }
    expect(await until(4)).toEqual(["at key 1 1", "at key 2 1", "ok", "à"]);
  });
  test.each([
    ["one byte below the longest", MAX_LINE_BYTES - 1, true],
    ["the longest", MAX_LINE_BYTES, true],
    ["one byte more", MAX_LINE_BYTES + 1, false],
    ["far too long", MAX_LINE_BYTES * 5, false],
  ])("a line of %s", async (_name, length, taken) => {
    const there = await desk();
    const { until, line } = open(there.port);
    const socket = await there.next();
    socket.write(`${"x".repeat(length)}\nafter\n`);
    const lines = await until(taken ? 2 : 1);
    expect(lines.map((l) => l.length)).toEqual(taken ? [length, 5] : [5]);
    expect(line.counted.dropped).toBe(taken ? 0 : 1);
  });
  test("nobody listens there: refused, with a sentence, and found once somebody does", async () => {
    const gone = await desk();
    const { port } = gone;
    await closing.pop()!();
    const { events, states } = open(port);
    const failed = once(events, "failed");
    await once(events, "refused");
    await failed;
    expect(states.at(-1)!.trouble).toEqual({ code: "nobody-listens", port, broker: false });
    const back = await desk(port);
    await Promise.all([back.next(), once(events, "open")]);
  });
  test("the desk closes the connection: said, and opened again by itself", async () => {
    const there = await desk();
    const { events, states, line } = open(there.port);
    const [socket] = await Promise.all([there.next(), once(events, "open")]);
    socket.destroy();
    await Promise.all([there.next(), once(events, "open")]);
    expect(states.some((s) => s.trouble?.code === "closed-by-peer")).toBe(true);
    line.send(...text("ping 1"));
    expect(line.counted.out).toBe(1);
  });
  test("a line that cannot go out is counted, and close leaves nothing open", async () => {
    const there = await desk();
    const { line, events } = open(there.port);
    line.send(...text("too soon"));
    expect(line.counted).toEqual({ in: 0, out: 0, dropped: 0, refused: 1 });
    const [socket] = await Promise.all([there.next(), once(events, "open")]);
    const ended = once(socket, "close");
    socket.resume();
    await line.close();
    await ended;
    line.send(...text("too late"));
    expect(line.counted.refused).toBe(2);
  });
});

describe("OSC over TCP", () => {
  const message = encodeOsc({ kind: "message", address: "/set/level", args: [{ type: "f", value: 0.25 }] });
  test.each([
    ["after its length", () => new LengthFraming()],
    ["between ENDs", () => new SlipFraming()],
  ])("%s: goes out and comes in whole, in whatever pieces", async (_name, make) => {
    const there = await desk();
    const { line, events } = open(there.port, make());
    const got: Uint8Array[] = [];
    events.on("bytes", (bytes: Uint8Array) => got.push(Uint8Array.from(bytes)));
    const [socket] = await Promise.all([there.next(), once(events, "open")]);
    line.send(message, 0, message.length);
    const [data] = (await once(socket, "data")) as [Buffer];
    expect(Uint8Array.from(data)).toEqual(make().write(message));
    socket.setNoDelay(true);
    for (const byte of [...data, ...data]) socket.write(Uint8Array.of(byte));
    while (got.length < 2) await once(events, "bytes");
    expect(got).toEqual([message, message]);
  });
  test("what is not framed by lengths is said, and the connection is made anew, later and later", async () => {
    const there = await desk();
    const { events, states, line } = open(there.port, new LengthFraming());
    for (let n = 0; n < 2; n++) {
      const [socket] = await Promise.all([there.next(), once(events, "open")]);
      const waiting = once(events, "waiting");
      socket.write(new SlipFraming().write(message));
      await waiting;
    }
    expect(states.filter((s) => s.trouble?.code === "not-framed")).toHaveLength(2);
    expect(line.counted).toEqual({ in: 0, out: 0, dropped: 2, refused: 0 });
  });
});
