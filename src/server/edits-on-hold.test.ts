/** Edits on hold: what runs is as it was, until they are put in, also over another start of the server. */
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { mapping, profiles, showWith, toggle } from "../../tests/rig/shows.ts";
import { EditsOnHold, QUIET_MS } from "./edits-on-hold.ts";

const running = showWith([mapping("pad-1", toggle(1))]);
const edited = { ...running, name: "Edited" };
const patch = (value: string) => [{ op: "replace" as const, path: ["name"], value }];

let folder: string;
let file: string;
let isAnythingHeld: boolean;
let handMoves: number;
let quiets: number;
let notKept: Error[];
let hold: EditsOnHold;

const fresh = () =>
  new EditsOnHold({
    file,
    profiles,
    nowMs: () => Date.now(),
    handMoves: () => handMoves,
    isAnythingHeld: () => isAnythingHeld,
    quiet: () => quiets++,
    notKept: (error) => notKept.push(error),
  });

beforeEach(() => {
  vi.useFakeTimers();
  folder = mkdtempSync(join(tmpdir(), "velvet-hold-"));
  file = join(folder, "show.on-hold.json");
  isAnythingHeld = false;
  handMoves = 0;
  quiets = 0;
  notKept = [];
  hold = fresh();
});
afterEach(() => {
  hold.close();
  vi.useRealTimers();
  rmSync(folder, { recursive: true, force: true });
});

describe("edits on hold", () => {
  test("are counted, and what they come to is put in at the end", () => {
    expect([hold.running, hold.told, hold.allows(null)]).toEqual([null, null, []]);
    hold.begin(1, 7, running);
    hold.edited(patch("One"));
    hold.edited(patch("Edited"));
    expect(hold.running).toEqual({ show: running, revision: 7 });
    expect(hold.told).toMatchObject({ edits: 2, waitsForQuiet: false });
    expect(hold.end()).toEqual([...patch("One"), ...patch("Edited")]);
    expect([hold.running, existsSync(file)]).toEqual([null, false]);
  });

  test("one that brings a whole show has the whole put in", () => {
    hold.begin(1, 7, running);
    hold.edited(patch("One"));
    hold.edited(null);
    hold.edited(patch("Two"));
    expect(hold.end()).toBeNull();
  });

  test("what the show runs on stays, and no other show is opened", () => {
    hold.begin(1, 7, running);
    expect(hold.allows(edited)).toEqual([]);
    expect(hold.allows({ ...running, desks: [] })).toEqual([{ code: "edits-on-hold", path: [], what: "desk" }]);
    expect(hold.allows(null)).toEqual([{ code: "edits-on-hold", path: [], what: "show" }]);
  });

  test("go on with another start of the server, for the same show only", () => {
    hold.begin(1, 7, running);
    const again = fresh();
    again.goOn(1, 9, edited);
    expect(again.running).toEqual({ show: running, revision: 7 });
    expect(again.told?.edits).toBe(2);
    expect(again.end()).toBeNull(); // the steps in between are not known: the whole is put in
    hold.begin(1, 7, running);
    const other = fresh();
    other.goOn(2, 9, edited);
    expect([other.running, existsSync(file)]).toEqual([null, false]);
  });

  test.each<[string, string]>([
    ["nothing", ""],
    ["no JSON", "{"],
    ["another version", JSON.stringify({ version: 99, show: 1, revision: 7, sinceMs: 0, running })],
    ["no show", JSON.stringify({ version: 1, show: 1, revision: 7, sinceMs: 0, running: { format: "x" } })],
    ["a time that is none", JSON.stringify({ version: 1, show: 1, revision: 7, sinceMs: "soon", running })],
    [
      "other desks",
      JSON.stringify({ version: 1, show: 1, revision: 7, sinceMs: 0, running: { ...running, desks: [] } }),
    ],
  ])("a file with %s is thrown away, and what is stored runs", (_, text) => {
    writeFileSync(file, text);
    hold.goOn(1, 9, edited);
    expect([hold.running, existsSync(file)]).toEqual([null, false]);
  });

  test("go in once no hand has moved or held anything for a while, and not before", () => {
    hold.begin(1, 7, running);
    hold.waitForQuiet(true);
    vi.advanceTimersByTime(QUIET_MS - 300);
    handMoves = 5;
    vi.advanceTimersByTime(QUIET_MS - 300);
    expect(quiets).toBe(0);
    isAnythingHeld = true;
    vi.advanceTimersByTime(QUIET_MS * 2);
    isAnythingHeld = false;
    vi.advanceTimersByTime(QUIET_MS - 300);
    expect(quiets).toBe(0);
    vi.advanceTimersByTime(600);
    expect(quiets).toBeGreaterThan(0);
  });

  test("wait on where somebody thinks better of it", () => {
    hold.begin(1, 7, running);
    hold.waitForQuiet(true);
    hold.waitForQuiet(false);
    vi.advanceTimersByTime(QUIET_MS * 3);
    expect([quiets, hold.told?.waitsForQuiet]).toEqual([0, false]);
  });

  test("are held also where the folder takes nothing, which is told", () => {
    rmSync(folder, { recursive: true });
    hold.begin(1, 7, running);
    expect([hold.running?.show, notKept.length]).toEqual([running, 1]);
  });

  test("what is kept is the show as it ran", () => {
    hold.begin(1, 7, running);
    expect(JSON.parse(readFileSync(file, "utf8"))).toMatchObject({ version: 1, show: 1, revision: 7, running });
  });
});
