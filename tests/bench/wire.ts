/** Latency, loss and cost of the running application beside a bare relay, over loopback. */
import { type ChildProcess, fork } from "node:child_process";
import { once } from "node:events";
import { readFileSync } from "node:fs";
import { WebSocket } from "ws";
import { NODE_FLAGS } from "../../src/server/node-flags.mjs";
import type { LoadResult } from "./load.ts";
import { openShow, order, outputHas, ready } from "./processes.ts";
import type { Row } from "./rows.ts";
import { bigShowForLatency, showForLatency } from "./shows.ts";

const PORTS = { web: 4790, midi: 9150, desk: 9151, listen: 9152, relay: 9153, relayed: 9154 };
const LATENCY_MS = 4000;
const LOSS_MS = 10_000;
const SWAP_MS = 6000;
const RESTARTS = 3;
const MOST_RESTART_MS = 1000;
/** An engine that ran this long, in ms, is started anew without the pause that is for one that dies again and again. */
const SETTLED_MS = 10_500;
/** Linux counts CPU time in hundredths of a second. */
const TICKS_PER_S = 100;

interface Bench {
  rounds: number;
  data: string;
  here(file: string): string;
  median(list: readonly number[]): number;
}

export async function measureWire({ rounds, data, here, median }: Bench): Promise<Row[]> {
  const server = fork(here("./main.mjs"), ["--port", String(PORTS.web), "--data", data], {
    stdio: ["ignore", "pipe", "ignore", "ipc"],
    execArgv: [...process.execArgv, ...NODE_FLAGS], // as `npm start` runs it
    env: { ...process.env, VELVET_FAULTS: "1" },
  });
  await outputHas(server, "is ready");
  const relay = await ready(fork(here("./bench-relay.mjs"), [String(PORTS.relay), String(PORTS.relayed)]));
  const load = await ready(fork(here("./bench-load.mjs"), [String(PORTS.desk), String(PORTS.relayed)]));
  const browser = await attachBrowser();
  try {
    await openShow(PORTS.web, showForLatency(PORTS.midi, PORTS.desk, PORTS.listen));
    return await rows({ rounds, median, load, server, relay, browser });
  } finally {
    browser.terminate();
    load.disconnect();
    relay.disconnect();
    server.kill("SIGTERM");
    await once(server, "exit");
  }
}

async function rows(
  bench: Pick<Bench, "rounds" | "median"> & Record<"load" | "server" | "relay", ChildProcess> & { browser: WebSocket },
) {
  const { rounds, median, load, server, relay, browser } = bench;
  const runs = { ours: new Map<number, LoadResult[]>(), bare: new Map<number, LoadResult[]>() };
  const cpu: { ours: number[]; bare: number[] } = { ours: [], bare: [] };
  const measure = async (which: "ours" | "bare", perS: number, forMs: number) => {
    const process = which === "ours" ? server : relay;
    const before = cpuSeconds(process.pid!);
    const result = await order(load, {
      kind: "run",
      port: which === "ours" ? PORTS.midi : PORTS.relay,
      returns: which === "ours" ? "osc" : "midi",
      perS,
      forMs,
    });
    const spent = cpuSeconds(process.pid!) - before;
    return { result, microsPerMessage: (spent * 1e6) / result.sent };
  };
  await measure("ours", 5000, 2000); // warms both up
  await measure("bare", 5000, 2000);
  for (let round = 0; round < rounds; round++) {
    for (const perS of [1000, 5000])
      for (const which of round % 2 ? (["bare", "ours"] as const) : (["ours", "bare"] as const)) {
        const { result, microsPerMessage } = await measure(which, perS, LATENCY_MS);
        listAt(runs[which], perS).push(result);
        if (perS === 5000) cpu[which].push(microsPerMessage);
      }
  }
  const out: Row[] = [];
  for (const perS of [1000, 5000]) {
    const ours = runs.ours.get(perS)!;
    const bare = runs.bare.get(perS)!;
    for (const [which, most] of [
      ["p50", 1.3],
      ["p90", 1.6],
      ["p99", null],
    ] as const) {
      const ratio = median(ours.map((r, i) => r[which] / bare[i]![which]));
      out.push({
        id: `latency.${perS}.${which}`,
        value: median(ours.map((r) => r[which])),
        unit: `µs (relay ${median(bare.map((r) => r[which])).toFixed(0)})`,
        ratio,
        wanted: most === null ? "" : `at most ${most} times the relay`,
        ok: most === null || ratio <= most,
      });
    }
  }
  const loss = await measure("ours", 10_000, LOSS_MS);
  const lost = loss.result.sent - loss.result.received;
  const bareLoss = await measure("bare", 10_000, LOSS_MS);
  out.push({
    id: "loss.10000",
    value: lost,
    unit: `messages lost of ${loss.result.sent} (relay ${bareLoss.result.sent - bareLoss.result.received})`,
    ratio: lost / loss.result.sent,
    wanted: "none",
    ok: lost === 0,
  });
  out.push(await swapRow(load));
  const restartMs: number[] = [];
  for (let restart = 0; restart < RESTARTS; restart++) {
    await measure("ours", 1000, SETTLED_MS);
    restartMs.push(await breakEngine(browser));
  }
  out.push({
    id: "engine.restart",
    value: median(restartMs),
    unit: "ms from its death to the first batch of the next engine",
    ratio: median(restartMs) / MOST_RESTART_MS,
    wanted: "within 1,000 ms",
    ok: median(restartMs) <= MOST_RESTART_MS,
  });
  const more = median(cpu.ours.map((c, i) => c - cpu.bare[i]!));
  out.push({
    id: "cpu.message",
    value: more,
    unit: `µs CPU more a message (relay ${median(cpu.bare).toFixed(1)})`,
    ratio: median(cpu.ours.map((c, i) => c / cpu.bare[i]!)),
    wanted: "at most 10 µs",
    ok: more <= 10,
  });
  return out;
}

/** Swaps a show of ten thousand mappings in and out while faders move, and counts what got lost. */
async function swapRow(load: ChildProcess): Promise<Row> {
  const plain = showForLatency(PORTS.midi, PORTS.desk, PORTS.listen);
  const big = bigShowForLatency(plain);
  const running = order(load, { kind: "run", port: PORTS.midi, returns: "osc", perS: 2000, forMs: SWAP_MS });
  let swaps = 0;
  let going = true;
  const swapping = (async () => {
    while (going) {
      await openShow(PORTS.web, swaps % 2 === 0 ? big : plain);
      swaps++;
    }
  })();
  const result = await running;
  going = false;
  await swapping;
  await openShow(PORTS.web, plain);
  const lost = result.sent - result.received;
  return {
    id: "swap.loss",
    value: lost,
    unit: `messages lost of ${result.sent} during ${swaps} swaps of 10,000 mappings`,
    ratio: lost / result.sent,
    wanted: "none",
    ok: lost === 0 && swaps >= 2,
  };
}

/** Breaks the engine and answers how long its browsers were without one, in ms. */
async function breakEngine(browser: WebSocket): Promise<number> {
  const back = new Promise<void>((resolve) => {
    const listen = (data: unknown) => {
      const { live } = JSON.parse(String(data)) as { live?: { engineRestarts?: number } };
      if (!live || (live.engineRestarts ?? -1) < 1) return;
      browser.off("message", listen);
      resolve();
    };
    browser.on("message", listen);
  });
  const startedAtMs = performance.now();
  const response = await fetch(`http://127.0.0.1:${PORTS.web}/api/break-engine?how=exit`, {
    method: "POST",
    headers: { "content-type": "application/json" },
  });
  if (!response.ok) throw new Error(`the engine could not be broken: ${response.status}`);
  await back;
  return performance.now() - startedAtMs;
}

/** User and system time of a process with all its threads, in seconds (proc(5), /proc/pid/stat fields 14 and 15). */
function cpuSeconds(pid: number): number {
  const stat = readFileSync(`/proc/${pid}/stat`, "utf8");
  const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
  return (Number(fields[11]) + Number(fields[12])) / TICKS_PER_S;
}

function attachBrowser(): Promise<WebSocket> {
  const socket = new WebSocket(`ws://127.0.0.1:${PORTS.web}/live`, { origin: `http://127.0.0.1:${PORTS.web}` });
  return new Promise((resolve, reject) => {
    socket.once("error", reject);
    socket.once("message", () => resolve(socket));
  });
}

function listAt<V>(lists: Map<number, V[]>, key: number): V[] {
  const list = lists.get(key) ?? [];
  lists.set(key, list);
  return list;
}
