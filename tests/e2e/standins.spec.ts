/**
 * The stand-ins against their documents, with plain sockets: what goes out is written by hand, and nothing of the
 * product is used to read what comes back.
 */
import { createSocket, type Socket as UdpSocket } from "node:dgram";
import { once } from "node:events";
import { connect, type Socket } from "node:net";
import { expect, test } from "./application.ts";

/** OSC by hand: address, type tags, arguments of 4 bytes or a string, each padded to four (OSC 1.0, "OSC Messages"). */
function osc(address: string, tags = "", ...args: number[]): Buffer {
  const padded = (text: string) => Buffer.from(`${text}${"\0".repeat(4 - (text.length % 4))}`);
  const numbers = args.map((value, i) => {
    const bytes = Buffer.alloc(4);
    if (tags[i] === "f") bytes.writeFloatBE(value);
    else bytes.writeInt32BE(value);
    return bytes;
  });
  return Buffer.concat([padded(address), padded(`,${tags}`), ...numbers]);
}

/** Everything readable in a datagram: addresses and strings. */
const texts = (bytes: Buffer) => bytes.toString("latin1").match(/[\x20-\x7e]{3,}/g) ?? [];

async function udp(port = 0): Promise<{ socket: UdpSocket; next(what: RegExp): Promise<Buffer> }> {
  const socket = createSocket("udp4");
  socket.bind(port, "127.0.0.1");
  await once(socket, "listening");
  const heard: Buffer[] = [];
  let wake = () => {};
  socket.on("message", (bytes) => {
    heard.push(bytes);
    wake();
  });
  return {
    socket,
    async next(what) {
      for (;;) {
        const at = heard.findIndex((b) => what.test(b.toString("latin1")));
        if (at >= 0) return heard.splice(at, 1)[0]!;
        await new Promise<void>((done) => {
          wake = done;
        });
      }
    },
  };
}

async function lines(port: number): Promise<{ socket: Socket; say(line: string): void; next(): Promise<string> }> {
  const socket = connect(port, "127.0.0.1");
  await once(socket, "connect");
  const heard: string[] = [];
  let rest = "";
  let wake = () => {};
  socket.on("data", (bytes) => {
    const parts = (rest + bytes.toString("utf8")).split("\n");
    rest = parts.pop()!;
    heard.push(...parts);
    wake();
  });
  return {
    socket,
    say: (line) => socket.write(`${line}\n`),
    async next() {
      while (heard.length === 0)
        await new Promise<void>((done) => {
          wake = done;
        });
      return heard.shift()!;
    },
  };
}

test("the vision desk answers every line, tells who watches, and nobody else", async ({ velvet }) => {
  const { port } = velvet.vision.ports;
  const one = await lines(port);
  const two = await lines(port);
  two.say("watch");
  expect(await two.next()).toBe("ok");
  one.say("aux 3");
  expect(await one.next()).toBe("ok");
  expect(await two.next()).toBe("at aux 3");
  one.say("aux 9");
  expect(await one.next()).toBe("no there is no such input");
  one.say("ping 41");
  expect([await one.next(), await one.next()]).toEqual(["pong 41", "ok"]);
  one.say("dance\r");
  expect(await one.next()).toBe("no this word is not known");
  one.socket.write("au");
  one.socket.write("x 1\naux 2\n");
  expect([await one.next(), await one.next()]).toEqual(["ok", "ok"]);
  expect([await two.next(), await two.next()]).toEqual(["at aux 1", "at aux 2"]);
  one.socket.destroy();
  two.socket.destroy();
});

test("the lighting desk tells listeners what it did, answers pulses, and leaves alone what is out of range", async ({
  velvet,
}) => {
  const { port } = velvet.desk.ports;
  const { socket, next } = await udp();
  const say = (bytes: Buffer) => socket.send(bytes, port, "127.0.0.1");
  say(osc("/pulse", "i", 12));
  const pulse = await next(/^\/pulse\/back/);
  expect(pulse.readInt32BE(pulse.length - 4)).toBe(12);
  say(osc("/listen"));
  say(osc("/set/playback/4/7/level", "f", 1.5));
  say(osc("/set/playback/4/7/level", "f", 0.25));
  const level = await next(/^\/now\/playback\/4\/7\/level/);
  expect(level.readFloatBE(level.length - 4)).toBe(0.25);
  expect((await velvet.desk.playback(4, 7)).level).toBe(0.25);
  say(osc("/ask"));
  expect(texts(await next(/Ballroom/)).join(" ")).toContain("Ballroom quay");
  say(osc("/leave"));
  socket.close();
});

test("desks that speak OSC are reached over TCP too, after a length and between the ENDs of SLIP", async ({
  velvet,
}) => {
  const withLength = (bytes: Buffer) =>
    Buffer.concat([Buffer.from([0, 0, bytes.length >> 8, bytes.length & 255]), bytes]);
  const slip = (bytes: Buffer) => Buffer.from([0xc0, ...bytes, 0xc0]); // these messages have no byte to be replaced
  for (const [frame, answer] of [
    [withLength, withLength(osc("/pulse/back", "i", 12))],
    [slip, slip(osc("/pulse/back", "i", 12))],
  ] as const) {
    const socket = connect(velvet.desk.ports.port, "127.0.0.1");
    await once(socket, "connect");
    const level = frame === slip ? 0.5 : 0.25;
    socket.write(Buffer.concat([frame(osc("/set/playback/4/8/level", "f", level)), frame(osc("/pulse", "i", 12))]));
    const [bytes] = (await once(socket, "data")) as [Buffer];
    expect(bytes.equals(answer)).toBe(true);
    expect((await velvet.desk.playback(4, 8)).level).toBe(level);
    socket.destroy();
  }
  // What can be no message closes the connection.
  const socket = connect(velvet.sound.ports.port, "127.0.0.1");
  socket.write(osc("/beat", "i", 1));
  await once(socket, "close");
});

test("the sound desk tells followers every change and its meters, and answers beats", async ({ velvet }) => {
  const { port } = velvet.sound.ports;
  const { socket, next } = await udp();
  const say = (bytes: Buffer) => socket.send(bytes, port, "127.0.0.1");
  say(osc("/beat", "i", 77));
  const beat = await next(/^\/beat\/back/);
  expect([beat.length, beat.readInt32BE(beat.length - 4)]).toEqual([20, 77]);
  say(osc("/follow"));
  say(osc("/do/channel/5/level", "f", -12.5));
  const level = await next(/^\/is\/channel\/5\/level/);
  expect([texts(level)[0], level.readFloatBE(level.length - 4)]).toEqual(["/is/channel/5/level", -12.5]);
  expect(texts(await next(/meter/)).join(" ")).toContain("/is/channel/1/meter");
  say(osc("/tell-all"));
  expect(texts(await next(/Narrator/)).join(" ")).toMatch(/\/is\/channel\/1\/name Narrator/);
  say(osc("/leave"));
  socket.close();
});

test("the instrument takes kits from number 8 and reports the knob of its own", async ({ velvet }) => {
  // We take the place of the program that it reports to.
  await velvet.stop();
  const { port } = velvet.bell.ports;
  const { socket, next } = await udp(port + 1);
  socket.send(Buffer.from([0xc9, 10]), port, "127.0.0.1");
  expect([...(await next(/^\xc9/))]).toEqual([0xc9, 10]);
  expect((await velvet.bell.state()).kit).toBe(3);
  socket.send(Buffer.from([0xc9, 7]), port, "127.0.0.1");
  await velvet.bell.act({ kind: "kit", kit: 16 });
  expect([...(await next(/^\xc9/))]).toEqual([0xc9, 23]);
  expect((await velvet.bell.state()).counted["unknown kits"]).toBe(1);
  socket.send(Buffer.from([0xf0, 0x7e, 0x7f, 6, 1, 0xf7]), port, "127.0.0.1");
  expect([...(await next(/^\xf0\x7e/))].slice(0, 5)).toEqual([0xf0, 0x7e, 0, 6, 2]);
  await new Promise<void>((done) => socket.close(done));
  await velvet.start();
});

test("faults do what they say, and end", async ({ velvet }) => {
  const { port } = velvet.vision.ports;
  const client = await lines(port);
  await velvet.vision.fault({ reorder: true });
  client.socket.write("ping 1\nping 2\n");
  const four = [await client.next(), await client.next(), await client.next(), await client.next()];
  expect(four).toEqual(["ok", "pong 2", "ok", "pong 1"]); // pairs change places, on the way in and on the way out
  const closed = once(client.socket, "close");
  await velvet.vision.fault({ reorder: false, refuse: true });
  await closed;
  const refused = connect(port, "127.0.0.1");
  const [error] = (await once(refused, "error")) as [NodeJS.ErrnoException];
  expect(error.code).toBe("ECONNREFUSED");
  await velvet.vision.fault({ kind: "none" });
  const back = await lines(port);
  back.say("program 1 4");
  await back.next();
  expect((await velvet.vision.state()).mixes[0]!.program).toBe(4);
  await velvet.vision.fault({ kind: "restart" });
  await expect.poll(async () => (await velvet.vision.state()).mixes[0]!.program).toBe(5); // as it was switched on
  back.socket.destroy();
});
