import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { afterEach, beforeEach, describe, expect, test } from "vitest";
import type { FromEngine, ToEngine } from "../engine/messages.ts";
import { EngineSupervision } from "./supervision.ts";

/** A load that no spare survives. */
const BROKEN_LOAD = 99;

/** A worker with the engine's manners: it says it is ready, tells what it was given, and fails when told to. */
const WORKER = `
import { readlinkSync } from "node:fs";
import { parentPort } from "node:worker_threads";
import { workerData } from "node:worker_threads";
const fields = new Int32Array(workerData.progress);
fields[4] = Number(readlinkSync("/proc/thread-self").split("/").pop());
setInterval(() => Atomics.add(fields, 2, 1), 17); // it lives, also while nobody says anything to it
parentPort.on("message", ([n, m]) => {
  Atomics.store(fields, 0, n);
  if (m.kind === "redraw") parentPort.postMessage({ kind: "loaded", load: 1 }); // in the place of the show
  if (m.kind === "warm" && m.load === ${BROKEN_LOAD}) throw new Error("a show that ends it");
  if (m.kind === "warm") parentPort.postMessage({ kind: "warmed", load: m.load });
  if (m.kind === "retire") {
    parentPort.postMessage({ kind: "dying", reason: "it made way" });
    process.exit(0);
  }
  if (m.kind === "fail" && m.how === "loop") for (;;) Math.sqrt(2);
  if (m.kind === "midi-bytes" && m.id === "no-turn") Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 1500);
  Atomics.store(fields, 1, n);
  if (m.kind === "fail") throw new Error("told to fail");
  parentPort.postMessage(m.kind === "stop" ? { kind: "stopped" } : { kind: "heard", what: m });
});
parentPort.postMessage({ kind: "ready" });
`;

/** A worker that a show ends before it is loaded. */
const BAD_SHOW = `
import { parentPort } from "node:worker_threads";
parentPort.on("message", ([, m]) => {
  if (m.kind === "redraw") throw new Error("a show that ends it");
});
parentPort.postMessage({ kind: "ready" });
`;

const warmWith = (load: number) => ({ kind: "warm", load }) as Extract<ToEngine, { kind: "warm" }>;

let folder: string;
let supervision: EngineSupervision;
let heard: string[];
let starts: number[];
let deaths: string[];
let stopped: string[];
let retired = 0;
/** Loads that a spare was to get ready for, and that each engine was ready for when it started. */
let asked: number[] = [];
let warmedAtStart: number[] = [];
let notHandedOver = 0;
let warm: Extract<ToEngine, { kind: "warm" }> | null = null;
let wake: (() => void)[] = [];

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "velvet-worker-"));
  const file = join(folder, "worker.mjs");
  writeFileSync(file, WORKER);
  heard = [];
  starts = [];
  deaths = [];
  stopped = [];
  wake = [];
  retired = notHandedOver = 0;
  asked = [];
  warmedAtStart = [];
  warm = null;
  const changed = () => {
    for (const w of wake.splice(0)) w();
  };
  supervision = new EngineSupervision(pathToFileURL(file), {
    started: (restarts, warmed) => {
      starts.push(restarts);
      warmedAtStart.push(warmed);
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
    retired: () => {
      retired++;
      changed();
    },
    notHandedOver: () => {
      notHandedOver++;
      changed();
    },
    warmedWith: () => {
      if (warm) asked.push(warm.load);
      return warm;
    },
    cannotLoad: (reason) => {
      stopped.push(reason);
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
  test("messages that an engine had not begun when it ended reach the next one", async () => {
    await supervision.start();
    await until(() => heard.length === 1);
    supervision.send({ kind: "fail", how: "throw" });
    for (const id of ["one", "two", "three"]) supervision.send({ kind: "midi-bytes", id, bytes: Uint8Array.of(1) });
    await until(() => heard.length === 5);
    expect(heard).toEqual(["redraw", "redraw", "midi-bytes one", "midi-bytes two", "midi-bytes three"]);
  });
  test("an engine that stands still is replaced, as one that ended", async () => {
    await supervision.start();
    await until(() => heard.length === 1);
    supervision.send({ kind: "fail", how: "loop" });
    await until(() => starts.length === 2);
    expect(deaths[0]).toContain("stood still");
  });
  test("an engine that gets no processor is left alone: it is not the show, and nothing is lost", async () => {
    await supervision.start();
    await until(() => heard.length === 1);
    supervision.send({ kind: "midi-bytes", id: "no-turn", bytes: Uint8Array.of(1) });
    supervision.send({ kind: "midi-bytes", id: "after", bytes: Uint8Array.of(1) });
    await until(() => heard.includes("midi-bytes after"));
    expect(deaths).toEqual([]);
  });
  test("an engine makes way for a spare that is ready for another show: nothing is lost, and it is no death", async () => {
    await supervision.start();
    expect(supervision.handOver()).toBe(false); // there is no spare yet
    warm = warmWith(5);
    while (!supervision.handOver()) await new Promise((done) => setTimeout(done, 20));
    const ids: string[] = [];
    for (let n = 0; starts.length < 2; n++) {
      ids.push(`m-${n}`);
      supervision.send({ kind: "midi-bytes", id: `m-${n}`, bytes: Uint8Array.of(1) });
      await new Promise((done) => setImmediate(done));
    }
    await until(() => heard.length === ids.length + 2);
    expect(heard.filter((h) => h !== "redraw")).toEqual(ids.map((id) => `midi-bytes ${id}`));
    expect([starts, retired, deaths, notHandedOver]).toEqual([[0, 0], 1, [], 0]);
    expect(supervision.isHandingOver).toBe(false);
  });
  test("while the show goes on changing, a spare gets ready once more and not for each change", async () => {
    await supervision.start();
    warm = warmWith(5);
    while (!supervision.handOver()) await new Promise((done) => setTimeout(done, 20));
    for (let load = 6; load < 20; load++) {
      warm = warmWith(load);
      expect(supervision.handOver()).toBe(true);
    }
    await until(() => starts.length === 2);
    expect([asked.slice(-2), warmedAtStart.at(-1), retired]).toEqual([[5, 19], 19, 1]);
  });
  test("a spare that dies of the show leaves it to the engine", async () => {
    await supervision.start();
    while (!supervision.handOver()) await new Promise((done) => setTimeout(done, 20)); // with nothing to get ready for
    warm = warmWith(BROKEN_LOAD);
    expect(supervision.handOver()).toBe(true);
    await until(() => notHandedOver === 1);
    expect([starts, retired, deaths, supervision.isHandingOver]).toEqual([[0], 0, [], false]);
    supervision.send({ kind: "midi-bytes", id: "after", bytes: Uint8Array.of(1) });
    await until(() => heard.includes("midi-bytes after"));
  });
  test("a show that ends each engine stops the starting, until there is another one", async () => {
    const file = join(folder, "bad.mjs");
    writeFileSync(file, BAD_SHOW);
    let loads = 0;
    const bad = new EngineSupervision(pathToFileURL(file), {
      started: () => {
        loads++;
        bad.send({ kind: "redraw" });
      },
      message: () => {},
      died: () => {},
      retired: () => {},
      notHandedOver: () => {},
      warmedWith: () => null,
      cannotLoad: (reason) => {
        stopped.push(reason);
        for (const w of wake.splice(0)) w();
      },
    });
    await bad.start();
    await until(() => stopped.length === 1);
    expect([loads, stopped[0]]).toEqual([3, "a show that ends it"]);
    bad.showChanged();
    await until(() => stopped.length === 2);
    expect(loads).toBe(6);
    await bad.stop();
  });
});
