/**
 * Ten thousand mappings with three actions each, every step of their shapes on: events a second beside a hundred such
 * mappings, the memory that stays after ten million events, and how long the show takes to compile and to swap in.
 * Prints the figures as JSON; needs --expose-gc.
 */
import { compileShow } from "../../src/core/mapping/compile.ts";
import { encodeOsc } from "../../src/core/osc/encode.ts";
import { Translator } from "../../src/core/translate/translator.ts";
import { CONTROLS_A_SURFACE, messageOf, shapedShow } from "./shows.ts";

const ROUNDS = Number(process.argv[2] ?? 6);
const EVENTS = 100_000;
const HEAP_EVENTS = 10_000_000;
/** Virtual time of one event, in ms, and events between two ticks: about one in 20 ms. */
const EVENT_MS = 0.2;
const EVENTS_A_TICK = 100;
const COMPILES = 9;

const PAGE_ONE_IS_UP = encodeOsc({ kind: "message", address: "/now/page", args: [{ type: "i", value: 1 }] });

function runner(size: "small" | "large") {
  const { show, profiles } = shapedShow(size);
  const compiled = compileShow(show, profiles);
  let sent = 0;
  const translator = new Translator(
    compiled,
    {
      toDesk: () => {
        sent++;
      },
      toSurface: () => {},
    },
    { links: false },
  );
  let atMs = 0;
  let seed = 1;
  const bytes = new Uint8Array(3);
  translator.deskBytes(0, PAGE_ONE_IS_UP, atMs);
  const play = (events: number) => {
    for (let i = 0; i < events; i++) {
      seed = (Math.imul(seed, 1_103_515_245) + 12_345) >>> 0;
      const { channel, number } = messageOf((seed >>> 8) % Math.min(100, CONTROLS_A_SURFACE));
      bytes[0] = 0xb0 | channel;
      bytes[1] = number;
      bytes[2] = (seed >>> 20) & 127;
      atMs += EVENT_MS;
      translator.surfaceBytes(0, bytes, atMs);
      if (i % EVENTS_A_TICK === 0) translator.tick(atMs);
      if (translator.world.ring.waiting > 1000) translator.world.ring.drain();
    }
  };
  return {
    play,
    perS: () => {
      sent = 0;
      const startedAtMs = performance.now();
      play(EVENTS);
      const seconds = (performance.now() - startedAtMs) / 1000;
      if (sent < EVENTS) throw new Error(`only ${sent} messages left for ${EVENTS} events`);
      return EVENTS / seconds;
    },
    swapMs: () => {
      const next = compileShow(show, profiles);
      const startedAtMs = performance.now();
      translator.swap(next, atMs);
      return performance.now() - startedAtMs;
    },
  };
}

const { show: largeShow, profiles: largeProfiles } = shapedShow("large");

function compileMs(): number {
  const startedAtMs = performance.now();
  compileShow(largeShow, largeProfiles);
  return performance.now() - startedAtMs;
}

function heapBytes(): number {
  if (!globalThis.gc) throw new Error("run with --expose-gc");
  globalThis.gc();
  globalThis.gc();
  return process.memoryUsage().heapUsed;
}

const small = runner("small");
const large = runner("large");
small.perS(); // warms up
large.perS();
const rounds = { small: [] as number[], large: [] as number[] };
for (let round = 0; round < ROUNDS; round++) {
  rounds.small.push(small.perS());
  rounds.large.push(large.perS());
}
const compiles = Array.from({ length: COMPILES }, compileMs);
const swaps = Array.from({ length: COMPILES }, large.swapMs);
large.play(EVENTS);
const before = heapBytes();
large.play(HEAP_EVENTS);
const grown = heapBytes() - before;
console.log(JSON.stringify({ ...rounds, compiles, swaps, grown }));
