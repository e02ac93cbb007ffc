/** Starts the stand-ins that belong to the demo, each as a process of its own, and stops them with the server. */
import { type ChildProcess, fork } from "node:child_process";
import { fileURLToPath } from "node:url";
import type { Show } from "../core/format/show.ts";
import { STAND_INS } from "../standins/table.mjs";

export type StandInId = keyof typeof STAND_INS;
export type StandInPorts = Record<StandInId, number>;

export interface StandIn {
  readonly name: string;
  stop(): Promise<void>;
}

export class StandInFailed extends Error {}

/** Starts all of them; they read their ports from the same variables. */
export function startStandIns(folder: URL): Promise<StandIn[]> {
  return Promise.all(
    Object.values(STAND_INS).map(({ name, folder: own }) => startStandIn(name, new URL(`${own}.mjs`, folder))),
  );
}

function startStandIn(name: string, file: URL): Promise<StandIn> {
  // What Node.js is told for the engine is not for them: it would only make the start slower.
  const execArgv = ["--enable-source-maps"];
  const child = fork(fileURLToPath(file), [], { stdio: ["ignore", "inherit", "inherit", "ipc"], execArgv });
  return new Promise((resolve, reject) => {
    child.once("message", () => resolve({ name, stop: () => stop(child) }));
    child.once("exit", (code) =>
      reject(
        new StandInFailed(
          `The stand-in ${name} did not start (exit code ${code}); its reason stands above. Start without it: --no-standins`,
        ),
      ),
    );
  });
}

/** The demo show with its desks where their stand-ins are. */
export function atStandIns(show: Show, ports: StandInPorts): Show {
  const desks = show.desks.map((desk) => {
    const port = ports[desk.id as StandInId];
    if (port === undefined) return desk;
    const at = { ...desk, port, listenPort: port + 1 };
    if (desk.midi?.in.kind !== "midi-udp" || desk.midi.out.kind !== "midi-udp") return at;
    return { ...at, midi: { in: { ...desk.midi.in, port: port + 1 }, out: { ...desk.midi.out, port } } };
  });
  return { ...show, desks };
}

function stop(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    child.once("exit", () => resolve());
    child.kill("SIGTERM");
    child.kill("SIGCONT"); // a frozen stand-in must wake up to end
  });
}
