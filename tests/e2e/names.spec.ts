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
