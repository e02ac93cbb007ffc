/** The ports that MIDI comes and goes by, of surfaces and of desks: one of each kind, with what those of a kind share. */

import type { NetworkSession, PeerAddress, PortRef } from "../../core/format/show.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import type { ComputerMidiLive, SessionLive } from "../../core/live/protocol.ts";
import type { Strangers } from "../strangers.ts";
import { CablePort, Cables } from "./cables.ts";
import { ComputerMidi, ComputerMidiPort } from "./computer-midi.ts";
import { DmxPort, DmxReceivers } from "./dmx.ts";
import type { MidiSystem } from "./midi-system.ts";
import { NetworkMidiPort, NetworkSessions } from "./network-midi.ts";
import type { Port, PortEvents } from "./port.ts";
import { UdpPort } from "./udp.ts";

/** Ports that bytes reach by another way than the engine's own sockets. */
type Elsewhere = "screen" | "none" | "browser-midi";
export type OwnPortRef = Exclude<PortRef, { kind: Elsewhere }>;

export class MidiPorts {
  readonly #cables = new Cables();
  readonly #sessions: NetworkSessions;
  readonly #dmx: DmxReceivers;
  readonly #computer: ComputerMidi;

  constructor(nowMs: () => number, loadMidi: () => Promise<MidiSystem>, strangers: Strangers) {
    this.#sessions = new NetworkSessions(nowMs);
    this.#dmx = new DmxReceivers(nowMs, strangers);
    this.#computer = new ComputerMidi(loadMidi, strangers);
  }

  /** `controls`: those of the surface, which say what a DMX slot is to it. */
  make(ref: OwnPortRef, input: boolean, controls: readonly Control[], events: PortEvents): Port {
    switch (ref.kind) {
      case "midi-udp": {
        const address = { host: ref.host, port: ref.port };
        return new UdpPort(input ? { listen: address } : { peer: address }, events);
      }
      case "cable":
        return new CablePort(this.#cables, { name: ref.name, input }, events);
      case "network-midi":
        return new NetworkMidiPort(this.#sessions, { session: ref.session, input }, events);
      case "computer-midi":
        return new ComputerMidiPort(this.#computer, ref, input, events);
      case "dmx":
        return new DmxPort(this.#dmx, ref, controls, events);
      default:
        return ref satisfies never;
    }
  }

  get sessions(): Record<string, SessionLive> {
    return this.#sessions.reports();
  }

  get computerMidi(): ComputerMidiLive {
    return this.#computer.live;
  }

  setSessions(sessions: readonly NetworkSession[]): void {
    this.#sessions.set(sessions);
  }

  refusePeer(session: string, address: PeerAddress): void {
    this.#sessions.refuse(session, address);
  }

  lookForMidi(): void {
    void this.#computer.look();
  }

  /** Universes that nobody follows are looked for, or no longer. */
  lookForUniverses(on: boolean): void {
    this.#dmx.look(on);
  }

  /** After every port has been closed. */
  async close(): Promise<void> {
    this.#computer.close();
    await this.#dmx.close();
    await this.#sessions.close();
  }
}
