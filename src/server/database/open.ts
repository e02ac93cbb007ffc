/** Opens the SQLite database: write-ahead log, foreign keys, and the migrations it lacks. */
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { QueryTypes, Sequelize } from "sequelize";
import { MIGRATIONS } from "./migrations.ts";

export async function openDatabase(folder: string, file: string): Promise<Sequelize> {
  mkdirSync(folder, { recursive: true });
  const database = new Sequelize({
    dialect: "sqlite",
    storage: join(folder, file),
    logging: false,
    // One connection: SQLite has one writer, and the pragmas below belong to a connection.
    pool: { max: 1, min: 1, idle: 2 ** 31 - 1 },
    retry: { max: 0 },
  });
  await database.query("PRAGMA journal_mode = WAL");
  await database.query("PRAGMA synchronous = NORMAL");
  await database.query("PRAGMA foreign_keys = ON");
  await migrate(database);
  return database;
}

export class NewerDatabase extends Error {}

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
