/**
 * One program to a database. The lock is SQLite's own, exclusive, on a file of its own: it is free the moment its holder
 * is gone, however it went, and nobody can take it from one that is only busy. Beside it stands who has it.
 */
import { readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import sqlite3 from "sqlite3";

export interface Holder {
  readonly pid: number;
  readonly port: number;
}

/** Somebody else has the database. */
export class DatabaseTaken extends Error {}

export interface DatabaseLock {
  free(): Promise<void>;
}

/** A database that nothing refers to is closed by the garbage collector, and its lock is free: so they are kept here. */
const held = new Set<sqlite3.Database>();

/** Takes the lock of a database, or rejects with a sentence that says who has it. */
export function lockDatabase(folder: string, name: string, holder: Holder): Promise<DatabaseLock> {
  const file = join(folder, `${name}.lock`);
  const note = join(folder, `${name}.lock.json`);
  return new Promise((resolve, reject) => {
    const database = new sqlite3.Database(file, (error) => error && reject(error));
    held.add(database);
    database.configure("busyTimeout", 0);
    const take =
      "PRAGMA locking_mode = EXCLUSIVE; BEGIN EXCLUSIVE; CREATE TABLE IF NOT EXISTS holder (pid INTEGER); COMMIT;";
    database.exec(take, (error) => {
      if (error) {
        held.delete(database);
        database.close(() => reject(taken(error, folder, note)));
        return;
      }
      try {
        writeFileSync(note, JSON.stringify(holder), { mode: 0o600 });
      } catch {
        // On a full disk the lock holds all the same; the other one is only not told who has it.
      }
      resolve({
        free: () =>
          new Promise((done) => {
            rmSync(note, { force: true });
            held.delete(database);
            database.close(() => done());
          }),
      });
    });
  });
}

function taken(error: Error, folder: string, note: string): Error {
  if ((error as NodeJS.ErrnoException).code !== "SQLITE_BUSY") return error;
  let who = "Another Velvet Hinge";
  try {
    const { pid, port } = JSON.parse(readFileSync(note, "utf8")) as Holder;
    who = `Another Velvet Hinge (process ${Number(pid)}, on port ${Number(port)})`;
  } catch {
    // It has not written down yet who it is.
  }
  return new DatabaseTaken(
    `${who} works with the data in ${folder}. Use that one, or choose another folder: --data FOLDER`,
  );
}
