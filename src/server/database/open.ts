/**
 * Opens the SQLite database: write-ahead log, every edit on the disk before it is answered, foreign keys, and the
 * migrations it lacks. A file that is damaged is kept aside by name, and the newest good backup takes its place.
 */
import { copyFileSync, existsSync, mkdirSync, renameSync } from "node:fs";
import { join } from "node:path";
import { QueryTypes, Sequelize } from "sequelize";
import sqlite3 from "sqlite3";
import { damageOf, faultOf, listBackups } from "./backups.ts";
import { MIGRATIONS } from "./migrations.ts";

export async function openDatabase(folder: string, file: string): Promise<Sequelize> {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const database = new Sequelize({
    dialect: "sqlite",
    storage: join(folder, file),
    logging: false,
    // One connection: SQLite has one writer, and the pragmas below belong to a connection.
    pool: { max: 1, min: 1, idle: 2 ** 31 - 1 },
    retry: { max: 0 },
  });
  await database.query("PRAGMA journal_mode = WAL");
  await database.query("PRAGMA synchronous = FULL");
  await database.query("PRAGMA foreign_keys = ON");
  await migrate(database);
  return database;
}

export class NewerDatabase extends Error {}

/**
 * What a damaged file became, in words; null = it is in order, or there is none yet. Rejects where it cannot be looked at
 * (a full disk, a folder that is read-only): then nothing is moved.
 */
export async function mendDatabase(folder: string, name: string, now: Date): Promise<string | null> {
  const path = join(folder, `${name}.sqlite`);
  if (!existsSync(path)) return null;
  // Writable, because what a killed program left in the write-ahead log is taken over as it is opened.
  const fault = await damageOf(path, sqlite3.OPEN_READWRITE);
  if (fault === null) return null;
  const aside = `${name}.damaged-${now.toISOString().slice(0, 19).replaceAll(":", "-")}.sqlite`;
  renameSync(path, join(folder, aside));
  // Its write-ahead log belongs to it, and would spoil the file that takes its place.
  for (const ending of ["-wal", "-shm"])
    if (existsSync(path + ending)) renameSync(path + ending, join(folder, aside + ending));
  const kept = `The stored shows cannot be read (${fault}). They are kept as ${join(folder, aside)}.`;
  for (const backup of listBackups(folder, name)) {
    const from = join(folder, "backups", backup.file);
    if ((await faultOf(from)) !== null) continue;
    copyFileSync(from, path);
    return `${kept} The newest good backup was opened in their place: ${backup.file}.`;
  }
  return `${kept} There is no good backup, so a new show was begun.`;
}

async function migrate(database: Sequelize): Promise<void> {
  await database.query(
    "CREATE TABLE IF NOT EXISTS migrations (number INTEGER PRIMARY KEY, name TEXT NOT NULL, done_at_ms INTEGER NOT NULL)",
  );
  const done = await database.query<{ number: number }>("SELECT number FROM migrations", { type: QueryTypes.SELECT });
  const numbers = new Set(done.map((row) => row.number));
  const newest = MIGRATIONS.at(-1)!.number;
  const beyond = [...numbers].find((n) => n > newest);
  if (beyond !== undefined)
    throw new NewerDatabase(
      `The data were last used by a newer Velvet Hinge (step ${beyond}; this one knows ${newest}). Start that one, or choose another data folder.`,
    );
  for (const migration of MIGRATIONS) {
    if (numbers.has(migration.number)) continue;
    await database.transaction(async (transaction) => {
      await migration.up(database.getQueryInterface(), transaction);
      await database.query("INSERT INTO migrations (number, name, done_at_ms) VALUES (?, ?, ?)", {
        replacements: [migration.number, migration.name, Date.now()],
        transaction,
      });
    });
  }
}
