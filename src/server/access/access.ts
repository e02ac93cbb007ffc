/**
 * Who is asking, and what they may do. Whoever sits at this computer may do all; from elsewhere one comes in by the passcode
 * of a role, or by a pairing that somebody with the role “edit” made for one device, once.
 */
import type { IncomingMessage } from "node:http";
import { serialize as cookie, parse as parseCookies } from "cookie";
import type { Problem } from "../../core/format/problem.ts";
import { ROLES, type Role } from "../../core/format/roles.ts";
import type { AccessState } from "../../core/live/access-state.ts";
import { type AccessModels, defineAccessModels } from "../database/models.ts";
import { isStorageError, type Storage, storageFault } from "../database/storage.ts";
import type { Log } from "../log.ts";
import { LEAST_CHARS, MOST_CHARS, Passcodes } from "./passcodes.ts";
import { IDLE_DAYS, type Session, Sessions } from "./sessions.ts";
import { Tries } from "./tries.ts";
import { AT_THIS_COMPUTER, type Who } from "./who.ts";

export interface AccessSettings {
  readonly log: Log;
  readonly port: number;
  readonly isSecure: boolean;
  /** Where others reach this computer; empty = only itself does. */
  waysIn(): string[];
  /** A session is over: what it has open is closed. */
  ended(id: string): void;
}

/** Let in, with the cookie that says so from now on; or refused. */
export type Entered = { ok: true; role: Role; cookie: string } | { ok: false; problem: Problem; status: 401 | 429 };

export class Access {
  readonly #settings: AccessSettings;
  readonly #models: () => AccessModels;
  readonly #passcodes: Passcodes;
  readonly #sessions: Sessions;
  readonly #tries = new Tries();
  readonly #cookieName: string;

  private constructor(
    settings: AccessSettings,
    models: () => AccessModels,
    passcodes: Passcodes,
    stored: readonly Session[],
  ) {
    this.#settings = settings;
    this.#models = models;
    this.#passcodes = passcodes;
    const write = (what: string, done: Promise<unknown>) =>
      void done.catch((error: Error) =>
        settings.log.write("error", "session-not-stored", { what, reason: error.message }),
      );
    this.#sessions = new Sessions(
      stored,
      {
        keep: (s) => write("begin", models().sessions.create({ ...s })),
        seen: (s) => write("seen", models().sessions.update({ seenAtMs: s.seenAtMs }, { where: { id: s.id } })),
        forget: (s) => write("end", models().sessions.destroy({ where: { id: s.id } })),
      },
      (id) => settings.ended(id),
    );
    // Cookies know no ports: two programs on one computer must not take each other's.
    this.#cookieName = `${settings.isSecure ? "__Host-" : ""}velvet-hinge-${settings.port}`;
  }

  static async open(storage: Storage, settings: AccessSettings): Promise<Access> {
    let known: { database: unknown; models: AccessModels } | null = null;
    // The file is opened anew when its folder was gone.
    const models = () => {
      if (known?.database !== storage.database)
        known = { database: storage.database, models: defineAccessModels(storage.database) };
      return known.models;
    };
    const isRole = (text: string): text is Role => (ROLES as readonly string[]).includes(text);
    const codes = (await models().passcodes.findAll()).flatMap(({ role, salt, hash }) =>
      isRole(role) ? [{ role, salt, hash }] : [],
    );
    const sessions = (await models().sessions.findAll()).flatMap((row) => {
      const { id, tokenHash, role, device, address, madeAtMs, seenAtMs } = row;
      return isRole(role) ? [{ id, tokenHash, role, device, address, madeAtMs, seenAtMs }] : [];
    });
    return new Access(settings, models, new Passcodes(codes), sessions);
  }

  get hasPasscode(): boolean {
    return this.#passcodes.roles.includes("edit");
  }

  async isPasscodeOf(role: Role, passcode: string): Promise<boolean> {
    return (await this.#passcodes.roleOf(passcode)) === role;
  }

  /** Who asks; null = somebody from elsewhere who has not been let in. `isHere`: at this computer itself. */
  who(request: IncomingMessage, isHere: boolean): Who | null {
    if (isHere) return AT_THIS_COMPUTER;
    const token = parseCookies(request.headers.cookie ?? "")[this.#cookieName];
    const session = token ? this.#sessions.find(token, Date.now()) : null;
    return session && { role: session.role, session: session.id };
  }

  async enter(passcode: string, device: string, address: string): Promise<Entered> {
    const nowMs = Date.now();
    const waitMs = this.#passcodes.isBusy ? 2000 : this.#tries.waitMs(address, nowMs);
    if (waitMs > 0) return this.#refuse({ code: "too-many-tries", path: [], waitS: Math.ceil(waitMs / 1000) }, address);
    this.#tries.begin(address, nowMs);
    const role = await this.#passcodes.roleOf(passcode.slice(0, MOST_CHARS + 1));
    if (role === null) return this.#refuse({ code: "wrong-passcode", path: [] }, address);
    this.#tries.succeeded(address, Date.now());
    return this.#begin(role, device, address);
  }

  /** Lets in the device that a pairing was made for. */
  enterPaired(token: string, device: string, address: string): Entered {
    const role = this.#sessions.take(token, Date.now());
    if (role === null) return this.#refuse({ code: "pairing-over", path: [] }, address);
    return this.#begin(role, device, address);
  }

  /** Makes a way in for one device, once. */
  pair(role: Role): { token: string; untilMs: number; waysIn: readonly string[] } {
    return { ...this.#sessions.offer(role, Date.now()), waysIn: this.#settings.waysIn() };
  }

  /** Gives a role a passcode, or takes it away with null; who came in by the old one is out. */
  async setPasscode(role: Role, passcode: string | null, by: Who): Promise<Problem | null> {
    try {
      return await this.#setPasscode(role, passcode, by);
    } catch (error) {
      if (!isStorageError(error)) throw error;
      return { code: "not-saved", path: [], reason: storageFault(error), copy: null };
    }
  }

  async #setPasscode(role: Role, passcode: string | null, by: Who): Promise<Problem | null> {
    if (passcode === null) {
      if (role === "edit" && this.#settings.waysIn().length > 0) return { code: "passcode-needed", path: [] };
      await this.#models().passcodes.destroy({ where: { role } });
      this.#passcodes.remove(role);
    } else {
      const chars = [...passcode].length;
      if (chars < LEAST_CHARS || chars > MOST_CHARS)
        return { code: "passcode-length", path: [], least: LEAST_CHARS, most: MOST_CHARS };
      const made = await this.#passcodes.make(role, passcode);
      if ("takenBy" in made) return { code: "passcode-taken", path: [], role: made.takenBy };
      await this.#models().passcodes.upsert(made);
      this.#passcodes.set(made);
    }
    this.#settings.log.write("info", "passcode-changed", { role, removed: passcode === null });
    this.#sessions.endAll(role, by.session);
    return null;
  }

  endSession(id: string): boolean {
    return this.#sessions.end(id);
  }

  /** The cookie that takes the session away from a browser. */
  get cookieThatEnds(): string {
    return this.#cookie("", 0);
  }

  state(by: Who): AccessState {
    const sessions = this.#sessions.list(Date.now()).map(({ tokenHash: _, ...s }) => ({
      ...s,
      isOwn: s.id === by.session,
    }));
    return {
      waysIn: this.#settings.waysIn(),
      isSecure: this.#settings.isSecure,
      passcodes: this.#passcodes.roles,
      sessions,
    };
  }

  #begin(role: Role, device: string, address: string): Entered {
    const { token, session } = this.#sessions.begin(role, device, address, Date.now());
    this.#settings.log.write("info", "let-in", { role, device, address, session: session.id });
    return { ok: true, role, cookie: this.#cookie(token, IDLE_DAYS * 24 * 60 * 60) };
  }

  #refuse(problem: Problem, address: string): Entered {
    this.#settings.log.write("warn", "not-let-in", { address, why: problem.code });
    return { ok: false, problem, status: problem.code === "too-many-tries" ? 429 : 401 };
  }

  #cookie(value: string, maxAge: number): string {
    return cookie(this.#cookieName, value, {
      httpOnly: true,
      sameSite: "strict",
      secure: this.#settings.isSecure,
      path: "/",
      maxAge,
    });
  }
}

/** What a device is, as its browser says, for whoever gave it no name. */
export function deviceOf(agent: string): string {
  if (/iPad|Tablet|Android(?!.*Mobile)/.test(agent)) return "a tablet";
  if (/Mobile|iPhone/.test(agent)) return "a phone";
  return /Windows|Macintosh|X11|CrOS|Linux/.test(agent) ? "a computer" : "a program";
}
