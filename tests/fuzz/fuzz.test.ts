/**
 * Every parser under random and mutated bytes: it does not throw, does not hang, understands what is right, and keeps
 * nothing of the rest. 200,000 inputs each; `npm run fuzz` takes a million, from a seed of the day.
 */
import { setFlagsFromString } from "node:v8";
import { runInNewContext } from "node:vm";
import { expect, test } from "vitest";
import { Chance, mutated } from "./mutations.ts";
import { PARSERS } from "./parsers.ts";

const INPUTS = Number(process.env.VELVET_FUZZ ?? 200_000);
const SEED = Number(process.env.VELVET_FUZZ_SEED ?? 20_261);
/** Part of the inputs after which memory is looked at for the first time. */
const WARM = 0.2;
const MOST_GROWTH_BYTES = 4 * 1024 * 1024;
/** Much longer than any parser takes, much shorter than a hang. */
const TIMEOUT_MS = 300_000;

setFlagsFromString("--expose-gc");
const collectGarbage = runInNewContext("gc") as () => void;

function heapBytes(): number {
  collectGarbage();
  return process.memoryUsage().heapUsed;
}

test.each(PARSERS.map((p) => [p.name, p] as const))(
  "%s",
  (_, { corpus, start, part = 1 }) => {
    const inputs = Math.round(INPUTS * part);
    // What is right is understood, but for a word or two of the session that call for no answer.
    const right = start();
    const heard = corpus.filter((bytes) => right(bytes) > 0);
    expect(heard.length).toBeGreaterThan(corpus.length * 0.8);
    const chance = new Chance(SEED);
    const read = start();
    let understood = 0;
    let warmBytes = 0;
    for (let i = 0; i < inputs; i++) {
      if (i === Math.round(inputs * WARM)) warmBytes = heapBytes();
      const bytes = mutated(corpus, chance);
      try {
        if (read(bytes) > 0) understood++;
      } catch (error) {
        throw new Error(`input ${i} of seed ${SEED}: ${Buffer.from(bytes).toString("hex")}`, { cause: error });
      }
    }
    expect(heapBytes() - warmBytes).toBeLessThan(MOST_GROWTH_BYTES);
    expect(understood).toBeLessThan(inputs);
  },
  TIMEOUT_MS,
);
