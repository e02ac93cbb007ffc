// Everything that must hold, in the order in which a fault is cheapest to find. The last line is "N passed, N failed",
// the sum of unit tests, browser tests and scenes of faults; any other fault makes the exit code 1.
import { spawn } from "node:child_process";
import { existsSync, mkdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { build } from "./build.mjs";
import { NO_CHROMIUM, NO_MOSQUITTO } from "./test-programs.mjs";

/** Where the database is opened, whose driver may still be compiled while the other tests run. */
const SERVER = "src/server";
const REPORTS = join("test-results", "reports");
const bin = (name) => join("node_modules", ".bin", name);

/** Runs a command; answers its exit code. */
function step(name, command, args, env = {}) {
  console.log(`\n— ${name}`);
  const startedAtMs = performance.now();
  const child = spawn(command, args, {
    stdio: ["ignore", "inherit", "inherit"],
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1", ...env },
  });
  return new Promise((resolve) => {
    child.on("error", (error) => {
      console.error(error.message);
      resolve(1);
    });
    child.on("exit", (code) => {
      console.log(`  ${code === 0 ? "done" : "FAILED"} in ${((performance.now() - startedAtMs) / 1000).toFixed(1)} s`);
      resolve(code ?? 1);
    });
  });
}

function report(file) {
  const path = join(REPORTS, file);
  return existsSync(path) ? JSON.parse(readFileSync(path, "utf8")) : null;
}

/**
 * `programs` is a promise of the paths of the programs that tests drive, `driver` one that the database can be opened.
 * Answers the exit code.
 */
export async function test(programs, driver) {
  rmSync(REPORTS, { recursive: true, force: true });
  mkdirSync(REPORTS, { recursive: true });
  const faults = [];
  const must = async (name, ...rest) => {
    if ((await step(name, ...rest)) !== 0) faults.push(name);
  };

  await must("format and lint", bin("biome"), ["check", "."]);
  await must("types", "npm", ["run", "--silent", "types"]);
  await must("import rules", "npm", ["run", "--silent", "imports"]);
  const names = join("..", "shared", "tools", "name-check.mjs");
  if (existsSync(names)) await must("names", process.execPath, [names, "."]);
  console.log("\n— build");
  await build();
  await must("formats", process.execPath, [join("dist", "formats.mjs"), "--check"]);
  const { chromium, mosquitto } = await programs;
  if (!mosquitto) {
    console.error(`\n${NO_MOSQUITTO}`);
    faults.push("tests of MQTT");
  }
  const unit = (file, ...which) => [
    ...["run", ...which, "--reporter=default", "--reporter=json"],
    `--outputFile.json=${join(REPORTS, file)}`,
  ];
  await must("unit tests", bin("vitest"), unit("unit.json", "--exclude", `${SERVER}/**`));
  await driver;
  await must("unit tests of the server", bin("vitest"), unit("server.json", SERVER));

  if (chromium)
    await must("browser tests", bin("playwright"), ["test"], {
      CHROMIUM_PATH: chromium,
      PLAYWRIGHT_JSON_OUTPUT_NAME: join(REPORTS, "browser.json"),
    });
  else {
    console.error(`\n${NO_CHROMIUM}`);
    faults.push("browser tests");
  }

  await must("faults", process.execPath, [
    join("dist", "faults.mjs"),
    "--short",
    "--json",
    join(REPORTS, "faults.json"),
  ]);

  const units = ["unit.json", "server.json"].map(report);
  const browserStats = report("browser.json")?.stats;
  const sum = (field) => units.reduce((n, r) => n + (r?.[field] ?? 0), 0);
  const scenes = report("faults.json") ?? { asWanted: 0, notWanted: 0 };
  const passed = sum("numPassedTests") + (browserStats?.expected ?? 0) + scenes.asWanted;
  const flaky = browserStats?.flaky ?? 0;
  const failed = sum("numFailedTests") + (browserStats?.unexpected ?? 0) + flaky + scenes.notWanted;
  if (faults.length > 0) console.log(`\nNot in order: ${faults.join(", ")}.`);
  console.log(`\n${passed} passed, ${failed} failed`);
  return faults.length > 0 || failed > 0 || passed === 0 ? 1 : 0;
}
