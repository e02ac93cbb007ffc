/**
 * The MIDI devices of all open browsers. Two windows of one computer have the same devices, and each would pass on
 * every press: of several that have one, the first to come is the way to it, and the next when that one goes.
 */
import type { BrowserDevice, Device } from "../../core/live/protocol.ts";
import type { LiveClient } from "./hub.ts";

export class BrowserDevices {
  readonly #clients: () => Iterable<LiveClient>;

  /** `clients` in the order in which they came. */
  constructor(clients: () => Iterable<LiveClient>) {
    this.#clients = clients;
  }

  /** The browser that is the way to this device; null = nobody has it. */
  ownerOf(name: string, nth: number): LiveClient | null {
    for (const client of this.#clients()) if (find(client, name, nth)) return client;
    return null;
  }

  /** Whether its owner has this way of it. */
  has(name: string, nth: number, way: "input" | "output"): boolean {
    const owner = this.ownerOf(name, nth);
    return owner !== null && find(owner, name, nth)![way];
  }

  /** Tells every browser which devices there are, each once, and which of them are reached through it. */
  tell(): void {
    const owned = new Map<string, { device: Device; owner: LiveClient }>();
    for (const client of this.#clients())
      for (const device of client.devices) {
        const key = `${device.nth} ${device.name}`;
        if (!owned.has(key)) owned.set(key, { device, owner: client });
      }
    for (const client of this.#clients()) {
      const devices = [...owned.values()].map(
        ({ device, owner }): BrowserDevice => ({ ...device, here: owner === client }),
      );
      client.send({ kind: "browser-devices", devices });
    }
  }
}

function find({ devices }: LiveClient, name: string, nth: number): Device | undefined {
  return devices.find((d) => d.name === name && d.nth === nth);
}
