/**
 * The passwords of desks stand apart from the show, in a file of their own that only the owner of the data may read. They
 * come in with an edit or a document and never go out again, but to the engine, which signs in with them. Each belongs to
 * one address and one user: whoever leads a desk elsewhere does not get to see what it was let in with.
 */
import { readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { z } from "zod";
import { Login, type Show } from "../core/format/show.ts";

/** More than any show has desks; the oldest go first. */
const MOST = 200;
const File = z.record(z.string(), z.string());

interface Address {
  readonly host: string;
  readonly port: number;
  readonly login?: Login | undefined;
}

function keyOf({ host, port, login }: Address): string {
  return JSON.stringify([host.toLowerCase(), port, login?.user ?? ""]);
}

export class Passwords {
  readonly #file: string;
  #known: Map<string, string>;

  /** Reads the file; one that cannot be read is as none, which is told. */
  constructor(file: string, tell: (error: Error) => void) {
    this.#file = file;
    this.#known = new Map();
    try {
      this.#known = new Map(Object.entries(File.parse(JSON.parse(readFileSync(file, "utf8")))));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "ENOENT") tell(error as Error);
    }
  }

  /** By the id of its desk, for the engine. */
  of({ desks }: Show): Record<string, string> {
    return Object.fromEntries(
      desks.flatMap((desk) => {
        const password = desk.login ? this.#known.get(keyOf(desk)) : undefined;
        return password === undefined ? [] : [[desk.id, password]];
      }),
    );
  }

  /**
   * An edit or a show without the passwords in it, which are kept here. Throws what the disk says where they cannot be
   * kept; then none of them is.
   */
  takenFrom<T>(value: T): T {
    const found = new Map<string, string>();
    const without = withoutPasswords(value, found) as T;
    if (found.size > 0) this.#keep(found);
    return without;
  }

  #keep(found: ReadonlyMap<string, string>): void {
    const now = new Map(this.#known);
    for (const [key, password] of found) {
      now.delete(key);
      if (password !== "") now.set(key, password);
    }
    const kept = [...now].slice(-MOST);
    const half = `${this.#file}.new`;
    try {
      writeFileSync(half, JSON.stringify(Object.fromEntries(kept), null, 2), { mode: 0o600, flush: true });
      renameSync(half, this.#file);
    } catch (error) {
      rmSync(half, { force: true });
      throw error;
    }
    this.#known = new Map(kept);
  }
}

function withoutPasswords(value: unknown, found: Map<string, string>): unknown {
  if (Array.isArray(value)) {
    const now = value.map((item) => withoutPasswords(item, found));
    return now.some((item, i) => item !== value[i]) ? now : value;
  }
  if (typeof value !== "object" || value === null) return value;
  let now = value as Record<string, unknown>;
  for (const [key, part] of Object.entries(now)) {
    const login = key === "login" ? Login.safeParse(part) : null;
    if (!login?.success) {
      const without = withoutPasswords(part, found);
      if (without !== part) now = { ...now, [key]: without };
    } else if (login.data.password !== undefined) {
      const { user, password } = login.data;
      found.set(keyOf({ ...(now as unknown as Address), login: { user } }), password);
      now = { ...now, login: { user } };
    }
  }
  return now;
}
