/** Lines over TCP connections that desks open to us: what one says is heard, and all are told what is sent. */
import { lookup } from "node:dns/promises";
import { createServer, isIP, type Server, type Socket } from "node:net";
import type { PortState } from "../../core/live/protocol.ts";
import type { Framing } from "../../core/stream/framing.ts";
import { failed, OPEN, type Port, type PortEvents, systemTrouble, WAITING, waiting } from "./port.ts";
import { Retrying } from "./retrying.ts";

export interface ListenAddress {
  host: string;
  port: number;
  /** Address or name of the desk: only from where that leads is it called. Left out, from anywhere that reaches us. */
  from?: string;
}

const MOST_CONNECTIONS = 8;
/** Bytes that may wait for one connection; past it messages to it are dropped and counted. */
const MAX_WAITING_BYTES = 256 * 1024;

export class TcpServerPort implements Port {
  readonly counted = { in: 0, out: 0, dropped: 0, refused: 0 };
  readonly #address: ListenAddress;
  readonly #framing: () => Framing;
  readonly #events: PortEvents;
  #server: Server | null = null;
  readonly #connections = new Map<Socket, Framing>();
  readonly #retrying = new Retrying(
    () => this.#open(),
    (error) => this.#failed(error),
  );

  /** Each connection has a framing of its own. */
  constructor(address: ListenAddress, framing: () => Framing, events: PortEvents) {
    this.#address = address;
    this.#framing = framing;
    this.#events = events;
  }

  open(): void {
    this.#retrying.now();
  }

  #open(): void {
    const { host, port } = this.#address;
    const server = createServer({ noDelay: true }, (socket) => this.#connected(socket));
    server.maxConnections = MOST_CONNECTIONS;
    server.on("drop", () => this.counted.refused++);
    this.#server = server;
    this.#events.state(WAITING);
    server.on("error", (error: NodeJS.ErrnoException) => {
      if (server !== this.#server) return;
      this.#failed(error);
      this.#retrying.again();
    });
    server.listen(port, host, () => {
      this.#retrying.worked();
      this.#events.state(this.#nobody);
    });
  }

  #failed(error: NodeJS.ErrnoException): void {
    this.#server = null;
    this.counted.refused++;
    this.#events.state(failed(systemTrouble(error, this.#address.port)));
  }

  send(bytes: Uint8Array, offset: number, length: number): void {
    if (this.#connections.size === 0) {
      this.counted.refused++; // nobody is there, and the state says so
      return;
    }
    this.counted.out++;
    for (const [socket, framing] of this.#connections)
      if (socket.writableLength > MAX_WAITING_BYTES) this.counted.dropped++;
      else socket.write(framing.write(bytes.subarray(offset, offset + length)));
  }

  close(): Promise<void> {
    this.#retrying.stop();
    for (const socket of this.#connections.keys()) socket.destroy();
    const server = this.#server;
    this.#server = null;
    if (!server) return Promise.resolve();
    return new Promise((resolve) => {
      const end = () => server.close(() => resolve());
      // One that is just being opened cannot be closed before it is.
      if (server.listening) end();
      else server.once("listening", end).once("error", () => resolve());
    });
  }

  get #nobody(): PortState {
    return waiting({ code: "nobody-connected", port: this.#address.port });
  }

  #connected(socket: Socket): void {
    socket.on("error", () => {}); // it closes, which is all there is to know
    const { from } = this.#address;
    if (from === undefined) {
      this.#take(socket);
      return;
    }
    // Nothing it says is read before it is known who it is.
    void leadsTo(from, socket.remoteAddress).then((isDesk) => {
      if (isDesk && !socket.destroyed && !this.#retrying.isStopped) this.#take(socket);
      else {
        this.counted.refused++;
        if (socket.remoteAddress && !this.#retrying.isStopped)
          this.#events.stranger?.(plainAddress(socket.remoteAddress));
        socket.destroy();
      }
    });
  }

  #take(socket: Socket): void {
    const framing = this.#framing();
    this.#connections.set(socket, framing);
    socket.on("data", (bytes: Buffer) => {
      this.counted.dropped += framing.read(bytes, (message) => {
        this.counted.in++;
        this.#events.message(message);
      });
    });
    socket.on("close", () => {
      this.#connections.delete(socket);
      if (this.#connections.size === 0 && !this.#retrying.isStopped) this.#events.state(this.#nobody);
    });
    // Whoever comes is told how everything stands.
    this.#events.state(OPEN);
  }
}

/** Whether an address, or one of those a name leads to, is the one somebody calls from. */
async function leadsTo(from: string, remote: string | undefined): Promise<boolean> {
  const caller = remote && plainAddress(remote);
  if (isIP(from)) return caller === from;
  const found = await lookup(from, { all: true }).catch(() => []);
  return found.some((f) => f.address === caller);
}

/** An IPv4 address as an IPv6 socket tells it is one all the same (RFC 4291, section 2.5.5.2). */
function plainAddress(address: string): string {
  return address.replace(/^::ffff:/, "");
}
