// Finds the programs of the system that tests drive, and installs them where apt-get works: the browser ($CHROMIUM_PATH,
// else Debian's Chromium; the tests take a fifth less time in the one that is built without windows), and the MQTT
// broker (Debian's mosquitto).
import { spawn, spawnSync } from "node:child_process";
import { existsSync, mkdirSync, openSync } from "node:fs";
import { delimiter, join } from "node:path";

const LOG = join(".cache", "test-programs.log");

const WITHOUT_WINDOWS = "chromium-headless-shell";

function onPath(name) {
  for (const folder of (process.env.PATH ?? "").split(delimiter))
    if (folder && existsSync(join(folder, name))) return join(folder, name);
  return null;
}

/** The path of the browser, or null. */
export function findChromium() {
  const named = process.env.CHROMIUM_PATH;
  if (named) return existsSync(named) ? named : null;
  return onPath(WITHOUT_WINDOWS) ?? onPath("chromium") ?? onPath("chromium-browser");
}

/** The path of the broker, or null. It is a server, so it may be where PATH does not lead. */
export function findMosquitto() {
  for (const folder of [...(process.env.PATH ?? "").split(delimiter), "/usr/sbin"])
    if (folder && existsSync(join(folder, "mosquitto"))) return join(folder, "mosquitto");
  return null;
}

/**
 * Starts the installation of what is missing, where this machine allows it. Its output goes to a file, so that it can
 * go on while `npm ci` blocks this process. Answers a promise of what there is then.
 */
export function ensurePrograms() {
  const found = () => ({ chromium: findChromium(), mosquitto: findMosquitto() });
  const { chromium, mosquitto } = found();
  const wanted = [];
  if (!process.env.CHROMIUM_PATH && !onPath(WITHOUT_WINDOWS))
    wanted.push(chromium ? [WITHOUT_WINDOWS] : [WITHOUT_WINDOWS, "chromium"]);
  if (!mosquitto) wanted.push(["mosquitto"]);
  const canInstall = process.getuid?.() === 0 && spawnSync("apt-get", ["--version"], { stdio: "ignore" }).status === 0;
  if (wanted.length === 0 || !canInstall) return Promise.resolve(found());
  console.log(
    `Installing Debian's ${wanted.map(([name]) => name).join(" and ")} for the tests, beside everything else.`,
  );
  mkdirSync(".cache", { recursive: true });
  const log = openSync(LOG, "w");
  // One after the other, the next name where the first is not known: what a system lacks must not keep the rest out.
  const aptGet = "apt-get -o Acquire::http::Timeout=20 -o Acquire::Retries=1";
  const install = (name) => `${aptGet} install -y --no-install-recommends ${name}`;
  const command = [`${aptGet} update`, ...wanted.map((names) => names.map(install).join(" || "))].join("; ");
  const apt = spawn("sh", ["-c", command], {
    stdio: ["ignore", log, log],
    env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" },
  });
  return new Promise((resolve) => {
    apt.on("error", () => resolve(found()));
    apt.on("exit", () => resolve(found()));
  });
}

export const NO_CHROMIUM =
  "The browser tests need Chromium. Install Debian's package “chromium” (apt-get install chromium), or set CHROMIUM_PATH " +
  `to one. If an installation was tried here, ${LOG} says why it failed.`;

export const NO_MOSQUITTO =
  "The tests of MQTT need a broker. Install Debian's package “mosquitto” (apt-get install mosquitto). If an " +
  `installation was tried here, ${LOG} says why it failed.`;
