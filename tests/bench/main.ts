/** npm run bench [-- --json FILE] [--rounds N] [--only PART]: each figure is a median of rounds that take turns. */
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { parseArgs } from "node:util";
import { measureBusy } from "./busy.ts";
import { measureMap } from "./map.ts";
import { type Row, table } from "./rows.ts";
import { measureScroll } from "./scroll.ts";
import { measureTransports } from "./transports.ts";
import { measureWindows } from "./windows.ts";
import { measureWire } from "./wire.ts";

const { values } = parseArgs({
  options: { json: { type: "string" }, rounds: { type: "string", default: "6" }, only: { type: "string" } },
});
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

/** Figures of the show with ten thousand mappings and three actions each, in a process of its own. */
function heartRows(): Row[] {
  const text = execFileSync(process.execPath, ["--expose-gc", here("./bench-heart.mjs"), String(rounds)], {
    encoding: "utf8",
  });
  const { small, large, compiles, swaps, grown } = JSON.parse(text) as Record<
    "small" | "large" | "compiles" | "swaps",
    number[]
  > & { grown: number };
  const cost = median(small.map((s, i) => s / large[i]!));
  const grownMb = grown / 1024 / 1024;
  return [
    {
      id: "shaped.large",
      value: median(large) / 1e6,
      unit: "M events/s, 10,000 mappings x 3 actions, all shapes on",
      ratio: cost,
      wanted: "at most 1.3 times the cost of 100",
      ok: cost <= 1.3,
    },
    {
      id: "shaped.heap",
      value: grownMb,
      unit: "MB more heap after 10 million events",
      ratio: grownMb / 5,
      wanted: "under 5 MB",
      ok: grownMb < 5,
    },
    {
      id: "shaped.compile",
      value: median(compiles),
      unit: "ms to compile 10,000 mappings x 3 actions",
      ratio: median(compiles) / 150,
      wanted: "under 150 ms",
      ok: median(compiles) < 150,
    },
    {
      id: "shaped.swap",
      value: median(swaps),
      unit: "ms to swap them in",
      ratio: median(swaps) / median(compiles),
      wanted: "",
      ok: true,
    },
  ];
}

/** How long an edit holds up a press, beside putting in the whole show. */
function editRows(): Row[] {
  const text = execFileSync(process.execPath, [here("./bench-edits.mjs")], { encoding: "utf8" });
  const { small, large } = JSON.parse(text) as Record<"small" | "large", Record<"part" | "whole", number[]>>;
  const row = (id: string, { part, whole }: Record<"part" | "whole", number[]>, of: string): Row => {
    const p99 = [...part].sort((a, b) => a - b)[Math.floor(part.length * 0.99)]!;
    return {
      id,
      value: p99,
      unit: `ms p99 that one edit takes, ${of} x 3 actions; ratio: the whole show / one edit, medians`,
      ratio: median(whole) / median(part),
      wanted: "", // what a press waits for it is in the part “busy”
      ok: true,
    };
  };
  return [row("edits.small", small, "2,000 mappings"), row("edits.large", large, "20,000 mappings")];
}

/** A part that needs a folder for the application's data. */
async function withData(measure: (data: string) => Promise<Row[]>): Promise<Row[]> {
  const data = mkdtempSync(join(tmpdir(), "velvet-bench-"));
  try {
    return await measure(data);
  } finally {
    rmSync(data, { recursive: true, force: true });
  }
}

const PARTS: Record<string, { about: string; measure(): Row[] | Promise<Row[]> }> = {
  core: { about: "Core, in processes that take turns", measure: coreRows },
  shaped: { about: "Ten thousand mappings with every step of their shapes", measure: heartRows },
  edits: { about: "Edits of a show that runs", measure: editRows },
  wire: {
    about: "Wire, over loopback, with a browser's live socket attached",
    measure: () => withData((data) => measureWire({ rounds, data, here, median })),
  },
  busy: {
    about: "What hands feel while people edit, a large show is opened, and another port is flooded",
    measure: () => withData((data) => measureBusy({ data, here })),
  },
  ports: { about: "Every port by itself, beside a bare socket", measure: () => measureTransports(rounds, median) },
  map: {
    about: "Mapping by hand in Chromium, with 2,000 mappings on 10 surfaces",
    measure: () => withData((data) => measureMap({ rounds, data, here, median })),
  },
  windows: {
    about: "The same list by our own rows and by a library",
    measure: () => measureWindows({ rounds, here, median }),
  },
  scroll: {
    about: "The list of traffic, scrolled in Chromium while messages come",
    measure: () => withData((data) => measureScroll({ rounds, data, here, median })),
  },
};

async function main(): Promise<void> {
  if (values.only !== undefined && !(values.only in PARTS))
    throw new Error(`“${values.only}” is no part of the bench. Known: ${Object.keys(PARTS).join(", ")}.`);
  const rows: Row[] = [];
  for (const [id, { about, measure }] of Object.entries(PARTS)) {
    if (values.only !== undefined && values.only !== id) continue;
    console.log(`${about} …`);
    rows.push(...(await measure()));
  }
  console.log(table(rows));
  if (values.json) writeFileSync(values.json, `${JSON.stringify(rows, null, 2)}\n`);
}

await main();
