/**
 * Hears whoever speaks to one of our UDP ports and is no desk of the show. The desks' own sockets are connected to their
 * peers, so the system brings here only what is nobody's (shared-ports.ts).
 */
import { createSocket, type Socket } from "node:dgram";
import { isIP } from "node:net";
import type { Strangers } from "../strangers.ts";
import { closeSocket } from "./close-socket.ts";
import { systemTrouble } from "./port.ts";
import { Retrying } from "./retrying.ts";
import { claimPort } from "./shared-ports.ts";

export interface Listened {
  readonly host: string;
  readonly port: number;
  /** Somebody asked for it, and is told where it cannot be had. */
  readonly isAsked: boolean;
}

/** Who is known already, and only was not connected yet when it spoke. */
export type IsDesk = (host: string, port: number) => boolean;

export class StrayUdp {
  readonly #strangers: Strangers;
  readonly #open = new Map<string, StraySocket>();
  #desks: readonly { host: string; port: number }[] = [];

  constructor(strangers: Strangers) {
    this.#strangers = strangers;
  }

  set(listened: readonly Listened[], desks: readonly { host: string; port: number }[]): void {
    this.#desks = desks;
    const wanted = new Map<string, Listened>();
    for (const l of listened) {
      const key = `${l.host} ${l.port}`;
      wanted.set(key, { ...l, isAsked: l.isAsked || wanted.get(key)?.isAsked === true });
    }
    for (const [key, socket] of this.#open)
      if (socket.listened.isAsked !== wanted.get(key)?.isAsked) {
        socket.close();
        this.#open.delete(key);
      }
    for (const [key, l] of wanted)
      if (!this.#open.has(key)) this.#open.set(key, new StraySocket(l, this.#strangers, (h, p) => this.#isDesk(h, p)));
  }

  close(): void {
    this.set([], []);
  }

  #isDesk(host: string, port: number): boolean {
    return this.#desks.some((d) => d.port === port && (d.host === host || isIP(d.host) === 0));
  }
}

class StraySocket {
  readonly listened: Listened;
  readonly #strangers: Strangers;
  readonly #isDesk: IsDesk;
  #socket: Socket | null = null;
  #giveBack = () => {};
  readonly #retrying = new Retrying(
    () => this.#open(),
    (error) => this.#failed(error),
  );

  constructor(listened: Listened, strangers: Strangers, isDesk: IsDesk) {
    this.listened = listened;
    this.#strangers = strangers;
    this.#isDesk = isDesk;
    this.#retrying.now();
  }

  close(): void {
    this.#retrying.stop();
    this.#drop();
    if (this.listened.isAsked) this.#strangers.closed("udp", this.listened.port, null);
  }

  #open(): void {
    const { host, port } = this.listened;
    const type = isIP(host) === 6 ? "udp6" : "udp4";
    this.#giveBack = claimPort(type, port, host, (error) => {
      if (error) {
        this.#failed(error);
        this.#retrying.again();
      } else this.#bind(type);
    });
  }

  #bind(type: "udp4" | "udp6"): void {
    const { host, port } = this.listened;
    const socket = createSocket({ type, reuseAddr: true });
    this.#socket = socket;
    socket.on("error", (error) => {
      if (socket !== this.#socket) return;
      this.#failed(error);
      this.#retrying.again();
    });
    socket.on("message", (bytes, from) => {
      if (this.#isDesk(from.address, from.port)) return;
      this.#strangers.sender({ carrier: "udp", host: from.address, port: from.port, listenPort: port }, bytes);
    });
    socket.bind(port, host, () => {
      if (socket !== this.#socket) return;
      this.#retrying.worked();
      if (this.listened.isAsked) this.#strangers.closed("udp", port, null);
    });
  }

  #failed(error: NodeJS.ErrnoException): void {
    this.#drop();
    const { isAsked, port } = this.listened;
    // Of the port of a desk its card says it.
    if (isAsked) this.#strangers.closed("udp", port, systemTrouble(error, port));
  }

  #drop(): void {
    const socket = this.#socket;
    this.#socket = null;
    this.#giveBack();
    this.#giveBack = () => {};
    void closeSocket(socket);
  }
}
