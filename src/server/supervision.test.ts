import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { afterEach, beforeEach, describe, expect, test } from "vitest";
import type { FromEngine, ToEngine } from "../engine/messages.ts";
import { EngineSupervision } from "./supervision.ts";

/** A worker with the engine's manners: it says it is ready, tells what it was given, and fails when told to. */
const WORKER = `
import { parentPort } from "node:worker_threads";
import { workerData } from "node:worker_threads";
const fields = new Int32Array(workerData.progress);
parentPort.on("message", ([n, m]) => {
  Atomics.store(fields, 0, n);
  if (m.kind === "fail") throw new Error("told to fail");
  parentPort.postMessage(m.kind === "stop" ? { kind: "stopped" } : { kind: "heard", what: m });
});
parentPort.postMessage({ kind: "ready" });
`;

let folder: string;
let supervision: EngineSupervision;
let heard: string[];
let starts: number[];
let deaths: string[];
let wake: (() => void)[] = [];

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "velvet-worker-"));
  const file = join(folder, "worker.mjs");
  writeFileSync(file, WORKER);
  heard = [];
  starts = [];
  deaths = [];
  wake = [];
  const changed = () => {
    for (const w of wake.splice(0)) w();
  };
  supervision = new EngineSupervision(pathToFileURL(file), {
    started: (restarts) => {
      starts.push(restarts);
      supervision.send({ kind: "redraw" }); // in the place of the show
      changed();
    },
    message: (message: FromEngine) => {
      const { what } = message as unknown as { what?: ToEngine };
      if (what) heard.push("id" in what ? `${what.kind} ${what.id}` : what.kind);
      changed();
    },
    died: (reason) => {
      deaths.push(reason);
      changed();
    },
  });
});
afterEach(async () => {
  await supervision.stop();
  rmSync(folder, { recursive: true, force: true });
});

async function until(condition: () => boolean): Promise<void> {
  while (!condition()) await new Promise<void>((resolve) => wake.push(resolve));
}

describe("the engine's supervision", () => {
  test("an engine that dies is told of with its reason, and another one is started", async () => {
    await supervision.start();
    supervision.send({ kind: "fail", how: "throw" });
    await until(() => starts.length === 2);
    expect(starts).toEqual([0, 1]);
    expect(deaths[0]).toContain("told to fail");
  });
  test("what hands do while there is none reaches the next one, after the show and in order", async () => {
    await supervision.start();
    await until(() => heard.length === 1);
    supervision.send({ kind: "fail", how: "throw" });
    await until(() => deaths.length === 1);
    for (const id of ["one", "two"]) supervision.send({ kind: "midi-bytes", id, bytes: Uint8Array.of(1) });
    await until(() => heard.length === 4);
    expect(heard).toEqual(["redraw", "redraw", "midi-bytes one", "midi-bytes two"]);
  });
  test("it fails again and again, and is started again and again", async () => {
    await supervision.start();
    for (let n = 1; n <= 3; n++) {
      supervision.send({ kind: "fail", how: "throw" });
      await until(() => starts.length === n + 1);
    }
    expect(deaths).toHaveLength(3);
  });
  test("stopped, it stays stopped", async () => {
    await supervision.start();
    await supervision.stop();
    expect(deaths).toEqual([]);
  });
});
