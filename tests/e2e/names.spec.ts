/** Names from desks, peers, the network and people are shown as text, whatever is in them. */
import { createSocket } from "node:dgram";
import { once } from "node:events";
import type { Page } from "@playwright/test";
import { control, expect, openPlace, secondApplication, test } from "./application.ts";

/** Would say so if it were taken for more than text. */
const BAD = "<img src=x onerror=window.ran=1>";
const THEIRS = "<img src=x onerror=window.ran=2>";

/** An OSC 1.0 message with one text. */
function oscText(address: string, text: string): Buffer {
  const padded = (t: string) => t + "\0".repeat(4 - (t.length % 4));
  return Buffer.from(padded(address) + padded(",s") + padded(text), "latin1");
}

async function expectText(page: Page, where: string): Promise<void> {
  const seen = await page.evaluate(() => ({
    ran: (window as { ran?: number }).ran ?? 0,
    images: document.querySelectorAll('img[src="x"]').length,
  }));
  expect(seen, where).toEqual({ ran: 0, images: 0 });
}

test("script in the name of a show, a desk, a surface, a playback, a session and a peer stays text", async ({
  page,
  velvet,
  desk,
}) => {
  const cabin = secondApplication();
  const socket = createSocket("udp4");
  try {
    await cabin.start();
    const session = (id: string, name: string, port: number) => ({
      kind: "put-session",
      item: { id, name, port, reach: "this-computer", admission: "ask", allowed: [], invites: [], announced: true },
    });
    expect((await cabin.post("/api/edit", session("theirs", THEIRS, 21_604))).status).toBe(200);
    const invites = [{ host: "127.0.0.1", port: 21_604 }];
    const own = session("ours", BAD, 21_606);
    expect((await velvet.post("/api/edit", { ...own, item: { ...own.item, invites } })).status).toBe(200);
    for (const edit of [
      { kind: "rename-show", name: BAD },
      { kind: "rename-desk", id: "lights", name: BAD },
      { kind: "rename-surface", id: "deck", name: BAD },
    ])
      expect((await velvet.post("/api/edit", edit)).status).toBe(200);
    // The desk is another one now: we hear only what comes from its port.
    await desk.kill();
    socket.bind(desk.ports.port, "127.0.0.1");
    await once(socket, "listening");
    socket.send(oscText("/now/playback/1/3/name", BAD), desk.ports.port + 1, "127.0.0.1");

    await openPlace(page, velvet, "map");
    await expect(control(page, "pad-3")).toContainText(BAD);
    await control(page, "pad-3").click();
    await expectText(page, "map");
    for (const key of ["g", "`", "Control+k"]) {
      await page.keyboard.press(key);
      await expect(page.getByText(BAD).first()).toBeVisible();
      await expectText(page, `after ${key}`);
      await page.keyboard.press("Escape");
    }
    await openPlace(page, velvet, "connect");
    await expect(page.getByRole("article", { name: `Session ${BAD}` })).toContainText("invited");
    await expect(page.getByRole("article", { name: BAD, exact: true }).first()).toBeVisible();
    await expectText(page, "connect");
    await openPlace(page, velvet, "run");
    await expect(page.getByText(BAD).first()).toBeVisible();
    await expectText(page, "run");

    // Here our session is the peer that asks, by the same name.
    const theirs = await page.context().newPage();
    await openPlace(theirs, cabin, "connect");
    await expect(theirs.getByText("asks to join")).toBeVisible();
    await expectText(theirs, "a peer that asks");
    await theirs.close();
  } finally {
    await new Promise<void>((resolve) => socket.close(() => resolve()));
    await desk.start();
    await cabin.stop();
    cabin.clean();
  }
});

const LONG = "A very long name of eighty letters that somebody typed because they could do it!";
const RIGHT_TO_LEFT = "מפתח אורות הנמל הגדול של המים השקטים ועוד כמה מילים כדי שיהיה ארוך מאוד מאוד כא";
const PICTURES = "🎭🎪🎨🎬🎤🎧🎼🎹🥁🎷🎺🎸🪕🎻".repeat(2);

/** Buttons and the like that reach out of the window, or over one of their own row. */
async function misplaced(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const found: string[] = [];
    const seen = [...document.querySelectorAll("header, [aria-label='Heard last'], main")].flatMap((root) =>
      [...root.querySelectorAll("button, a")].map((e) => ({ root, e, box: e.getBoundingClientRect() })),
    );
    const shown = seen.filter(({ box }) => box.width > 0 && box.height > 0);
    for (const { e, box } of shown)
      if (box.left < -1 || box.right > window.innerWidth + 1) found.push(`out of the window: ${e.textContent}`);
    const inHead = shown.filter(({ root }) => root.tagName === "HEADER");
    for (const a of inHead)
      for (const b of inHead)
        if (a.e !== b.e && !a.e.contains(b.e) && a.box.left < b.box.left && a.box.right > b.box.left + 1)
          found.push(`${a.e.textContent} covers ${b.e.textContent}`);
    if (document.documentElement.scrollWidth > window.innerWidth) found.push("the page scrolls sideways");
    return found;
  });
}

test("names of eighty letters, from right to left and of pictures push nothing out, also at 1024x768", async ({
  page,
  velvet,
}) => {
  const show = (await velvet.show()) as unknown as Record<
    "surfaces" | "desks" | "mappings" | "layers",
    { name: string }[]
  >;
  const names = [LONG, RIGHT_TO_LEFT, PICTURES];
  for (const list of ["surfaces", "desks", "mappings", "layers"] as const)
    for (const [i, thing] of show[list].entries()) thing.name = names[i % names.length]!;
  expect((await velvet.put(JSON.stringify({ ...show, name: LONG }))).status).toBe(200);
  for (const size of [
    { width: 1024, height: 768 },
    { width: 1280, height: 800 },
  ]) {
    await page.setViewportSize(size);
    for (const place of ["connect", "map", "run"] as const) {
      await openPlace(page, velvet, place);
      if (place === "map") await control(page, "pad-3").click();
      expect(await misplaced(page), `${place} at ${size.width}`).toEqual([]);
    }
  }
});

/** Controls, drawn apart, whose pictures lie over each other. */
async function covered(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const all = [...document.querySelectorAll("[data-control]")].map((e) => ({
      id: e.getAttribute("data-control"),
      box: e.getBoundingClientRect(),
    }));
    const over = (a: DOMRect, b: DOMRect) =>
      a.left < b.right - 1 && b.left < a.right - 1 && a.top < b.bottom - 1 && b.top < a.bottom - 1;
    return all.flatMap((a, i) => all.slice(i + 1).flatMap((b) => (over(a.box, b.box) ? [`${a.id} and ${b.id}`] : [])));
  });
}

test("at 200 % of 1280x800 the page scrolls, and nothing lies over anything else", async ({ page, velvet }) => {
  await page.setViewportSize({ width: 640, height: 400 });
  for (const place of ["map", "connect", "run"] as const) {
    await openPlace(page, velvet, place);
    expect(await covered(page), place).toEqual([]);
    expect((await misplaced(page)).filter((m) => m.includes(" covers "))).toEqual([]);
  }
});
