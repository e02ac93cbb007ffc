import { createSocket, type Socket } from "node:dgram";
import { once } from "node:events";
import { afterEach, describe, expect, test, vi } from "vitest";
import { Strangers } from "../strangers.ts";
import { claimPort } from "./shared-ports.ts";
import { StrayUdp } from "./stray-udp.ts";
import { UdpPort } from "./udp.ts";

const HOST = "127.0.0.1";
const closing: (() => unknown)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

async function peer(): Promise<Socket & { number: number }> {
  const socket = createSocket("udp4");
  socket.bind(0, HOST);
  await once(socket, "listening");
  closing.push(() => new Promise<void>((done) => socket.close(() => done())));
  return Object.assign(socket, { number: socket.address().port });
}

/** A port that was free a moment ago. */
async function free(): Promise<number> {
  const { number } = await peer();
  await closing.pop()!();
  return number;
}

function deskAt(number: number, listenPort: number) {
  const heard: string[] = [];
  const states: string[] = [];
  const port = new UdpPort(
    { peer: { host: HOST, port: number }, listen: { host: HOST, port: listenPort }, isShared: true },
    {
      message: (bytes) => heard.push(Buffer.from(bytes).toString()),
      refused: () => {},
      state: (s) => states.push(s.state),
    },
  );
  closing.push(() => port.close());
  port.open();
  return { port, heard, states };
}

function listening(...ports: number[]) {
  let nowMs = 0;
  const strangers = new Strangers(() => (nowMs += 500));
  const stray = new StrayUdp(strangers);
  closing.push(() => stray.close());
  return {
    stray,
    strangers,
    set: (desks: { host: string; port: number }[]) =>
      stray.set(
        ports.map((port) => ({ host: HOST, port, isAsked: true })),
        desks,
      ),
    senders: () => strangers.list().flatMap((s) => (s.kind === "sender" ? [[s.host, s.port, s.listenPort, s.in]] : [])),
  };
}

describe("strangers at a port of ours", () => {
  test("two desks and somebody else speak to one port: each is heard by whom it is meant for", async () => {
    const [one, two, stranger, listenPort] = [await peer(), await peer(), await peer(), await free()];
    const [a, b] = [deskAt(one.number, listenPort), deskAt(two.number, listenPort)];
    const l = listening(listenPort);
    l.set([]);
    await vi.waitFor(() => expect([a.states.at(-1), b.states.at(-1)]).toEqual(["open", "open"]));
    await vi.waitFor(() => {
      stranger.send("/who", listenPort, HOST);
      expect(l.senders()).toMatchObject([[HOST, stranger.number, listenPort, expect.any(Number)]]);
    });
    one.send("from one", listenPort, HOST);
    two.send("from two", listenPort, HOST);
    await vi.waitFor(() => expect([a.heard, b.heard]).toEqual([["from one"], ["from two"]]));
    a.port.send(Buffer.from("hello"), 0, 5);
    const [said, from] = (await once(one, "message")) as [Buffer, { port: number }];
    expect([String(said), from.port]).toEqual(["hello", listenPort]);
  });

  test("what a desk says before its socket is connected makes no stranger of it", async () => {
    const [one, listenPort] = [await peer(), await free()];
    const l = listening(listenPort);
    l.set([{ host: HOST, port: one.number }]);
    const other = await peer();
    await vi.waitFor(() => {
      one.send("early", listenPort, HOST);
      other.send("/who", listenPort, HOST);
      expect(l.senders()).toMatchObject([[HOST, other.number, listenPort, expect.any(Number)]]);
    });
  });

  test("a port that another program has is said to be in use, also where it would share it", async () => {
    const taken = createSocket({ type: "udp4", reuseAddr: true });
    taken.bind(0, HOST);
    await once(taken, "listening");
    closing.push(() => taken.close());
    const { port } = taken.address();
    const l = listening(port);
    l.set([]);
    const desk = deskAt(9, port);
    const closed = () => l.strangers.list().map((s) => (s.kind === "closed" ? s.trouble.code : s.kind));
    await vi.waitFor(() => expect([closed(), desk.states.at(-1)]).toEqual([["port-in-use"], "failed"]));
    l.stray.close();
    expect(closed()).toEqual([]);
  });

  test("a port is given back by the last who had it", async () => {
    const number = await free();
    const done: (Error | null)[] = [];
    const first = claimPort("udp4", number, HOST, (e) => done.push(e));
    const second = claimPort("udp4", number, HOST, (e) => done.push(e));
    await vi.waitFor(() => expect(done).toEqual([null, null]));
    first();
    first();
    const other = createSocket("udp4");
    closing.push(() => other.close());
    other.bind(number, HOST);
    await once(other, "listening");
    second();
    const third = claimPort("udp4", number, HOST, (e) => done.push(e));
    await vi.waitFor(() => expect((done[2] as NodeJS.ErrnoException).code).toBe("EADDRINUSE"));
    third();
  });
});
