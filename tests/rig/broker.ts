/** An MQTT broker of the system (Debian's mosquitto) on a port of loopback, for as long as a test needs it. */
import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { once } from "node:events";
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Login } from "../../src/core/format/show.ts";
import { findMosquitto } from "../../tools/test-programs.mjs";

export class Broker {
  readonly #port: number;
  readonly #folder = mkdtempSync(join(tmpdir(), "velvet-broker-"));
  #process: ChildProcess | null = null;

  /** `login`: the only one that is let in; left out, everybody is. */
  constructor(port: number, login?: Login) {
    this.#port = port;
    const passwords = join(this.#folder, "passwords");
    const who = login ? `allow_anonymous false\npassword_file ${passwords}` : "allow_anonymous true";
    writeFileSync(join(this.#folder, "conf"), `listener ${port} 127.0.0.1\npersistence false\n${who}\n`);
    if (!login) return;
    execFileSync("mosquitto_passwd", ["-b", "-c", passwords, login.user, login.password ?? ""], { stdio: "pipe" });
    // It may run as a user of its own.
    chmodSync(this.#folder, 0o755);
    chmodSync(passwords, 0o644);
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
