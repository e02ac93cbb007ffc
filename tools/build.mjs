// Builds what changed: Astro's pages and client, then the server, the engine and the stand-ins as .mjs bundles.
// Each part has a stamp made of the files it is built from; a part whose stamp fits is left alone.
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { dirname, join, relative } from "node:path";
import { fileURLToPath } from "node:url";
import { STAND_INS } from "../src/standins/table.mjs";
import { compressBelow } from "./compress.mjs";
import { writeNotices } from "./notices.mjs";
import { MAP_LIMIT, mapWeight } from "./page-weight.mjs";

const root = fileURLToPath(new URL("..", import.meta.url));
const STAMP = join(root, "dist", "stamp.json");
const CLIENT = join(root, "dist", "client");

function filesBelow(folder) {
  const path = join(root, folder);
  if (!existsSync(path)) return [];
  return readdirSync(path, { withFileTypes: true, recursive: true })
    .filter((e) => e.isFile() && !/\.test\.tsx?$/.test(e.name))
    .map((e) => join(e.parentPath, e.name));
}

function stampOf(folders, files) {
  const hash = createHash("sha256");
  for (const file of [...folders.flatMap(filesBelow), ...files.map((f) => join(root, f))].sort()) {
    hash.update(relative(root, file)).update("\0").update(readFileSync(file)).update("\0");
  }
  return hash.digest("hex");
}

const PAGE_TOOLS = ["tools/compress.mjs", "tools/notices.mjs", "tools/page-weight.mjs"];
const PARTS = {
  pages: () =>
    stampOf(
      ["src/core", "src/words", "src/pages", "src/islands", "src/layouts", "src/styles", "src/server/access", "public"],
      ["astro.config.mjs", "package-lock.json", "src/server/json-answer.ts", "src/engine/messages.ts", ...PAGE_TOOLS],
    ),
  bundles: () =>
    stampOf(
      [
        "src/core",
        "src/words",
        "src/engine",
        "src/server",
        "src/standins",
        "src/cli",
        "src/islands/traffic",
        "tests/bench",
        "tests/faults",
        "profiles",
        "examples",
      ],
      ["package-lock.json", "tools/build.mjs"],
    ),
};

export async function build({ quiet = false } = {}) {
  const say = (text) => quiet || console.log(text);
  const old = existsSync(STAMP) ? JSON.parse(readFileSync(STAMP, "utf8")) : {};
  const now = Object.fromEntries(Object.entries(PARTS).map(([name, stamp]) => [name, stamp()]));
  if (old.pages !== now.pages) {
    say("Building the pages …");
    buildPages();
    const { bytes, files } = mapWeight(CLIENT);
    say(`JavaScript of the Map: ${Math.round(bytes / 1000)} KB compressed in ${files.length} files.`);
    if (bytes > MAP_LIMIT)
      throw new Error(
        `The Map needs ${bytes} bytes of JavaScript; ${MAP_LIMIT} are the most. Load what it opens later.`,
      );
    writeNotices(root, CLIENT);
    compressBelow(CLIENT);
  }
  if (old.bundles !== now.bundles || old.pages !== now.pages) {
    say("Building server, engine and stand-ins …");
    await buildBundles();
  }
  writeFileSync(STAMP, JSON.stringify(now));
}

function buildPages() {
  const astro = join(root, "node_modules", "astro", "astro.js");
  const result = spawnSync(process.execPath, [astro, "build", "--silent"], {
    cwd: root,
    stdio: "inherit",
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1" },
  });
  if (result.status !== 0) throw new Error("The pages could not be built; the reason stands above.");
}

async function buildBundles() {
  const { build: bundle } = await import("esbuild");
  await bundle({
    absWorkingDir: root,
    entryPoints: {
      main: "src/server/main.ts",
      "dry-run": "src/cli/dry-run.ts",
      formats: "src/cli/formats.ts",
      bench: "tests/bench/main.ts",
      faults: "tests/faults/main.ts",
      "bench-core": "tests/bench/core.ts",
      "bench-heart": "tests/bench/heart.ts",
      "bench-edits": "tests/bench/edits.ts",
      "bench-relay": "tests/bench/relay.ts",
      "bench-load": "tests/bench/load.ts",
      ...Object.fromEntries(
        Object.values(STAND_INS).map(({ folder }) => [`standins/${folder}`, `src/standins/${folder}/main.ts`]),
      ),
    },
    outdir: "dist",
    outExtension: { ".js": ".mjs" },
    bundle: true,
    platform: "node",
    target: "node20",
    format: "esm",
    packages: "external",
    sourcemap: true,
    logLevel: "warning",
    loader: { ".html": "text", ".css": "text", ".script": "text" },
  });
  // The engine with its packages in one file, because a cold one has to be there at once. What few shows need is a file of
  // its own and loaded when it is wanted: from its package, file by file, that held up a busy engine for half a second.
  await bundle({
    absWorkingDir: root,
    entryPoints: { engine: "src/engine/worker.ts" },
    outdir: "dist",
    outExtension: { ".js": ".mjs" },
    bundle: true,
    platform: "node",
    target: "node20",
    format: "esm",
    splitting: true,
    chunkNames: "engine-parts/[name]-[hash]",
    // Packages of the older kind ask for parts of Node.js by a function that modules have not.
    banner: {
      js: 'import { createRequire } from "node:module"; const require = createRequire(import.meta.url);',
    },
    external: ["@julusian/midi"],
    sourcemap: true,
    minifySyntax: true,
    logLevel: "warning",
  });
  cpSync(join(root, "src", "server", "parent.mjs"), join(root, "dist", "parent.mjs"));
  await bundle({
    absWorkingDir: root,
    entryPoints: { "bench-window-page": "tests/bench/window-page.ts" },
    outdir: "dist",
    bundle: true,
    minify: true,
    platform: "browser",
    format: "iife",
    logLevel: "warning",
  });
  const require = createRequire(import.meta.url);
  const fonts = join(root, "dist", "standins", "fonts");
  mkdirSync(fonts, { recursive: true });
  for (const [from, to] of [
    ["@fontsource-variable/instrument-sans/files/instrument-sans-latin-wdth-normal.woff2", "instrument.woff2"],
    ["@fontsource-variable/jetbrains-mono/files/jetbrains-mono-latin-wght-normal.woff2", "jetbrains.woff2"],
  ]) {
    const [scope, name, ...rest] = from.split("/");
    cpSync(join(dirname(require.resolve(`${scope}/${name}/package.json`)), ...rest), join(fonts, to));
  }
}
