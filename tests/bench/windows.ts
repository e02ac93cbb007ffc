/** What it costs to scroll the list of traffic by our own rows, beside a library for windows over long lists. */
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type CDPSession, chromium, type Page } from "@playwright/test";
import { CHROMIUM_FLAGS } from "../../tools/chromium-flags.mjs";
import { findChromium } from "../../tools/test-programs.mjs";
import type { Row } from "./rows.ts";

const FRAMES = 180;
/** 1,500 pixels a second, as a wheel goes. */
const PX_A_FRAME = 25;

interface Options {
  rounds: number;
  here(file: string): string;
  median(list: readonly number[]): number;
}

export async function measureWindows({ rounds, here, median }: Options): Promise<Row[]> {
  const executablePath = findChromium();
  if (!executablePath) return [];
  const folder = mkdtempSync(join(tmpdir(), "velvet-windows-"));
  const browser = await chromium.launch({ executablePath, args: CHROMIUM_FLAGS });
  try {
    const file = join(folder, "page.html");
    writeFileSync(file, pageOf(here));
    const costs: Record<"ours" | "library", number[]> = { ours: [], library: [] };
    for (let round = 0; round < rounds; round++)
      for (const kind of round % 2 ? (["library", "ours"] as const) : (["ours", "library"] as const)) {
        const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
        await page.goto(`file://${file}#kind=${kind}`);
        costs[kind].push(await costOf(page, await page.context().newCDPSession(page)));
        await page.close();
      }
    const share = median(costs.ours.map((c, i) => c / costs.library[i]!));
    return [
      {
        id: "traffic.window",
        value: median(costs.ours),
        unit: `ms of the page's thread a frame while it is scrolled (by a library ${median(costs.library).toFixed(2)})`,
        ratio: share,
        wanted: "at most the library's",
        ok: share <= 1,
      },
    ];
  } finally {
    await browser.close();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The page with the application's own styles. */
function pageOf(here: Options["here"]): string {
  const styles = here("./client/_astro/");
  const css = readdirSync(styles)
    .filter((f) => f.endsWith(".css"))
    .map((f) => readFileSync(join(styles, f), "utf8"));
  const script = readFileSync(here("./bench-window-page.js"), "utf8").replaceAll("</script", "<\\/script");
  return `<!doctype html><meta charset="utf-8"><style>${css.join("\n")}</style><body><script>${script}</script>`;
}

/** Work of the page's thread in a frame, in ms: scripts, styles and layout. */
async function costOf(page: Page, cdp: CDPSession): Promise<number> {
  await cdp.send("Performance.enable");
  const play = (frames: number) =>
    page.evaluate(
      ([px, n]) => (window as unknown as { play(px: number, n: number): Promise<number> }).play(px!, n!),
      [PX_A_FRAME, frames],
    );
  await play(30); // what is compiled and laid out first is not the scroll's
  const before = await workMs(cdp);
  const rows = await play(FRAMES);
  if (rows === 0) throw new Error("The list has drawn no rows.");
  return ((await workMs(cdp)) - before) / FRAMES;
}

async function workMs(cdp: CDPSession): Promise<number> {
  const { metrics } = await cdp.send("Performance.getMetrics");
  const seconds = ["ScriptDuration", "LayoutDuration", "RecalcStyleDuration"].map(
    (name) => metrics.find((m) => m.name === name)?.value ?? 0,
  );
  return seconds.reduce((sum, s) => sum + s, 0) * 1000;
}
