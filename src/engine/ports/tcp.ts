/**
 * Messages over a TCP connection that we open, framed as the desk wants it, and opened again by itself, after pauses
 * that grow, when the other end goes away.
 */
import { createConnection, type Socket } from "node:net";
import type { PortState } from "../../core/live/protocol.ts";
import type { Framing } from "../../core/stream/framing.ts";
import { Backoff } from "./backoff.ts";
import { failureWords, OPEN, type Port, type PortEvents, WAITING } from "./port.ts";

export interface TcpAddress {
  host: string;
  port: number;
}

/** Bytes that may wait to be sent; past it messages are dropped and counted, for the other end does not read. */
const MAX_WAITING_BYTES = 256 * 1024;

const NOT_FRAMED = "what comes is not framed by lengths; try SLIP";

export class TcpPort implements Port {
  readonly counted = { in: 0, out: 0, dropped: 0, refused: 0 };
  readonly #address: TcpAddress;
  readonly #framing: Framing;
  readonly #events: PortEvents;
  readonly #backoff: Backoff;
  #socket: Socket | null = null;
  #connected = false;
  #closed = false;
  #retry: NodeJS.Timeout | null = null;
  /** We closed the last connection ourselves, because what came over it could not be followed. */
  #wasLost = false;

  constructor(address: TcpAddress, framing: Framing, events: PortEvents, random: () => number = Math.random) {
    this.#address = address;
    this.#framing = framing;
    this.#events = events;
    this.#backoff = new Backoff(random);
  }

  open(): void {
    const { host, port } = this.#address;
    const socket = createConnection({ host, port, noDelay: true });
    this.#socket = socket;
    this.#framing.reset();
    this.#events.state(WAITING);
    socket.on("connect", () => {
      this.#connected = true;
      if (!this.#wasLost) this.#backoff.reset();
      this.#events.state(OPEN);
    });
    socket.on("data", (bytes: Buffer) => this.#data(socket, bytes));
    socket.on("error", (error: NodeJS.ErrnoException) => this.#failed(error));
    socket.on("close", () => this.#again(socket));
  }

  send(bytes: Uint8Array, offset: number, length: number): void {
    const socket = this.#socket;
    if (!socket || !this.#connected) {
      this.counted.refused++; // there is no connection, and the state says so
      return;
    }
    if (socket.writableLength > MAX_WAITING_BYTES) {
      this.counted.dropped++;
      return;
    }
    this.counted.out++;
    socket.write(this.#framing.write(bytes.subarray(offset, offset + length)));
  }

  close(): Promise<void> {
    this.#closed = true;
    if (this.#retry) clearTimeout(this.#retry);
    const socket = this.#socket;
    this.#socket = null;
    this.#connected = false;
    if (!socket || socket.closed) return Promise.resolve();
    return new Promise((resolve) => {
      socket.once("close", () => resolve());
      socket.destroy();
    });
  }

  #data(socket: Socket, bytes: Buffer): void {
    if (socket !== this.#socket || this.#framing.isLost) return;
    this.counted.dropped += this.#framing.read(bytes, (message) => {
      this.#wasLost = false;
      this.counted.in++;
      this.#events.message(message);
    });
    if (!this.#framing.isLost) return;
    this.#wasLost = true;
    socket.destroy();
  }

  #failed(error: NodeJS.ErrnoException): void {
    this.counted.refused++;
    if (error.code === "ECONNREFUSED") this.#events.refused();
    const detail =
      error.code === "ECONNREFUSED"
        ? `nobody listens on port ${this.#address.port} there`
        : failureWords(error, this.#address.port);
    const failed: PortState = { state: "failed", detail };
    this.#events.state(failed);
  }

  #again(socket: Socket): void {
    if (this.#closed || socket !== this.#socket) return;
    if (this.#connected)
      this.#events.state({ state: "waiting", detail: this.#wasLost ? NOT_FRAMED : "the desk closed the connection" });
    this.#connected = false;
    this.#retry = setTimeout(() => this.open(), this.#backoff.next());
  }
}
