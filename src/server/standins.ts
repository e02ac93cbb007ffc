/** Starts the stand-ins that belong to the demo, each as a process of its own, and stops them with the server. */
import { type ChildProcess, fork } from "node:child_process";
import { fileURLToPath } from "node:url";
import type { Show } from "../core/format/show.ts";

/** The stand-ins, by the id of their desk in the demo show. The desk's own port, and where we listen: one further on. */
export const STAND_INS = {
  lights: { name: "lighting desk", file: "lighting-desk.mjs", variable: "VELVET_LIGHTS_PORT", port: 9100 },
  vision: { name: "vision desk", file: "vision-desk.mjs", variable: "VELVET_VISION_PORT", port: 9110 },
  sound: { name: "sound desk", file: "sound-desk.mjs", variable: "VELVET_SOUND_PORT", port: 9120 },
  bell: { name: "instrument", file: "instrument.mjs", variable: "VELVET_BELL_PORT", port: 9130 },
} as const;
export type StandInId = keyof typeof STAND_INS;
export type StandInPorts = Record<StandInId, number>;

export interface StandIn {
  readonly name: string;
  stop(): Promise<void>;
}

export class StandInFailed extends Error {}

/** Starts all of them; they read their ports from the same variables. */
export function startStandIns(folder: URL): Promise<StandIn[]> {
  return Promise.all(Object.values(STAND_INS).map(({ name, file }) => startStandIn(name, new URL(file, folder))));
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
