/** Ports that fail, desks that go silent and routes that trip go to the log when they do, and when they are well again. */
import type { EngineBatch } from "../engine/messages.ts";
import type { Facts, Log } from "./log.ts";

export class TroubleLog {
  readonly #log: Log;
  /** What was told last, by what it is about; empty = it is well. */
  readonly #told = new Map<string, string>();

  constructor(log: Log) {
    this.#log = log;
  }

  /** Looks at what the engine told of its ports. */
  look({ desks, surfaces }: Pick<EngineBatch, "desks" | "surfaces">): void {
    for (const [desk, { health, port, tripped }] of Object.entries(desks)) {
      this.#note(`health ${desk}`, `desk-${health}`, health !== "silent" && health !== "refusing", { desk });
      this.#note(`port ${desk}`, "port-failed", port.state !== "failed", { desk, trouble: port.trouble });
      this.#note(`trip ${desk}`, "route-tripped", !tripped, { desk });
    }
    for (const [surface, { inPort, outPort, tripped }] of Object.entries(surfaces)) {
      this.#note(`trip ${surface}`, "route-tripped", !tripped, { surface });
      const failed = [inPort, outPort].find((p) => p.state === "failed");
      this.#note(`port ${surface}`, "port-failed", !failed, { surface, trouble: failed?.trouble });
    }
  }

  #note(about: string, event: string, isWell: boolean, facts: Facts): void {
    const now = isWell ? "" : event;
    if ((this.#told.get(about) ?? "") === now) return;
    this.#told.set(about, now);
    this.#log.write(isWell ? "info" : "warn", isWell ? "well-again" : event, isWell ? { ...facts, about } : facts);
  }
}
