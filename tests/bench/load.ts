/**
 * Sends MIDI over UDP at a steady rate and hears what comes out at the other end. It is also the desk of the show:
 * it answers heartbeats. One process for both ends, so that one clock measures.
 */
import { createSocket } from "node:dgram";
import { decodeOsc } from "../../src/core/osc/decode.ts";
import { encodeOsc } from "../../src/core/osc/encode.ts";
import { LATENCY_FADERS } from "./shows.ts";

export interface LoadOrder {
  kind: "run";
  /** Where the MIDI goes. */
  port: number;
  /** What comes back: "osc" from the engine, or "midi" through the bare relay. */
  returns: "osc" | "midi";
  perS: number;
  forMs: number;
}
export interface LoadResult {
  kind: "result";
  sent: number;
  received: number;
  /** Latencies in microseconds at 50, 90 and 99 %. */
  p50: number;
  p90: number;
  p99: number;
  /** The longest of all. */
  most: number;
}

const IDS = LATENCY_FADERS * 128;
/** How long stragglers are waited for after the last message, in ms; ends sooner when all are there. */
const LAST_WAIT_MS = 1500;
/** Latencies of the first part of a run are left out: sockets and compiled code warm up. */
const WARM_MS = 500;

const [deskPort, relayedPort] = process.argv.slice(2).map(Number);
const desk = createSocket({ type: "udp4", recvBufferSize: 4 * 1024 * 1024 });
const relayed = createSocket({ type: "udp4", recvBufferSize: 4 * 1024 * 1024 });
const sender = createSocket("udp4");

let heard: (id: number) => void = () => {};
/** "/set/playback/1/N/level": the place of N, and the float at the end. */
const FADER_AT = 16;
const LEVEL_BYTES = 32;

desk.on("message", (bytes, from) => {
  if (bytes.length === LEVEL_BYTES && bytes[1] === 0x73) {
    heard((bytes[FADER_AT]! - 49) * 128 + Math.round(bytes.readFloatBE(bytes.length - 4) * 127));
    return;
  }
  const read = decodeOsc(bytes);
  if (!read.ok || read.packet.kind !== "message" || read.packet.address !== "/pulse") return;
  desk.send(encodeOsc({ ...read.packet, address: "/pulse/back" }), from.port, from.address);
});
relayed.on("message", (bytes) => heard((bytes[1]! - 20) * 128 + bytes[2]!));

function run(order: LoadOrder): Promise<LoadResult> {
  const total = Math.round((order.perS * order.forMs) / 1000);
  const sentAtMs = new Float64Array(total);
  const latencies: number[] = [];
  const firstCounted = Math.round((order.perS * WARM_MS) / 1000);
  let received = 0;
  let next = 0; // the message that is expected to come back next
  let finish: () => void = () => {};
  heard = (id) => {
    const nowMs = performance.now();
    let skip = id - (next % IDS);
    if (skip < 0) skip += IDS;
    if (skip > IDS / 2) return; // one of before that was sent again
    next += skip; // messages that were lost on the way
    if (next >= total) return;
    if (next >= firstCounted) latencies.push((nowMs - sentAtMs[next]!) * 1000);
    next++;
    received++;
    if (next === total) finish();
  };
  const message = new Uint8Array(3);
  const sendOne = (i: number) => {
    const id = i % IDS;
    message[0] = 0xb0;
    message[1] = 20 + (id >> 7);
    message[2] = id & 127;
    sentAtMs[i] = performance.now();
    sender.send(Buffer.from(message), order.port, "127.0.0.1");
  };
  return new Promise((resolve) => {
    const end = () => {
      clearTimeout(limit);
      heard = () => {};
      latencies.sort((a, b) => a - b);
      const at = (part: number) => latencies[Math.floor(latencies.length * part)] ?? Number.NaN;
      resolve({
        kind: "result",
        sent: total,
        received,
        p50: at(0.5),
        p90: at(0.9),
        p99: at(0.99),
        most: latencies.at(-1) ?? Number.NaN,
      });
    };
    let limit: NodeJS.Timeout | undefined;
    finish = end;
    const startedAtMs = performance.now();
    let i = 0;
    const pace = () => {
      const due = Math.min(total, Math.floor(((performance.now() - startedAtMs) / 1000) * order.perS));
      while (i < due) sendOne(i++);
      if (i < total) setTimeout(pace, 1);
      else limit = setTimeout(end, LAST_WAIT_MS);
    };
    pace();
  });
}

process.on("message", (order: LoadOrder) => {
  void run(order).then((result) => process.send?.(result));
});
process.once("disconnect", () => process.exit(0));
desk.bind(deskPort!, "127.0.0.1", () =>
  relayed.bind(relayedPort!, "127.0.0.1", () => process.send?.({ kind: "ready" })),
);
