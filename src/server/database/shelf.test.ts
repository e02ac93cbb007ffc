import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { mapping, profiles, showWith, toggle } from "../../../tests/rig/shows.ts";
import { emptyShow } from "../../core/format/show.ts";
import { RECOVERABLE_MS } from "./shelf.ts";
import { ShowStore, type StoreResult } from "./show-store.ts";
import { Storage } from "./storage.ts";
import { LIMITS, outlived } from "./versions.ts";

let folder: string;
let storage: Storage;
let store: ShowStore;
const first = () => showWith([mapping("pad-1", toggle(1))], { name: "Regatta" });
const open = () => ShowStore.open(storage, profiles, first);
const rename = (name: string) => store.edit({ kind: "rename-show", name });
/** Names of the shows that are there, the open one first; deleted ones in brackets. */
const names = async () => (await store.shows()).map((s) => (s.deletedAtMs === null ? s.name : `(${s.name})`));
const idOf = async (name: string) => (await store.shows()).find((s) => s.name === name)!.id;
const code = (result: StoreResult) => (result.ok ? null : result.problems[0]!.code);

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "velvet-test-"));
  storage = await Storage.open(folder, "test");
  store = await open();
});
afterEach(async () => {
  vi.useRealTimers();
  await storage.close();
  rmSync(folder, { recursive: true, force: true });
});

async function restart(): Promise<void> {
  await storage.close();
  storage = await Storage.open(folder, "test");
  store = await open();
}

describe("several shows", () => {
  test("one begins beside the others, is open at once and after a restart, and each has its own history", async () => {
    await rename("Regatta by night");
    await store.begin(emptyShow("Matinee"));
    expect([await names(), store.history.undo]).toEqual([["Matinee", "Regatta by night"], null]);
    await rename("Matinee, late");
    await restart();
    expect([store.show.name, store.history.undo]).toEqual(["Matinee, late", "name the show Matinee, late"]);
    await store.openAnother(await idOf("Regatta by night"));
    expect([store.show.mappings.length, store.history.undo]).toEqual([1, "name the show Regatta by night"]);
    await store.undo();
    await restart();
    expect([store.show.name, await names()]).toEqual(["Regatta", ["Regatta", "Matinee, late"]]);
  });

  test("no two have one name because of us", async () => {
    for (let n = 0; n < 3; n++) await store.begin(store.show);
    expect(await names()).toEqual(["Regatta 4", "Regatta 3", "Regatta 2", "Regatta"]);
  });

  test("a deleted one can be recovered, with its history; the one before it is open meanwhile", async () => {
    await store.begin(emptyShow("Matinee"));
    await rename("Late");
    const id = await idOf("Late");
    await store.remove(id, () => emptyShow("None"));
    expect([store.show.name, await names()]).toEqual(["Regatta", ["Regatta", "(Late)"]]);
    await restart();
    await store.recover(id);
    expect([store.show.name, store.history.undo]).toEqual(["Late", "name the show Late"]);
  });

  test("one that is not open is deleted without anything that runs being touched", async () => {
    await store.begin(emptyShow("Matinee"));
    expect(await store.remove(await idOf("Regatta"), () => emptyShow("None"))).toMatchObject({
      ok: true,
      isElsewhere: true,
    });
    expect(await names()).toEqual(["Matinee", "(Regatta)"]);
  });

  test("the last one that is deleted leaves an empty show", async () => {
    await store.remove(store.id, () => emptyShow("None"));
    expect([store.show.name, await names()]).toEqual(["None", ["None", "(Regatta)"]]);
  });

  test("what is not there, is deleted, or is not deleted is refused", async () => {
    await store.begin(emptyShow("Matinee"));
    const gone = await idOf("Regatta");
    await store.remove(gone, () => emptyShow("None"));
    const none = () => emptyShow("None");
    expect([
      code(await store.openAnother(99)),
      code(await store.openAnother(gone)),
      code(await store.remove(gone, none)),
      code(await store.recover(store.id)),
    ]).toEqual(Array(4).fill("no-such-show"));
    expect(store.show.name).toBe("Matinee");
  });

  test("one that cannot be read stays closed, and what is open stays as it is", async () => {
    await store.begin(emptyShow("Matinee"));
    await storage.database.query("UPDATE shows SET document = '{\"format\":' WHERE id = 1");
    expect([code(await store.openAnother(1)), store.show.name]).toEqual(["not-json", "Matinee"]);
    await storage.database.query("UPDATE shows SET document = '{}' WHERE id = 1");
    expect([code(await store.openAnother(1)), await names()]).toEqual(["wrong-format", ["Matinee", ""]]);
    // It is no place to go to either: the open one is deleted for an empty one.
    await store.remove(store.id, () => emptyShow("None"));
    expect([store.show.name, await names()]).toEqual(["None", ["None", "(Matinee)", ""]]);
  });

  test("what was deleted 30 days ago is gone at the next start", async () => {
    await store.begin(emptyShow("Matinee"));
    await store.remove(await idOf("Regatta"), () => emptyShow("None"));
    vi.useFakeTimers({ toFake: ["Date"], now: Date.now() + RECOVERABLE_MS - 60_000 });
    await restart();
    expect(await names()).toEqual(["Matinee", "(Regatta)"]);
    vi.setSystemTime(Date.now() + 120_000);
    await restart();
    expect(await names()).toEqual(["Matinee"]);
  });

  test.each(["deleting", "opening", "beginning", "recovering"])(
    "%s that the disk does not take changes nothing",
    async (what) => {
      await store.begin(emptyShow("Matinee"));
      await store.begin(emptyShow("Gone"));
      const gone = store.id;
      await store.remove(gone, () => emptyShow("None"));
      const before = [await names(), store.show];
      await storage.database.query(
        "CREATE TRIGGER full BEFORE UPDATE OF opened_at_ms ON shows BEGIN SELECT RAISE(FAIL, 'full'); END",
      );
      await storage.database.query("CREATE TRIGGER full2 BEFORE INSERT ON shows BEGIN SELECT RAISE(FAIL, 'full'); END");
      const result = await {
        deleting: () => store.remove(store.id, () => emptyShow("None")),
        opening: () => store.openAnother(1),
        beginning: () => store.begin(emptyShow("New")),
        recovering: () => store.recover(gone),
      }[what]!();
      expect([code(result), await names(), store.show]).toEqual(["not-saved", ...before]);
    },
  );

  test("the clock was set back: the one opened last is the open one all the same", async () => {
    await store.begin(emptyShow("Matinee"));
    vi.useFakeTimers({ toFake: ["Date"], now: Date.now() - 86_400_000 });
    await store.openAnother(1);
    await restart();
    expect(store.show.name).toBe("Regatta");
  });
});

describe("versions", () => {
  const list = async () => (await store.versions(null)).versions;
  const nameAt = async (key: string) => {
    const at = await store.showAt(key);
    return at?.read.ok ? at.read.value.name : null;
  };

  test("each edit has one, and what was undone has none", async () => {
    for (const name of ["One", "Two", "Three"]) await rename(name);
    await store.undo();
    const versions = await list();
    expect(versions.map((v) => v.label)).toEqual(["name the show Two", "name the show One"]);
    expect(await Promise.all(["now", ...versions.map((v) => v.key), "begin", "e99", "v99"].map(nameAt))).toEqual([
      "Two",
      "Two",
      "One",
      "Regatta",
      null,
      null,
    ]);
  });

  test("one that was named stays, wherever the show goes, and stands in the place of its edit", async () => {
    await rename("One");
    await store.nameVersion("Dress rehearsal");
    const named = (await list())[0]!;
    expect([named.name, named.label, (await list()).length]).toEqual(["Dress rehearsal", "name the show One", 1]);
    await store.undo();
    await rename("Other");
    expect([await nameAt(named.key), (await list()).map((v) => v.name || v.label)]).toEqual([
      "One",
      ["name the show Other", "Dress rehearsal"],
    ]);
  });

  test("those of another show are not told, and not given", async () => {
    await rename("One");
    const [edit] = await list();
    await store.nameVersion("Kept");
    const [kept] = await list();
    await store.begin(emptyShow("Matinee"));
    expect([await list(), await store.showAt(edit!.key), await store.showAt(kept!.key)]).toEqual([[], null, null]);
  });

  test("what was named long after its edit stands there once, on whatever page its edit would be", async () => {
    for (let n = 0; n < 45; n++) await rename(`Name ${n}`);
    for (let n = 0; n < 44; n++) await store.undo();
    await store.nameVersion("Kept");
    for (let n = 0; n < 44; n++) await store.redo();
    const page = await store.versions(null);
    const rest = await store.versions(page.versions.at(-1)!.madeAtMs);
    const all = [...page.versions, ...rest.versions];
    expect(all.filter((v) => v.label === "name the show Name 0").map((v) => v.name)).toEqual(["Kept"]);
    expect(all).toHaveLength(45);
  });

  test("they come in pages, and what was made in one moment is not torn apart", async () => {
    vi.useFakeTimers({ toFake: ["Date"], now: 1_000_000 });
    for (let n = 0; n < 45; n++) {
      if (n < 3 || n > 8) vi.setSystemTime(1_000_000 + n);
      await rename(`Name ${n}`);
    }
    const page = await store.versions(null);
    const rest = await store.versions(page.versions.at(-1)!.madeAtMs);
    expect([page.versions.length, page.hasOlder, rest.hasOlder]).toEqual([43, true, false]);
    expect([...page.versions, ...rest.versions].map((v) => v.label)).toEqual(
      Array.from({ length: 45 }, (_, n) => `name the show Name ${44 - n}`),
    );
  });

  test("thinned out, undo reaches as far as the steps, and before that each hour's last state is kept", async () => {
    vi.useFakeTimers({ toFake: ["Date"] });
    const begin = Date.UTC(2026, 10, 20, 18, 30);
    for (let n = 0; n < 60; n++) {
      vi.setSystemTime(begin + n * 600_000); // every ten minutes, ten hours long
      await rename(`Name ${n}`);
    }
    await store.thinOut({ ...LIMITS, steps: 30 });
    let undone = 0;
    while ((await store.undo()).ok) undone++;
    expect([undone, store.show.name]).toEqual([30, "Name 29"]);
    while ((await store.redo()).ok);
    expect(store.show.name).toBe("Name 59");
    const kept = (await list()).filter((v) => v.key.startsWith("v"));
    // Name 0 was given at half past six, Name 3 at seven: the last of each hour is the one at ten to.
    expect(await Promise.all(kept.map((v) => nameAt(v.key)))).toEqual([29, 26, 20, 14, 8, 2].map((n) => `Name ${n}`));
    await store.thinOut({ ...LIMITS, steps: 30 });
    expect((await list()).filter((v) => v.key.startsWith("v"))).toEqual(kept); // once more changes nothing
  });

  test("far back in its history, what was undone can be done again after thinning out", async () => {
    for (let n = 0; n < 80; n++) await rename(`Name ${n}`);
    for (let n = 0; n < 50; n++) await store.undo();
    await store.thinOut({ ...LIMITS, steps: 25 });
    while ((await store.redo()).ok);
    expect(store.show.name).toBe("Name 79");
  });

  test.each([
    ["young: one an hour", [0, 0.2, 0.9, 1.1, 2.5].map((h) => h * 3_600_000), { kept: 9, keptBytes: 99 }, [1, 2]],
    ["old: one a day", [30, 31, 58, 60].map((h) => h * 3_600_000), { kept: 9, keptBytes: 99 }, [1, 3]],
    ["not more than so many", [0, 24, 48].map((h) => h * 3_600_000), { kept: 2, keptBytes: 99 }, [2]],
    ["not more than so many bytes", [0, 24, 48].map((h) => h * 3_600_000), { kept: 9, keptBytes: 20 }, [2]],
  ])("kept states, %s", (_name, ages, limits, gone) => {
    const now = Date.UTC(2026, 10, 21, 12, 59, 59);
    const states = ages.map((age, i) => ({ i, madeAtMs: now - age, bytes: 10 }));
    expect(outlived(states, now, limits).map((s) => s.i)).toEqual(gone);
  });
});
