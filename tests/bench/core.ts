/**
 * Events a second through the compiled core, tracing on, with 100 and with 10,000 mappings, beside a bare loop that
 * parses, looks one entry up, scales into one range and writes one OSC value. Prints the events a second of each
 * round as JSON.
 */
import { type ChildProcess, fork } from "node:child_process";
import { once } from "node:events";
import { fileURLToPath } from "node:url";
import { compileShow } from "../../src/core/mapping/compile.ts";
import { MidiParser } from "../../src/core/midi/parser.ts";
import { encodeOsc } from "../../src/core/osc/encode.ts";
import { Translator } from "../../src/core/translate/translator.ts";
import { CONTROLS_A_SURFACE, messageOf, type Size, showOfSize } from "./shows.ts";

const ROUNDS = Number(process.argv[2] ?? 12);
const EVENTS = 100_000;
const PASSES = 5;
/** Virtual time of one event, in ms: 20,000 a second, below the desk's budget. */
const EVENT_MS = 0.05;

interface Stream {
  surface: Int32Array;
  bytes: Uint8Array[];
}

/** Moves of faders all over the show in no order, always with another value than before. */
function streamFor(controls: number): Stream {
  let seed = 12_345;
  const random = (below: number) => {
    seed = (Math.imul(seed, 1_103_515_245) + 12_345) >>> 0;
    return Math.floor((seed / 2 ** 32) * below);
  };
  const surface = new Int32Array(EVENTS);
  const block = new Uint8Array(EVENTS * 3);
  const bytes: Uint8Array[] = [];
  for (let i = 0; i < EVENTS; i++) {
    const m = random(controls);
    const { channel, number } = messageOf(m % CONTROLS_A_SURFACE);
    surface[i] = Math.floor(m / CONTROLS_A_SURFACE);
    block.set([0xb0 | channel, number, random(128)], i * 3);
    bytes.push(block.subarray(i * 3, i * 3 + 3));
  }
  return { surface, bytes };
}

const PAGE_ONE_IS_UP = encodeOsc({ kind: "message", address: "/now/page", args: [{ type: "i", value: 1 }] });

/** A runner for one size of show: answers events a second of one round. */
function coreRunner(size: Size, moving: number): () => number {
  const { show, profiles } = showOfSize(size);
  const stream = streamFor(moving);
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
  translator.deskBytes(0, PAGE_ONE_IS_UP, atMs);
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

// Hands move the same hundred controls in the small and the large show, so that nothing but the number of mappings
// differs; in the spread one they move all ten thousand in no order, the worst that can happen to a cache.
const RUNNERS = {
  bare: bareRunner,
  small: () => coreRunner("small", 100),
  large: () => coreRunner("large", 100),
  spread: () => coreRunner("spread", 10_000),
};
type Name = keyof typeof RUNNERS;
const ORDER: readonly Name[] = ["small", "bare", "large", "spread"];

// Each loop has a process of its own, as the engine has: in one process the compiler would share what it learns of
// one with the others. The processes take turns, so that the machine's moods meet all of them.
const role = process.argv[3] as Name | undefined;
if (role) {
  const run = RUNNERS[role]();
  process.on("message", () => process.send?.(run()));
  process.once("disconnect", () => process.exit(0));
  process.send?.("ready");
} else {
  const children = new Map<Name, ChildProcess>();
  for (const name of ORDER) {
    const child = fork(fileURLToPath(import.meta.url), [String(ROUNDS), name]);
    await once(child, "message");
    children.set(name, child);
  }
  const rounds: Record<Name, number[]> = { bare: [], small: [], large: [], spread: [] };
  for (let round = -1; round < ROUNDS; round++)
    for (const name of ORDER) {
      const child = children.get(name)!;
      child.send("round");
      const [perS] = (await once(child, "message")) as [number];
      if (round >= 0) rounds[name].push(perS); // the first round warms up
    }
  for (const child of children.values()) child.disconnect();
  console.log(JSON.stringify(rounds));
}
