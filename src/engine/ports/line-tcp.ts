/**
 * Lines of text over a TCP connection that we open: framed at line ends, and opened again by itself, after pauses that
 * grow, when the other end goes away.
 */
import { createConnection, type Socket } from "node:net";
import type { PortState } from "../../core/live/protocol.ts";
import { failureWords, OPEN, type Port, type PortEvents, WAITING } from "./port.ts";

export interface LineAddress {
  host: string;
  port: number;
  lineEnd: "lf" | "crlf" | "cr";
}

/** First and longest pause before the connection is opened again, in ms; each pause varies by up to a quarter. */
const RETRY_MS = 250;
const LONGEST_RETRY_MS = 8000;
const JITTER = 0.25;
/** A line that is longer than this is no line: it is thrown away, and so is the rest of it. */
export const MAX_LINE_BYTES = 8192;
/** Bytes that may wait to be sent; past it lines are dropped and counted, for the other end does not read. */
const MAX_WAITING_BYTES = 256 * 1024;

const ENDS = { lf: "\n", crlf: "\r\n", cr: "\r" } as const;
const LF = 10;
const CR = 13;

export class LineTcpPort implements Port {
  readonly counted = { in: 0, out: 0, failed: 0 };
  readonly #address: LineAddress;
  readonly #events: PortEvents;
  readonly #end: Buffer;
  readonly #random: () => number;
  #socket: Socket | null = null;
  #connected = false;
  #closed = false;
  #retryMs = RETRY_MS;
  #retry: NodeJS.Timeout | null = null;
  /** The beginning of a line whose end has not come. */
  #rest: Buffer = Buffer.alloc(0);
  #skipping = false;

  constructor(address: LineAddress, events: PortEvents, random: () => number = Math.random) {
    this.#address = address;
    this.#events = events;
    this.#end = Buffer.from(ENDS[address.lineEnd]);
    this.#random = random;
  }

  open(): void {
    const { host, port } = this.#address;
    const socket = createConnection({ host, port, noDelay: true });
    this.#socket = socket;
    this.#rest = Buffer.alloc(0);
    this.#skipping = false;
    this.#events.state(WAITING);
    socket.on("connect", () => {
      this.#connected = true;
      this.#retryMs = RETRY_MS;
      this.#events.state(OPEN);
    });
    socket.on("data", (bytes: Buffer) => this.#data(bytes));
    socket.on("error", (error: NodeJS.ErrnoException) => this.#failed(error));
    socket.on("close", () => this.#again(socket));
  }

  send(bytes: Uint8Array, offset: number, length: number): void {
    const socket = this.#socket;
    if (!socket || !this.#connected || socket.writableLength > MAX_WAITING_BYTES) {
      this.counted.failed++;
      return;
    }
    const line = Buffer.allocUnsafe(length + this.#end.length);
    line.set(bytes.subarray(offset, offset + length));
    this.#end.copy(line, length);
    this.counted.out++;
    socket.write(line);
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

  #data(bytes: Buffer): void {
    let from = 0;
    for (let i = 0; i < bytes.length; i++) {
      if (bytes[i] !== LF && bytes[i] !== CR) continue;
      this.#line(bytes.subarray(from, i));
      from = i + 1;
    }
    const rest = bytes.subarray(from);
    if (this.#skipping || rest.length === 0) return;
    if (this.#rest.length + rest.length > MAX_LINE_BYTES) {
      this.#rest = Buffer.alloc(0);
      this.#skipping = true;
      this.counted.failed++;
    } else this.#rest = Buffer.concat([this.#rest, rest]);
  }

  #line(end: Buffer): void {
    const line = this.#rest.length > 0 ? Buffer.concat([this.#rest, end]) : end;
    this.#rest = Buffer.alloc(0);
    const skipped = this.#skipping;
    this.#skipping = false;
    if (skipped || line.length === 0) return; // empty between CR and LF
    if (line.length > MAX_LINE_BYTES) {
      this.counted.failed++;
      return;
    }
    this.counted.in++;
    this.#events.message(line);
  }

  #failed(error: NodeJS.ErrnoException): void {
    this.counted.failed++;
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
    if (this.#connected) this.#events.state({ state: "waiting", detail: "the desk closed the connection" });
    this.#connected = false;
    const pauseMs = this.#retryMs * (1 + JITTER * (this.#random() * 2 - 1));
    this.#retry = setTimeout(() => this.open(), pauseMs);
    this.#retryMs = Math.min(this.#retryMs * 2, LONGEST_RETRY_MS);
  }
}
