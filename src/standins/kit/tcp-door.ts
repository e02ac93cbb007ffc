/**
 * The door for those who come by TCP: what they say is passed on to the desk's own UDP port, each from a socket of its
 * own, and what it answers goes back to them. Their first byte tells how they frame: 0xC0 begins SLIP, and anything else
 * the length of a message.
 */
import { createSocket, type Socket as UdpSocket } from "node:dgram";
import { createServer, type Server, type Socket } from "node:net";
import { HOST } from "./wire.ts";

const SLIP_END = 0xc0;
const SLIP_ESC = 0xdb;
const SLIP_ESC_END = 0xdc;
const SLIP_ESC_ESC = 0xdd;
const MOST_BYTES = 65_000;

interface Guest {
  socket: Socket;
  desk: UdpSocket;
  isSlip: boolean | null;
  rest: Buffer;
}

export class TcpDoor {
  readonly #port: number;
  readonly #guests = new Set<Guest>();
  #server: Server | null = null;

  constructor(port: number) {
    this.#port = port;
  }

  open(): Promise<void> {
    if (this.#server) return Promise.resolve();
    const server = createServer({ noDelay: true }, (socket) => this.#welcome(socket));
    this.#server = server;
    return new Promise((resolve, reject) => {
      server.once("error", reject);
      server.listen(this.#port, HOST, resolve);
    });
  }

  close(): Promise<void> {
    const server = this.#server;
    this.#server = null;
    for (const { socket } of this.#guests) socket.destroy();
    return new Promise((resolve) => (server ? server.close(() => resolve()) : resolve()));
  }

  #welcome(socket: Socket): void {
    const desk = createSocket("udp4");
    const guest: Guest = { socket, desk, isSlip: null, rest: Buffer.alloc(0) };
    this.#guests.add(guest);
    desk.on("error", () => {}); // the desk is switched off: what is said to it is lost
    desk.on("message", (bytes) => socket.write(guest.isSlip ? slip(bytes) : withLength(bytes)));
    socket.on("data", (bytes) => {
      guest.isSlip ??= bytes[0] === SLIP_END;
      guest.rest = Buffer.concat([guest.rest, bytes]);
      if (!(guest.isSlip ? this.#readSlip(guest) : this.#readLengths(guest))) socket.destroy();
    });
    socket.on("error", () => {}); // "close" follows
    socket.on("close", () => {
      this.#guests.delete(guest);
      desk.close();
    });
  }

  /** False where no message can begin like that. */
  #readLengths(guest: Guest): boolean {
    while (guest.rest.length >= 4) {
      const length = guest.rest.readUInt32BE(0);
      if (length > MOST_BYTES) return false;
      if (guest.rest.length < 4 + length) return true;
      guest.desk.send(guest.rest.subarray(4, 4 + length), this.#port, HOST);
      guest.rest = guest.rest.subarray(4 + length);
    }
    return true;
  }

  #readSlip(guest: Guest): boolean {
    for (let end = guest.rest.indexOf(SLIP_END); end >= 0; end = guest.rest.indexOf(SLIP_END)) {
      const message = unslip(guest.rest.subarray(0, end));
      if (message.length > 0) guest.desk.send(message, this.#port, HOST);
      guest.rest = guest.rest.subarray(end + 1);
    }
    return guest.rest.length <= 2 * MOST_BYTES;
  }
}

function withLength(bytes: Buffer): Buffer {
  const head = Buffer.alloc(4);
  head.writeUInt32BE(bytes.length);
  return Buffer.concat([head, bytes]);
}

function slip(bytes: Buffer): Buffer {
  const out = [SLIP_END];
  for (const byte of bytes)
    if (byte === SLIP_END) out.push(SLIP_ESC, SLIP_ESC_END);
    else if (byte === SLIP_ESC) out.push(SLIP_ESC, SLIP_ESC_ESC);
    else out.push(byte);
  return Buffer.from([...out, SLIP_END]);
}

function unslip(bytes: Buffer): Buffer {
  const out: number[] = [];
  for (let i = 0; i < bytes.length; i++)
    if (bytes[i] !== SLIP_ESC) out.push(bytes[i]!);
    else out.push(bytes[++i] === SLIP_ESC_END ? SLIP_END : SLIP_ESC);
  return Buffer.from(out);
}
