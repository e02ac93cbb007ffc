/**
 * Frames a second while the list of traffic is scrolled and messages arrive, beside a bare page of as many rows that
 * is scrolled alike in the same browser under the same load.
 */
import { type ChildProcess, fork } from "node:child_process";
import { once } from "node:events";
import { type CDPSession, chromium, type Locator } from "@playwright/test";
import { CHROMIUM_FLAGS } from "../../tools/chromium-flags.mjs";
import { findChromium } from "../../tools/test-programs.mjs";
import type { LoadResult } from "./load.ts";
import { openShow, order, outputHas, ready } from "./processes.ts";
import type { Row } from "./rows.ts";
import { showForLatency } from "./shows.ts";

const PORTS = { web: 4795, midi: 9160, desk: 9161, listen: 9162, relayed: 9163 };
/** Each comes in at a fader and leaves to the desk: two messages. */
const EVENTS_PER_S = 1000;
const FILL = { perS: 10_000, forMs: 12_000 };
const SCROLL_MS = 4000;
const SCROLL_PX_PER_S = 1500;
const WANTED_SHARE = 0.95;

export interface Frames {
  perS: number;
  /** Part of the frames in which a place in view had no row, 0..1. */
  holes: number;
}

/** What a part of the bench needs that drives a browser. */
export interface BrowserBench {
  rounds: number;
  data: string;
  here(file: string): string;
  median(list: readonly number[]): number;
}

export async function measureScroll({ rounds, data, here, median }: BrowserBench): Promise<Row[]> {
  const executablePath = findChromium();
  if (!executablePath) return [];
  const server = fork(here("./main.mjs"), ["--port", String(PORTS.web), "--data", data], {
    stdio: ["ignore", "pipe", "ignore", "ipc"],
  });
  await outputHas(server, "is ready");
  const load = await ready(fork(here("./bench-load.mjs"), [String(PORTS.desk), String(PORTS.relayed)]));
  const browser = await chromium.launch({ executablePath, args: CHROMIUM_FLAGS });
  try {
    await openShow(PORTS.web, showForLatency(PORTS.midi, PORTS.desk, PORTS.listen));
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const ours = await context.newPage();
    await ours.goto(`http://127.0.0.1:${PORTS.web}/connect`);
    await ours.locator("html[data-ready]").waitFor();
    await ours.keyboard.press("`");
    await run(load, FILL.perS, FILL.forMs);
    await ours.locator("[data-row]").first().waitFor();
    const bare = await context.newPage();
    await bare.setContent(barePage(await ours.getByRole("listbox").boundingBox()));
    const frames: Record<"ours" | "bare", Frames[]> = { ours: [], bare: [] };
    for (let round = 0; round < rounds; round++)
      for (const which of round % 2 ? (["bare", "ours"] as const) : (["ours", "bare"] as const)) {
        const page = which === "ours" ? ours : bare;
        await page.bringToFront();
        const loading = run(load, EVENTS_PER_S, SCROLL_MS + 2000);
        frames[which].push(await scroll(page.getByRole("listbox"), await context.newCDPSession(page)));
        await loading;
      }
    const share = median(frames.ours.map((f, i) => f.perS / frames.bare[i]!.perS));
    const holes = median(frames.ours.map((f) => f.holes));
    return [
      {
        id: "traffic.scroll",
        value: median(frames.ours.map((f) => f.perS)),
        unit: `frames/s while it is scrolled and ${2 * EVENTS_PER_S} messages/s come (bare page ${median(frames.bare.map((f) => f.perS)).toFixed(1)})`,
        ratio: share,
        wanted: `at least ${WANTED_SHARE} of the bare page`,
        ok: share >= WANTED_SHARE,
      },
      {
        id: "traffic.holes",
        value: holes * 100,
        unit: "% of frames with a place in view that has no row",
        ratio: holes,
        wanted: "at most 1 %",
        ok: holes <= 0.01,
      },
    ];
  } finally {
    await browser.close();
    load.disconnect();
    server.kill("SIGTERM");
    await once(server, "exit");
  }
}

function run(load: ChildProcess, perS: number, forMs: number): Promise<LoadResult> {
  return order(load, { kind: "run", port: PORTS.midi, returns: "osc", perS, forMs });
}

/**
 * Scrolls as a wheel does, from the middle of the list, and counts what the page's own frames show meanwhile. Its rows carry
 * `data-row`, or have the role of a row.
 */
export async function scroll(list: Locator, cdp: CDPSession): Promise<Frames> {
  await list.evaluate((e) => e.scrollTo(0, 3000));
  const box = (await list.boundingBox())!;
  const counting = list.evaluate(
    (e, forMs) =>
      new Promise<{ perS: number; holes: number }>((resolve) => {
        let frames = 0;
        let holes = 0;
        let startMs = 0;
        const frame = (atMs: number) => {
          startMs ||= atMs;
          if (atMs - startMs >= forMs) {
            resolve({ perS: (frames * 1000) / (atMs - startMs), holes: holes / frames });
            return;
          }
          frames++;
          const { left, top, bottom } = e.getBoundingClientRect();
          for (const y of [top + 5, (top + bottom) / 2, bottom - 5])
            if (!document.elementFromPoint(left + 30, y)?.closest("[data-row], [role=row]")) {
              holes++;
              break;
            }
          requestAnimationFrame(frame);
        };
        requestAnimationFrame(frame);
      }),
    SCROLL_MS,
  );
  await cdp.send("Input.synthesizeScrollGesture", {
    x: box.x + box.width / 2,
    y: box.y + box.height / 2,
    yDistance: -Math.round((SCROLL_PX_PER_S * (SCROLL_MS + 800)) / 1000),
    speed: SCROLL_PX_PER_S,
    gestureSourceType: "mouse",
  });
  const frames = await counting;
  await cdp.detach();
  return frames;
}

/** Rows of plain text in a box that scrolls, of the size of our list. */
export function barePage(box: { x: number; y: number; width: number; height: number } | null): string {
  const { x, y, width, height } = box!;
  const rows = Array.from(
    { length: 500 },
    (_, i) =>
      `<div data-row style="height:30px;white-space:nowrap">12:00:00.${String(i).padStart(3, "0")} ▸ Lights B0 14 40 controller 20 = 64, ch 1 sent to Lights</div>`,
  ).join("");
  const look = `position:absolute;left:${x}px;top:${y}px;width:${width}px;height:${height}px;overflow-y:auto`;
  return `<body style="background:#181018;color:#eee;font:12.5px sans-serif"><div role="listbox" style="${look}">${rows}</div>`;
}
