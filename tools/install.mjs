// Installs the packages of the lock file where they are not there yet. The database driver is compiled here, which takes
// minutes on one core: the tests do something else meanwhile.
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { mkdirSync, openSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";

const STAMP = join("node_modules", ".installed-from");
const LOG = join(".cache", "database-driver.log");
const DRIVER = "sqlite3";
/** Packages with something to set up, which takes no time. */
const NEEDED = ["esbuild"];
/** Those that the program does without where they cannot be set up. */
const OPTIONAL = ["sharp", "@julusian/midi"];

/** `beside`: what the compiler says goes to a file. Answers a promise that the driver is there; packages are there at once. */
export function installPackages({ quiet, beside }) {
  const lock = createHash("sha256").update(readFileSync("package-lock.json")).digest("hex");
  if (stamp() === lock) return Promise.resolve();
  const say = (text) => (quiet ? console.error(text) : console.log(text));
  say("Installing packages. This takes three to four minutes once: the database driver is compiled here.");
  const stdio = quiet ? ["ignore", "ignore", "inherit"] : "inherit";
  const npm = (...args) => spawnSync("npm", [...args, "--loglevel=error"], { stdio, env }).status === 0;
  const env = { ...process.env, ASTRO_TELEMETRY_DISABLED: "1" };
  if (!npm("ci", "--no-audit", "--no-fund", "--ignore-scripts") || !npm("rebuild", ...NEEDED)) {
    console.error("The packages could not be installed; the reason stands above.");
    process.exit(1);
  }
  for (const name of OPTIONAL) npm("rebuild", name);
  mkdirSync(".cache", { recursive: true });
  const log = beside ? openSync(LOG, "w") : null;
  const compiling = spawn("npm", ["rebuild", DRIVER, "--loglevel=error"], {
    stdio: log === null ? stdio : ["ignore", log, log],
    env,
  });
  return new Promise((resolve) => {
    compiling.on("error", (error) => failed(error.message, log));
    compiling.on("exit", (code) => {
      if (code !== 0) failed(`npm rebuild ${DRIVER} did not succeed.`, log);
      writeFileSync(STAMP, lock);
      resolve();
    });
  });
}

function stamp() {
  try {
    return readFileSync(STAMP, "utf8");
  } catch {
    return null; // nothing has been installed to its end yet
  }
}

function failed(reason, log) {
  if (log !== null) console.error(readFileSync(LOG, "utf8"));
  console.error(reason);
  process.exit(1);
}
