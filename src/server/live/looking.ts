/** What pages look for on the network: as long as one of them does, and is there. */
import type { LiveClient } from "./hub.ts";

export interface Looked {
  readonly universes: boolean;
  /** UDP ports at which anybody is heard. */
  readonly ports: readonly number[];
}

export class Looking {
  readonly #by = new Map<LiveClient, Looked>();
  readonly #send: (wanted: Looked) => void;
  #told = "";

  /** `send` is called whenever what all of them want is something else. */
  constructor(send: (wanted: Looked) => void) {
    this.#send = send;
  }

  set(client: LiveClient, { universes, ports }: Looked): void {
    if (universes || ports.length > 0) this.#by.set(client, { universes, ports });
    else this.#by.delete(client);
    this.#changed();
  }

  leave(client: LiveClient): void {
    if (this.#by.delete(client)) this.#changed();
  }

  /** To an engine that begins. */
  tell(): void {
    this.#told = "";
    if (this.#by.size > 0) this.#changed();
  }

  #changed(): void {
    const all = [...this.#by.values()];
    const ports = [...new Set(all.flatMap((w) => w.ports))].sort((a, b) => a - b);
    const wanted = { universes: all.some((w) => w.universes), ports };
    const told = JSON.stringify(wanted);
    if (told === this.#told) return;
    this.#told = told;
    this.#send(wanted);
  }
}
