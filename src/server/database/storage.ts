/**
 * The file that the show is stored in, and what becomes of the show when the disk does not take it: it is told why, a copy
 * goes where there is room, and once the folder is back everything is written anew.
 */
import { mkdtempSync, statfsSync, statSync, writeFileSync } from "node:fs";
import { homedir, tmpdir } from "node:os";
import { join } from "node:path";
import type { Sequelize } from "sequelize";
import type { StorageFault } from "../../core/format/problem.ts";
import { openDatabase } from "./open.ts";

export class Storage {
  readonly folder: string;
  readonly name: string;
  #database: Sequelize;
  #inode: number;
  #temporary: string | null = null;

  private constructor(folder: string, name: string, database: Sequelize) {
    this.folder = folder;
    this.name = name;
    this.#database = database;
    this.#inode = this.#inodeNow();
  }

  static async open(folder: string, name: string): Promise<Storage> {
    return new Storage(folder, name, await openDatabase(folder, `${name}.sqlite`));
  }

  get database(): Sequelize {
    return this.#database;
  }

  /** The file that is open is no longer the one in the folder: what is written to it is lost. */
  get isGone(): boolean {
    return this.#inodeNow() !== this.#inode;
  }

  /** Opens the file in the folder anew, where there is one, or makes it. */
  async reopen(): Promise<void> {
    await this.#database.close().catch(() => {});
    this.#database = await openDatabase(this.folder, `${this.name}.sqlite`);
    this.#inode = this.#inodeNow();
  }

  /** Writes a document where there is room; answers where, or null. */
  keepCopy(document: string): string | null {
    for (const folder of [() => this.folder, homedir, () => this.#ownTemporary()]) {
      try {
        const path = join(folder(), "velvet-hinge-emergency.show.json");
        writeFileSync(path, document, { mode: 0o600 });
        return path;
      } catch {
        // The next place may have room.
      }
    }
    return null;
  }

  /** A folder of our own, because anybody may have laid a link into the common one. */
  #ownTemporary(): string {
    this.#temporary ??= mkdtempSync(join(tmpdir(), "velvet-hinge-"));
    return this.#temporary;
  }

  close(): Promise<void> {
    return this.#database.close();
  }

  #inodeNow(): number {
    try {
      return statSync(join(this.folder, `${this.name}.sqlite`)).ino;
    } catch {
      return -1;
    }
  }
}

/** True for what a database or the system says; anything else is a fault of ours, and must not look like one of theirs. */
export function isStorageError(error: unknown): boolean {
  const { code, original } = error as { code?: unknown; original?: { code?: unknown } };
  return typeof (original?.code ?? code) === "string";
}

/** Less room than this, in bytes, is none: SQLite then says no more than that something failed. */
const NO_ROOM = 64 * 1024;

/** Why the disk with this folder did not take something, by the code of SQLite or of the system. */
export function storageFault(error: unknown, folder?: string): StorageFault {
  const fault = faultByCode(error);
  return fault === "failed" && folder !== undefined && isFull(folder) ? "full" : fault;
}

function isFull(folder: string): boolean {
  try {
    const { bavail, bsize } = statfsSync(folder);
    return bavail * bsize < NO_ROOM;
  } catch {
    return false; // it is gone, or cannot be asked
  }
}

function faultByCode(error: unknown): StorageFault {
  const { code, original } = error as { code?: string; original?: { code?: string } };
  switch (original?.code ?? code) {
    case "SQLITE_FULL":
    case "ENOSPC":
    case "EDQUOT":
      return "full";
    case "SQLITE_CANTOPEN":
    case "ENOENT":
    case "ENOTDIR":
      return "gone";
    case "SQLITE_READONLY":
    case "SQLITE_PERM":
    case "EROFS":
    case "EACCES":
    case "EPERM":
      return "read-only";
    case "SQLITE_CORRUPT":
    case "SQLITE_NOTADB":
      return "damaged";
    default:
      return "failed";
  }
}
