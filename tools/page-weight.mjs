// How much JavaScript a place needs before it can be played: what its page imports at once, and what that imports.
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";

/** The most that the Map may need, in bytes, compressed with gzip. */
export const MAP_LIMIT = 200_000;
/** What stands at the beginning of the chunks that the Map starts with: React, the shell, the place. */
const MAP_STARTS = ["client", "App", "MapView"];
const IMPORTED = /(?:from|import)\s*"\.\/([^"]+\.js)"/g;

/** `folder`: the built client files. Answers the chunks of the Map and their weight in bytes, compressed. */
export function mapWeight(folder) {
  const chunks = join(folder, "_astro");
  const built = readdirSync(chunks).filter((f) => f.endsWith(".js"));
  const needed = new Set();
  for (const start of MAP_STARTS) {
    const own = built.filter((f) => f.startsWith(`${start}.`));
    // A chunk that is called otherwise now must not make the Map look lighter than it is.
    if (own.length === 0) throw new Error(`The client has no chunk “${start}”; say in page-weight.mjs what it is now.`);
    for (const file of own) needed.add(file);
  }
  for (const file of needed)
    for (const [, name] of readFileSync(join(chunks, file), "utf8").matchAll(IMPORTED)) needed.add(name);
  let bytes = 0;
  for (const file of needed) bytes += gzipSync(readFileSync(join(chunks, file)), { level: 9 }).length;
  return { files: [...needed], bytes };
}
