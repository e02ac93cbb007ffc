/**
 * A MIDI session on the network: invites and is invited, keeps clocks in step, carries MIDI both ways to any number
 * of peers. It knows no sockets and no clock: datagrams and times are handed to it, and it hands out datagrams.
 */
import { readPacketHead, TICKS_PER_S } from "./packet.ts";
import { type Address, Peer, type PeerState } from "./peer.ts";
import { isSessionPacket, readSessionPacket, type SessionPacket, writeSessionPacket } from "./session-packets.ts";
import { StreamSender, ticksOf } from "./stream-sender.ts";

/** Which of the two ports of a session: agreements and feedback, or clock and MIDI. */
export type Which = "control" | "data";

export interface SessionEvents {
  /** To this end's own port `which`, from there to the peer's. */
  datagram(which: Which, host: string, port: number, bytes: Uint8Array): void;
  /** A whole MIDI message of a peer. */
  message(bytes: Uint8Array): void;
  /** 0..1, anew each time. */
  chance(): number;
  /** A peer was reached (again). */
  connected(): void;
}

/** Who may join without being invited: everybody, whom somebody here says yes to, or only those on the list. */
export type Admission = "everyone" | "ask" | "listed";

export interface SessionOptions {
  /** As peers see it. */
  readonly name: string;
  readonly ssrc: number;
  readonly admission: Admission;
  /** The list: names of peers that may join. */
  readonly allowed: readonly string[];
  /** Peers that we invite. */
  readonly invites: readonly Address[];
}

export interface PeerReport {
  readonly host: string;
  readonly port: number;
  readonly name: string;
  readonly state: PeerState;
  readonly isOurs: boolean;
  /** One way, in ms; -1 = not known. */
  readonly latencyMs: number;
  /** What the peer's clock shows minus what ours shows, in ms; 0 where nothing is known. */
  readonly offsetMs: number;
  readonly in: number;
  readonly out: number;
  /** Packets that never came, and messages that were put right in the place of theirs. */
  readonly lost: number;
  readonly repaired: number;
  /** It does not say what has arrived: only what was sent in the last two seconds is put right for it. */
  readonly isUnanswered: boolean;
}

const TICKS_PER_MS = TICKS_PER_S / 1000;
/** Invitations at the second port before it is asked at the first again. */
const MOST_DATA_INVITES = 3;
/** Clock packets of a fresh connection, and after them, in ms. */
const FIRST_CLOCKS = 6;
const FIRST_CLOCK_MS = 250;
const CLOCK_MS = 5000;
/** A clock packet without an answer is sent again this soon; after so many the peer is silent. */
const UNANSWERED_MS = 700;
const MOST_UNANSWERED = 5;
/** A peer that keeps our clocks in step is silent when it has not for this long, in ms. */
const SILENT_AFTER_MS = 30_000;
/** Peers that are not ours: how many may be connected, and how long one that has gone is remembered, in ms. */
const MOST_GUESTS = 32;
const REMEMBERED_MS = 15_000;
/** Peers that have not come so far, or are gone: beyond so many the oldest of them is forgotten. */
const MOST_OTHERS = 64;

export class Session {
  readonly #events: SessionEvents;
  #options: SessionOptions;
  #peers: Peer[] = [];
  /** Datagrams that were not understood. */
  dropped = 0;

  constructor(options: SessionOptions, events: SessionEvents) {
    this.#events = events;
    this.#options = options;
    this.#invite();
  }

  /** Peers that are not invited any more are parted from; what holds for the others is left as it is. */
  change(options: SessionOptions, nowMs: number): void {
    this.#options = options;
    for (const peer of this.#peers)
      if (peer.isOurs && !options.invites.some((a) => isSame(a, peer.address))) {
        this.#bye(peer);
        peer.parted("ended", nowMs, this.#events.message);
        this.#peers = this.#peers.filter((p) => p !== peer);
      } else if (peer.state === "asking" && this.#isAdmitted(peer.name)) this.#accept(peer);
    this.#invite();
  }

  get isConnected(): boolean {
    return this.#peers.some((p) => p.state === "connected");
  }

  reports(): PeerReport[] {
    return this.#peers.map(({ address, name, state, isOurs, clock, receiver, ...counted }) => ({
      ...address,
      name,
      state,
      isOurs,
      latencyMs: clock.best ? clock.best.latency / 10 : -1,
      offsetMs: (clock.best?.offset ?? 0) / 10,
      in: counted.in,
      out: counted.out,
      lost: receiver.lost,
      repaired: receiver.repaired,
      isUnanswered: counted.sender?.isUnanswered ?? false,
    }));
  }

  /** A whole MIDI message for every peer; it goes out with the next `flush`. */
  send(message: Uint8Array, nowMs: number): void {
    for (const peer of this.#peers) {
      if (!peer.sender) continue;
      peer.sender.add(message, nowMs);
      peer.out++;
    }
  }

  /** What was sent leaves. */
  flush(nowMs: number): void {
    for (const peer of this.#peers)
      for (const packet of peer.sender?.flush(nowMs) ?? []) this.#toPeer(peer, "data", packet);
  }

  /** Does what is due; returns when there is more, in ms. */
  tick(nowMs: number): number {
    for (const peer of this.#peers) this.#tickPeer(peer, nowMs);
    this.#peers = this.#peers.filter((p) => p.isOurs || !isGone(p) || nowMs - p.heardAtMs < REMEMBERED_MS);
    this.flush(nowMs);
    return this.dueMs;
  }

  /** When it has to do something by itself, in ms. */
  get dueMs(): number {
    let due = Number.POSITIVE_INFINITY;
    for (const peer of this.#peers) due = Math.min(due, dueAt(peer));
    return due;
  }

  #tickPeer(peer: Peer, nowMs: number): void {
    if (peer.isOurs && peer.state !== "connected") {
      if (nowMs >= peer.inviteAtMs) this.#inviteOnce(peer, nowMs);
      return;
    }
    if (peer.state !== "connected") {
      if ((peer.state === "accepted" || peer.state === "asking") && nowMs - peer.heardAtMs > SILENT_AFTER_MS)
        this.#giveUp(peer, nowMs);
      return;
    }
    peer.receiver.tick(nowMs, this.#hears(peer));
    if (nowMs >= peer.receiver.feedbackAtMs) {
      peer.receiver.feedbackAtMs = Number.POSITIVE_INFINITY;
      const { newest } = peer.receiver;
      this.#say(peer, "control", { kind: "feedback", ssrc: this.#options.ssrc, sequence: newest });
    }
    if (nowMs >= peer.clockAtMs) {
      if (peer.unanswered >= MOST_UNANSWERED) {
        this.#part(peer, "silent", nowMs);
        return;
      }
      peer.unanswered++;
      peer.clockAtMs = nowMs + UNANSWERED_MS;
      this.#say(peer, "data", {
        kind: "clock",
        ssrc: this.#options.ssrc,
        count: 0,
        times: [BigInt(ticksOf(nowMs)), 0n, 0n],
      });
    }
    if (!peer.isOurs && nowMs - peer.heardAtMs > SILENT_AFTER_MS) this.#part(peer, "silent", nowMs);
  }

  /** A datagram that came to our port `which`. */
  receive(which: Which, bytes: Uint8Array, host: string, port: number, nowMs: number): void {
    if (!isSessionPacket(bytes)) {
      const head = which === "data" ? readPacketHead(bytes) : null;
      const peer = head ? this.#connected(head.ssrc, host) : undefined;
      if (!head || !peer) {
        this.dropped++;
        return;
      }
      peer.heardAtMs = nowMs;
      const isRead = peer.receiver.read(bytes, head, nowMs, this.#hears(peer));
      if (!isRead) this.dropped++;
      return;
    }
    const packet = readSessionPacket(bytes);
    if (!packet) this.dropped++;
    else if (packet.kind === "clock") this.#clock(packet, host, nowMs);
    else if (packet.kind === "feedback") this.#connected(packet.ssrc, host)?.sender?.acknowledge(packet.sequence);
    else this.#agree(which, packet, { host, port }, nowMs);
  }

  /** Somebody here says whether the peer that asks may join. */
  answer(address: Address, yes: boolean, nowMs: number): void {
    const peer = this.#peers.find((p) => isSame(p.address, address) && p.state === "asking");
    if (!peer) return;
    if (yes) this.#accept(peer);
    else {
      this.#say(peer, "control", this.#own("refuse", peer.token));
      this.#part(peer, "refused", nowMs);
    }
  }

  /** Parts from everybody. */
  close(nowMs: number): void {
    for (const peer of this.#peers) {
      this.#bye(peer);
      this.#part(peer, "ended", nowMs);
    }
    this.#peers = [];
  }

  #agree(which: Which, packet: Extract<SessionPacket, { name: string }>, from: Address, nowMs: number): void {
    switch (packet.kind) {
      case "invite":
        this.#invited(which, packet, from, nowMs);
        return;
      case "accept": {
        const peer = this.#invitee(packet.token);
        if (!peer || peer.onData !== (which === "data")) return;
        peer.name = packet.name;
        peer.ssrc = packet.ssrc;
        peer.heardAtMs = nowMs;
        if (which === "control") {
          peer.onData = true;
          peer.dataInvites = 0;
          this.#inviteOnce(peer, nowMs);
        } else this.#connect(peer, nowMs);
        return;
      }
      case "refuse": {
        const peer = this.#invitee(packet.token);
        if (peer && isFrom(peer, from)) this.#part(peer, "refused", nowMs);
        return;
      }
      case "bye": {
        // From the peer itself, and with the token that the two agreed on: anybody else may know its number.
        const { ssrc, token } = packet;
        const peer = this.#peers.find((p) => p.ssrc === ssrc && p.token === token && isFrom(p, from));
        if (peer) this.#part(peer, "ended", nowMs);
        return;
      }
      default:
        packet.kind satisfies never;
    }
  }

  #invited(which: Which, packet: Extract<SessionPacket, { name: string }>, from: Address, nowMs: number): void {
    const { token, ssrc, name } = packet;
    if (which === "data") {
      const peer = this.#peers.find((p) => p.token === token && p.ssrc === ssrc && p.address.host === from.host);
      if (!peer || (peer.state !== "accepted" && peer.state !== "connected")) {
        // Nothing was agreed on with it: it hears so, and begins again at the first port.
        this.#answer("data", from, "refuse", token);
        return;
      }
      peer.heardAtMs = nowMs;
      this.#say(peer, "data", this.#own("accept", token));
      if (peer.state === "accepted") this.#connect(peer, nowMs);
      return;
    }
    let peer = this.#peers.find((p) => isSame(p.address, from));
    // It has come back by another port: what it was by the old one is over, and what it held there let go.
    for (const old of this.#peers)
      if (old !== peer && old.ssrc === ssrc && old.address.host === from.host && old.state !== "inviting")
        this.#part(old, "ended", nowMs);
    if (!peer) {
      if (this.#isFull() && !this.#options.allowed.includes(name)) {
        this.#answer("control", from, "refuse", token);
        return;
      }
      peer = new Peer(from, false);
      this.#forgetOthers();
      this.#peers.push(peer);
    } else if (!peer.isOurs && isGone(peer) && this.#isFull() && !this.#options.allowed.includes(name)) {
      this.#answer("control", from, "refuse", token);
      return;
    }
    if (peer.state === "connected" && peer.ssrc === ssrc && peer.token === token) {
      this.#say(peer, "control", this.#own("accept", token)); // our first answer was lost
      return;
    }
    // Two that invite each other: the one with the greater number does, and its own invitation stands.
    if (peer.isOurs && peer.state === "inviting" && this.#options.ssrc > ssrc) return;
    // It began anew; whatever there was is over.
    if (peer.state === "connected") this.#part(peer, "ended", nowMs);
    const isNew = peer.state !== "asking";
    Object.assign(peer, { token, ssrc, name, heardAtMs: nowMs, isOurs: peer.isOurs && this.#isInvited(peer.address) });
    if (peer.isOurs || this.#isAdmitted(name)) {
      peer.isOurs = false;
      this.#accept(peer);
    } else if (this.#options.admission === "ask" && isNew && peer.state !== "refused") peer.state = "asking";
    // Who was refused by hand is not asked about again while it goes on inviting.
    else if (this.#options.admission === "listed" || peer.state === "refused") {
      this.#say(peer, "control", this.#own("refuse", token));
      this.#part(peer, "refused", nowMs);
    }
  }

  /** As many guests as there may be are connected. Those that are not, or not yet, take no place. */
  #isFull(): boolean {
    return this.#peers.filter((p) => !p.isOurs && p.state === "connected").length >= MOST_GUESTS;
  }

  /** Makes room among those that are not connected, the oldest first. */
  #forgetOthers(): void {
    const others = this.#peers.filter((p) => !p.isOurs && p.state !== "connected");
    if (others.length < MOST_OTHERS) return;
    const oldest = others.reduce((a, b) => (b.heardAtMs < a.heardAtMs ? b : a));
    this.#peers = this.#peers.filter((p) => p !== oldest);
  }

  /** It asked and nobody answered it, or it was accepted and never came: it hears no, so that it can ask again. */
  #giveUp(peer: Peer, nowMs: number): void {
    this.#say(peer, "control", this.#own("refuse", peer.token));
    this.#part(peer, "silent", nowMs);
  }

  #answer(which: Which, { host, port }: Address, kind: "refuse", token: number): void {
    this.#events.datagram(which, host, port, writeSessionPacket(this.#own(kind, token)));
  }

  #accept(peer: Peer): void {
    peer.state = "accepted";
    this.#say(peer, "control", this.#own("accept", peer.token));
  }

  #connect(peer: Peer, nowMs: number): void {
    const sender = new StreamSender(this.#options.ssrc, Math.floor(this.#events.chance() * 0x1_0000));
    peer.connected(sender, nowMs);
    this.#toPeer(peer, "data", sender.begin(nowMs));
    this.#events.connected();
  }

  #clock({ ssrc, count, times }: Extract<SessionPacket, { kind: "clock" }>, host: string, nowMs: number): void {
    const peer = this.#connected(ssrc, host);
    if (!peer) return;
    peer.heardAtMs = nowMs;
    const now = ticksOf(nowMs);
    const own = this.#options.ssrc;
    const [first, second, third] = times;
    if (count === 0) this.#say(peer, "data", { kind: "clock", ssrc: own, count: 1, times: [first, BigInt(now), 0n] });
    else if (count === 1) {
      const sent = Number(first);
      // An answer that came twice, or to nothing that was asked.
      if (peer.unanswered === 0 || sent > now || now - sent > SILENT_AFTER_MS * TICKS_PER_MS) return;
      peer.clock.add(sent, Number(second), now);
      peer.unanswered = 0;
      peer.clockAtMs = nowMs + (++peer.clocksSent < FIRST_CLOCKS ? FIRST_CLOCK_MS : CLOCK_MS);
      this.#say(peer, "data", { kind: "clock", ssrc: own, count: 2, times: [first, second, BigInt(now)] });
    } else {
      // Ours is the one in the middle: their offset is what theirs showed halfway, less what ours did.
      const [ours, way] = [Number(second), Number(third - first)];
      peer.clock.add(ours - way / 2, Number(first) + way / 2, ours + way / 2);
    }
  }

  #inviteOnce(peer: Peer, nowMs: number): void {
    if (peer.state !== "inviting") {
      peer.state = "inviting";
      peer.onData = false;
    }
    // One that began anew in between knows nothing of the first port's yes: it is asked there again.
    if (peer.onData && ++peer.dataInvites > MOST_DATA_INVITES) peer.onData = false;
    if (!peer.onData) peer.token = Math.floor(this.#events.chance() * 0x1_0000_0000);
    peer.invitedAt(nowMs, this.#events.chance());
    this.#say(peer, peer.onData ? "data" : "control", this.#own("invite", peer.token));
  }

  #invite(): void {
    for (const address of this.#options.invites) {
      const known = this.#peers.find((p) => isSame(p.address, address));
      if (!known) this.#peers.push(new Peer(address, true));
      else if (known.state !== "connected" && known.state !== "accepted") known.isOurs = true;
    }
  }

  #isInvited(address: Address): boolean {
    return this.#options.invites.some((a) => isSame(a, address));
  }

  #isAdmitted(name: string): boolean {
    return this.#options.admission === "everyone" || this.#options.allowed.includes(name);
  }

  #invitee(token: number): Peer | undefined {
    return this.#peers.find((p) => p.state === "inviting" && p.token === token);
  }

  #connected(ssrc: number, host: string): Peer | undefined {
    return this.#peers.find((p) => p.state === "connected" && p.ssrc === ssrc && p.address.host === host);
  }

  #part(peer: Peer, state: "refused" | "ended" | "silent", nowMs: number): void {
    peer.parted(state, nowMs, this.#events.message);
    // A guest that is one of those we invite is invited again.
    if (this.#isInvited(peer.address)) peer.isOurs = true;
  }

  /** Made once for each peer: a packet comes a thousand times a second. */
  #hears(peer: Peer): (message: Uint8Array) => void {
    peer.hears ??= (message) => {
      peer.in++;
      this.#events.message(message);
    };
    return peer.hears;
  }

  #bye(peer: Peer): void {
    if (peer.state === "connected" || peer.state === "accepted")
      this.#say(peer, "control", this.#own("bye", peer.token));
  }

  #own(kind: Extract<SessionPacket, { name: string }>["kind"], token: number): SessionPacket {
    return { kind, token, ssrc: this.#options.ssrc, name: this.#options.name };
  }

  #say(peer: Peer, which: Which, packet: SessionPacket): void {
    this.#toPeer(peer, which, writeSessionPacket(packet));
  }

  #toPeer({ address }: Peer, which: Which, bytes: Uint8Array): void {
    this.#events.datagram(which, address.host, which === "control" ? address.port : address.port + 1, bytes);
  }
}

function isSame(a: Address, b: Address): boolean {
  return a.host === b.host && a.port === b.port;
}

/** From the peer itself, by either of its ports. */
function isFrom({ address }: Peer, { host, port }: Address): boolean {
  return address.host === host && (port === address.port || port === address.port + 1);
}

function isGone({ state }: Peer): boolean {
  return state === "refused" || state === "ended" || state === "silent";
}

/** When a peer needs something by itself, in ms. */
function dueAt(peer: Peer): number {
  if (peer.state === "connected")
    return Math.min(
      peer.receiver.feedbackAtMs,
      peer.receiver.waitingUntilMs,
      peer.clockAtMs,
      peer.sender?.dueAtMs ?? Number.POSITIVE_INFINITY,
      peer.heardAtMs + SILENT_AFTER_MS,
    );
  if (peer.isOurs) return peer.inviteAtMs;
  return peer.heardAtMs + SILENT_AFTER_MS;
}
