/** A way from here to here for every transport, by our port and by a bare socket of the same kind. */
import { createSocket } from "node:dgram";
import { once } from "node:events";
import { createServer as createHttpServer } from "node:http";
import { createConnection, createServer, type Socket } from "node:net";
import type { NetworkSession } from "../../src/core/format/show.ts";
import type { Framing } from "../../src/core/stream/framing.ts";
import { LengthFraming } from "../../src/core/stream/length-framing.ts";
import { LineFraming } from "../../src/core/stream/line-framing.ts";
import { SlipFraming } from "../../src/core/stream/slip-framing.ts";
import { CablePort, Cables } from "../../src/engine/ports/cables.ts";
import { DmxPort, DmxReceivers } from "../../src/engine/ports/dmx.ts";
import { HttpPort } from "../../src/engine/ports/http.ts";
import { MqttPort } from "../../src/engine/ports/mqtt.ts";
import { NetworkMidiPort, NetworkSessions } from "../../src/engine/ports/network-midi.ts";
import type { Port, PortEvents } from "../../src/engine/ports/port.ts";
import { TcpPort } from "../../src/engine/ports/tcp.ts";
import { TcpServerPort } from "../../src/engine/ports/tcp-server.ts";
import { UdpPort } from "../../src/engine/ports/udp.ts";
import { Strangers } from "../../src/engine/strangers.ts";
import { findMosquitto } from "../../tools/test-programs.mjs";
import { Broker } from "../rig/broker.ts";
import { sacnPacket } from "../rig/dmx-packets.ts";

const HOST = "127.0.0.1";
const FIRST_PORT = 9700;
/** A way from here to here. */
export interface Way {
  send(id: number): void;
  close(): Promise<void> | void;
}
type Heard = (id: number) => void;
export type Open = (heard: Heard) => Promise<Way>;

export interface Transport {
  readonly id: string;
  readonly what: string;
  readonly ours: Open;
  readonly bare: "udp" | "tcp" | "http";
  /** It takes at most so many times as long as a bare one, and so many times the processor. */
  readonly atMost?: { readonly p50: number; readonly cpu: number };
  /** Requests that wait for their answers go one by one, and at another pace. */
  readonly inFlight?: number;
  readonly pacePerS?: number;
}

const text = new TextEncoder();
const words = new TextDecoder();
const asLine = (id: number) => text.encode(`level ${id}`);
const ofLine = (bytes: Uint8Array) => Number(words.decode(bytes).split(" ").at(-1));
const asMidi = (id: number) => Uint8Array.of(0xe0, id & 0x7f, id >> 7);
const ofMidi = (bytes: Uint8Array) => bytes[1]! | (bytes[2]! << 7);
/** An OSC message of a level in length, with the id in its last four bytes; what is in it is all the same to a port. */
const asOsc = (id: number) => {
  const bytes = new Uint8Array(32).fill(1);
  new DataView(bytes.buffer).setUint32(28, id);
  return bytes;
};
const ofOsc = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset).getUint32(28);

/** Opens a port and waits until it is open. */
async function opened<P extends Port>(
  make: (events: PortEvents) => P,
  message: (bytes: Uint8Array) => void,
): Promise<P> {
  let isOpen: () => void = () => {};
  const open = new Promise<void>((resolve) => {
    isOpen = resolve;
  });
  const port = make({ message, refused: () => {}, state: (s) => s.state === "open" && isOpen() });
  port.open();
  await open;
  return port;
}

function sends(port: Port, encode: (id: number) => Uint8Array, close: () => Promise<unknown>): Way {
  return {
    send: (id) => {
      const bytes = encode(id);
      port.send(bytes, 0, bytes.length);
    },
    close: async () => {
      await close();
    },
  };
}

const udp: Open = async (heard) => {
  const listen = { host: HOST, port: FIRST_PORT };
  const input = await opened(
    (e) => new UdpPort({ listen }, e),
    (b) => heard(ofOsc(b)),
  );
  const output = await opened(
    (e) => new UdpPort({ peer: listen }, e),
    () => {},
  );
  return sends(output, asOsc, () => Promise.all([input.close(), output.close()]));
};

/** Our client, to a bare server that reads the framing. */
const tcp =
  (framing: () => Framing, encode: (id: number) => Uint8Array, decode: (b: Uint8Array) => number): Open =>
  async (heard) => {
    const sockets = new Set<Socket>();
    const server = createServer((socket) => {
      sockets.add(socket);
      const reading = framing();
      socket.on("data", (piece) => reading.read(piece, (b) => heard(decode(b))));
    }).listen(FIRST_PORT, HOST);
    await once(server, "listening");
    const port = await opened(
      (e) => new TcpPort({ host: HOST, port: FIRST_PORT }, framing(), e),
      () => {},
    );
    return sends(port, encode, async () => {
      await port.close();
      for (const socket of sockets) socket.destroy();
      await new Promise((resolve) => server.close(resolve));
    });
  };

const calledByDesk: Open = async (heard) => {
  const address = { host: HOST, port: FIRST_PORT };
  const open = opened(
    (e) => new TcpServerPort(address, () => new LineFraming("lf"), e),
    () => {},
  );
  await new Promise((resolve) => setImmediate(resolve));
  const desk = createConnection({ ...address, noDelay: true });
  const reading = new LineFraming("lf");
  desk.on("data", (piece) => reading.read(piece, (b) => heard(ofLine(b))));
  const port = await open;
  return sends(port, asLine, async () => {
    desk.destroy();
    await port.close();
  });
};

const networkMidi: Open = async (heard) => {
  const clock = () => performance.timeOrigin + performance.now();
  const session = (port: number, invites: NetworkSession["invites"]): NetworkSession => ({
    id: "n",
    name: `Bench ${port}`,
    port,
    reach: "this-computer",
    admission: "everyone",
    allowed: [],
    invites,
    announced: false,
  });
  const [here, there] = [new NetworkSessions(clock), new NetworkSessions(clock)];
  there.set([session(FIRST_PORT + 2, [])]);
  here.set([session(FIRST_PORT, [{ host: HOST, port: FIRST_PORT + 2 }])]);
  const input = await opened(
    (e) => new NetworkMidiPort(there, { session: "n", input: true }, e),
    (b) => heard(ofMidi(b)),
  );
  const output = await opened(
    (e) => new NetworkMidiPort(here, { session: "n", input: false }, e),
    () => {},
  );
  return sends(output, asMidi, async () => {
    const [peer] = here.reports().n!.peers;
    if (peer) SESSION_FIGURES.push({ offsetMs: peer.offsetMs, latencyMs: peer.latencyMs });
    await Promise.all([input.close(), output.close()]);
    await Promise.all([here.close(), there.close()]);
  });
};
/** What the sessions knew of their clocks: both ends have the same, so every offset is an error. */
export const SESSION_FIGURES: { offsetMs: number; latencyMs: number }[] = [];

const cable: Open = async (heard) => {
  const cables = new Cables();
  const input = await opened(
    (e) => new CablePort(cables, { name: "c", input: true }, e),
    (b) => heard(ofMidi(b)),
  );
  const output = await opened(
    (e) => new CablePort(cables, { name: "c", input: false }, e),
    () => {},
  );
  return sends(output, asMidi, () => Promise.all([input.close(), output.close()]));
};

const sacn: Open = async (heard) => {
  const receivers = new DmxReceivers(() => performance.now(), new Strangers(() => performance.now()));
  const control = (number: number) => ({
    id: `c${number}`,
    name: "C",
    kind: "fader" as const,
    behaviour: "absolute" as const,
    box: { x: 0, y: 0, width: 1, height: 1 },
    sends: { kind: "controller-14" as const, channel: 1, number },
  });
  // Two slots carry the id; the second, which always differs, says that both are there.
  const at = [0, 0];
  const value = (bytes: Uint8Array, i: number) => {
    if (bytes[1] === i) at[i] = bytes[2]! << 7;
    else if (bytes[1] === i + 32) at[i] = Math.round(((at[i]! | bytes[2]!) * 255) / 16_383);
    else return false;
    return bytes[1] === i + 32;
  };
  const ref = {
    protocol: "sacn",
    universe: 1,
    first: 1,
    reach: "this-computer",
    port: FIRST_PORT,
    on: 128,
    off: 112,
  } as const;
  const port = new DmxPort(receivers, { kind: "dmx", ...ref }, [control(0), control(1)], {
    message: (b) => {
      value(b, 0);
      if (value(b, 1)) heard(at[0]! * 250 + at[1]!);
    },
    refused: () => {},
    state: () => {},
  });
  port.open();
  const socket = createSocket("udp4");
  let sequence = 0;
  await new Promise<void>((resolve) => socket.connect(FIRST_PORT, HOST, resolve));
  return {
    send: (id) => socket.send(sacnPacket([Math.floor(id / 250), id % 250], { sequence: sequence++ & 0xff })),
    close: async () => {
      socket.close();
      await port.close();
    },
  };
};

const http: Open = async (heard) => {
  const server = createHttpServer((request, response) => response.end(request.url!.slice(1))).listen(FIRST_PORT, HOST);
  await once(server, "listening");
  const address = { host: HOST, port: FIRST_PORT, headers: {}, timeoutMs: 2000 };
  const port = await opened(
    (e) => new HttpPort(address, e),
    (b) => heard(ofLine(b)),
  );
  return sends(
    port,
    (id) => text.encode(`GET /${id}`),
    async () => {
      await port.close();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
    },
  );
};

const mqtt: Open = async (heard) => {
  const broker = new Broker(FIRST_PORT);
  await broker.start();
  const address = { host: HOST, port: FIRST_PORT, version: "5" as const, will: "" };
  const input = await opened(
    (e) => new MqttPort({ ...address, topics: ["level"] }, e),
    (b) => heard(ofLine(b)),
  );
  const output = await opened(
    (e) => new MqttPort({ ...address, topics: ["none"] }, e),
    () => {},
  );
  return sends(output, asLine, async () => {
    await Promise.all([input.close(), output.close()]);
    await broker.stop();
    broker.clean();
  });
};

export const BARE: Record<Transport["bare"], Open> = {
  udp: async (heard) => {
    const input = createSocket({ type: "udp4", recvBufferSize: 4 * 1024 * 1024 }).bind(FIRST_PORT, HOST);
    await once(input, "listening");
    input.on("message", (b) => heard(ofOsc(b)));
    const output = createSocket("udp4");
    await new Promise<void>((resolve) => output.connect(FIRST_PORT, HOST, resolve));
    return {
      send: (id) => output.send(asOsc(id)),
      close: () => {
        input.close();
        output.close();
      },
    };
  },
  tcp: async (heard) => {
    const sockets = new Set<Socket>();
    const server = createServer((socket) => {
      sockets.add(socket);
      let rest = "";
      socket.on("data", (piece) => {
        const lines = (rest + String(piece)).split("\n");
        rest = lines.pop()!;
        for (const line of lines) heard(Number(line.split(" ")[1]));
      });
    }).listen(FIRST_PORT, HOST);
    await once(server, "listening");
    const socket = createConnection({ host: HOST, port: FIRST_PORT, noDelay: true });
    await once(socket, "connect");
    return {
      send: (id) => socket.write(`level ${id}\n`),
      close: async () => {
        socket.destroy();
        for (const s of sockets) s.destroy();
        await new Promise((resolve) => server.close(resolve));
      },
    };
  },
  http: async (heard) => {
    const server = createHttpServer((request, response) => response.end(request.url!.slice(1))).listen(
      FIRST_PORT,
      HOST,
    );
    await once(server, "listening");
    return {
      send: (id) => {
        void fetch(`http://${HOST}:${FIRST_PORT}/${id}`)
          .then((r) => r.text())
          .then((t) => heard(Number(t)));
      },
      close: async () => {
        server.closeAllConnections();
        await new Promise((resolve) => server.close(resolve));
      },
    };
  },
};

export const TRANSPORTS: readonly Transport[] = [
  { id: "udp", what: "OSC over UDP", ours: udp, bare: "udp" },
  {
    id: "tcp",
    what: "OSC over TCP, after its length",
    ours: tcp(() => new LengthFraming(), asOsc, ofOsc),
    bare: "tcp",
  },
  { id: "slip", what: "OSC over TCP, by SLIP", ours: tcp(() => new SlipFraming(), asOsc, ofOsc), bare: "tcp" },
  { id: "lines", what: "lines over TCP", ours: tcp(() => new LineFraming("lf"), asLine, ofLine), bare: "tcp" },
  { id: "server", what: "lines over TCP, the desk calls", ours: calledByDesk, bare: "tcp" },
  { id: "session", what: "network MIDI", ours: networkMidi, bare: "udp", atMost: { p50: 2, cpu: 2.5 } },
  { id: "cable", what: "a cable inside", ours: cable, bare: "udp" },
  { id: "sacn", what: "sACN in", ours: sacn, bare: "udp" },
  { id: "http", what: "HTTP, to and fro", ours: http, bare: "http", inFlight: 1, pacePerS: 200 },
  ...(findMosquitto() ? [{ id: "mqtt", what: "MQTT, by the broker", ours: mqtt, bare: "tcp" } as const] : []),
];
