/**
 * Messages over a TCP connection that we open, framed as the desk wants it, and opened again by itself, after pauses
 * that grow, when the other end goes away.
 */
import { createConnection, type Socket } from "node:net";
import type { Framing } from "../../core/stream/framing.ts";
import { failed, OPEN, type Port, type PortEvents, systemTrouble, WAITING, waiting } from "./port.ts";
import { Retrying } from "./retrying.ts";

export interface TcpAddress {
  host: string;
  port: number;
}

/** Bytes that may wait to be sent; past it messages are dropped and counted, for the other end does not read. */
const MAX_WAITING_BYTES = 256 * 1024;

export class TcpPort implements Port {
  readonly counted = { in: 0, out: 0, dropped: 0, refused: 0 };
  readonly #address: TcpAddress;
  readonly #framing: Framing;
  readonly #events: PortEvents;
  readonly #retrying: Retrying;
  #socket: Socket | null = null;
  #connected = false;
  /** We closed the last connection ourselves, because what came over it could not be followed. */
  #wasLost = false;

  constructor(address: TcpAddress, framing: Framing, events: PortEvents, random: () => number = Math.random) {
    this.#address = address;
    this.#framing = framing;
    this.#events = events;
    this.#retrying = new Retrying(
      () => this.#open(),
      (error) => this.#failed(error),
      random,
    );
  }

  open(): void {
    this.#retrying.now();
  }

  #open(): void {
    const { host, port } = this.#address;
    const socket = createConnection({ host, port, noDelay: true });
    this.#socket = socket;
    this.#framing.reset();
    this.#events.state(WAITING);
    socket.on("connect", () => {
      this.#connected = true;
      if (!this.#wasLost) this.#retrying.worked();
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
    this.#retrying.stop();
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
    this.#events.state(failed(systemTrouble(error, this.#address.port)));
  }

  #again(socket: Socket): void {
    if (this.#retrying.isStopped || socket !== this.#socket) return;
    if (this.#connected)
      this.#events.state(waiting(this.#wasLost ? { code: "not-framed" } : { code: "closed-by-peer", broker: false }));
    this.#connected = false;
    this.#retrying.again();
  }
}
