/**
 * Universes of DMX that come over the network. All surfaces of one protocol share a socket, and all surfaces of one
 * universe its merged levels; each reads its own part of them as MIDI.
 */
import { createSocket, type RemoteInfo, type Socket } from "node:dgram";
import { ART_NET_PORT, ART_NET_SILENT_MS, hasIdentifier, isArtDmx, readArtDmx } from "../../core/dmx/art-net.ts";
import { type ArtPoll, artPollReply, readArtPoll } from "../../core/dmx/art-poll.ts";
import { readSacn, SACN_PORT, SACN_SILENT_MS, sacnGroup } from "../../core/dmx/sacn.ts";
import { SlotsAsMidi } from "../../core/dmx/slots-as-midi.ts";
import { type Levels, Universe } from "../../core/dmx/universe.ts";
import type { PortRef } from "../../core/format/show.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import type { PortTrouble } from "../../core/live/port-trouble.ts";
import type { PortState } from "../../core/live/protocol.ts";
import { Groups, RENEW_GROUPS_MS } from "./groups.ts";
import { addressTowards, ownAddresses } from "./own-address.ts";
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

export type DmxRef = Extract<PortRef, { kind: "dmx" }>;

type OwnAddresses = () => readonly string[];

/** How often silent sources are looked for, in ms. */
const LOOK_EVERY_MS = 250;
/** What controllers list us as. */
const NODE_NAME = "Velvet Hinge";

interface Followed {
  readonly universe: Universe;
  readonly ports: Set<DmxPort>;
}

/** One socket of one protocol. */
class Receiver {
  readonly #ref: DmxRef;
  readonly #nowMs: () => number;
  readonly #followed = new Map<number, Followed>();
  #socket: Socket | null = null;
  #state: PortState = WAITING;
  readonly #retrying = new Retrying(
    () => this.#open(),
    (error) => this.#refuse(systemTrouble(error, this.#ref.port ?? SACN_PORT)),
  );
  readonly #looking: NodeJS.Timeout;
  readonly #addresses: OwnAddresses;
  #groups: Groups | null = null;
  #renewedMs = 0;

  constructor(ref: DmxRef, nowMs: () => number, addresses: OwnAddresses) {
    this.#ref = ref;
    this.#nowMs = nowMs;
    this.#addresses = addresses;
    this.#looking = setInterval(() => this.#look(), LOOK_EVERY_MS);
    this.#retrying.now();
  }

  get isIdle(): boolean {
    return this.#followed.size === 0;
  }

  follow(port: DmxPort, number: number): void {
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

  leave(port: DmxPort, number: number): void {
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
    const { protocol, reach, port = protocol === "sacn" ? SACN_PORT : ART_NET_PORT } = this.#ref;
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
      this.#tellAll();
    });
  }

  #join(number: number): void {
    try {
      this.#groups?.join(sacnGroup(number));
    } catch (error) {
      this.#failed(this.#socket!, systemTrouble(error as NodeJS.ErrnoException, this.#ref.port ?? SACN_PORT));
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
    if (!packet) this.#dropped();
    else if (!packet.isPreview && packet.startCode === 0)
      this.#heard(packet.universe, { source: packet.cid, ...packet });
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
    this.#heard(universe, {
      source: `${address} ${physical}`,
      priority: 0,
      sequence: sequence === 0 ? null : sequence,
      isTerminated: false,
      slots,
    });
  }

  #answerPoll({ from, to }: ArtPoll, address: string, port: number): void {
    const place = addressTowards(address);
    const numbers = [...this.#followed.keys()].sort((a, b) => a - b);
    numbers.forEach((number, i) => {
      if (number < from || number > to) return;
      const node = {
        ...place,
        port: this.#ref.port ?? ART_NET_PORT,
        shortName: NODE_NAME,
        longName: `${NODE_NAME}, universe ${number} as a surface`,
      };
      this.#socket?.send(artPollReply(node, number, (i % 255) + 1), port, address);
    });
  }

  #heard(number: number, levels: Levels): void {
    const followed = this.#followed.get(number);
    if (!followed) return;
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
    if (!socket) return Promise.resolve();
    return new Promise((resolve) => {
      try {
        socket.close(() => resolve());
      } catch {
        resolve(); // it never opened
      }
    });
  }
}

export class DmxReceivers {
  readonly #nowMs: () => number;
  readonly #addresses: OwnAddresses;
  readonly #receivers = new Map<string, Receiver>();

  /** `addresses`: of this computer's cards, on which groups are joined. */
  constructor(nowMs: () => number, addresses: OwnAddresses = ownAddresses) {
    this.#nowMs = nowMs;
    this.#addresses = addresses;
  }

  follow(port: DmxPort, ref: DmxRef): void {
    const key = keyOf(ref);
    const receiver = this.#receivers.get(key) ?? new Receiver(ref, this.#nowMs, this.#addresses);
    this.#receivers.set(key, receiver);
    receiver.follow(port, ref.universe);
  }

  async leave(port: DmxPort, ref: DmxRef): Promise<void> {
    const key = keyOf(ref);
    const receiver = this.#receivers.get(key);
    receiver?.leave(port, ref.universe);
    if (!receiver?.isIdle) return;
    this.#receivers.delete(key);
    await receiver.close();
  }
}

function keyOf({ protocol, reach, port }: DmxRef): string {
  return `${protocol} ${reach} ${port}`;
}

/** What one surface has of a universe. */
export class DmxPort implements Port {
  readonly counted = { in: 0, out: 0, dropped: 0, refused: 0 };
  readonly #receivers: DmxReceivers;
  readonly #ref: DmxRef;
  readonly #midi: SlotsAsMidi;
  readonly #events: PortEvents;

  constructor(receivers: DmxReceivers, ref: DmxRef, controls: readonly Control[], events: PortEvents) {
    this.#receivers = receivers;
    this.#ref = ref;
    this.#midi = new SlotsAsMidi(controls, ref.first, ref);
    this.#events = events;
  }

  open(): void {
    this.#receivers.follow(this, this.#ref);
  }

  /** A universe only comes in. */
  send(): void {
    this.counted.dropped++;
  }

  levels(levels: Uint8Array): void {
    this.#midi.say(levels, this.#events.message);
  }

  letGo(): void {
    this.#midi.letGo(this.#events.message);
  }

  state(state: PortState): void {
    this.#events.state(state);
  }

  close(): Promise<void> {
    return this.#receivers.leave(this, this.#ref);
  }
}
