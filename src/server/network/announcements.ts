/** MIDI sessions announced and found on the network by mDNS (RFC 6762, 6763). Without sessions nothing is opened. */
import { createSocket, type RemoteInfo, type Socket } from "node:dgram";
import { hostname, networkInterfaces } from "node:os";
import type { NetworkSession } from "../../core/format/show.ts";
import type { FoundPeer } from "../../core/live/protocol.ts";
import { Finder } from "../../core/mdns/finder.ts";
import type { Message } from "../../core/mdns/messages.ts";
import { Publisher } from "../../core/mdns/publisher.ts";
import { readMessage, writeMessage } from "./dns-bytes.ts";

const PORT = 5353;
const GROUP = "224.0.0.251";
const LOOPBACK = "127.0.0.1";
/** How often it is looked at least whether something is due, and which networks there are, in ms. */
const LOOK_EVERY_MS = 1000;
const NETWORKS_EVERY_MS = 10_000;
/** How long good-byes may take, in ms. */
const GOODBYE_MS = 300;

interface AnnouncementEvents {
  /** Told of every change of what is found. */
  found(peers: FoundPeer[]): void;
  /** Why mDNS does not work here. */
  trouble(reason: string): void;
  /** The name was taken by somebody else: it is announced by another. */
  renamed(from: string, to: string): void;
}

export class Announcements {
  readonly #events: AnnouncementEvents;
  readonly #nowMs: () => number;
  readonly #port: number;
  #open: OpenNetwork | null = null;
  #published = "";
  #told = "[]";
  #closing: Promise<void> = Promise.resolve();

  /** `port`: another than that of mDNS, for tests. */
  constructor(events: AnnouncementEvents, nowMs: () => number = () => performance.now(), port = PORT) {
    this.#events = events;
    this.#nowMs = nowMs;
    this.#port = port;
  }

  /** The sessions of the show: those that are to be announced are, under the names that they have if those are free. */
  set(sessions: readonly NetworkSession[]): void {
    if (sessions.length === 0) {
      void this.close();
      return;
    }
    // What is for this computer only is told to this computer only.
    const reach = sessions.some((s) => s.reach === "network") ? "network" : "this-computer";
    const wanted = sessions.filter((s) => s.announced && s.reach === reach).map(({ name, port }) => ({ name, port }));
    const key = JSON.stringify([reach, wanted]);
    if (key === this.#published) return;
    const before = this.#open;
    this.#published = key;
    if (before?.reach !== reach) {
      void this.#leave();
      this.#open = new OpenNetwork(reach, this.#port, this.#nowMs, {
        ...this.#events,
        found: () => this.#tell(),
      });
    }
    this.#open!.publish(wanted);
    this.#tell();
  }

  /** Says good-bye of what was announced, and ends. */
  async close(): Promise<void> {
    this.#published = "";
    await this.#leave();
  }

  #leave(): Promise<void> {
    const open = this.#open;
    this.#open = null;
    if (open) {
      this.#closing = Promise.all([this.#closing, open.close()]).then(() => {});
      this.#tell();
    }
    return this.#closing;
  }

  #tell(): void {
    const peers = this.#open?.found() ?? [];
    const told = JSON.stringify(peers);
    if (told === this.#told) return;
    this.#told = told;
    this.#events.found(peers);
  }
}

/** One socket for all networks of this computer that may hear of its sessions. */
class OpenNetwork {
  readonly reach: NetworkSession["reach"];
  readonly #nowMs: () => number;
  readonly #port: number;
  readonly #events: AnnouncementEvents & { found(): void };
  readonly #socket: Socket;
  readonly #finder: Finder;
  #publisher: Publisher | null = null;
  #timer: NodeJS.Timeout | null = null;
  #isOpen = false;
  #isClosed = false;
  /** The addresses by which it is on a network each. */
  #addresses: string[] = [];
  #networksAtMs = Number.NEGATIVE_INFINITY;

  constructor(
    reach: NetworkSession["reach"],
    port: number,
    nowMs: () => number,
    events: AnnouncementEvents & { found(): void },
  ) {
    this.reach = reach;
    this.#port = port;
    this.#nowMs = nowMs;
    this.#events = events;
    this.#finder = new Finder(nowMs());
    this.#socket = createSocket({ type: "udp4", reuseAddr: true });
    this.#socket.on("error", (error) => events.trouble(error.message));
    this.#socket.on("message", (bytes, from) => this.#message(bytes, from));
    this.#socket.bind(port, "0.0.0.0", () => {
      this.#isOpen = true;
      this.#socket.setMulticastLoopback(true);
      this.#socket.setMulticastTTL(reach === "network" ? 255 : 0);
      this.#look();
    });
  }

  /** In the place of what was announced before, which is said good-bye of. */
  publish(services: readonly { name: string; port: number }[]): void {
    this.#goodbye();
    const host = `${
      hostname()
        .split(".")[0]!
        .replaceAll(/[^A-Za-z0-9-]/g, "-") || "computer"
    }-velvet-hinge`;
    this.#publisher =
      services.length === 0
        ? null
        : new Publisher(services, host, Math.random(), this.#nowMs(), (from, to) => this.#events.renamed(from, to));
    this.#publisher?.knows(this.#addresses);
    this.#look();
  }

  found(): FoundPeer[] {
    return this.#finder.found(this.#publisher?.labels ?? []);
  }

  close(): Promise<void> {
    this.#isClosed = true;
    if (this.#timer) clearTimeout(this.#timer);
    return new Promise((done) => {
      const end = () => {
        clearTimeout(late);
        this.#socket.close(() => done());
      };
      const late = setTimeout(end, GOODBYE_MS);
      if (!this.#isOpen || this.#goodbye(end) === 0) end();
    });
  }

  /** How many good-byes are on their way; `sent` is called when the last of them has left. */
  #goodbye(sent: () => void = () => {}): number {
    let left = 0;
    for (const address of this.#addresses) {
      const message = this.#publisher?.goodbye([address]);
      if (!message) continue;
      left++;
      this.#say(message, address, () => {
        if (--left === 0) sent();
      });
    }
    return left;
  }

  #message(bytes: Uint8Array, from: RemoteInfo): void {
    if (this.#isClosed || (this.reach === "this-computer" && !from.address.startsWith("127."))) return;
    const message = readMessage(bytes);
    if (!message) return;
    const nowMs = this.#nowMs();
    if (this.#finder.receive(message, from.address, nowMs)) this.#events.found();
    const isLegacy = from.port !== this.#port;
    // An answer to all is said on every network, with the address that this computer has there.
    for (const address of this.#addresses)
      for (const spoken of this.#publisher?.receive(message, [address], isLegacy, nowMs) ?? []) {
        if (!spoken.isUnicast) this.#say(spoken.message, address);
        else {
          this.#socket.send(writeMessage(spoken.message), from.port, from.address);
          this.#look();
          return;
        }
      }
    this.#look();
  }

  /** Does what is due, and looks again when more is. */
  #look(): void {
    if (!this.#isOpen || this.#isClosed) return;
    const nowMs = this.#nowMs();
    if (nowMs - this.#networksAtMs >= NETWORKS_EVERY_MS) this.#lookForNetworks(nowMs);
    const question = this.#finder.tick(nowMs);
    for (const make of this.#publisher?.tick(nowMs) ?? [])
      for (const address of this.#addresses) this.#say(make([address]), address);
    if (question) for (const address of this.#addresses) this.#say(question, address);
    this.#events.found(); // what is over is found no more
    if (this.#timer) clearTimeout(this.#timer);
    const dueMs = Math.min(this.#finder.dueMs, this.#publisher?.dueMs ?? Number.POSITIVE_INFINITY) - this.#nowMs();
    this.#timer = setTimeout(() => this.#look(), Math.max(5, Math.min(LOOK_EVERY_MS, dueMs)));
  }

  /** Sessions listen by IPv4 only, and so that is what is told. */
  #lookForNetworks(nowMs: number): void {
    this.#networksAtMs = nowMs;
    const all = Object.values(networkInterfaces()).flatMap((list) => list ?? []);
    const outside = all.filter((n) => n.family === "IPv4" && !n.internal).map((n) => n.address);
    const addresses = this.reach === "network" && outside.length > 0 ? outside : [LOOPBACK];
    for (const address of addresses) {
      if (this.#addresses.includes(address)) continue;
      try {
        this.#socket.addMembership(GROUP, address);
      } catch (error) {
        // A network that went away in this moment, or that has no multicast.
        this.#events.trouble(error instanceof Error ? error.message : String(error));
      }
    }
    this.#addresses = addresses;
    this.#publisher?.knows(addresses);
  }

  #say(message: Message, address: string, sent: () => void = () => {}): void {
    try {
      this.#socket.setMulticastInterface(address);
      this.#socket.send(writeMessage(message), this.#port, GROUP, () => sent());
    } catch {
      sent(); // that network is gone; the next look finds out
    }
  }
}
