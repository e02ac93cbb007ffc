/** Desks of the tests' own, over real sockets. They share no code with the product: what they read and write is the standard's. */
import { createSocket, type Socket as UdpSocket } from "node:dgram";
import { once } from "node:events";
import { createServer, type Server, type Socket } from "node:net";

/** A text as OSC 1.0 has it: a null at its end, filled up to a multiple of four bytes. */
function oscText(text: string): Buffer {
  const length = Math.ceil((text.length + 1) / 4) * 4;
  const bytes = Buffer.alloc(length);
  bytes.write(text, "ascii");
  return bytes;
}

/** A desk that speaks OSC over UDP: it writes down what it hears, and says what it is told to say. */
export class OscPeer {
  readonly #socket: UdpSocket = createSocket("udp4");
  /** "address number", in the order in which it came. */
  readonly heard: string[] = [];

  async open(port: number): Promise<void> {
    this.#socket.on("message", (bytes) => this.heard.push(read(bytes)));
    this.#socket.bind(port, "127.0.0.1");
    await once(this.#socket, "listening");
  }

  /** Says a number: a whole one as a 32-bit integer, any other as a float. */
  say(port: number, address: string, value: number): void {
    const argument = Buffer.alloc(4);
    const whole = Number.isInteger(value);
    if (whole) argument.writeInt32BE(value);
    else argument.writeFloatBE(value);
    this.#socket.send(Buffer.concat([oscText(address), oscText(whole ? ",i" : ",f"), argument]), port, "127.0.0.1");
  }

  close(): void {
    this.#socket.close();
  }
}

function read(bytes: Buffer): string {
  const end = bytes.indexOf(0);
  const address = bytes.toString("ascii", 0, end);
  const tags = bytes.indexOf(0x2c, end);
  if (tags < 0) return address;
  const tagEnd = bytes.indexOf(0, tags);
  const at = Math.ceil((tagEnd + 1 - tags) / 4) * 4 + tags;
  switch (bytes.toString("ascii", tags + 1, tagEnd)) {
    case "i":
      return `${address} ${bytes.readInt32BE(at)}`;
    case "f":
      return `${address} ${Number(bytes.readFloatBE(at).toFixed(2))}`;
    default:
      return address;
  }
}

/** A desk that takes lines over TCP: it writes down each, and answers every “X n v” with the same. */
export class LinePeer {
  readonly #server: Server = createServer((socket) => this.#connected(socket));
  readonly #sockets = new Set<Socket>();
  readonly heard: string[] = [];

  async open(port: number): Promise<void> {
    this.#server.listen(port, "127.0.0.1");
    await once(this.#server, "listening");
  }

  #connected(socket: Socket): void {
    this.#sockets.add(socket);
    let rest = "";
    socket.on("error", () => {});
    socket.on("data", (bytes) => {
      const lines = (rest + bytes.toString("utf8")).split(/\r?\n/);
      rest = lines.pop() ?? "";
      for (const line of lines) {
        this.heard.push(line);
        if (/^\S+ \d+ \d/.test(line)) socket.write(`${line}\n`);
      }
    });
  }

  close(): void {
    for (const socket of this.#sockets) socket.destroy();
    this.#server.close();
  }
}
