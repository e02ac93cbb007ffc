/**
 * A UDP port: datagrams from and to one peer (a desk), or only in, or only out.
 *
 * The socket is connected to its peer, so the system tells us when the network refuses what we send, and drops
 * what others send to us. Where the address is that of a group (multicast) or of everybody on the network
 * (broadcast), it is not, and any answer is heard.
 */
import { createSocket, type RemoteInfo, type Socket } from "node:dgram";
import { isIP, isIPv6 } from "node:net";
import type { LineFraming } from "../../core/stream/line-framing.ts";
import { closeSocket } from "./close-socket.ts";
import { Groups, RENEW_GROUPS_MS } from "./groups.ts";
import { ownAddresses } from "./own-address.ts";
import {
  failed,
  listenAddressFor,
  OPEN,
  type Port,
  type PortEvents,
  RECEIVE_BUFFER_BYTES,
  systemTrouble,
  WAITING,
} from "./port.ts";
import { Retrying } from "./retrying.ts";
import { claimPort } from "./shared-ports.ts";

export interface UdpAddress {
  /** Peer to send to; left out, the port only listens. */
  peer?: { host: string; port: number };
  /** Where to listen; left out, the system chooses a port. */
  listen?: { host: string; port: number };
  /** Other sockets of ours listen there too (shared-ports.ts). */
  isShared?: boolean;
  /** The datagrams carry lines of text: each line is a message of its own. */
  lines?: LineFraming;
}

/** Networks a multicast datagram may go through: its own. */
const HOPS = 1;

/** So many datagrams wait while it opens, and so long, in ms: a press of long ago must not come as a surprise. */
const MOST_WAITING = 256;
const WAITS_MS = 1000;

/** Longest datagram whose buffers are kept for the next of its length, in bytes. */
const SCRATCH_BYTES = 512;
/** Buffers of each length: the system is asked what it left waiting once for all of them. */
const SCRATCH_BUFFERS = 32;

export class UdpPort implements Port {
  readonly counted = { in: 0, out: 0, dropped: 0, refused: 0 };
  readonly #address: UdpAddress;
  readonly #events: PortEvents;
  #socket: Socket | null = null;
  #ready = false;
  readonly #isForMany: boolean;
  readonly #retrying = new Retrying(
    () => this.#open(),
    (error) => this.#failed(error),
  );
  readonly #addresses: () => readonly string[];
  #renewing: NodeJS.Timeout | null = null;
  /** Whether the port can be had is being found out; there is no socket yet. */
  #isClaiming = false;
  #giveBack = () => {};
  /** Sent while it opens: a name may take a while to look up, and an engine that takes over is at work already. */
  #waiting: { readonly bytes: Buffer; readonly atMs: number }[] = [];
  /** Buffers for each length of datagram, and the one whose turn it is. */
  readonly #scratch = new Array<{ buffers: Buffer[]; next: number } | undefined>(SCRATCH_BYTES + 1);

  /** `addresses`: of this computer's cards, on which a group is joined. */
  constructor(address: UdpAddress, events: PortEvents, addresses: () => readonly string[] = ownAddresses) {
    this.#addresses = addresses;
    this.#address = address;
    this.#isForMany = address.peer !== undefined && isForMany(address.peer.host);
    this.#events = events;
  }

  open(): void {
    this.#retrying.now();
  }

  #open(): void {
    const { peer, listen, isShared } = this.#address;
    const host = listen?.host ?? (peer ? listenAddressFor(peer.host) : "127.0.0.1");
    const type = isIPv6(host) ? "udp6" : "udp4";
    this.#events.state(WAITING);
    if (!isShared || !listen) {
      this.#bind(type, host, false);
      return;
    }
    this.#isClaiming = true;
    this.#giveBack = claimPort(type, listen.port, host, (error) => {
      this.#isClaiming = false;
      if (!error) this.#bind(type, host, true);
      else {
        this.counted.refused++;
        this.#failed(error);
        this.#retrying.again();
      }
    });
  }

  #bind(type: "udp4" | "udp6", host: string, reuseAddr: boolean): void {
    const { peer, listen, lines } = this.#address;
    const socket = createSocket({ type, reuseAddr, recvBufferSize: RECEIVE_BUFFER_BYTES });
    this.#socket = socket;
    const message = (bytes: Uint8Array) => {
      this.counted.in++;
      this.#events.message(bytes);
    };
    const heard = lines
      ? (bytes: Uint8Array) => {
          this.counted.dropped += lines.readWhole(bytes, message);
        }
      : message;
    // Until it is connected the system lets everybody in.
    socket.on("message", (bytes, from) => {
      if (this.#ready || this.#isPeer(from)) heard(bytes);
    });
    socket.on("error", (error: NodeJS.ErrnoException) => this.#error(socket, error));
    socket.bind(listen?.port ?? 0, host, () => {
      if (socket !== this.#socket) return;
      if (peer && isForMany(peer.host)) this.#joined(socket, peer.host);
      else if (peer) this.#connect(socket, peer);
      else this.#opened(socket);
    });
  }

  /** A name is known to be the peer's only once it has been looked up. */
  #isPeer({ address, port }: RemoteInfo): boolean {
    const { peer } = this.#address;
    return !peer || this.#isForMany || (peer.port === port && (isIP(peer.host) === 0 || peer.host === address));
  }

  #connect(socket: Socket, peer: { host: string; port: number }): void {
    // A name that nobody knows and a network without a way there are told to this callback, and nowhere else.
    this.#trying(socket, () =>
      socket.connect(peer.port, peer.host, (error?: Error | null) => {
        if (error) this.#error(socket, error as NodeJS.ErrnoException);
        else this.#opened(socket);
      }),
    );
  }

  /** What the system refuses at once is as good as what it refuses later. */
  #trying(socket: Socket, work: () => void): void {
    try {
      work();
    } catch (error) {
      this.#error(socket, error as NodeJS.ErrnoException);
    }
  }

  send(bytes: Uint8Array, offset: number, length: number): void {
    const socket = this.#socket;
    const { peer, lines } = this.#address;
    const isOpening = socket || this.#isClaiming;
    if (!isOpening || !peer || (!this.#ready && this.#waiting.length >= MOST_WAITING)) {
      this.counted.refused++; // it is not open, and the state says so
      return;
    }
    if (!socket || !this.#ready || lines) {
      const own = bytes.subarray(offset, offset + length);
      const datagram = Buffer.from(lines ? lines.write(own) : own);
      if (socket && this.#ready) this.#sent(socket, peer, datagram);
      else this.#waiting.push({ bytes: datagram, atMs: performance.now() });
      return;
    }
    // The caller writes the next value into its own buffer.
    const copy = this.#buffer(socket, length);
    for (let i = 0; i < length; i++) copy[i] = bytes[offset + i]!;
    this.#sent(socket, peer, copy);
  }

  /**
   * A buffer that nothing waits in. The system takes nearly every datagram at once and its buffer is free again; what
   * it left waiting when the turn comes round keeps its buffer, with all of that round.
   */
  #buffer(socket: Socket, length: number): Buffer {
    // What goes to many is handed to the system a moment later (it is not connected), so it keeps its buffer.
    if (length > SCRATCH_BYTES || this.#isForMany) return Buffer.allocUnsafeSlow(length);
    let round = this.#scratch[length];
    if (!round || round.next === SCRATCH_BUFFERS) {
      if (!round || socket.getSendQueueCount() > 0) {
        round = { buffers: Array.from({ length: SCRATCH_BUFFERS }, () => Buffer.allocUnsafeSlow(length)), next: 0 };
        this.#scratch[length] = round;
      }
      round.next = 0;
    }
    return round.buffers[round.next++]!;
  }

  #sent(socket: Socket, peer: { host: string; port: number }, bytes: Buffer): void {
    this.counted.out++;
    this.#toPeer(socket, peer, bytes);
  }

  #toPeer(socket: Socket, peer: { host: string; port: number }, bytes: Buffer): void {
    try {
      if (this.#isForMany) socket.send(bytes, peer.port, peer.host);
      else socket.send(bytes);
    } catch (error) {
      this.#error(socket, error as NodeJS.ErrnoException);
    }
  }

  /** An address of many is not connected to: those who answer do so from addresses of their own. */
  #joined(socket: Socket, host: string): void {
    this.#trying(socket, () => {
      socket.setBroadcast(true);
      if (isMulticast(host)) {
        const groups = new Groups(socket, this.#addresses);
        groups.join(host);
        this.#renewing = setInterval(() => groups.renew(), RENEW_GROUPS_MS);
        socket.setMulticastTTL(HOPS);
      }
      this.#opened(socket);
    });
  }

  close(): Promise<void> {
    this.#retrying.stop();
    return this.#drop();
  }

  #opened(socket: Socket): void {
    if (socket !== this.#socket) return;
    this.#ready = true;
    this.#retrying.worked();
    this.#sendWaiting(socket);
    this.#events.state(OPEN);
  }

  #sendWaiting(socket: Socket): void {
    const waiting = this.#waiting;
    this.#waiting = [];
    const oldestMs = performance.now() - WAITS_MS;
    for (const { bytes, atMs } of waiting)
      if (atMs >= oldestMs) this.#sent(socket, this.#address.peer!, bytes);
      else this.counted.refused++;
  }

  #error(socket: Socket, error: NodeJS.ErrnoException): void {
    if (socket !== this.#socket) return;
    this.counted.refused++;
    if (error.code === "ECONNREFUSED") {
      this.#events.refused();
      return;
    }
    if (this.#ready) return; // one datagram was not sent; the port stays open
    this.#failed(error);
    this.#retrying.again();
  }

  #failed(error: NodeJS.ErrnoException): void {
    const port = this.#address.listen?.port ?? this.#address.peer?.port ?? 0;
    this.#events.state(failed(systemTrouble(error, port)));
    void this.#drop();
  }

  #drop(): Promise<void> {
    const socket = this.#socket;
    this.#socket = null;
    this.#isClaiming = false;
    this.#giveBack();
    this.#giveBack = () => {};
    this.#ready = false;
    this.counted.refused += this.#waiting.length;
    this.#waiting = [];
    if (this.#renewing) clearInterval(this.#renewing);
    return closeSocket(socket);
  }
}

/** 224.0.0.0 to 239.255.255.255 (RFC 5771). */
function isMulticast(host: string): boolean {
  const first = Number(host.split(".")[0]);
  return first >= 224 && first <= 239;
}

/** A group, or everybody on a network: an address that ends with 255, as all common networks have it. */
export function isForMany(host: string): boolean {
  return isMulticast(host) || /^\d+\.\d+\.\d+\.255$/.test(host);
}
