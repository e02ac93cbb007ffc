// Finds the browser for the tests: $CHROMIUM_PATH, else Debian's chromium on PATH; installs that where apt-get works.
import { spawn, spawnSync } from "node:child_process";
import { existsSync, mkdirSync, openSync } from "node:fs";
import { delimiter, join } from "node:path";

const LOG = join(".cache", "chromium.log");

/** The path of the browser, or null. */
export function findChromium() {
  const named = process.env.CHROMIUM_PATH;
  if (named) return existsSync(named) ? named : null;
  for (const folder of (process.env.PATH ?? "").split(delimiter))
    for (const name of ["chromium", "chromium-browser"])
      if (folder && existsSync(join(folder, name))) return join(folder, name);
  return null;
}

/**
 * Starts the installation where the browser is missing and this machine allows it. Its output goes to a file, so
 * that it can go on while `npm ci` blocks this process. Answers a promise of the path, or of null.
 */
export function ensureChromium() {
  const found = findChromium();
  if (found || process.env.CHROMIUM_PATH) return Promise.resolve(found);
  if (process.getuid?.() !== 0 || spawnSync("apt-get", ["--version"], { stdio: "ignore" }).status !== 0)
    return Promise.resolve(null);
  console.log("Installing Debian's chromium for the browser tests, beside everything else.");
  mkdirSync(".cache", { recursive: true });
  const log = openSync(LOG, "w");
  const apt = spawn("sh", ["-c", "apt-get update && apt-get install -y --no-install-recommends chromium"], {
    stdio: ["ignore", log, log],
    env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" },
  });
  return new Promise((resolve) => {
    apt.on("error", () => resolve(null));
    apt.on("exit", () => resolve(findChromium()));
  });
}

export const NO_CHROMIUM =
  "The browser tests need Chromium. Install Debian's package “chromium” (apt-get install chromium), or set CHROMIUM_PATH " +
  `to one. If an installation was tried here, ${LOG} says why it failed.`;
