/**
 * Multicast groups of a socket, joined on every network card: the one of the lighting network is seldom the one that
 * the system would choose. Cards that are plugged in later are joined by `renew`.
 */
import type { Socket } from "node:dgram";
import { ownAddresses } from "./own-address.ts";

/** How often other cards are looked for, in ms. */
export const RENEW_GROUPS_MS = 5000;

export class Groups {
  readonly #socket: Pick<Socket, "addMembership" | "dropMembership">;
  readonly #addresses: () => readonly string[];
  /** By group: the cards on which it has been joined. */
  readonly #joined = new Map<string, Set<string>>();

  /** `addresses`: those of this computer's cards. */
  constructor(
    socket: Pick<Socket, "addMembership" | "dropMembership">,
    addresses: () => readonly string[] = ownAddresses,
  ) {
    this.#socket = socket;
    this.#addresses = addresses;
  }

  /** Throws the system's error where no card takes the group. */
  join(group: string): void {
    const joined = new Set<string>();
    const trouble = this.#joinOn(group, joined, this.#addresses());
    if (joined.size === 0) throw trouble ?? Object.assign(new Error("no network"), { code: "ENETUNREACH" });
    this.#joined.set(group, joined);
  }

  leave(group: string): void {
    for (const address of this.#joined.get(group) ?? []) {
      try {
        this.#socket.dropMembership(group, address);
      } catch {
        // its card is gone, and the membership with it
      }
    }
    this.#joined.delete(group);
  }

  /** Joins on cards that have come, and forgets those that have gone. */
  renew(): void {
    const addresses = this.#addresses();
    for (const [group, joined] of this.#joined) {
      for (const address of joined) if (!addresses.includes(address)) joined.delete(address);
      this.#joinOn(
        group,
        joined,
        addresses.filter((a) => !joined.has(a)),
      );
    }
  }

  #joinOn(group: string, joined: Set<string>, addresses: readonly string[]): unknown {
    let trouble: unknown = null;
    for (const address of addresses) {
      try {
        this.#socket.addMembership(group, address);
        joined.add(address);
      } catch (error) {
        trouble = error; // a card that takes no groups; another may
      }
    }
    return trouble;
  }
}
