import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, test } from "vitest";
import { mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import { Backups, faultOf, listBackups, madeAt, makeBackup, outlived, showIn } from "./backups.ts";
import { DatabaseTaken, lockDatabase } from "./lock.ts";
import { mendDatabase } from "./open.ts";
import { ShowStore } from "./show-store.ts";
import { Storage } from "./storage.ts";

const DAY_MS = 86_400_000;
const NOON = Date.UTC(2026, 10, 28, 12);
let folder: string;
let storage: Storage;
let store: ShowStore;

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "velvet-backups-"));
  storage = await Storage.open(folder, "show");
  store = await ShowStore.open(storage, profiles, () => showWith([mapping("pad-1", toggle(1))]));
});
afterEach(async () => {
  await storage.close();
  rmSync(folder, { recursive: true, force: true });
});

const backup = (atMs: number) => makeBackup(storage.database, folder, "show", atMs);

describe("backups", () => {
  test("hold the show as it was, and are listed with their time, the newest first", async () => {
    await store.edit({ kind: "rename-show", name: "One" });
    const first = await backup(NOON);
    await store.edit({ kind: "rename-show", name: "Two" });
    await backup(NOON + 3_600_000);
    expect(listBackups(folder, "show").map((b) => b.madeAtMs)).toEqual([NOON + 3_600_000, NOON]);
    expect(JSON.parse((await showIn(folder, first))!.document)).toMatchObject({ name: "One" });
    expect(listBackups(folder, "other")).toEqual([]);
  });

  test("their names are read as they are written, and nothing else is one", () => {
    expect(madeAt("show-2026-11-28T12-00-00.sqlite", "show")).toBe(NOON);
    for (const file of ["show.sqlite", "other-2026-11-28T12-00-00.sqlite", "show-2026-11-28T12-00-00.sqlite.new"])
      expect(madeAt(file, "show")).toBeNull();
  });

  test("of many the newest stay, and of each day the newest for a month", () => {
    // Forty days with a backup each six hours.
    const times = Array.from({ length: 160 }, (_, i) => NOON - i * (DAY_MS / 4));
    const old = new Set(outlived(times, NOON));
    const kept = times.filter((t) => !old.has(t));
    expect(kept.slice(0, 24)).toEqual(times.slice(0, 24));
    const days = kept.map((t) => Math.floor(t / DAY_MS));
    expect(new Set(days).size).toBe(31);
    expect(kept.every((t) => NOON - t <= 30 * DAY_MS)).toBe(true);
    expect(days.slice(24)).toEqual([...new Set(days.slice(24))]);
  });

  test("one that cannot be made leaves nothing behind, and says so", async () => {
    const faults: string[] = [];
    writeFileSync(join(folder, "backups"), "a file where the folder should be");
    const backups = new Backups(
      () => backup(NOON),
      (error) => faults.push(error.message),
    );
    await backups.stop();
    expect(faults).toHaveLength(1);
    expect(readdirSync(folder).filter((f) => f.includes(".new"))).toEqual([]);
  });
});

describe("a database that is damaged", () => {
  const damage = [
    ["is no database", (path: string) => writeFileSync(path, "this is no database at all ".repeat(100))],
    ["was cut short", (path: string) => truncateSync(path, 5000)],
    [
      "has a page that was written over",
      (path: string) => {
        const bytes = readFileSync(path);
        bytes.fill(0xff, 4096, 8192);
        writeFileSync(path, bytes);
      },
    ],
  ] as const;

  test.each(damage)("and %s is kept aside, and the newest good backup takes its place", async (_what, spoil) => {
    await store.edit({ kind: "rename-show", name: "Good" });
    await backup(NOON);
    await backup(NOON + 1000);
    await storage.close();
    // The newest backup is spoilt too: the one before is taken.
    spoil(join(folder, "backups", listBackups(folder, "show")[0]!.file));
    spoil(join(folder, "show.sqlite"));
    const sentence = await mendDatabase(folder, "show", new Date(NOON));
    expect(sentence).toContain("show.damaged-2026-11-28T12-00-00.sqlite");
    expect(sentence).toContain("show-2026-11-28T12-00-00.sqlite");
    expect(existsSync(join(folder, "show.damaged-2026-11-28T12-00-00.sqlite"))).toBe(true);
    storage = await Storage.open(folder, "show");
    expect((await ShowStore.open(storage, profiles, () => showWith([]))).show.name).toBe("Good");
  });

  test("without a backup begins a new show, and the damaged one is kept", async () => {
    await storage.close();
    damage[0][1](join(folder, "show.sqlite"));
    expect(await mendDatabase(folder, "show", new Date(NOON))).toContain("a new show was begun");
    storage = await Storage.open(folder, "show");
  });

  test("one that cannot be opened is not moved: a disk in trouble is no damage", async () => {
    const elsewhere = mkdtempSync(join(tmpdir(), "velvet-locked-"));
    mkdirSync(join(elsewhere, "show.sqlite")); // the system says no, as it does on a full or a read-only disk
    await expect(mendDatabase(elsewhere, "show", new Date(NOON))).rejects.toMatchObject({ code: "SQLITE_CANTOPEN" });
    expect(readdirSync(elsewhere)).toEqual(["show.sqlite"]);
    rmSync(elsewhere, { recursive: true });
  });

  test("one that is in order, or was left by a program that was killed, is no such", async () => {
    await store.edit({ kind: "rename-show", name: "In the log" });
    // As a kill leaves it: the edit stands in the write-ahead log alone.
    const left = mkdtempSync(join(tmpdir(), "velvet-killed-"));
    for (const file of readdirSync(folder))
      if (file.startsWith("show.sqlite")) copyFileSync(join(folder, file), join(left, file));
    expect(await mendDatabase(left, "show", new Date(NOON))).toBeNull();
    const killed = await Storage.open(left, "show");
    expect((await ShowStore.open(killed, profiles, () => showWith([]))).show.name).toBe("In the log");
    await killed.close();
    rmSync(left, { recursive: true });
    expect(await mendDatabase(folder, "none", new Date(NOON))).toBeNull();
    expect(await faultOf(join(folder, "none.sqlite"))).not.toBeNull();
  });
});

describe("the lock of a database", () => {
  test("keeps a second program out and says who has it; it is free once that one is gone", async () => {
    const lock = await lockDatabase(folder, "show", { pid: 4711, port: 4780 });
    await expect(lockDatabase(folder, "show", { pid: 1, port: 1 })).rejects.toThrow(/process 4711, on port 4780/);
    await expect(lockDatabase(folder, "show", { pid: 1, port: 1 })).rejects.toThrow(DatabaseTaken);
    const other = await lockDatabase(folder, "demo", { pid: 1, port: 1 }); // another database of the folder
    await lock.free();
    await (await lockDatabase(folder, "show", { pid: 2, port: 2 })).free();
    await other.free();
  });
});
