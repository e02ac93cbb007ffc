/**
 * Universes of DMX that come over the network. All surfaces of one protocol share a socket, and all surfaces of one
 * universe its merged levels; each reads its own part of them as MIDI.
 */
import { ART_NET_PORT } from "../../core/dmx/art-net.ts";
import { SACN_PORT } from "../../core/dmx/sacn.ts";
import { SlotsAsMidi } from "../../core/dmx/slots-as-midi.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import type { PortState } from "../../core/live/protocol.ts";
import type { Strangers } from "../strangers.ts";
import { type DmxRef, Receiver } from "./dmx-receiver.ts";
import { ownAddresses } from "./own-address.ts";
import { type Port, type PortEvents, systemTrouble } from "./port.ts";
import { findOut } from "./shared-ports.ts";

type OwnAddresses = () => readonly string[];

/** Where universes are looked for that nobody follows yet. */
const LOOKED_AT = [
  { protocol: "sacn", port: SACN_PORT },
  { protocol: "art-net", port: ART_NET_PORT },
] as const;

export class DmxReceivers {
  readonly #nowMs: () => number;
  readonly #strangers: Strangers;
  readonly #addresses: OwnAddresses;
  readonly #receivers = new Map<string, Receiver>();
  #isLooking = false;

  /** `addresses`: of this computer's cards, on which groups are joined. */
  constructor(nowMs: () => number, strangers: Strangers, addresses: OwnAddresses = ownAddresses) {
    this.#nowMs = nowMs;
    this.#strangers = strangers;
    this.#addresses = addresses;
  }

  follow(port: DmxPort, ref: DmxRef): void {
    this.#receiver(ref).follow(port, ref.universe);
  }

  async leave(port: DmxPort, ref: DmxRef): Promise<void> {
    const receiver = this.#receivers.get(keyOf(ref));
    receiver?.leave(port, ref.universe);
    await this.#closeIdle();
  }

  /**
   * Listens on the network for universes that nobody follows. Where another program of this computer has the port, it is
   * left to it: what is sent to this computer alone comes to one of us only.
   */
  look(on: boolean): void {
    if (on === this.#isLooking) return;
    this.#isLooking = on;
    for (const { protocol, port } of LOOKED_AT) {
      const ref = { protocol, reach: "network" } as const;
      const key = keyOf(ref);
      if (!on) {
        this.#receivers.get(key)?.look(false);
        this.#strangers.closed(protocol, port, null);
      } else if (this.#hasPort(port)) this.#receiver(ref).look(true);
      else
        findOut("udp4", port, "0.0.0.0", (error) => {
          if (!this.#isLooking) return;
          if (error) this.#strangers.closed(protocol, port, systemTrouble(error, port));
          else this.#receiver(ref).look(true);
        });
    }
    if (!on) void this.#closeIdle();
  }

  #hasPort(port: number): boolean {
    return [...this.#receivers.values()].some((r) => r.port === port);
  }

  #receiver(ref: Pick<DmxRef, "protocol" | "reach" | "port">): Receiver {
    const key = keyOf(ref);
    const known = this.#receivers.get(key);
    if (known) return known;
    const receiver = new Receiver(ref, this.#nowMs, this.#addresses, (facts, slots) =>
      this.#strangers.universe(facts, slots),
    );
    this.#receivers.set(key, receiver);
    return receiver;
  }

  async #closeIdle(): Promise<void> {
    const idle = [...this.#receivers].filter(([, r]) => r.isIdle);
    for (const [key] of idle) this.#receivers.delete(key);
    await Promise.all(idle.map(([, r]) => r.close()));
  }

  async close(): Promise<void> {
    this.look(false);
    await this.#closeIdle();
  }
}

function keyOf({ protocol, reach, port }: Pick<DmxRef, "protocol" | "reach" | "port">): string {
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
