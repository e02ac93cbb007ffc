/** Who has been let in: a session is a random token in a cookie, of which only the hash is kept here. */
import { createHash, randomBytes } from "node:crypto";
import type { Role } from "../../core/format/roles.ts";

const DAY_MS = 24 * 60 * 60_000;
/** A session that nobody used for so long is over. */
export const IDLE_DAYS = 30;
/** More are not kept: the one that was not used longest makes room. */
const MOST_SESSIONS = 200;
/** How far apart the times of use are written down. */
const SEEN_EVERY_MS = 10 * 60_000;
/** How long a pairing waits for its device. */
export const PAIRING_MS = 10 * 60_000;
const MOST_PAIRINGS = 50;

export interface Session {
  /** What people call it by where they end it; it lets nobody in. */
  readonly id: string;
  readonly tokenHash: string;
  readonly role: Role;
  readonly device: string;
  readonly address: string;
  readonly madeAtMs: number;
  seenAtMs: number;
}

/** Where sessions are kept when the program is not running. A disk that is full must not keep anybody out. */
export interface SessionKeeper {
  keep(session: Session): void;
  seen(session: Session): void;
  forget(session: Session): void;
}

export function tokenHash(token: string): string {
  return createHash("sha256").update(token).digest("base64url");
}

export class Sessions {
  readonly #byHash = new Map<string, Session>();
  readonly #writtenMs = new Map<string, number>();
  readonly #pairings = new Map<string, { role: Role; untilMs: number }>();
  readonly #keeper: SessionKeeper;
  readonly #ended: (id: string) => void;

  constructor(stored: readonly Session[], keeper: SessionKeeper, ended: (id: string) => void) {
    for (const session of stored) this.#byHash.set(session.tokenHash, session);
    this.#keeper = keeper;
    this.#ended = ended;
  }

  /** The newest use first. */
  list(nowMs: number): readonly Session[] {
    this.#endOld(nowMs);
    return [...this.#byHash.values()].sort((a, b) => b.seenAtMs - a.seenAtMs);
  }

  /** The session of a token, and it counts as used now. */
  find(token: string, nowMs: number): Session | null {
    const session = this.#byHash.get(tokenHash(token));
    if (!session) return null;
    if (nowMs - session.seenAtMs > IDLE_DAYS * DAY_MS) {
      this.#end(session);
      return null;
    }
    session.seenAtMs = Math.max(session.seenAtMs, nowMs);
    if (nowMs - (this.#writtenMs.get(session.id) ?? 0) > SEEN_EVERY_MS) {
      this.#writtenMs.set(session.id, nowMs);
      this.#keeper.seen(session);
    }
    return session;
  }

  /** Begins a session, and answers its token: the only time that it is known here. */
  begin(role: Role, device: string, address: string, nowMs: number): { token: string; session: Session } {
    const token = randomBytes(32).toString("base64url");
    const id = randomBytes(6).toString("hex");
    const session: Session = {
      id,
      tokenHash: tokenHash(token),
      role,
      device,
      address,
      madeAtMs: nowMs,
      seenAtMs: nowMs,
    };
    for (const oldest of this.list(nowMs).slice(MOST_SESSIONS - 1)) this.#end(oldest);
    this.#byHash.set(session.tokenHash, session);
    this.#writtenMs.set(id, nowMs);
    this.#keeper.keep(session);
    return { token, session };
  }

  /** False: there is none of that id any more. */
  end(id: string): boolean {
    const session = [...this.#byHash.values()].find((s) => s.id === id);
    if (session) this.#end(session);
    return session !== undefined;
  }

  /** Ends all sessions of a role but one, and the ways in that wait for a device. */
  endAll(role: Role, but: string | null): void {
    for (const [hash, offered] of this.#pairings) if (offered.role === role) this.#pairings.delete(hash);
    for (const session of [...this.#byHash.values()])
      if (session.role === role && session.id !== but) this.#end(session);
  }

  /** A way in for one device, once. */
  offer(role: Role, nowMs: number): { token: string; untilMs: number } {
    for (const [hash, { untilMs }] of this.#pairings) if (untilMs < nowMs) this.#pairings.delete(hash);
    const oldest = this.#pairings.keys().next().value;
    if (this.#pairings.size >= MOST_PAIRINGS && oldest !== undefined) this.#pairings.delete(oldest);
    const token = randomBytes(16).toString("base64url");
    const untilMs = nowMs + PAIRING_MS;
    this.#pairings.set(tokenHash(token), { role, untilMs });
    return { token, untilMs };
  }

  /** The role that was offered with this token, which is over with it; null = it was used, or is too old. */
  take(token: string, nowMs: number): Role | null {
    const hash = tokenHash(token);
    const offered = this.#pairings.get(hash);
    this.#pairings.delete(hash);
    return offered && offered.untilMs >= nowMs ? offered.role : null;
  }

  #endOld(nowMs: number): void {
    for (const session of [...this.#byHash.values()])
      if (nowMs - session.seenAtMs > IDLE_DAYS * DAY_MS) this.#end(session);
  }

  #end(session: Session): void {
    this.#byHash.delete(session.tokenHash);
    this.#writtenMs.delete(session.id);
    this.#keeper.forget(session);
    this.#ended(session.id);
  }
}
