/**
 * Events a second through the compiled core, tracing on, with 100 and with 10,000 mappings, beside a bare loop that
 * parses, looks one entry up, scales into one range and writes one OSC value. One process, rounds in turn; prints
 * the events a second of each round as JSON.
 */
import { compileShow } from "../../src/core/mapping/compile.ts";
import { MidiParser } from "../../src/core/midi/parser.ts";
import { encodeOsc } from "../../src/core/osc/encode.ts";
import { Translator } from "../../src/core/translate/translator.ts";
import { CONTROLS_A_SURFACE, messageOf, showOfSize } from "./shows.ts";

const ROUNDS = Number(process.argv[2] ?? 8);
const EVENTS = 200_000;
const PASSES = 5;
/** Virtual time of one event, in ms: 20,000 a second, below the desk's budget. */
const EVENT_MS = 0.05;

interface Stream {
  surface: Int32Array;
  bytes: Uint8Array[];
}

/** Moves of faders all over the show in no order, always with another value than before. */
function streamFor(mappings: number): Stream {
  let seed = 12_345;
  const random = (below: number) => {
    seed = (Math.imul(seed, 1_103_515_245) + 12_345) >>> 0;
    return Math.floor((seed / 2 ** 32) * below);
  };
  const surface = new Int32Array(EVENTS);
  const block = new Uint8Array(EVENTS * 3);
  const bytes: Uint8Array[] = [];
  for (let i = 0; i < EVENTS; i++) {
    const m = random(mappings);
    const { channel, number } = messageOf(m % CONTROLS_A_SURFACE);
    surface[i] = Math.floor(m / CONTROLS_A_SURFACE);
    block.set([0xb0 | channel, number, random(128)], i * 3);
    bytes.push(block.subarray(i * 3, i * 3 + 3));
  }
  return { surface, bytes };
}

/** A runner for one size of show: answers events a second of one round. */
function coreRunner(mappings: number): () => number {
  const { show, profiles } = showOfSize(mappings);
  const stream = streamFor(mappings);
  let sent = 0;
  const translator = new Translator(
    compileShow(show, profiles),
    {
      toDesk: (_d, bytes, offset, length) => {
        sent += bytes[offset + length - 1]! >= 0 ? 1 : 0;
      },
      toSurface: () => {},
    },
    { links: false },
  );
  let atMs = 0;
  return () => {
    sent = 0;
    const startedAtMs = performance.now();
    for (let pass = 0; pass < PASSES; pass++)
      for (let i = 0; i < EVENTS; i++) {
        atMs += EVENT_MS;
        translator.surfaceBytes(stream.surface[i]!, stream.bytes[i]!, atMs);
      }
    const seconds = (performance.now() - startedAtMs) / 1000;
    if (sent !== EVENTS * PASSES) throw new Error(`${sent} messages left of ${EVENTS * PASSES}`);
    return (EVENTS * PASSES) / seconds;
  };
}

function bareRunner(): () => number {
  const stream = streamFor(CONTROLS_A_SURFACE);
  const table = new Int16Array(2048).map((_, i) => i % 100);
  const from = new Float64Array(100);
  const to = new Float64Array(100).fill(1);
  const datagram = encodeOsc({
    kind: "message",
    address: "/set/playback/1/1/level",
    args: [{ type: "f", value: 0 }],
  });
  const view = new DataView(datagram.buffer);
  let sum = 0;
  const parser = new MidiParser({
    short: (status, d1, d2) => {
      const k = table[((status & 15) << 7) | d1]!;
      view.setFloat32(datagram.length - 4, from[k]! + (d2 / 127) * (to[k]! - from[k]!));
      sum += datagram[datagram.length - 1]!;
    },
    sysex: () => {},
    dropped: () => {},
  });
  return () => {
    const startedAtMs = performance.now();
    for (let pass = 0; pass < PASSES; pass++) for (let i = 0; i < EVENTS; i++) parser.feed(stream.bytes[i]!);
    const seconds = (performance.now() - startedAtMs) / 1000;
    if (sum < 0) throw new Error("the loop was optimised away");
    return (EVENTS * PASSES) / seconds;
  };
}

const runners = { bare: bareRunner(), small: coreRunner(100), large: coreRunner(10_000) };
const rounds: Record<keyof typeof runners, number[]> = { bare: [], small: [], large: [] };
for (let round = -1; round < ROUNDS; round++)
  for (const name of ["small", "bare", "large"] as const) {
    const perS = runners[name]();
    if (round >= 0) rounds[name].push(perS); // the first round warms up
  }
console.log(JSON.stringify(rounds));
