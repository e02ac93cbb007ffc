/** Starts the stand-ins that belong to the demo, each as a process of its own, and stops them with the server. */
import { type ChildProcess, fork } from "node:child_process";
import { fileURLToPath } from "node:url";

export interface StandIn {
  readonly name: string;
  stop(): Promise<void>;
}

export class StandInFailed extends Error {}

export function startStandIn(name: string, file: URL): Promise<StandIn> {
  const child = fork(fileURLToPath(file), [], { stdio: ["ignore", "inherit", "inherit", "ipc"] });
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

function stop(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    child.once("exit", () => resolve());
    child.kill("SIGTERM");
    child.kill("SIGCONT"); // a frozen stand-in must wake up to end
  });
}
