/**
 * How desks are spoken to. What a kind of desk speaks is its wire; what brings that to it over the network is a carrier.
 * Each has one record here, and everything that differs between them follows from it.
 */

export interface CarrierFacts {
  /** The desk speaks to a port of this computer, which the address names beside the desk's own. */
  readonly isHeardOn: boolean;
  /** The other end may ask who we are: the address has a user and a password. */
  readonly asksLogin: boolean;
  /** The other end is not the desk itself but a broker between us and it. */
  readonly isBroker: boolean;
  /** What goes over it may be lost without anybody being told (RFC 768); of what is connected a loss ends the connection. */
  readonly losesUntold: boolean;
  /** Lines are told apart by what ends them; otherwise each comes as a message of its own. */
  readonly endsLines: boolean;
}

export const CARRIERS = {
  /** Datagrams. */
  udp: { isHeardOn: true, asksLogin: false, isBroker: false, losesUntold: true, endsLines: true },
  /** A connection that we open; OSC stands in it after its length (OSC 1.0, "OSC Packets"). */
  tcp: { isHeardOn: false, asksLogin: false, isBroker: false, losesUntold: false, endsLines: true },
  /** A connection that we open, in which OSC stands between END bytes (RFC 1055, OSC 1.1). */
  "tcp-slip": { isHeardOn: false, asksLogin: false, isBroker: false, losesUntold: false, endsLines: true },
  /** Connections that the desk opens to us. */
  "tcp-server": { isHeardOn: true, asksLogin: false, isBroker: false, losesUntold: false, endsLines: true },
  /** Requests and their answers (RFC 9110). */
  http: { isHeardOn: false, asksLogin: true, isBroker: false, losesUntold: false, endsLines: false },
  /** Messages of a broker (MQTT 3.1.1 or 5). */
  mqtt: { isHeardOn: false, asksLogin: true, isBroker: true, losesUntold: false, endsLines: false },
} as const satisfies Record<string, CarrierFacts>;

export type Carrier = keyof typeof CARRIERS;

/** What a message is made of: as takes, rows of traffic and “send a message” tell them apart. */
export type MessageKind = "osc" | "midi" | "line";

export interface WireFacts {
  /** The field of a profile's message that only messages of this wire have; null: they have none to check. */
  readonly template: "address" | "midi" | "line" | null;
  readonly message: MessageKind;
  /** By what a desk is reached: an address on the network, MIDI ports, or nothing, for it is the program itself. */
  readonly reachedBy: "address" | "midi-ports" | "nothing";
  /** What can carry it, the usual one first. */
  readonly carriers: readonly Carrier[];
}

export const WIRES = {
  osc: { template: "address", message: "osc", reachedBy: "address", carriers: ["udp", "tcp", "tcp-slip"] },
  lines: {
    template: "line",
    message: "line",
    reachedBy: "address",
    carriers: ["tcp", "udp", "tcp-server", "http", "mqtt"],
  },
  midi: { template: "midi", message: "midi", reachedBy: "midi-ports", carriers: [] },
  inside: { template: null, message: "midi", reachedBy: "nothing", carriers: [] },
} as const satisfies Record<string, WireFacts>;

export type Wire = keyof typeof WIRES;

export function carriersOf(wire: Wire): readonly Carrier[] {
  return WIRES[wire].carriers;
}

/** `over`: what the desk was set to; left out, what its kind has by itself; null = nothing carries this wire. */
export function carrierOf({ wire }: { wire: { kind: Wire; over?: Carrier } }, over?: Carrier): Carrier | null {
  return over ?? wire.over ?? carriersOf(wire.kind)[0] ?? null;
}

/** True where a message of a profile is one of this wire. */
export function fitsWire(message: object, wire: Wire): boolean {
  const { template } = WIRES[wire];
  return template === null || template in message;
}
