/** What desks speak and what carries it, in words. */
import { CARRIERS, type Carrier, type Wire } from "../core/format/wires.ts";

/** As a choice: what a kind of desk speaks. The program itself is none. */
export const WIRE_CHOICES: Readonly<Record<Exclude<Wire, "inside">, string>> = {
  osc: "OSC",
  lines: "lines of text",
  midi: "MIDI",
};

/** What it carries, in a clause. */
const CARRIED: Readonly<Record<Wire, string>> = { osc: "OSC", lines: "lines", midi: "MIDI", inside: "nothing" };

const BY: Readonly<Record<Carrier, string>> = {
  udp: "over UDP",
  tcp: "over TCP",
  "tcp-slip": "over TCP, framed by SLIP",
  "tcp-server": "over TCP, the desk calls",
  http: "as HTTP requests",
  mqtt: "by an MQTT broker",
};

/** "lines over TCP", "OSC over TCP, after its length". */
export function carrierWords(wire: Wire, carrier: Carrier): string {
  const framed = wire === "osc" && carrier === "tcp" ? ", after its length" : "";
  return `${CARRIED[wire]} ${BY[carrier]}${framed}`;
}

/** Who is at the other end. */
export function otherEnd(carrier: Carrier | null): "broker" | "desk" {
  return carrier !== null && CARRIERS[carrier].isBroker ? "broker" : "desk";
}
