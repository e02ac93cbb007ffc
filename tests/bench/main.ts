/** npm run bench [-- --json FILE] [--rounds N]: every figure as a median of rounds that take turns, in one run. */
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { parseArgs } from "node:util";
import { type Row, table } from "./rows.ts";
import { measureWire } from "./wire.ts";

const { values } = parseArgs({ options: { json: { type: "string" }, rounds: { type: "string", default: "6" } } });
const rounds = Number(values.rounds);
const here = (file: string) => fileURLToPath(new URL(file, import.meta.url));

function median(list: readonly number[]): number {
  const sorted = [...list].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

function coreRows(): Row[] {
  const text = execFileSync(process.execPath, [here("./bench-core.mjs"), String(Math.max(12, rounds))], {
    encoding: "utf8",
  });
  const { bare, small, large, spread } = JSON.parse(text) as Record<"bare" | "small" | "large" | "spread", number[]>;
  // Ratios are taken within a round, where the machine was in one mood, and then the median of them.
  const cost = median(small.map((s, i) => s / large[i]!));
  const millions = (list: number[]) => median(list) / 1e6;
  return [
    { id: "core.bare", value: millions(bare), unit: "M events/s", ratio: 1, wanted: "", ok: true },
    {
      id: "core.small",
      value: millions(small),
      unit: "M events/s",
      ratio: median(small.map((s, i) => bare[i]! / s)),
      wanted: "at least 2 M events/s",
      ok: median(small) >= 2e6,
    },
    {
      id: "core.large",
      value: millions(large),
      unit: "M events/s",
      ratio: median(large.map((l, i) => bare[i]! / l)),
      wanted: "at least 2 M events/s",
      ok: median(large) >= 2e6,
    },
    {
      id: "core.scale",
      value: cost,
      unit: "cost of 10,000 mappings / 100",
      ratio: cost,
      wanted: "at most 1.3",
      ok: cost <= 1.3,
    },
    {
      id: "core.spread",
      value: millions(spread),
      unit: "M events/s, 10,000 controls moving in no order",
      ratio: median(small.map((s, i) => s / spread[i]!)),
      wanted: "",
      ok: true,
    },
  ];
}

async function main(): Promise<void> {
  console.log("Core, in processes that take turns …");
  const rows = coreRows();
  console.log("Wire, over loopback, with a browser's live socket attached …");
  const data = mkdtempSync(join(tmpdir(), "velvet-bench-"));
  try {
    rows.push(...(await measureWire({ rounds, data, here, median })));
  } finally {
    rmSync(data, { recursive: true, force: true });
  }
  console.log(table(rows));
  if (values.json) writeFileSync(values.json, `${JSON.stringify(rows, null, 2)}\n`);
}

await main();
