/**
 * Every port by itself, from `send` to the message at the other end, beside a bare socket of the same kind in the same
 * process: latency at a steady pace, and messages a second without loss.
 */
import { setFlagsFromString } from "node:v8";
import { READY_FLAG } from "../../src/server/node-flags.mjs";
import type { Row } from "./rows.ts";
import { BARE, type Open, SESSION_FIGURES, TRANSPORTS } from "./transport-ways.ts";

/** At a steady pace: messages a second, and for how long. */
const PACE_PER_S = 1000;
const PACE_MS = 500;
/** As fast as they go: messages, and how many may be on their way. */
const FLOOD = 10_000;
const IN_FLIGHT = 256;
const SETTLE_MS = 3000;
const CPU_MS = 2000;
/** Ids fit into a controller of fourteen bits. */
const IDS = 16_384;

interface Figures {
  p50: number;
  p90: number;
  perS: number;
  lost: number;
}

async function measure(open: Open, inFlight: number, pacePerS: number): Promise<Figures> {
  const sentAtMs = new Float64Array(IDS);
  const latencies: number[] = [];
  let received = 0;
  let each: () => void = () => {};
  const way = await open((id) => {
    received++;
    latencies.push((performance.now() - sentAtMs[id % IDS]!) * 1000);
    each();
  });
  const send = (i: number) => {
    sentAtMs[i % IDS] = performance.now();
    way.send(i % IDS);
  };
  try {
    const paced = Math.round((pacePerS * PACE_MS) / 1000);
    const startMs = performance.now();
    for (let i = 0; i < paced; ) {
      const due = Math.min(paced, Math.floor(((performance.now() - startMs) * pacePerS) / 1000));
      for (; i < due; i++) send(i);
      await new Promise((resolve) => setImmediate(resolve));
    }
    await until(
      () => received >= paced,
      (wake) => (each = wake),
    );
    const sorted = latencies.slice(Math.round(paced / 5)).sort((a, b) => a - b);
    const lostPaced = paced - received;
    const total = inFlight === 1 ? FLOOD / 10 : FLOOD;
    received = 0;
    const floodMs = performance.now();
    for (let i = 0; i < total; ) {
      for (; i < total && i - received < inFlight; i++) send(i);
      const before = received;
      if (
        !(await until(
          () => received > before,
          (wake) => (each = wake),
        ))
      )
        break;
    }
    await until(
      () => received >= total,
      (wake) => (each = wake),
    );
    const perS = received / ((performance.now() - floodMs) / 1000);
    return { p50: at(sorted, 0.5), p90: at(sorted, 0.9), perS, lost: lostPaced + total - received };
  } finally {
    await way.close();
  }
}

/** How much of the processor 1,000 messages a second take, one by one, in ms a second. */
async function processorOf(open: Open): Promise<number> {
  const way = await open(() => {});
  try {
    const before = process.cpuUsage();
    const startMs = performance.now();
    for (let i = 0; performance.now() - startMs < CPU_MS; i++) {
      way.send(i % IDS);
      await new Promise((resolve) => setTimeout(resolve, 1));
    }
    const { user, system } = process.cpuUsage(before);
    return (user + system) / (performance.now() - startMs);
  } finally {
    await way.close();
  }
}

/** False: it did not come true in time. */
async function until(isSo: () => boolean, onWake: (wake: () => void) => void): Promise<boolean> {
  if (isSo()) return true;
  return new Promise((resolve) => {
    const timer = setTimeout(() => resolve(isSo()), SETTLE_MS);
    onWake(() => {
      if (!isSo()) return;
      clearTimeout(timer);
      onWake(() => {});
      resolve(true);
    });
  });
}

function at(sorted: readonly number[], part: number): number {
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * part))] ?? Number.NaN;
}

export async function measureTransports(rounds: number, median: (list: readonly number[]) => number): Promise<Row[]> {
  const rows: Row[] = [];
  setFlagsFromString(READY_FLAG); // as the program runs
  for (const { id, what, ours, bare, atMost, inFlight = IN_FLIGHT, pacePerS = PACE_PER_S } of TRANSPORTS) {
    const runs: Record<"ours" | "bare", Figures[]> = { ours: [], bare: [] };
    for (let round = 0; round < rounds; round++)
      for (const which of round % 2 ? (["bare", "ours"] as const) : (["ours", "bare"] as const))
        runs[which].push(await measure(which === "ours" ? ours : BARE[bare], inFlight, pacePerS));
    const of = (which: "ours" | "bare", key: keyof Figures) => median(runs[which].map((r) => r[key]));
    const lost = runs.ours.reduce((n, r) => n + r.lost, 0);
    const us = (n: number) => Math.round(n);
    rows.push({
      id: `port.${id}`,
      value: of("ours", "p50"),
      unit: `µs p50, ${us(of("ours", "p90"))} p90 (bare ${bare} ${us(of("bare", "p50"))}, ${us(of("bare", "p90"))}); ${Math.round(of("ours", "perS") / 1000)}k/s (${Math.round(of("bare", "perS") / 1000)}k/s), lost ${lost}: ${what}`,
      ratio: of("ours", "p50") / of("bare", "p50"),
      wanted: atMost ? `no loss, at most ${atMost.p50} times` : "no loss",
      ok: lost === 0 && (!atMost || of("ours", "p50") <= atMost.p50 * of("bare", "p50")),
    });
    if (!atMost) continue;
    const cpu: Record<"ours" | "bare", number[]> = { ours: [], bare: [] };
    for (let round = 0; round < rounds; round++) {
      cpu.ours.push(await processorOf(ours));
      cpu.bare.push(await processorOf(BARE[bare]));
    }
    const ratio = median(cpu.ours) / median(cpu.bare);
    rows.push({
      id: `port.${id}.cpu`,
      value: median(cpu.ours),
      unit: `µs of the processor a ms, about 900 messages a second (bare ${bare} ${Math.round(median(cpu.bare))})`,
      ratio,
      wanted: `at most ${atMost.cpu} times`,
      ok: ratio <= atMost.cpu,
    });
  }
  if (SESSION_FIGURES.length > 0)
    rows.push({
      id: "session.clock",
      value: median(SESSION_FIGURES.map((f) => Math.abs(f.offsetMs))) * 1000,
      unit: `µs error of the clock offset (latency as the session knows it ${Math.round(median(SESSION_FIGURES.map((f) => f.latencyMs)) * 1000)} µs)`,
      ratio: 1,
      wanted: "",
      ok: true,
    });
  return rows;
}
