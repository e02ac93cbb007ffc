/** One socket of one protocol of DMX over the network, with the universes that surfaces follow. */
import { createSocket, type RemoteInfo, type Socket } from "node:dgram";
import { ART_NET_PORT, ART_NET_SILENT_MS, hasIdentifier, isArtDmx, readArtDmx } from "../../core/dmx/art-net.ts";
import { type ArtPoll, artPollReply, readArtPoll } from "../../core/dmx/art-poll.ts";
import { readSacn, SACN_PORT, SACN_SILENT_MS, sacnGroup } from "../../core/dmx/sacn.ts";
import { DISCOVERY_UNIVERSE, readSacnDiscovery } from "../../core/dmx/sacn-discovery.ts";
import { type Levels, Universe } from "../../core/dmx/universe.ts";
import type { PortRef } from "../../core/format/show.ts";
import type { PortTrouble } from "../../core/live/port-trouble.ts";
import type { PortState } from "../../core/live/protocol.ts";
import type { StrangeUniverse } from "../strangers.ts";
import { closeSocket } from "./close-socket.ts";
import { Groups, RENEW_GROUPS_MS } from "./groups.ts";
import { addressTowards } from "./own-address.ts";
import { failed, OPEN, RECEIVE_BUFFER_BYTES, systemTrouble, WAITING, waiting } from "./port.ts";
import { Retrying } from "./retrying.ts";

export type DmxRef = Extract<PortRef, { kind: "dmx" }>;

/** How often silent sources are looked for, in ms. */
const LOOK_EVERY_MS = 250;
/** What controllers list us as. */
const NODE_NAME = "Velvet Hinge";
/** Looking for universes, these are joined unheard: sources of before 2016 do not say which they send. */
const FIRST_UNIVERSES = [1, 2, 3, 4];

/** What one surface has of a universe. */
export interface Follower {
  readonly counted: { in: number; dropped: number };
  levels(levels: Uint8Array): void;
  letGo(): void;
  state(state: PortState): void;
}

interface Followed {
  readonly universe: Universe;
  readonly ports: Set<Follower>;
}

export class Receiver {
  readonly #ref: Pick<DmxRef, "protocol" | "reach" | "port">;
  readonly #nowMs: () => number;
  readonly #followed = new Map<number, Followed>();
  #socket: Socket | null = null;
  #state: PortState = WAITING;
  readonly #retrying = new Retrying(
    () => this.#open(),
    (error) => this.#refuse(systemTrouble(error, this.port)),
  );
  readonly #looking: NodeJS.Timeout;
  readonly #addresses: () => readonly string[];
  readonly #strange: (facts: StrangeUniverse, slots: Uint8Array | null) => void;
  #isLooking = false;
  #groups: Groups | null = null;
  #renewedMs = 0;

  /** `strange` is told of universes that nobody follows. */
  constructor(
    ref: Pick<DmxRef, "protocol" | "reach" | "port">,
    nowMs: () => number,
    addresses: () => readonly string[],
    strange: (facts: StrangeUniverse, slots: Uint8Array | null) => void,
  ) {
    this.#strange = strange;
    // Of a surface's port only what all of one socket share.
    const { protocol, reach, port } = ref;
    this.#ref = { protocol, reach, ...(port === undefined ? {} : { port }) };
    this.#nowMs = nowMs;
    this.#addresses = addresses;
    this.#looking = setInterval(() => this.#look(), LOOK_EVERY_MS);
    this.#retrying.now();
  }

  get isIdle(): boolean {
    return this.#followed.size === 0 && !this.#isLooking;
  }

  get port(): number {
    return this.#ref.port ?? (this.#ref.protocol === "sacn" ? SACN_PORT : ART_NET_PORT);
  }

  /** Also what nobody follows is wanted, as far as it can be heard. */
  look(on: boolean): void {
    if (on === this.#isLooking) return;
    this.#isLooking = on;
    if (this.#state !== OPEN) return;
    if (on) this.#joinUnheard();
    else
      for (const n of [DISCOVERY_UNIVERSE, ...FIRST_UNIVERSES])
        if (!this.#followed.has(n)) this.#groups?.leave(sacnGroup(n));
  }

  #joinUnheard(): void {
    for (const n of [DISCOVERY_UNIVERSE, ...FIRST_UNIVERSES]) {
      if (this.#followed.has(n)) continue;
      try {
        this.#groups?.join(sacnGroup(n));
      } catch {
        // No card takes groups: what is sent to this computer alone is heard all the same.
      }
    }
  }

  follow(port: Follower, number: number): void {
    let followed = this.#followed.get(number);
    if (!followed) {
      followed = {
        universe: new Universe(this.#ref.protocol === "sacn" ? SACN_SILENT_MS : ART_NET_SILENT_MS),
        ports: new Set(),
      };
      this.#followed.set(number, followed);
      if (this.#state === OPEN) this.#join(number);
    }
    followed.ports.add(port);
    port.state(this.#stateOf(followed, number));
  }

  leave(port: Follower, number: number): void {
    const followed = this.#followed.get(number);
    followed?.ports.delete(port);
    if (!followed || followed.ports.size > 0) return;
    this.#followed.delete(number);
    this.#groups?.leave(sacnGroup(number));
  }

  close(): Promise<void> {
    this.#retrying.stop();
    clearInterval(this.#looking);
    return this.#drop();
  }

  get #isInGroups(): boolean {
    return this.#ref.protocol === "sacn" && this.#ref.reach === "network";
  }

  #open(): void {
    const { protocol, reach } = this.#ref;
    const { port } = this;
    // Other programs of this computer may listen to the same universes.
    const socket = createSocket({ type: "udp4", reuseAddr: true, recvBufferSize: RECEIVE_BUFFER_BYTES });
    this.#socket = socket;
    socket.on("error", (error: NodeJS.ErrnoException) => this.#failed(socket, systemTrouble(error, port)));
    socket.on("message", (bytes, from) => {
      if (protocol === "sacn") this.#sacn(bytes);
      else this.#artNet(bytes, from);
    });
    socket.bind(port, reach === "network" ? "0.0.0.0" : "127.0.0.1", () => {
      if (socket !== this.#socket) return;
      this.#retrying.worked();
      this.#state = OPEN;
      this.#groups = this.#isInGroups ? new Groups(socket, this.#addresses) : null;
      for (const number of this.#followed.keys()) this.#join(number);
      if (this.#isLooking) this.#joinUnheard();
      this.#tellAll();
    });
  }

  #join(number: number): void {
    try {
      this.#groups?.join(sacnGroup(number));
    } catch (error) {
      this.#failed(this.#socket!, systemTrouble(error as NodeJS.ErrnoException, this.port));
    }
  }

  #failed(socket: Socket, trouble: PortTrouble): void {
    if (socket !== this.#socket) return;
    this.#refuse(trouble);
    this.#retrying.again();
  }

  #refuse(trouble: PortTrouble): void {
    this.#state = failed(trouble);
    void this.#drop();
    this.#tellAll();
  }

  #sacn(bytes: Uint8Array): void {
    const packet = readSacn(bytes);
    if (!packet) {
      const list = readSacnDiscovery(bytes);
      if (!list) this.#dropped();
      for (const universe of list?.universes ?? [])
        if (!this.#followed.has(universe)) this.#strange({ ...this.#ref, universe, name: list!.sourceName }, null);
    } else if (!packet.isPreview && packet.startCode === 0)
      this.#heard(packet.universe, { source: packet.cid, ...packet }, packet.sourceName);
  }

  #artNet(bytes: Uint8Array, { address, port }: RemoteInfo): void {
    const packet = readArtDmx(bytes);
    if (!packet) {
      const poll = readArtPoll(bytes);
      if (poll) this.#answerPoll(poll, address, port);
      // The network says other things too, which are none of ours.
      else if (!hasIdentifier(bytes) || isArtDmx(bytes)) this.#dropped();
      return;
    }
    const { universe, slots, physical, sequence } = packet;
    this.#heard(
      universe,
      {
        source: `${address} ${physical}`,
        priority: 0,
        sequence: sequence === 0 ? null : sequence,
        isTerminated: false,
        slots,
      },
      address,
    );
  }

  #answerPoll({ from, to }: ArtPoll, address: string, port: number): void {
    const place = addressTowards(address);
    const numbers = [...this.#followed.keys()].sort((a, b) => a - b);
    numbers.forEach((number, i) => {
      if (number < from || number > to) return;
      const node = {
        ...place,
        port: this.port,
        shortName: NODE_NAME,
        longName: `${NODE_NAME}, universe ${number} as a surface`,
      };
      this.#socket?.send(artPollReply(node, number, (i % 255) + 1), port, address);
    });
  }

  /** `name`: of its source, to people. */
  #heard(number: number, levels: Levels, name: string): void {
    const followed = this.#followed.get(number);
    if (!followed) {
      this.#strange({ ...this.#ref, universe: number, name }, levels.slots);
      return;
    }
    for (const port of followed.ports) port.counted.in++;
    const had = followed.universe.sourceCount;
    if (followed.universe.hear(levels, this.#nowMs()))
      for (const port of followed.ports) port.levels(followed.universe.levels);
    if (followed.universe.sourceCount !== had) this.#sourcesChanged(followed, number);
  }

  #look(): void {
    if (this.#groups && this.#nowMs() - this.#renewedMs > RENEW_GROUPS_MS) {
      this.#renewedMs = this.#nowMs();
      this.#groups.renew();
    }
    for (const [number, followed] of this.#followed) {
      const had = followed.universe.sourceCount;
      if (followed.universe.tick(this.#nowMs()))
        for (const port of followed.ports) port.levels(followed.universe.levels);
      if (followed.universe.sourceCount !== had) this.#sourcesChanged(followed, number);
    }
  }

  #sourcesChanged(followed: Followed, number: number): void {
    for (const port of followed.ports) {
      if (followed.universe.sourceCount === 0) port.letGo();
      port.state(this.#stateOf(followed, number));
    }
  }

  #dropped(): void {
    for (const { ports } of this.#followed.values()) for (const port of ports) port.counted.dropped++;
  }

  #tellAll(): void {
    for (const [number, followed] of this.#followed)
      for (const port of followed.ports) port.state(this.#stateOf(followed, number));
  }

  #stateOf({ universe }: Followed, number: number): PortState {
    if (this.#state !== OPEN) return this.#state;
    return universe.sourceCount > 0 ? OPEN : waiting({ code: "nothing-heard", universe: number });
  }

  #drop(): Promise<void> {
    const socket = this.#socket;
    this.#socket = null;
    this.#groups = null;
    return closeSocket(socket);
  }
}
