/** The wires of stand-ins: UDP with subscribers, and lines over TCP, each behind the faults that are asked for. */
import { createSocket, type RemoteInfo, type Socket as UdpSocket } from "node:dgram";
import { createServer, type Server, type Socket } from "node:net";
import type { Faults } from "./faults.ts";

export const HOST = "127.0.0.1";
const RECEIVE_BUFFER_BYTES = 4 * 1024 * 1024;
const MAX_LINE = 1000;

/** What every wire does for its stand-in. */
export interface Wire {
  open(): Promise<void>;
  /** Closes it, so that the network refuses what is sent here. */
  close(): Promise<void>;
  /** How many listen now. */
  readonly listeners: number;
  /** Forgets who listens, as a desk does that was switched off. */
  forget(): void;
}

export class UdpWire implements Wire {
  readonly #port: number;
  readonly #faults: Faults;
  readonly #message: (bytes: Uint8Array, from: RemoteInfo) => void;
  readonly #subscribers = new Map<string, { host: string; port: number; untilMs: number }>();
  #socket: UdpSocket | null = null;

  constructor(port: number, faults: Faults, message: (bytes: Uint8Array, from: RemoteInfo) => void) {
    this.#port = port;
    this.#faults = faults;
    this.#message = message;
  }

  open(): Promise<void> {
    if (this.#socket) return Promise.resolve();
    const socket = createSocket({ type: "udp4", recvBufferSize: RECEIVE_BUFFER_BYTES });
    this.#socket = socket;
    socket.on("message", (bytes, from) =>
      this.#faults.in.pass(this.#faults.settings, `${from.address}:${from.port}`, () => this.#message(bytes, from)),
    );
    return new Promise((resolve, reject) => {
      socket.once("error", reject);
      socket.bind(this.#port, HOST, () => {
        socket.off("error", reject);
        // A subscriber that went away makes the network refuse what we tell it; its subscription runs out by itself.
        socket.on("error", () => {});
        resolve();
      });
    });
  }

  close(): Promise<void> {
    const socket = this.#socket;
    this.#socket = null;
    return new Promise((resolve) => (socket ? socket.close(() => resolve()) : resolve()));
  }

  send(bytes: Uint8Array, port: number, host = HOST): void {
    this.#faults.out.pass(this.#faults.settings, `${host}:${port}`, () => this.#socket?.send(bytes, port, host));
  }

  subscribe({ address, port }: RemoteInfo, forMs: number): void {
    this.#subscribers.set(`${address}:${port}`, { host: address, port, untilMs: Date.now() + forMs });
  }

  unsubscribe({ address, port }: RemoteInfo): void {
    this.#subscribers.delete(`${address}:${port}`);
  }

  /** Tells everybody who listens. */
  publish(bytes: Uint8Array): void {
    this.#expire();
    for (const { port, host } of this.#subscribers.values()) this.send(bytes, port, host);
  }

  get listeners(): number {
    this.#expire();
    return this.#subscribers.size;
  }

  forget(): void {
    this.#subscribers.clear();
  }

  #expire(): void {
    const nowMs = Date.now();
    for (const [key, s] of this.#subscribers) if (s.untilMs < nowMs) this.#subscribers.delete(key);
  }
}

export interface LineClient {
  say(line: string): void;
  /** True once it asked to be told. */
  watches: boolean;
}

export class LineWire implements Wire {
  readonly #port: number;
  readonly #faults: Faults;
  readonly #line: (text: string, client: LineClient) => void;
  readonly #clients = new Map<Socket, LineClient>();
  #server: Server | null = null;

  constructor(port: number, faults: Faults, line: (text: string, client: LineClient) => void) {
    this.#port = port;
    this.#faults = faults;
    this.#line = line;
  }

  open(): Promise<void> {
    if (this.#server) return Promise.resolve();
    const server = createServer((socket) => this.#connected(socket));
    this.#server = server;
    return new Promise((resolve, reject) => {
      server.once("error", reject);
      server.listen(this.#port, HOST, () => resolve());
    });
  }

  close(): Promise<void> {
    const server = this.#server;
    this.#server = null;
    for (const socket of this.#clients.keys()) socket.destroy();
    this.#clients.clear();
    return new Promise((resolve) => (server ? server.close(() => resolve()) : resolve()));
  }

  publish(line: string): void {
    for (const client of this.#clients.values()) if (client.watches) client.say(line);
  }

  get listeners(): number {
    return [...this.#clients.values()].filter((c) => c.watches).length;
  }

  forget(): void {
    for (const socket of this.#clients.keys()) socket.destroy();
  }

  #connected(socket: Socket): void {
    const client: LineClient = {
      watches: false,
      say: (line) =>
        this.#faults.out.pass(this.#faults.settings, socket, () => socket.writable && socket.write(`${line}\n`)),
    };
    this.#clients.set(socket, client);
    socket.setNoDelay(true);
    let rest = "";
    socket.on("data", (bytes: Buffer) => {
      const lines = (rest + bytes.toString("utf8")).split(/\r\n|\n|\r/);
      rest = lines.pop()!.slice(0, MAX_LINE);
      for (const line of lines)
        if (line !== "")
          this.#faults.in.pass(this.#faults.settings, socket, () => this.#line(line.slice(0, MAX_LINE), client));
    });
    socket.on("error", () => {});
    socket.on("close", () => this.#clients.delete(socket));
  }
}
