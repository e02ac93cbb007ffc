#!/usr/bin/env node
// What every npm script goes through, with nothing but Node.js at hand: it installs what is missing, builds what
// changed, and then does its job.   node tools/run.mjs demo|start|test|build|bench|faults|fuzz|dry-run|formats|screenshots [flags]
import { spawn } from "node:child_process";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { NODE_FLAGS } from "../src/server/node-flags.mjs";
import { keepRunning } from "../src/server/parent.mjs";
import { installPackages } from "./install.mjs";
import { ensurePrograms } from "./test-programs.mjs";

const root = fileURLToPath(new URL("..", import.meta.url));
process.chdir(root);
const [job = "", ...flags] = process.argv.slice(2);
// Jobs whose standard output is their result say nothing else on it.
const quiet = job === "dry-run";

/** Runs a Node.js program in the foreground; signals reach it, and its exit code becomes ours. */
function run(file, args, env = {}) {
  const child = spawn(process.execPath, ["--enable-source-maps", file, ...args], {
    stdio: "inherit",
    env: { ...process.env, ...env },
  });
  for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => child.kill(signal));
  child.on("exit", (code, signal) => process.exit(code ?? (signal ? 1 : 0)));
}

const SERVER = { nodeFlags: ["--enable-source-maps", ...NODE_FLAGS] };
const JOBS = {
  demo: () => keepRunning("dist/main.mjs", ["--demo", ...flags], SERVER),
  start: () => keepRunning("dist/main.mjs", flags, SERVER),
  build: () => {},
  bench: () => run("dist/bench.mjs", flags),
  faults: () => run("dist/faults.mjs", flags),
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
    process.exit(await test(programs, driver));
  },
};

if (!(job in JOBS)) {
  console.error(`“${job}” is not a job. Known: ${Object.keys(JOBS).join(", ")}.`);
  process.exit(1);
}
// The browser and the broker are installed beside the packages: both take minutes and wait for the network most of the time.
const programs = job === "test" ? ensurePrograms() : null;
// The tests begin with what does not need the database, while its driver is compiled.
const driver = installPackages({ quiet, beside: job === "test" });
if (job !== "test") {
  await driver;
  const { build } = await import("./build.mjs");
  await build({ quiet });
}
await JOBS[job]();
