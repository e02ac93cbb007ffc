import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { QueryTypes, Sequelize } from "sequelize";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import { emptyShow } from "../../core/format/show.ts";
import { MIGRATIONS } from "./migrations.ts";
import { NewerDatabase, openDatabase } from "./open.ts";
import { UnreadableShow } from "./open-show.ts";
import { ShowStore, type StoreResult } from "./show-store.ts";
import { Storage, storageFault } from "./storage.ts";

let folder: string;
let storage: Storage;
let database: Sequelize;
/** Opens the database of this name in the folder. */
async function use(name: string): Promise<void> {
  storage = await Storage.open(folder, name);
  database = storage.database;
}
const first = () => showWith([mapping("pad-1", toggle(1))]);
const open = () => ShowStore.open(storage, profiles, first);

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "velvet-test-"));
  await use("test");
});
afterEach(async () => {
  await storage.close().catch(() => {}); // a test may have closed it
  rmSync(folder, { recursive: true, force: true });
});

/** The label of a step, or why there was none. */
const told = (result: StoreResult) => (result.ok ? result.label : result.problems[0]!.code);

async function reopened(): Promise<ShowStore> {
  await storage.close();
  await use("test");
  return open();
}

describe("the database", () => {
  test("writes ahead and keeps foreign keys", async () => {
    expect(await database.query("PRAGMA journal_mode", { type: QueryTypes.SELECT })).toEqual([{ journal_mode: "wal" }]);
    expect(await database.query("PRAGMA foreign_keys", { type: QueryTypes.SELECT })).toEqual([{ foreign_keys: 1 }]);
  });

  test("that an older version left behind is brought up to date, with its show and history", async () => {
    await storage.close();
    const old = new Sequelize({ dialect: "sqlite", storage: join(folder, "old.sqlite"), logging: false });
    await old.query(
      "CREATE TABLE migrations (number INTEGER PRIMARY KEY, name TEXT NOT NULL, done_at_ms INTEGER NOT NULL)",
    );
    await old.transaction((t) => MIGRATIONS[0]!.up(old.getQueryInterface(), t));
    await old.query("INSERT INTO migrations VALUES (1, 'shows and their revisions', 0)");
    await old.query("INSERT INTO shows (document, revision, saved_at_ms) VALUES (?, 1, 0)", {
      replacements: [JSON.stringify({ ...first(), name: "Second name" })],
    });
    await old.query(
      "INSERT INTO revisions (show_id, number, label, edit, patches, inverse, made_at_ms) VALUES (1, 1, 'name the show', '{}', '[]', ?, 0)",
      { replacements: [JSON.stringify([{ op: "replace", path: ["name"], value: "First name" }])] },
    );
    await old.close();
    await use("old");
    const store = await open();
    expect([store.show.name, store.history.undo]).toEqual(["Second name", "name the show"]);
    expect(told(await store.undo())).toBe("name the show");
    expect(store.show.name).toBe("First name");
  });

  test("that a newer version has used is refused with a sentence, untouched", async () => {
    await database.query("INSERT INTO migrations VALUES (99, 'from the future', 0)");
    await storage.close();
    await expect(openDatabase(folder, "test.sqlite")).rejects.toThrow(NewerDatabase);
    database = new Sequelize({ dialect: "sqlite", storage: join(folder, "test.sqlite"), logging: false });
    expect(await database.query("SELECT COUNT(*) AS n FROM migrations", { type: QueryTypes.SELECT })).toEqual([
      { n: MIGRATIONS.length + 1 },
    ]);
  });

  test("migrations are numbered without gaps, and run once", async () => {
    expect(MIGRATIONS.map((m) => m.number)).toEqual(MIGRATIONS.map((_, i) => i + 1));
    await reopened();
    expect(await database.query("SELECT number FROM migrations", { type: QueryTypes.SELECT })).toHaveLength(
      MIGRATIONS.length,
    );
  });
});

describe("the stored show", () => {
  test("starts with the first show, and comes back after a restart", async () => {
    const store = await open();
    expect(store.show).toEqual(first());
    await store.edit({ kind: "rename-show", name: "Regatta" });
    const again = await reopened();
    expect([again.show.name, again.history.revision, again.history.undo]).toEqual([
      "Regatta",
      1,
      "name the show Regatta",
    ]);
  });

  test("undo and redo walk along the edits, also after a restart", async () => {
    let store = await open();
    for (const name of ["One", "Two", "Three"]) await store.edit({ kind: "rename-show", name });
    expect(told(await store.undo())).toBe("name the show Three");
    store = await reopened();
    expect(told(await store.undo())).toBe("name the show Two");
    expect([store.show.name, store.history.redo]).toEqual(["One", "name the show Two"]);
    expect(told(await store.redo())).toBe("name the show Two");
    expect(told(await store.redo())).toBe("name the show Three");
    expect([told(await store.redo()), store.show.name]).toEqual(["nothing-to-redo", "Three"]);
    for (let n = 0; n < 3; n++) await store.undo();
    expect([told(await store.undo()), store.show]).toEqual(["nothing-to-undo", first()]);
  });

  test("an edit after an undo leaves what was undone, and keeps it readable", async () => {
    const store = await open();
    await store.edit({ kind: "rename-show", name: "One" });
    await store.undo();
    await store.edit({ kind: "rename-show", name: "Other" });
    expect([store.history.redo, told(await store.undo()), told(await store.redo())]).toEqual([
      null,
      "name the show Other",
      "name the show Other",
    ]);
    const all = await database.query("SELECT label, `left` FROM revisions ORDER BY id", { type: QueryTypes.SELECT });
    expect(all).toEqual([
      { label: "name the show One", left: 1 },
      { label: "name the show Other", left: 0 },
    ]);
  });

  test("a refused edit leaves show, history and database alone", async () => {
    const store = await open();
    const refused = await store.edit({ kind: "remove-desk", id: "lights" });
    expect(refused.ok).toBe(false);
    expect(store.history).toMatchObject({ revision: 0, undo: null });
    expect(await database.query("SELECT * FROM revisions", { type: QueryTypes.SELECT })).toEqual([]);
  });

  test("edits of several browsers at once are carried out one after the other, and none is lost", async () => {
    const store = await open();
    const results = await Promise.all(
      Array.from({ length: 20 }, (_, n) => store.edit({ kind: "add-layer", layer: { id: `l-${n}`, name: `L ${n}` } })),
    );
    expect(results.every((r) => r.ok)).toBe(true);
    expect([store.show.layers.length, store.history.revision]).toEqual([22, 20]);
  });

  test("opening another show is an edit like any other", async () => {
    const store = await open();
    await store.replace(emptyShow("Empty"));
    expect(store.show.name).toBe("Empty");
    expect(told(await store.undo())).toBe("open Empty");
    expect(store.show).toEqual(first());
    await store.redo();
    expect(store.show.mappings).toEqual([]);
  });

  test("a stored show that is not valid is told with its faults, and nothing is overwritten", async () => {
    await open();
    await database.query('UPDATE shows SET document = \'{"format":"velvet-hinge/show","version":1}\'');
    await expect(open()).rejects.toThrow(UnreadableShow);
    expect(await database.query("SELECT document FROM shows", { type: QueryTypes.SELECT })).toEqual([
      { document: '{"format":"velvet-hinge/show","version":1}' },
    ]);
  });

  describe("of an older version", () => {
    const old = () => JSON.parse(readFileSync("examples/old/show.1.json", "utf8")) as Record<string, unknown>;

    /** A stored show with one step behind it, recorded in the version of the document. */
    async function stored(document: object, inverse: object[]): Promise<ShowStore> {
      await open();
      await database.query("UPDATE shows SET document = ?, revision = 1", { replacements: [JSON.stringify(document)] });
      await database.query(
        "INSERT INTO revisions (show_id, number, label, edit, patches, inverse, `left`, made_at_ms) VALUES (1, 1, 'name the show', '{}', ?, ?, 0, 0)",
        {
          replacements: [
            JSON.stringify([{ op: "replace", path: ["name"], value: document && (document as { name: string }).name }]),
            JSON.stringify(inverse),
          ],
        },
      );
      return reopened();
    }
    const versions = () => database.query("SELECT document FROM shows", { type: QueryTypes.SELECT });
    const storedVersion = async () =>
      (JSON.parse(((await versions()) as { document: string }[])[0]!.document) as { version: number }).version;

    test("runs as the newest, and stays as it was stored until it is changed", async () => {
      const store = await stored(old(), []);
      expect(store.show.version).toBe(2);
      expect(await storedVersion()).toBe(1);
      await store.edit({ kind: "rename-show", name: "Newer" });
      expect(await storedVersion()).toBe(2);
      expect(told(await store.undo())).toBe("name the show Newer");
      expect([store.show.name, store.show.version]).toEqual([old().name, 2]);
      expect(told(await store.redo())).toBe("name the show Newer");
      expect(store.show.name).toBe("Newer");
    });

    test("an undo goes back across the step, to what the older version recorded", async () => {
      const inverse = [{ op: "replace", path: ["name"], value: "Before" }];
      const store = await stored(old(), inverse);
      await store.edit({ kind: "rename-show", name: "Newer" });
      await store.undo();
      expect(told(await store.undo())).toBe("name the show");
      expect([store.show.name, store.show.version, await storedVersion()]).toEqual(["Before", 2, 1]);
    });

    test.each([
      ["leads nowhere", [{ op: "replace", path: ["gone", 7, "x"], value: 1 }]],
      ["makes what is no show", [{ op: "replace", path: ["surfaces"], value: "none" }]],
      ["makes a show with a fault", [{ op: "replace", path: ["layers"], value: [] }]],
    ])("a step that %s is refused by its name, and the show stays", async (_what, inverse) => {
      const store = await stored(old(), inverse);
      const before = store.show;
      const result = await store.undo();
      expect(result).toMatchObject({
        ok: false,
        problems: [{ code: "step-does-not-fit", label: "name the show" }],
      });
      expect(store.show).toEqual(before);
      expect((await reopened()).show).toEqual(before);
    });
  });
});

describe("a disk that does not take it", () => {
  test("the folder is gone: the edit is written anew with the show that runs, once it can be made again", async () => {
    const store = await open();
    await store.edit({ kind: "rename-show", name: "Before" });
    rmSync(folder, { recursive: true, force: true });
    expect((await store.edit({ kind: "rename-show", name: "After" })).ok).toBe(true);
    expect(store.history.revision).toBe(2);
    const again = await reopened();
    expect([again.show.name, again.history.revision]).toEqual(["After", 2]);
  });

  test("a folder that cannot be made: the edit is refused with why, a copy goes elsewhere, and the show is as it was", async () => {
    const store = await open();
    const before = store.show;
    rmSync(folder, { recursive: true, force: true });
    writeFileSync(folder, "a file where the folder was");
    const result = await store.edit({ kind: "rename-show", name: "After" });
    expect(result).toMatchObject({ ok: false, problems: [{ code: "not-saved", reason: "gone" }] });
    const { copy } = (result as { problems: { copy: string }[] }).problems[0]!;
    expect(JSON.parse(readFileSync(copy, "utf8"))).toEqual(before);
    rmSync(copy);
    expect(store.show).toEqual(before);
    // The folder is back: everything goes on.
    rmSync(folder);
    expect((await store.edit({ kind: "rename-show", name: "After" })).ok).toBe(true);
    expect((await reopened()).show.name).toBe("After");
  });

  test("a disk that is full is told as that, and the next edit is taken when there is room", async () => {
    const store = await open();
    const full = Object.assign(new Error("database or disk is full"), { original: { code: "SQLITE_FULL" } });
    const transaction = vi.spyOn(database, "transaction").mockRejectedValueOnce(full);
    const refused = await store.edit({ kind: "rename-show", name: "After" });
    expect(refused).toMatchObject({ problems: [{ code: "not-saved", reason: "full" }] });
    expect(store.show.name).toBe(first().name);
    transaction.mockRestore();
    expect((await store.edit({ kind: "rename-show", name: "After" })).ok).toBe(true);
    expect((await reopened()).show.name).toBe("After");
  });

  test("a fault of ours is not told as one of the disk", async () => {
    const store = await open();
    vi.spyOn(database, "transaction").mockRejectedValueOnce(new TypeError("a slip of ours"));
    await expect(store.edit({ kind: "rename-show", name: "After" })).rejects.toThrow("a slip of ours");
    expect((await store.edit({ kind: "rename-show", name: "After" })).ok).toBe(true);
  });

  test("a show that somebody else changed is not written over", async () => {
    const store = await open();
    await database.query("UPDATE shows SET revision = 7");
    expect(await store.edit({ kind: "rename-show", name: "After" })).toMatchObject({
      ok: false,
      problems: [{ code: "changed-elsewhere" }],
    });
    expect(store.show.name).toBe(first().name);
  });

  test.each([
    [{ original: { code: "SQLITE_FULL" } }, "full"],
    [{ code: "ENOSPC" }, "full"],
    [{ original: { code: "SQLITE_CANTOPEN" } }, "gone"],
    [{ code: "EROFS" }, "read-only"],
    [{ original: { code: "SQLITE_NOTADB" } }, "damaged"],
    [{ original: { code: "SQLITE_IOERR" } }, "failed"],
    [new Error("anything"), "failed"],
  ])("%o is %s", (error, fault) => {
    expect(storageFault(error)).toBe(fault);
  });
});
