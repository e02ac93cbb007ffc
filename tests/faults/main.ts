/**
 * `npm run faults`: what goes wrong in a night, on purpose, with real processes over loopback. A line for each scene with
 * its figure and what was wanted, and a total; the exit code is 1 where something was not as wanted.
 *   --short: those that `npm test` runs.   --only TEXT: scenes whose name has it.
 */
import { writeFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { ACCESS } from "./access.ts";
import { DEATHS } from "./deaths.ts";
import { DISK } from "./disk.ts";
import { NETWORK } from "./network.ts";
import type { Result, Scene } from "./scenes.ts";

const { values } = parseArgs({
  options: { short: { type: "boolean" }, only: { type: "string" }, json: { type: "string" } },
});
const scenes: readonly Scene[] = [...DEATHS, ...NETWORK, ...DISK, ...ACCESS];

let total = 0;
let good = 0;
for (const scene of scenes) {
  if (values.short && !scene.isShort) continue;
  if (values.only && !scene.name.includes(values.only)) continue;
  for (const result of await played(scene)) {
    total++;
    if (result.ok) good++;
    console.log(
      `${result.ok ? "as wanted " : "NOT WANTED"}  ${result.scene}: ${result.figure}  (wanted: ${result.wanted})`,
    );
  }
}
console.log(`\n${good} of ${total} as wanted`);
if (values.json) writeFileSync(values.json, JSON.stringify({ asWanted: good, notWanted: total - good }));
process.exit(good === total && total > 0 ? 0 : 1);

/** A scene that breaks, or takes too long, is not as wanted. */
async function played(scene: Scene): Promise<Result[]> {
  const failed = (figure: string): Result[] => [
    { scene: scene.name, figure, wanted: "to be played to its end", ok: false },
  ];
  const limit = new Promise<Result[]>((resolve) =>
    setTimeout(() => resolve(failed(`not done within ${scene.limitMs} ms`)), scene.limitMs).unref(),
  );
  return Promise.race([scene.run(), limit]).catch((error: Error) => failed(error.message));
}
