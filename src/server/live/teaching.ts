/** Who has hands teach: as long as one page does, they do. A page that goes away must not leave them mute. */
import type { LiveClient } from "./hub.ts";

export class Teaching {
  readonly #by = new Set<LiveClient>();
  readonly #tell: (on: boolean) => void;

  /** `tell` is called whenever hands begin to teach or to play. */
  constructor(tell: (on: boolean) => void) {
    this.#tell = tell;
  }

  get isOn(): boolean {
    return this.#by.size > 0;
  }

  set(client: LiveClient, on: boolean): void {
    const was = this.isOn;
    if (on) this.#by.add(client);
    else this.#by.delete(client);
    if (this.isOn !== was) this.#tell(this.isOn);
  }

  /** Hands play, whoever had them teach; they are told. */
  end(): void {
    if (!this.isOn) return;
    const all = [...this.#by];
    this.#by.clear();
    this.#tell(false);
    for (const client of all) client.send({ kind: "play" });
  }
}
