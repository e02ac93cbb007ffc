import { createSocket, type Socket } from "node:dgram";
import { EventEmitter, once } from "node:events";
import { afterEach, describe, expect, test } from "vitest";
import type { PortState } from "../../core/live/protocol.ts";
import { LineFraming } from "../../core/stream/line-framing.ts";
import { troubleWords } from "../../words/troubles.ts";
import { listenAddressFor, systemTrouble } from "./port.ts";
import { UdpPort } from "./udp.ts";

const closing: (() => Promise<void>)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

/** A plain socket at the other end. */
async function peer(port = 0): Promise<Socket & { number: number }> {
  const socket = createSocket("udp4");
  socket.bind(port, "127.0.0.1");
  await once(socket, "listening");
  closing.push(() => new Promise((done) => socket.close(done)));
  return Object.assign(socket, { number: socket.address().port });
}

function open(address: ConstructorParameters<typeof UdpPort>[0]) {
  const events = new EventEmitter();
  const states: PortState[] = [];
  const port = new UdpPort(address, {
    message: (bytes) => events.emit("message", [...bytes]),
    refused: () => events.emit("refused"),
    state: (state) => {
      states.push(state);
      events.emit(state.state, state);
    },
  });
  closing.push(() => port.close());
  port.open();
  return { port, events, states };
}

const free = async () => {
  const socket = await peer();
  const { number } = socket;
  const close = closing.pop()!;
  await close();
  return number;
};

describe("a UDP port", () => {
  test("sends to its peer and hears it, and counts both", async () => {
    const other = await peer();
    const listen = await free();
    const { port, events } = open({
      peer: { host: "127.0.0.1", port: other.number },
      listen: { host: "127.0.0.1", port: listen },
    });
    await once(events, "open");
    const bytes = Uint8Array.of(9, 1, 2, 3, 9);
    port.send(bytes, 1, 3);
    bytes.fill(0); // the port has taken a copy
    const [heard] = (await once(other, "message")) as [Buffer];
    expect([...heard]).toEqual([1, 2, 3]);
    other.send(Uint8Array.of(7), listen, "127.0.0.1");
    expect(await once(events, "message")).toEqual([[7]]);
    expect(port.counted).toEqual({ in: 1, out: 1, dropped: 0, refused: 0 });
  });

  test("a burst arrives with each datagram's own bytes, whatever the system left waiting", async () => {
    const other = await peer();
    other.setRecvBufferSize(4 * 1024 * 1024);
    const { port, events } = open({ peer: { host: "127.0.0.1", port: other.number } });
    await once(events, "open");
    const heard: number[] = [];
    const all = new Promise<void>((done) =>
      other.on("message", (bytes) => {
        heard.push(bytes.readUInt16BE(0));
        if (heard.length === 1000) done();
      }),
    );
    const bytes = Buffer.alloc(2);
    for (let i = 0; i < 1000; i++) {
      bytes.writeUInt16BE(i);
      port.send(bytes, 0, 2);
    }
    await all;
    expect(heard).toEqual(Array.from({ length: 1000 }, (_, i) => i));
  });
  test("what others than its peer send is not heard", async () => {
    const other = await peer();
    const stranger = await peer();
    const listen = await free();
    const { events } = open({
      peer: { host: "127.0.0.1", port: other.number },
      listen: { host: "127.0.0.1", port: listen },
    });
    await once(events, "open");
    stranger.send(Uint8Array.of(1), listen, "127.0.0.1");
    await new Promise((done) => stranger.send(Uint8Array.of(1), listen, "127.0.0.1", done));
    other.send(Uint8Array.of(2), listen, "127.0.0.1");
    expect(await once(events, "message")).toEqual([[2]]);
  });
  test("a peer that is not there is told as refusing", async () => {
    const { port, events } = open({
      peer: { host: "127.0.0.1", port: await free() },
      listen: { host: "127.0.0.1", port: 0 },
    });
    await once(events, "open");
    const refused = once(events, "refused");
    port.send(Uint8Array.of(1), 0, 1);
    await refused;
    expect(port.counted.refused).toBeGreaterThan(0);
  });
  test("a port in use is told in words, tried again, and taken when it is free", async () => {
    const holder = await peer();
    const { events } = open({ listen: { host: "127.0.0.1", port: holder.number } });
    const [state] = (await once(events, "failed")) as [PortState];
    expect(state.trouble).toEqual({ code: "port-in-use", port: holder.number });
    await closing.shift()!(); // the holder lets go
    await once(events, "open");
  });
  test("closed, it sends nothing and leaves no handle", async () => {
    const other = await peer();
    const { port, events } = open({ peer: { host: "127.0.0.1", port: other.number } });
    await once(events, "open");
    await port.close();
    port.send(Uint8Array.of(1), 0, 1);
    expect(port.counted).toMatchObject({ out: 0, dropped: 0, refused: 1 });
    await port.close(); // a second time does no harm
  });
});

test("a peer on this machine is listened to on loopback only", () => {
  expect(["127.0.0.1", "localhost", "10.0.7.20"].map(listenAddressFor)).toEqual(["127.0.0.1", "127.0.0.1", "0.0.0.0"]);
});
test.each([
  ["EACCES", "this computer does not allow port 80"],
  ["ENOTFOUND", "that name is not known on this network"],
  ["ENETUNREACH", "there is no way to that address from this computer"],
  ["EADDRNOTAVAIL", "this computer does not have that address"],
  ["EWHATEVER", "the system says EWHATEVER"],
])("%s in words", (code, words) => {
  expect(troubleWords(systemTrouble(Object.assign(new Error("x"), { code }), 80))).toBe(words);
});

describe("lines in datagrams", () => {
  test("go out with their end, and come in one by one", async () => {
    const other = await peer();
    const listen = await free();
    const { port, events } = open({
      peer: { host: "127.0.0.1", port: other.number },
      listen: { host: "127.0.0.1", port: listen },
      lines: new LineFraming("crlf"),
    });
    const lines: string[] = [];
    events.on("message", (bytes: number[]) => lines.push(String.fromCharCode(...bytes)));
    await once(events, "open");
    port.send(new TextEncoder().encode("cut 1"), 0, 5);
    const [heard] = (await once(other, "message")) as [Buffer];
    expect(String(heard)).toBe("cut 1\r\n");
    for (const datagram of ["ok\r\nat key 1 1", "pong"]) other.send(datagram, listen, "127.0.0.1");
    while (lines.length < 3) await once(events, "message");
    expect(lines).toEqual(["ok", "at key 1 1", "pong"]);
    expect(port.counted).toEqual({ in: 3, out: 1, dropped: 0, refused: 0 });
  });
});

describe("an address of many", () => {
  test("of a whole network: everybody there hears it, and any of them is heard", async () => {
    const other = createSocket({ type: "udp4", reuseAddr: true });
    other.bind(0, "0.0.0.0");
    await once(other, "listening");
    closing.push(() => new Promise((done) => other.close(done)));
    const listen = await free();
    const { port, events } = open({
      peer: { host: "127.255.255.255", port: other.address().port },
      listen: { host: "127.0.0.1", port: listen },
    });
    await once(events, "open");
    port.send(Uint8Array.of(1, 2, 3), 0, 3);
    const [heard] = (await once(other, "message")) as [Buffer];
    expect([...heard]).toEqual([1, 2, 3]);
    other.send(Uint8Array.of(7), listen, "127.0.0.1");
    expect(await once(events, "message")).toEqual([[7]]);
  });
  test("each of several messages of one turn arrives with its own bytes", async () => {
    const everybody = createSocket({ type: "udp4", reuseAddr: true });
    everybody.bind(0, "0.0.0.0");
    await once(everybody, "listening");
    closing.push(() => new Promise((done) => everybody.close(done)));
    const { port, events } = open({ peer: { host: "127.255.255.255", port: everybody.address().port } });
    await once(events, "open");
    const heard: number[] = [];
    const all = new Promise<void>((done) =>
      everybody.on("message", (bytes) => {
        heard.push(bytes[0]!);
        if (heard.length === 100) done();
      }),
    );
    for (let i = 0; i < 100; i++) port.send(Uint8Array.of(i), 0, 1);
    await all;
    expect(heard).toEqual(Array.from({ length: 100 }, (_, i) => i));
  });
  test("of a group: what is said to it is heard", async () => {
    const events = new EventEmitter();
    const said: number[][] = [];
    const listen = await free();
    const port = new UdpPort(
      { peer: { host: "239.255.77.1", port: listen }, listen: { host: "0.0.0.0", port: listen } },
      {
        message: (bytes) => {
          said.push([...bytes]);
          events.emit("message");
        },
        refused: () => {},
        state: ({ state }) => events.emit(state),
      },
      () => ["127.0.0.1"], // groups of loopback only: nothing leaves this computer
    );
    closing.push(() => port.close());
    port.open();
    await once(events, "open");
    const other = await peer();
    other.setMulticastInterface("127.0.0.1");
    other.setMulticastTTL(0);
    other.send(Uint8Array.of(7), listen, "239.255.77.1");
    await once(events, "message");
    expect(said).toEqual([[7]]);
  });
  test("of a group that cannot be joined: said in words, and tried again", async () => {
    const { port, events } = open({ peer: { host: "239.300.0.1", port: 5000 } });
    const [failed] = (await once(events, "failed")) as [PortState];
    expect(failed.trouble).toBeDefined();
    expect(port.counted.refused).toBe(1);
  });
});
