/** An MQTT broker of the system (Debian's mosquitto) on a port of loopback, for as long as a test needs it. */
import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { findMosquitto } from "../../tools/test-programs.mjs";

export class Broker {
  readonly #port: number;
  readonly #folder = mkdtempSync(join(tmpdir(), "velvet-broker-"));
  #process: ChildProcess | null = null;

  constructor(port: number) {
    this.#port = port;
    writeFileSync(join(this.#folder, "conf"), `listener ${port} 127.0.0.1\nallow_anonymous true\npersistence false\n`);
  }

  async start(): Promise<void> {
    const child = spawn(findMosquitto()!, ["-c", join(this.#folder, "conf"), "-v"], {
      stdio: ["ignore", "pipe", "pipe"],
    });
    this.#process = child;
    await new Promise<void>((resolve, reject) => {
      let said = "";
      const hear = (piece: Buffer) => {
        said += String(piece);
        if (/mosquitto version .* running/.test(said)) resolve();
      };
      child.stdout.on("data", hear);
      child.stderr.on("data", hear);
      child.once("error", reject);
      child.once("exit", () => reject(new Error(`the broker on port ${this.#port} ended: ${said}`)));
    });
  }

  async stop(): Promise<void> {
    const child = this.#process;
    this.#process = null;
    if (!child || child.exitCode !== null) return;
    child.kill("SIGKILL");
    await once(child, "exit");
  }

  clean(): void {
    rmSync(this.#folder, { recursive: true, force: true });
  }
}
