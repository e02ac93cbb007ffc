/** Ways for an engine to die, where a test asks for one. */
import type { EngineFault } from "./messages.ts";

export function fail(how: EngineFault): void {
  if (how === "throw") throw new Error("The engine was told to fail.");
  if (how === "exit") process.exit(1);
  const taken: number[][] = [];
  for (;;) if (how === "memory") taken.push(new Array<number>(1 << 20).fill(taken.length));
}
