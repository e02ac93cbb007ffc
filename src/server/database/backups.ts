/**
 * Backups of a database: whole copies that SQLite makes while it is used, each looked at before it counts. On every
 * start, and every hour in which something was edited; of each day the newest is kept for a month.
 */
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from "node:fs";
import { join } from "node:path";
import type { Sequelize } from "sequelize";
import sqlite3 from "sqlite3";

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** The newest backups are all kept, up to this many; older ones one for each day, for so many days. */
const NEWEST = 24;
const DAYS = 30;
/** A name tells when it was made, in universal time. */
const NAME = /^(.+)-(\d{4}-\d{2}-\d{2}T\d{2}-\d{2}-\d{2})\.sqlite$/;

export interface Backup {
  readonly file: string;
  readonly madeAtMs: number;
  readonly bytes: number;
}

export interface StoredShow {
  readonly document: string;
  readonly revision: number;
}

function folderOf(dataFolder: string): string {
  return join(dataFolder, "backups");
}

function stampOf(atMs: number): string {
  return new Date(atMs).toISOString().slice(0, 19).replaceAll(":", "-");
}

/** When a backup of this database was made, by its name; null = it is none. */
export function madeAt(file: string, name: string): number | null {
  const match = NAME.exec(file);
  if (match?.[1] !== name) return null;
  const [day, time] = match[2]!.split("T") as [string, string];
  return Date.parse(`${day}T${time.replaceAll("-", ":")}Z`);
}

/** The backups of a database, the newest first. */
export function listBackups(dataFolder: string, name: string): Backup[] {
  const folder = folderOf(dataFolder);
  if (!existsSync(folder)) return [];
  return readdirSync(folder)
    .flatMap((file): Backup[] => {
      const madeAtMs = madeAt(file, name);
      return madeAtMs === null ? [] : [{ file, madeAtMs, bytes: statSync(join(folder, file)).size }];
    })
    .sort((a, b) => b.madeAtMs - a.madeAtMs);
}

/** Which backups are no longer kept: `times` in ms, the newest first. */
export function outlived(times: readonly number[], nowMs: number): number[] {
  const days = new Set<number>();
  return times.filter((atMs, i) => {
    const day = Math.floor(atMs / DAY_MS);
    const isFirstOfDay = !days.has(day);
    days.add(day);
    return i >= NEWEST && !(isFirstOfDay && nowMs - atMs <= DAYS * DAY_MS);
  });
}

/** Makes a backup and looks whether it is good; answers its file. Rejects where it could not be made. */
export async function makeBackup(
  database: Sequelize,
  dataFolder: string,
  name: string,
  nowMs: number,
): Promise<string> {
  const folder = folderOf(dataFolder);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const file = `${name}-${stampOf(nowMs)}.sqlite`;
  const path = join(folder, file);
  const unfinished = `${path}.new`;
  rmSync(unfinished, { force: true });
  try {
    await database.query("VACUUM INTO $1", { bind: [unfinished] });
    const fault = await faultOf(unfinished);
    if (fault !== null) throw new Error(`the copy is damaged: ${fault}`);
    renameSync(unfinished, path);
  } catch (error) {
    rmSync(unfinished, { force: true });
    throw error;
  }
  const all = listBackups(dataFolder, name);
  const old = new Set(
    outlived(
      all.map((b) => b.madeAtMs),
      nowMs,
    ),
  );
  for (const backup of all) if (old.has(backup.madeAtMs)) rmSync(join(folder, backup.file), { force: true });
  return file;
}

/** What SQLite says of a file that is cut short, or is no database. */
const DAMAGED = new Set(["SQLITE_CORRUPT", "SQLITE_NOTADB"]);

/** What is damaged in a database file; null = nothing. Rejects where it cannot be opened, which says nothing of what is in it. */
export async function damageOf(path: string, mode = sqlite3.OPEN_READONLY): Promise<string | null> {
  try {
    const rows = await ask<{ quick_check: string }>(path, "PRAGMA quick_check(1)", mode);
    const text = rows[0]?.quick_check ?? "it does not answer";
    return text === "ok" ? null : text;
  } catch (error) {
    if (DAMAGED.has((error as NodeJS.ErrnoException).code ?? "")) return (error as Error).message;
    throw error;
  }
}

/** Why a backup is not good; null = it is. */
export function faultOf(path: string): Promise<string | null> {
  return damageOf(path).catch((error: Error) => error.message);
}

/** The show in a backup, as it was stored; null = there is none in it. */
export async function showIn(dataFolder: string, file: string): Promise<StoredShow | null> {
  const path = join(folderOf(dataFolder), file);
  if ((await faultOf(path)) !== null) return null;
  const open = (order: string) => ask<StoredShow>(path, `SELECT document, revision FROM shows ${order} LIMIT 1`);
  // A backup of the first programs has one show, and does not say when it was opened.
  const rows = await open("WHERE deleted_at_ms IS NULL ORDER BY opened_at_ms DESC, id DESC")
    .catch(() => open("ORDER BY id"))
    .catch(() => []);
  return rows[0] ?? null;
}

function ask<T>(path: string, sql: string, mode = sqlite3.OPEN_READONLY): Promise<T[]> {
  return new Promise((resolve, reject) => {
    const database = new sqlite3.Database(path, mode, (error) => {
      if (error) {
        reject(error);
        return;
      }
      database.all<T>(sql, (failed, rows) => database.close(() => (failed ? reject(failed) : resolve(rows))));
    });
  });
}

/** Makes a backup now, and every hour in which something was edited. */
export class Backups {
  readonly #make: () => Promise<unknown>;
  readonly #failed: (error: Error) => void;
  #wasEdited = false;
  #isMaking: Promise<void> | null = null;
  readonly #timer = setInterval(() => this.#hour(), HOUR_MS);

  constructor(make: () => Promise<unknown>, failed: (error: Error) => void) {
    this.#make = make;
    this.#failed = failed;
    this.#timer.unref();
    this.now();
  }

  edited(): void {
    this.#wasEdited = true;
  }

  now(): void {
    this.#wasEdited = false;
    this.#isMaking ??= this.#make().then(
      () => {
        this.#isMaking = null;
      },
      (error: Error) => {
        this.#isMaking = null;
        this.#failed(error);
      },
    );
  }

  /** To be called before the database is closed. */
  async stop(): Promise<void> {
    clearInterval(this.#timer);
    await this.#isMaking;
  }

  #hour(): void {
    if (this.#wasEdited) this.now();
  }
}
