// Leaves a .br and a .gz beside every text that the server hands out, so that no request waits for it to be compressed.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

const TEXTS = /\.(js|css|html|svg|json)$/;
/** Below this, in bytes, the heads of the answer weigh more than what is saved. */
const LEAST = 512;

/** All texts below a folder. */
export function compressBelow(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true, recursive: true })) {
    if (!entry.isFile() || !TEXTS.test(entry.name)) continue;
    const path = join(entry.parentPath, entry.name);
    const bytes = readFileSync(path);
    if (bytes.length < LEAST) continue;
    const params = { [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY };
    for (const [ending, small] of [
      [".br", brotliCompressSync(bytes, { params })],
      [".gz", gzipSync(bytes, { level: constants.Z_BEST_COMPRESSION })],
    ])
      if (small.length < bytes.length) writeFileSync(path + ending, small);
  }
}
