/**
 * What hands wait for in the Map: until what a touched control does is on the screen, until an edit is what the desk gets,
 * until a series of 512 is in the show. And how the table of 10,000 mappings scrolls, beside a bare page.
 */
import { fork } from "node:child_process";
import { createSocket } from "node:dgram";
import { once } from "node:events";
import { type Browser, chromium, type Page } from "@playwright/test";
import { CHROMIUM_FLAGS } from "../../tools/chromium-flags.mjs";
import { findChromium } from "../../tools/test-programs.mjs";
import { openShow, outputHas } from "./processes.ts";
import type { Row } from "./rows.ts";
import { type BrowserBench, barePage, scroll } from "./scroll.ts";
import { bigShowForLatency, showForLatency, showForMapping, WALL_PADS } from "./shows.ts";

const PORTS = { web: 4797, midi: 9170, desk: 9171, listen: 9172 };
const CHOICE_MS = 100;
const EDIT_MS = 150;
const SERIES_MS = 300;
const SCROLL_SHARE = 0.95;
/** Controller of the first fader, on channel 1 (profiles/deck-grid). */
const FADER_1 = 20;
const SIZE = { viewport: { width: 1280, height: 800 } };

export async function measureMap({ rounds, data, here, median }: BrowserBench): Promise<Row[]> {
  const executablePath = findChromium();
  if (!executablePath) return [];
  const server = fork(here("./main.mjs"), ["--port", String(PORTS.web), "--data", data], {
    stdio: ["ignore", "pipe", "ignore", "ipc"],
  });
  await outputHas(server, "is ready");
  const browser = await chromium.launch({ executablePath, args: CHROMIUM_FLAGS });
  const plain = showForLatency(PORTS.midi, PORTS.desk, PORTS.listen);
  const below = (id: string, ms: number[], wanted: number, unit: string): Row => ({
    id,
    value: median(ms),
    unit,
    ratio: median(ms) / wanted,
    wanted: `under ${wanted} ms`,
    ok: median(ms) < wanted,
  });
  try {
    await openShow(PORTS.web, showForMapping(plain));
    const choices = await measureChoices(browser, rounds * 5);
    const edits = await measureEdits(rounds * 5);
    const series = await measureSeries(browser, rounds);
    await openShow(PORTS.web, bigShowForLatency(plain));
    const share = await measureTable(browser, rounds);
    const perS = median(share.map((s) => s.ours));
    const ratio = median(share.map((s) => s.ours / s.bare));
    return [
      below("map.choice", choices, CHOICE_MS, "ms until what a touched control does is drawn"),
      below("map.edit", edits, EDIT_MS, "ms until the desk gets the number that was edited"),
      below("map.series", series, SERIES_MS, `ms until a series of ${WALL_PADS} is in the show and on the screen`),
      {
        id: "map.table",
        value: perS,
        unit: `frames/s while 10,000 mappings are scrolled (bare page ${median(share.map((s) => s.bare)).toFixed(1)})`,
        ratio,
        wanted: `at least ${SCROLL_SHARE} of the bare page`,
        ok: ratio >= SCROLL_SHARE,
      },
    ];
  } finally {
    await browser.close();
    server.kill("SIGTERM");
    await once(server, "exit");
  }
}

async function openMap(browser: Browser): Promise<Page> {
  const page = await (await browser.newContext(SIZE)).newPage();
  await page.goto(`http://127.0.0.1:${PORTS.web}/map`);
  await page.locator("html[data-ready]").waitFor();
  return page;
}

async function chooseSurface(page: Page, name: string): Promise<void> {
  await page.getByRole("combobox", { name: "Surface" }).click();
  await page.getByRole("option", { name, exact: true }).click();
}

/** From the pointer going down to the frame after the heading says the control. */
async function measureChoices(browser: Browser, count: number): Promise<number[]> {
  const page = await openMap(browser);
  await chooseSurface(page, "Big 0");
  const found: number[] = [];
  for (let i = 0; i < count; i++) {
    const number = ((i * 7) % 30) + 1;
    const measured = page.evaluate(
      (name) =>
        new Promise<number>((resolve) => {
          let startMs = 0;
          addEventListener("pointerdown", () => (startMs = performance.now()), { capture: true, once: true });
          const spine = document.querySelector("[aria-label='What it does']")!;
          const watch = new MutationObserver(() => {
            if (spine.querySelector("h1")?.textContent?.split(" · ")[0] !== name) return;
            watch.disconnect();
            requestAnimationFrame(() => requestAnimationFrame(() => resolve(performance.now() - startMs)));
          });
          watch.observe(spine, { subtree: true, childList: true, characterData: true });
        }),
      `Pad ${number}`,
    );
    await page.locator(`[data-control="pad-${number}"]`).click();
    found.push(await measured);
  }
  await page.context().close();
  return found;
}

/** From the edit being sent to the first datagram with its number, while a fader moves 500 times a second. */
async function measureEdits(count: number): Promise<number[]> {
  const desk = createSocket("udp4");
  const hands = createSocket("udp4");
  desk.bind(PORTS.desk, "127.0.0.1");
  await once(desk, "listening");
  let value = 0;
  const moving = setInterval(() => {
    value = (value + 1) % 128;
    hands.send(Buffer.from([0xb0, FADER_1, value]), PORTS.midi, "127.0.0.1");
  }, 2);
  const found: number[] = [];
  try {
    for (let i = 0; i < count; i++) {
      const number = 100 + i;
      const startMs = performance.now();
      const arrived = new Promise<number>((resolve) => {
        const hear = (bytes: Buffer) => {
          if (!bytes.toString("latin1").startsWith(`/set/playback/1/${number}/level`)) return;
          desk.off("message", hear);
          resolve(performance.now() - startMs);
        };
        desk.on("message", hear);
      });
      const response = await fetch(`http://127.0.0.1:${PORTS.web}/api/edit`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({
          kind: "change-action",
          mapping: "m-1",
          id: "a-1",
          set: { bindings: { playback: { from: "fixed", value: number } } },
        }),
      });
      if (!response.ok) throw new Error(await response.text());
      found.push(await arrived);
    }
  } finally {
    clearInterval(moving);
    desk.close();
    hands.close();
  }
  return found;
}

/** From Enter to the frame after its panel has gone, which is when the server has it and this page too. */
async function measureSeries(browser: Browser, rounds: number): Promise<number[]> {
  const page = await openMap(browser);
  await chooseSurface(page, "Wall");
  const found: number[] = [];
  for (let round = 0; round < rounds; round++) {
    await page.locator('[data-control="pad-1"]').click();
    await page.locator(`[data-control="pad-${WALL_PADS}"]`).click({ modifiers: ["Shift"] });
    await page.getByRole("option", { name: /^Playback on or off/ }).click();
    const panel = page.getByRole("region", { name: "Series" });
    await panel.getByText(`Apply ${WALL_PADS}`).waitFor();
    const measured = page.evaluate(
      () =>
        new Promise<number>((resolve) => {
          let startMs = 0;
          addEventListener("keydown", () => (startMs = performance.now()), { capture: true, once: true });
          const watch = new MutationObserver(() => {
            if (document.querySelector("[aria-label='Series']")) return;
            watch.disconnect();
            requestAnimationFrame(() => requestAnimationFrame(() => resolve(performance.now() - startMs)));
          });
          watch.observe(document.body, { subtree: true, childList: true });
        }),
    );
    await page.keyboard.press("Enter");
    found.push(await measured);
    await page.keyboard.press("Control+z");
    await page.getByRole("button", { name: "Pad 1, free: free" }).waitFor();
  }
  await page.context().close();
  return found;
}

/** Frames a second of the table, and of a bare page of rows in its place, in turn. */
async function measureTable(browser: Browser, rounds: number): Promise<{ ours: number; bare: number }[]> {
  const ours = await openMap(browser);
  await ours.keyboard.press("t");
  const grid = ours.getByRole("grid", { name: "Mappings" });
  await grid.getByRole("row").nth(1).waitFor();
  const context = ours.context();
  const bare = await context.newPage();
  await bare.setContent(barePage(await grid.boundingBox()));
  const found: { ours: number; bare: number }[] = [];
  for (let round = 0; round < rounds; round++) {
    const frames = { ours: 0, bare: 0 };
    for (const which of round % 2 ? (["bare", "ours"] as const) : (["ours", "bare"] as const)) {
      const page = which === "ours" ? ours : bare;
      await page.bringToFront();
      const list = which === "ours" ? grid : bare.getByRole("listbox");
      frames[which] = (await scroll(list, await context.newCDPSession(page))).perS;
    }
    found.push(frames);
  }
  await context.close();
  return found;
}
