/**
 * A desk at the other end of a network that loses, delays, doubles and reorders, on a clock of the test. Same seed, same
 * bytes. The desk remembers who moved each value last; the program under test never hears of it.
 */
import { decodeOsc } from "../../src/core/osc/decode.ts";
import { encodeOsc } from "../../src/core/osc/encode.ts";
import type { OscArgument, OscMessage } from "../../src/core/osc/types.ts";

export interface Line {
  /** Both ways together, in ms. */
  readonly roundTripMs: number;
  /** Each way takes up to so much longer, in ms: what comes later may arrive before. */
  readonly jitterMs: number;
  /** Part that is lost, each way, and part that arrives twice, 0..1. */
  readonly loss: number;
  readonly doubled: number;
}

/** Numbers 0..1 from a seed (xorshift, 32 bits). */
export function randomFrom(seed: number): () => number {
  let x = seed | 1;
  return () => {
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    return (x >>> 0) / 0x1_0000_0000;
  };
}

interface Flying {
  readonly atMs: number;
  readonly n: number;
  readonly arrive: () => void;
}

export class Network {
  nowMs = 0;
  line: Line;
  /** Messages that were put on the line towards the desk, and from it. */
  out = 0;
  in = 0;
  readonly #random: () => number;
  #flying: Flying[] = [];
  #n = 0;

  constructor(line: Line, seed: number) {
    this.line = line;
    this.#random = randomFrom(seed);
  }

  carry(arrive: () => void): void {
    const { roundTripMs, jitterMs, loss, doubled } = this.line;
    const copies = this.#random() < loss ? 0 : this.#random() < doubled ? 2 : 1;
    for (let c = 0; c < copies; c++)
      this.#flying.push({ atMs: this.nowMs + roundTripMs / 2 + this.#random() * jitterMs, n: this.#n++, arrive });
  }

  /** Lets time pass up to a moment; what is on its way arrives in order. */
  until(atMs: number): void {
    for (;;) {
      let next = -1;
      for (let i = 0; i < this.#flying.length; i++) {
        const f = this.#flying[i]!;
        const best = next < 0 ? null : this.#flying[next]!;
        if (f.atMs <= atMs && (!best || f.atMs < best.atMs || (f.atMs === best.atMs && f.n < best.n))) next = i;
      }
      if (next < 0) break;
      const [f] = this.#flying.splice(next, 1);
      this.nowMs = Math.max(this.nowMs, f!.atMs);
      f!.arrive();
    }
    this.nowMs = atMs;
  }
}

export interface DeskManners {
  /** It keeps levels in steps of this size; 0 = as they come. */
  readonly step: number;
  /** It says changes by itself; else it only answers. */
  readonly tells: boolean;
  /** It answers, and takes nothing that it is told. */
  readonly isLocked?: boolean;
  /** It answers heartbeats and no questions. */
  readonly isDeaf?: boolean;
}

/** The quay lighting desk, as far as it goes for playbacks of page 1. */
export class SimulatedDesk {
  /** By what stands between "/set/" and the value, such as "playback/1/3/level". */
  readonly values = new Map<string, number>();
  readonly goes = new Map<string, number>();
  /** Reports of changes that nobody here made, and the time of the last change by somebody at the desk. */
  theirs = 0;
  readonly #manners: DeskManners;
  readonly #say: (bytes: Uint8Array) => void;

  constructor(keys: readonly string[], manners: DeskManners, say: (bytes: Uint8Array) => void) {
    this.#manners = manners;
    this.#say = say;
    for (const key of keys) this.values.set(key, 0);
  }

  hear(bytes: Uint8Array): void {
    const read = decodeOsc(bytes);
    if (!read.ok || read.packet.kind !== "message") throw new Error("the desk was told nonsense");
    const { address, args } = read.packet;
    if (address === "/pulse") this.#tell("/pulse/back", args[0]!);
    else if (address.startsWith("/ask") && this.#manners.isDeaf) return;
    else if (address === "/ask") for (const key of this.values.keys()) this.#report(key);
    else if (address.startsWith("/ask/")) this.#report(address.slice("/ask/".length));
    else if (address.endsWith("/go")) this.goes.set(address, (this.goes.get(address) ?? 0) + 1);
    else if (address.startsWith("/set/")) this.#set(address.slice("/set/".length), args);
  }

  #set(key: string, args: OscMessage["args"]): void {
    if (!this.values.has(key) || this.#manners.isLocked) return;
    const { value } = args[0] as { value: number };
    const { step } = this.#manners;
    this.values.set(key, key.endsWith("level") && step > 0 ? Math.round(value / step) * step : value);
    if (this.#manners.tells) this.#report(key);
  }

  /** Somebody moves it at the desk. */
  touch(key: string, value: number): void {
    this.values.set(key, value);
    this.theirs++;
    if (this.#manners.tells) this.#report(key);
  }

  #report(key: string): void {
    const value = this.values.get(key);
    if (value === undefined) return;
    this.#tell(`/now/${key}`, key.endsWith("level") ? { type: "f", value } : { type: "i", value });
  }

  #tell(address: string, argument: OscArgument): void {
    this.#say(encodeOsc({ kind: "message", address, args: [argument] }));
  }
}
