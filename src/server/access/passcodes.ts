/**
 * Passcodes: one a role. What is stored is derived from them (scrypt, RFC 7914), with one salt for all of them: one
 * derivation tells which role somebody means. They are derived one after the other, because each takes memory.
 */
import { randomBytes, scrypt, timingSafeEqual } from "node:crypto";
import { ROLES, type Role } from "../../core/format/roles.ts";

export const LEAST_CHARS = 8;
export const MOST_CHARS = 200;
/** Measured on a small computer: 0.28 s and 32 MiB. */
const COST = { N: 2 ** 15, r: 8, p: 3, maxmem: 64 * 2 ** 20 };
const KEY_BYTES = 32;
const SALT_BYTES = 16;
/** Who comes behind so many others is told to come again. */
const MOST_WAITING = 8;

export interface StoredPasscode {
  readonly role: Role;
  readonly salt: string;
  readonly hash: string;
}

export class Passcodes {
  readonly #hashes = new Map<Role, Buffer>();
  readonly #salt: Buffer;
  #last: Promise<unknown> = Promise.resolve();
  #waiting = 0;

  constructor(stored: readonly StoredPasscode[]) {
    this.#salt = stored[0] ? Buffer.from(stored[0].salt, "base64") : randomBytes(SALT_BYTES);
    for (const { role, hash } of stored) this.#hashes.set(role, Buffer.from(hash, "base64"));
  }

  /** Roles that have a passcode, the least first. */
  get roles(): readonly Role[] {
    return ROLES.filter((role) => this.#hashes.has(role));
  }

  get isBusy(): boolean {
    return this.#waiting >= MOST_WAITING;
  }

  /** The role that this passcode lets somebody in as; null = none. */
  async roleOf(passcode: string): Promise<Role | null> {
    const derived = await this.#derive(passcode);
    let found: Role | null = null;
    for (const [role, hash] of this.#hashes) if (timingSafeEqual(hash, derived)) found = role;
    return found;
  }

  /** What to store for a role's passcode; another role's passcode is refused with that role. It holds once it is `set`. */
  async make(role: Role, passcode: string): Promise<StoredPasscode | { readonly takenBy: Role }> {
    const derived = await this.#derive(passcode);
    for (const [other, hash] of this.#hashes)
      if (other !== role && timingSafeEqual(hash, derived)) return { takenBy: other };
    return { role, salt: this.#salt.toString("base64"), hash: derived.toString("base64") };
  }

  set({ role, hash }: StoredPasscode): void {
    this.#hashes.set(role, Buffer.from(hash, "base64"));
  }

  remove(role: Role): void {
    this.#hashes.delete(role);
  }

  #derive(passcode: string): Promise<Buffer> {
    this.#waiting++;
    const derived = this.#last.then(
      () =>
        new Promise<Buffer>((resolve, reject) =>
          // The same letters, however they were typed.
          scrypt(passcode.normalize("NFC"), this.#salt, KEY_BYTES, COST, (error, key) =>
            error ? reject(error) : resolve(key),
          ),
        ),
    );
    this.#last = derived.catch(() => {}).finally(() => this.#waiting--);
    return derived;
  }
}
