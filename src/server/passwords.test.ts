/** The passwords of desks: taken out of whatever comes in, kept for one address and one user, given out to the engine alone. */
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, test } from "vitest";
import { library, showWith } from "../../tests/rig/shows.ts";
import type { Show } from "../core/format/show.ts";
import { ShowStore } from "./database/show-store.ts";
import { Storage } from "./database/storage.ts";
import { Passwords } from "./passwords.ts";

const SECRET = "moon over the quay";
let folder: string;
let file: string;
let faults: string[];
const opened = () => new Passwords(file, (error) => faults.push(error.message));
const desk = showWith([]).desks[0]!;
const showOf = (...logins: ({ user: string; password?: string } | undefined)[]): Show => ({
  ...showWith([]),
  desks: logins.map((login, n) => ({ ...desk, id: `d${n}`, host: `10.0.7.${n}`, ...(login ? { login } : {}) })),
});

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "velvet-passwords-"));
  file = join(folder, "show.passwords.json");
  faults = [];
});
afterEach(() => rmSync(folder, { recursive: true }));

describe("passwords of desks", () => {
  test("are taken out of a show, are there after a restart, and nobody else may read their file", () => {
    const show = showOf({ user: "bridge", password: SECRET }, undefined, { user: "bridge" });
    const without = opened().takenFrom(show);
    expect(JSON.stringify(without)).not.toContain(SECRET);
    expect(without.desks[0]!.login).toEqual({ user: "bridge" });
    expect(opened().of(without)).toEqual({ d0: SECRET });
    expect(statSync(file).mode & 0o777).toBe(0o600);
  });
  test("belong to one address and one user: a desk that is led elsewhere takes none along", () => {
    const passwords = opened();
    const [own] = passwords.takenFrom(showOf({ user: "bridge", password: SECRET })).desks;
    const at = (more: object) => passwords.of({ ...showWith([]), desks: [{ ...own!, ...more }] });
    expect(at({})).toEqual({ d0: SECRET });
    expect(at({ id: "other", name: "Another" })).toEqual({ other: SECRET });
    for (const more of [{ host: "10.0.9.9" }, { port: 1 }, { login: { user: "ada" } }, { login: undefined }])
      expect(at(more), JSON.stringify(more)).toEqual({});
  });
  test("a new one takes the place of the old, none typed leaves it, an empty one takes it away", () => {
    const passwords = opened();
    const show = passwords.takenFrom(showOf({ user: "bridge", password: SECRET }));
    passwords.takenFrom(showOf({ user: "bridge", password: "another" }));
    passwords.takenFrom(showOf({ user: "bridge" }));
    expect(passwords.of(show)).toEqual({ d0: "another" });
    passwords.takenFrom(showOf({ user: "bridge", password: "" }));
    expect([passwords.of(show), opened().of(show)]).toEqual([{}, {}]);
  });
  test("what has none comes back as the very same", () => {
    const show = showOf({ user: "bridge" }, undefined);
    expect(opened().takenFrom(show)).toBe(show);
  });
  test("of whatever is nested however, nothing stays", () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom("list", "object"), { maxLength: 8 }), (nesting) => {
        const inner: unknown = { host: "a", port: 1, login: { user: "b", password: SECRET } };
        const value = nesting.reduce((v, n) => (n === "list" ? [1, v] : { x: null, y: v }), inner);
        expect(JSON.stringify(opened().takenFrom(value))).not.toContain(SECRET);
      }),
      { numRuns: 30 },
    );
  });
  test("a file that cannot be read is told, and one that cannot be written changes nothing", () => {
    writeFileSync(file, "half a fi");
    const passwords = opened();
    expect(faults).toHaveLength(1);
    rmSync(folder, { recursive: true });
    expect(() => passwords.takenFrom(showOf({ user: "bridge", password: SECRET }))).toThrow("ENOENT");
    expect(passwords.of(showOf({ user: "bridge" }))).toEqual({});
    folder = mkdtempSync(join(tmpdir(), "velvet-passwords-"));
  });
});

describe("a show that has passwords in it", () => {
  const first = () => showOf({ user: "bridge" });
  const stored = () =>
    ["test.sqlite", "test.sqlite-wal"].map((name) => readFileSync(join(folder, name), "latin1")).join("");

  test("edits, documents and what is undone leave none in the database", async () => {
    const storage = await Storage.open(folder, "test");
    const passwords = opened();
    const store = await ShowStore.open(storage, library.profiles, first, passwords);
    const { host, port, listenPort } = store.show.desks[0]!;
    const login = { user: "bridge", password: SECRET };
    expect(await store.edit({ kind: "set-desk-address", id: "d0", host, port, listenPort, login })).toMatchObject({
      ok: true,
    });
    expect(passwords.of(store.show)).toEqual({ d0: SECRET });
    await store.edit({ kind: "rename-show", name: "Another night" });
    await store.undo();
    await store.replace(showOf({ user: "bridge", password: `${SECRET} again` }));
    expect([passwords.of(store.show), JSON.stringify(store.show).includes(SECRET)]).toEqual([
      { d0: `${SECRET} again` },
      false,
    ]);
    await storage.close();
    expect(readFileSync(join(folder, "test.sqlite"), "latin1")).not.toContain(SECRET);
  });
  test("an edit that is refused keeps nothing of it", async () => {
    const storage = await Storage.open(folder, "test");
    const passwords = opened();
    const store = await ShowStore.open(storage, library.profiles, first, passwords);
    const login = { user: "bridge", password: SECRET };
    const refused = await store.edit({
      kind: "set-desk-address",
      id: "nobody",
      host: "a",
      port: 1,
      listenPort: 1,
      login,
    });
    expect([refused.ok, passwords.of(store.show)]).toEqual([false, {}]);
    await storage.close();
  });
  test("one that was stored before this was so gives them up as it is opened, and is stored without them at the next edit", async () => {
    const storage = await Storage.open(folder, "test");
    await ShowStore.open(storage, library.profiles, () => showOf({ user: "bridge", password: SECRET }));
    const passwords = opened();
    const store = await ShowStore.open(storage, library.profiles, first, passwords);
    expect([passwords.of(store.show), JSON.stringify(store.show).includes(SECRET)]).toEqual([{ d0: SECRET }, false]);
    await store.edit({ kind: "rename-show", name: "Another night" });
    const [rows] = await storage.database.query("SELECT document FROM shows");
    expect(JSON.stringify(rows)).not.toContain(SECRET);
    expect(await store.undo()).toMatchObject({ ok: true });
    expect(store.show.name).not.toBe("Another night");
    await storage.close();
  });
  test("is in the write-ahead log no more than in the file", async () => {
    const storage = await Storage.open(folder, "test");
    const store = await ShowStore.open(storage, library.profiles, first, opened());
    const { host, port, listenPort } = store.show.desks[0]!;
    await store.edit({
      kind: "set-desk-address",
      id: "d0",
      host,
      port,
      listenPort,
      login: { user: "bridge", password: SECRET },
    });
    expect(stored()).not.toContain(SECRET);
    await storage.close();
  });
});
