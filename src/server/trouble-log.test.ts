import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import { type Facts, logLine, openLog } from "./log.ts";
import { TroubleLog } from "./trouble-log.ts";

describe("troubles in the log", () => {
  const told: [string, string, Facts | undefined][] = [];
  const log = { write: (...line: [string, string, Facts?]) => void told.push(line as never), end: async () => {} };
  const desk = (health: string, state: string, tripped = false) =>
    ({ desks: { lights: { health, port: { state }, tripped } }, surfaces: {} }) as never;

  test("are told once when they begin and once when they end", () => {
    const troubles = new TroubleLog(log);
    for (const batch of [
      desk("answering", "open"),
      desk("silent", "open"),
      desk("silent", "open"),
      desk("silent", "failed"),
      desk("answering", "open", true),
      desk("answering", "open", true),
      desk("answering", "open"),
    ])
      troubles.look(batch);
    expect(told.map(([level, event]) => `${level} ${event}`)).toEqual([
      "warn desk-silent",
      "warn port-failed",
      "info well-again",
      "info well-again",
      "warn route-tripped",
      "info well-again",
    ]);
  });
});

describe("the log", () => {
  test("has a line of JSON for each thing, for its owner alone, and leaves out what is too fine", async () => {
    const folder = mkdtempSync(join(tmpdir(), "velvet-log-"));
    const log = openLog(folder, "warn");
    log.write("info", "not-wanted");
    for (let n = 0; n < 3; n++) log.write("error", "engine-died", { reason: `number ${n}` });
    await log.end();
    const file = join(folder, "log", "velvet-hinge.log");
    const lines = readFileSync(file, "utf8").trim().split("\n");
    expect(lines.map((l) => (JSON.parse(l) as { reason: string }).reason)).toEqual([
      "number 0",
      "number 1",
      "number 2",
    ]);
    expect(statSync(file).mode & 0o777).toBe(0o600);
    rmSync(folder, { recursive: true });
  });
  test("is turned over before it is large, and keeps few old ones", async () => {
    const folder = mkdtempSync(join(tmpdir(), "velvet-log-"));
    const log = openLog(folder, "info");
    for (let n = 0; n < 6000; n++) log.write("info", "filler", { text: "x".repeat(1500) });
    await log.end();
    const files = readdirSync(join(folder, "log")).filter((f) => f.endsWith(".log"));
    expect(files.length).toBeLessThanOrEqual(6);
    for (const f of files)
      for (const line of readFileSync(join(folder, "log", f), "utf8")
        .trim()
        .split("\n"))
        expect(() => JSON.parse(line || "{}")).not.toThrow();
    rmSync(folder, { recursive: true });
  });
  test("a text that never ends is cut", () => {
    expect(logLine(new Date(0), "info", "said", { text: "x".repeat(100_000) }).length).toBeLessThan(2200);
  });
  test("a folder that cannot be written to ends nothing", async () => {
    const log = openLog("/dev/null", "info");
    log.write("error", "anything");
    await log.end();
  });
});
