/** Ways for an engine to die, where a test asks for one. */
import type { EngineFault } from "./messages.ts";

/** A leak takes so much at once, in numbers of 8 bytes, and so often, in ms. */
const LEAK = 1 << 16;
const LEAK_EVERY_MS = 5;

export function fail(how: EngineFault): void {
  if (how === "throw") throw new Error("The engine was told to fail.");
  if (how === "exit") process.exit(1);
  const taken: number[][] = [];
  if (how === "leak") {
    setInterval(() => taken.push(new Array<number>(LEAK).fill(taken.length)), LEAK_EVERY_MS);
    return;
  }
  for (;;) if (how === "memory") taken.push(new Array<number>(1 << 20).fill(taken.length));
}
