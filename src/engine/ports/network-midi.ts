/**
 * MIDI sessions on the network: each with its two UDP sockets around a session of the core, which knows neither
 * sockets nor clocks. Ports of surfaces and desks hang on to a session; it is one way for all of them.
 */
import { randomInt } from "node:crypto";
import { createSocket, type Socket, type SocketOptions } from "node:dgram";
import { lookup } from "node:dns/promises";
import type { NetworkSession, PeerAddress } from "../../core/format/show.ts";
import type { PortTrouble } from "../../core/live/port-trouble.ts";
import type { PeerLive, PortState, SessionLive } from "../../core/live/protocol.ts";
import { eachMessage } from "../../core/midi/parser.ts";
import { Session, type Which } from "../../core/rtp-midi/session.ts";
import { closeSocket } from "./close-socket.ts";
import {
  failed,
  OPEN,
  type Port,
  type PortEvents,
  RECEIVE_BUFFER_BYTES,
  systemTrouble,
  WAITING,
  waiting,
} from "./port.ts";
import { Retrying } from "./retrying.ts";

/** How soon a name that led nowhere is looked up again, in ms. */
const LOOK_UP_AGAIN_MS = 5000;

const NO_ONE = waiting({ code: "nobody-in-session" });

interface Listener {
  message(bytes: Uint8Array): void;
  state(state: PortState): void;
}

/** One session with its sockets. */
class OpenSession {
  config: NetworkSession;
  readonly #nowMs: () => number;
  readonly #listeners = new Set<Listener>();
  readonly #ssrc = randomInt(1, 0x1_0000_0000);
  #session: Session | null = null;
  #sockets: Partial<Record<Which, Socket>> = {};
  #port: PortState = WAITING;
  /** Addresses by the names that were typed; null = the name leads nowhere. */
  readonly #found = new Map<string, string | null>();
  #work: NodeJS.Immediate | null = null;
  #timer: NodeJS.Timeout | null = null;
  #timerMs = 0;
  #isLeaving = false;
  readonly #retrying = new Retrying(
    () => this.#open(),
    (error) => this.#refuse(systemTrouble(error, this.config.port)),
  );
  #lookAgain: NodeJS.Timeout | null = null;
  #told = "";

  constructor(config: NetworkSession, nowMs: () => number) {
    this.config = config;
    this.#nowMs = nowMs;
    this.#retrying.now();
    void this.#lookUp();
  }

  listen(listener: Listener): () => void {
    this.#listeners.add(listener);
    listener.state(this.#stateForPorts());
    return () => this.#listeners.delete(listener);
  }

  /** False: nobody is there to hear it. */
  send(message: Uint8Array): boolean {
    if (!this.#session?.isConnected) return false;
    const nowMs = this.#nowMs();
    eachMessage(message, (one) => this.#session!.send(one, nowMs));
    this.#leaves();
    return true;
  }

  /** All that was sent in this turn leaves at its end, in one packet, before the loop looks for what has come. */
  #leaves(): void {
    if (this.#isLeaving) return;
    this.#isLeaving = true;
    process.nextTick(this.#leaveNow);
  }

  readonly #leaveNow = () => {
    this.#isLeaving = false;
    if (!this.#session) return;
    this.#session.flush(this.#nowMs());
    this.#wakeAt(this.#session.dueMs);
  };

  refuse(address: PeerAddress): void {
    this.#session?.answer(address, false, this.#nowMs());
    this.#soon();
  }

  change(config: NetworkSession): void {
    this.config = config;
    this.#session?.change(this.#options(), this.#nowMs());
    this.#soon();
    void this.#lookUp();
  }

  report(): SessionLive {
    const named = new Map(this.config.invites.map((a) => [`${this.#found.get(a.host)}:${a.port}`, a.host]));
    const peers = (this.#session?.reports() ?? []).map(
      (p): PeerLive => ({ ...p, host: named.get(`${p.host}:${p.port}`) ?? p.host }),
    );
    for (const { host, port } of this.config.invites)
      if (this.#found.get(host) === null) peers.push({ ...UNKNOWN_PEER, host, port });
    return { port: this.#port, peers };
  }

  async close(): Promise<void> {
    this.#retrying.stop();
    for (const timer of [this.#timer, this.#lookAgain]) if (timer) clearTimeout(timer);
    if (this.#work) clearImmediate(this.#work);
    this.#session?.close(this.#nowMs());
    this.#session = null;
    // One turn of the loop lets the farewells leave before the sockets close.
    await new Promise((resolve) => setImmediate(resolve));
    await this.#drop();
    this.#tellPorts();
  }

  #options() {
    const { name, admission, allowed, invites } = this.config;
    return {
      name,
      ssrc: this.#ssrc,
      admission,
      allowed,
      invites: invites.flatMap((a) => {
        const host = this.#found.get(a.host);
        return host ? [{ host, port: a.port }] : [];
      }),
    };
  }

  /** Peers are told apart by their addresses, so names are looked up, and again where that failed. */
  async #lookUp(): Promise<void> {
    const names = this.config.invites.map((a) => a.host).filter((host) => !this.#found.get(host));
    await Promise.all(
      names.map(async (host) => {
        const found = await lookup(host, { family: 4 }).catch(() => null);
        this.#found.set(host, found?.address ?? null);
      }),
    );
    if (this.#retrying.isStopped) return;
    this.#session?.change(this.#options(), this.#nowMs());
    this.#soon();
    if (this.#lookAgain) clearTimeout(this.#lookAgain);
    const isMissing = this.config.invites.some((a) => this.#found.get(a.host) === null);
    if (isMissing) this.#lookAgain = setTimeout(() => void this.#lookUp(), LOOK_UP_AGAIN_MS);
  }

  #open(): void {
    const host = this.config.reach === "network" ? "0.0.0.0" : "127.0.0.1";
    this.#port = WAITING;
    let waiting = 2;
    for (const which of ["control", "data"] as const) {
      // Peers are known by their addresses: looking those up would take each datagram a turn of the loop.
      let isBound = false;
      const lookup: NonNullable<SocketOptions["lookup"]> = (address, _options, found) => {
        if (isBound) found(null, address, 4);
        else setImmediate(() => found(null, address, 4));
      };
      const socket = createSocket({ type: "udp4", recvBufferSize: RECEIVE_BUFFER_BYTES, lookup });
      this.#sockets[which] = socket;
      socket.on("error", (error: NodeJS.ErrnoException) => this.#failed(socket, error));
      socket.on("message", (bytes, from) => {
        const session = this.#session;
        if (!session) return;
        const was = session.isConnected;
        session.receive(which, bytes, from.address, from.port, this.#nowMs());
        // MIDI wants nothing but to be heard, and that it came to be told after a while.
        if (which === "control" || was !== session.isConnected) this.#soon();
        else this.#wakeAt(session.dueMs);
      });
      socket.bind(this.#portOf(which), host, () => {
        isBound = true;
        if (--waiting === 0) this.#opened();
      });
    }
  }

  #portOf(which: Which): number {
    return which === "control" ? this.config.port : this.config.port + 1;
  }

  #opened(): void {
    if (this.#retrying.isStopped) return;
    this.#retrying.worked();
    this.#port = OPEN;
    this.#session = new Session(this.#options(), {
      datagram: (which, host, port, bytes) => this.#datagram(which, host, port, bytes),
      message: (bytes) => {
        for (const listener of this.#listeners) listener.message(bytes);
      },
      chance: () => randomInt(0x1_0000_0000) / 0x1_0000_0000,
      // Whoever comes is told how everything stands, as if the port had just been opened.
      connected: () => {
        for (const listener of this.#listeners) listener.state(OPEN);
      },
    });
    this.#soon();
  }

  #failed(socket: Socket, error: NodeJS.ErrnoException): void {
    if (socket !== this.#sockets.control && socket !== this.#sockets.data) return;
    if (this.#port === OPEN) return; // one datagram did not leave; the session goes on
    const which = socket === this.#sockets.control ? "control" : "data";
    this.#refuse(systemTrouble(error, this.#portOf(which)));
    this.#retrying.again();
  }

  #refuse(trouble: PortTrouble): void {
    this.#port = failed(trouble);
    void this.#drop();
    this.#tellPorts();
  }

  /** A peer may say it has a port that nobody can have. What cannot leave is lost, as on any network. */
  #datagram(which: Which, host: string, port: number, bytes: Uint8Array): void {
    try {
      this.#sockets[which]?.send(bytes, port, host, IGNORED);
    } catch {
      // A journal makes good what was lost (RFC 6295, section 5).
    }
  }

  /** What is due is done once in a turn of the loop, however many messages came and went in it. */
  #soon(): void {
    this.#work ??= setImmediate(() => this.#tick());
  }

  #tick(): void {
    if (this.#work) clearImmediate(this.#work);
    this.#work = null;
    if (!this.#session) return;
    this.#wakeAt(this.#session.tick(this.#nowMs()));
    this.#tellPorts();
  }

  /** A timer that goes off too early costs less than one that is set anew for each message. */
  #wakeAt(dueMs: number): void {
    if (dueMs === Number.POSITIVE_INFINITY || (this.#timer && this.#timerMs <= dueMs)) return;
    if (this.#timer) clearTimeout(this.#timer);
    this.#timerMs = dueMs;
    this.#timer = setTimeout(
      () => {
        this.#timer = null;
        this.#tick();
      },
      Math.max(1, dueMs - this.#nowMs()),
    );
  }

  #stateForPorts(): PortState {
    if (this.#port.state !== "open") return this.#port;
    return this.#session?.isConnected ? OPEN : NO_ONE;
  }

  #tellPorts(): void {
    const state = this.#stateForPorts();
    const told = JSON.stringify(state);
    if (told === this.#told) return;
    this.#told = told;
    for (const listener of this.#listeners) listener.state(state);
  }

  async #drop(): Promise<void> {
    const sockets = Object.values(this.#sockets);
    this.#sockets = {};
    await Promise.all(sockets.map(closeSocket));
  }
}

/** What cannot leave is lost, as on any network. */
const IGNORED = () => {};

const UNKNOWN_PEER: PeerLive = {
  host: "",
  port: 0,
  name: "",
  state: "unknown",
  isOurs: true,
  latencyMs: -1,
  offsetMs: 0,
  in: 0,
  out: 0,
  lost: 0,
  repaired: 0,
  isUnanswered: false,
};

export class NetworkSessions {
  readonly #nowMs: () => number;
  readonly #open = new Map<string, OpenSession>();
  #wanted: readonly NetworkSession[] = [];
  readonly #closing = new Set<Promise<void>>();
  /** Ports that want a session, whether it is there or not. */
  readonly #ports = new Map<string, Set<NetworkMidiPort>>();

  constructor(nowMs: () => number) {
    this.#nowMs = nowMs;
  }

  /** The sessions of the show. One whose name, port or reach is another is another session. */
  set(sessions: readonly NetworkSession[]): void {
    for (const [id, open] of this.#open) {
      const next = sessions.find((s) => s.id === id);
      if (next && keyOf(next) === keyOf(open.config)) {
        // Every edit brings the whole show again; most have nothing to say to a session.
        if (JSON.stringify(next) !== JSON.stringify(open.config)) open.change(next);
        continue;
      }
      this.#open.delete(id);
      this.#closing.add(open.close());
    }
    this.#wanted = sessions;
    if (this.#closing.size === 0) this.#openWanted();
    else void this.#closed().then(() => this.#openWanted());
  }

  #openWanted(): void {
    for (const config of this.#wanted) {
      if (this.#open.has(config.id)) continue;
      this.#open.set(config.id, new OpenSession(config, this.#nowMs));
      for (const port of this.#ports.get(config.id) ?? []) port.join();
    }
  }

  /** A port that is being closed cannot be opened anew yet. */
  async #closed(): Promise<void> {
    await Promise.all(this.#closing);
    this.#closing.clear();
  }

  attach(port: NetworkMidiPort, session: string): () => void {
    const all = this.#ports.get(session) ?? new Set();
    this.#ports.set(session, all);
    all.add(port);
    return () => all.delete(port);
  }

  listen(session: string, listener: Listener): (() => void) | null {
    return this.#open.get(session)?.listen(listener) ?? null;
  }

  send(session: string, message: Uint8Array): boolean {
    return this.#open.get(session)?.send(message) ?? false;
  }

  refuse(session: string, address: PeerAddress): void {
    this.#open.get(session)?.refuse(address);
  }

  reports(): Record<string, SessionLive> {
    return Object.fromEntries([...this.#open].map(([id, open]) => [id, open.report()]));
  }

  async close(): Promise<void> {
    this.#wanted = [];
    await this.#closed();
    await Promise.all([...this.#open.values()].map((open) => open.close()));
    this.#open.clear();
  }
}

function keyOf({ name, port, reach }: NetworkSession): string {
  return `${port} ${reach} ${name}`;
}

/** One way of a surface or a desk, in or out, by a session. */
export class NetworkMidiPort implements Port {
  readonly counted = { in: 0, out: 0, dropped: 0, refused: 0 };
  readonly #sessions: NetworkSessions;
  readonly #session: string;
  readonly #isInput: boolean;
  readonly #events: PortEvents;
  #detach: (() => void) | null = null;
  #leave: (() => void) | null = null;

  constructor(sessions: NetworkSessions, end: { session: string; input: boolean }, events: PortEvents) {
    this.#sessions = sessions;
    this.#session = end.session;
    this.#isInput = end.input;
    this.#events = events;
  }

  open(): void {
    this.#detach = this.#sessions.attach(this, this.#session);
    this.join();
  }

  /** The session is there (anew). */
  join(): void {
    this.#leave?.();
    this.#leave = this.#sessions.listen(this.#session, {
      message: (bytes) => {
        if (!this.#isInput) return;
        this.counted.in++;
        this.#events.message(bytes);
      },
      state: (state) => this.#events.state(state),
    });
  }

  send(bytes: Uint8Array, offset: number, length: number): void {
    if (this.#isInput) return;
    if (this.#sessions.send(this.#session, bytes.slice(offset, offset + length))) this.counted.out++;
    else this.counted.refused++; // nobody is there, and the state says so
  }

  close(): Promise<void> {
    this.#leave?.();
    this.#detach?.();
    this.#leave = this.#detach = null;
    return Promise.resolve();
  }
}
