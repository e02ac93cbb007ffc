#!/usr/bin/env node
// What every npm script goes through, with nothing but Node.js at hand: it installs what is missing, builds what
// changed, and then does its job.   node tools/run.mjs demo|start|test|build|bench|fuzz|dry-run|formats|screenshots [flags]
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { ensurePrograms } from "./test-programs.mjs";

const root = fileURLToPath(new URL("..", import.meta.url));
process.chdir(root);
const [job = "", ...flags] = process.argv.slice(2);
// Jobs whose standard output is their result say nothing else on it.
const quiet = job === "dry-run";
const say = (text) => (quiet ? console.error(text) : console.log(text));

function install() {
  const lock = createHash("sha256").update(readFileSync("package-lock.json")).digest("hex");
  const stamp = join("node_modules", ".installed-from");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === lock) return;
  say("Installing packages. This takes three to four minutes once: the database driver is compiled here.");
  const npm = spawnSync("npm", ["ci", "--no-audit", "--no-fund", "--loglevel=error"], {
    stdio: quiet ? ["ignore", "ignore", "inherit"] : "inherit",
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1" },
  });
  if (npm.status !== 0) {
    console.error("npm ci did not succeed; the reason stands above.");
    process.exit(1);
  }
  mkdirSync("node_modules", { recursive: true });
  writeFileSync(stamp, lock);
}

/** Runs a Node.js program in the foreground; signals reach it, and its exit code becomes ours. */
function run(file, args, env = {}) {
  const child = spawn(process.execPath, ["--enable-source-maps", file, ...args], {
    stdio: "inherit",
    env: { ...process.env, ...env },
  });
  for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => child.kill(signal));
  child.on("exit", (code, signal) => process.exit(code ?? (signal ? 1 : 0)));
}

const JOBS = {
  demo: () => run("dist/main.mjs", ["--demo", ...flags]),
  start: () => run("dist/main.mjs", flags),
  build: () => {},
  bench: () => run("dist/bench.mjs", flags),
  "dry-run": () => run("dist/dry-run.mjs", flags),
  formats: () => run("dist/formats.mjs", flags),
  fuzz: () =>
    run(join("node_modules", "vitest", "vitest.mjs"), ["run", "tests/fuzz", ...flags], {
      VELVET_FUZZ: "1000000",
      VELVET_FUZZ_SEED: String(Math.floor(Date.now() / 86_400_000)),
    }),
  screenshots: () => run("tools/screenshots.mjs", flags),
  test: async () => {
    const { test } = await import("./test.mjs");
    process.exit(await test(programs));
  },
};

if (!(job in JOBS)) {
  console.error(`“${job}” is not a job. Known: ${Object.keys(JOBS).join(", ")}.`);
  process.exit(1);
}
// The browser and the broker are installed beside the packages: both take minutes and wait for the network most of the time.
const programs = job === "test" ? ensurePrograms() : null;
install();
if (job !== "test") {
  const { build } = await import("./build.mjs");
  await build({ quiet });
}
await JOBS[job]();
