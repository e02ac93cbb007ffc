import { mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, test } from "vitest";
import { WantedStandIns } from "./wanted-standins.ts";

let folder: string;
let failures: string[];
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "velvet-standins-"));
  failures = [];
});
afterEach(() => rmSync(folder, { recursive: true }));
const open = (file = "stand-ins.json") => new WantedStandIns(join(folder, file), (e) => failures.push(e.message));

describe("stand-ins that are wanted again", () => {
  test("are known to the next server, and to nobody else who uses the computer", () => {
    const first = open();
    first.add("lights");
    first.add("sound");
    first.add("lights");
    expect(readdirSync(folder)).toEqual(["stand-ins.json"]);
    expect(statSync(join(folder, "stand-ins.json")).mode & 0o077).toBe(0);
    const next = open();
    expect([next.has("lights"), next.has("sound"), next.has("vision"), failures]).toEqual([true, true, false, []]);
  });

  test.each(["not json", "{}", "[7]", ""])("a file with “%s” in it is as none, and that is told", (text) => {
    writeFileSync(join(folder, "stand-ins.json"), text);
    const wanted = open();
    expect([wanted.has("lights"), failures.length]).toEqual([false, 1]);
    wanted.add("lights");
    expect(open().has("lights")).toBe(true);
  });

  test("where nothing can be written they run all the same, and that is told", () => {
    const wanted = open("no-folder/stand-ins.json");
    wanted.add("lights");
    expect([wanted.has("lights"), failures.length]).toEqual([true, 1]);
  });
});
