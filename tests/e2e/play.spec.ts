/** From the hands to the desk and back, through every layer, in a real browser over real sockets. */
import { createSocket } from "node:dgram";
import { readFileSync } from "node:fs";
import { control, dragFader, expect, expectLight, openPlace, test, trafficOf } from "./application.ts";

test.beforeEach(async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await expectLight(page, "pad-1", "dim");
});

test("a pad fires a playback, and lights up because the desk said so", async ({ page, desk }) => {
  await expect(control(page, "pad-2")).toContainText("Water fans");
  await control(page, "pad-2").click();
  await expect.poll(async () => (await desk.playback(1, 2)).on).toBe(true);
  await expectLight(page, "pad-2", "full");
  await control(page, "pad-2").click();
  await expect.poll(async () => (await desk.playback(1, 2)).on).toBe(false);
  await expectLight(page, "pad-2", "dim");
});

test("a light follows whoever changes the playback", async ({ page, desk }) => {
  await desk.act({ kind: "on", page: 1, playback: 5, value: true });
  await expectLight(page, "pad-5", "full");
  await expect(control(page, "pad-5")).toHaveCSS("--lamp", "#4fa3c7"); // the blue it has at the desk
  await desk.act({ kind: "on", page: 1, playback: 5, value: false });
  await expectLight(page, "pad-5", "dim");
});

test("keys play a pad as well as the mouse", async ({ page, desk }) => {
  await control(page, "pad-22").focus();
  await page.keyboard.down("Space");
  await expect.poll(async () => (await desk.playback(3, 7)).flash).toBe(true);
  await expectLight(page, "pad-22", "full");
  await page.keyboard.up("Space");
  await expect.poll(async () => (await desk.playback(3, 7)).flash).toBe(false);
});

test("a finger plays a pad", async ({ page, desk, velvet, browser }) => {
  const context = await browser.newContext({ hasTouch: true, viewport: { width: 1280, height: 800 } });
  const tablet = await context.newPage();
  await openPlace(tablet, velvet, "run");
  await expectLight(tablet, "pad-1", "dim");
  await control(tablet, "pad-1").tap();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
  await expectLight(page, "pad-1", "full"); // the other browser sees it too
  await context.close();
});

test("all of Run fits on a phone, and a finger plays there", async ({ desk, velvet, browser }) => {
  const context = await browser.newContext({ hasTouch: true, viewport: { width: 390, height: 844 } });
  const phone = await context.newPage();
  await openPlace(phone, velvet, "run");
  await expectLight(phone, "pad-1", "dim");
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  for (const id of ["pad-1", "pad-30", "fader-6"]) {
    const box = (await control(phone, id).boundingBox())!;
    expect(box.x).toBeGreaterThanOrEqual(0);
    expect(box.x + box.width).toBeLessThanOrEqual(390);
    expect(box.y + box.height).toBeLessThanOrEqual(844);
  }
  await control(phone, "pad-1").tap();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
  await context.close();
});

test("a level that is moved at the desk is followed", async ({ page, desk }) => {
  await desk.act({ kind: "level", page: 1, playback: 1, value: 0.64 });
  await expect(control(page, "fader-1")).toHaveAttribute("aria-valuetext", /64 %/);
  await desk.act({ kind: "grand", value: 0.5 });
  await expect(control(page, "fader-6")).toHaveAttribute("aria-valuetext", /50 %/);
});

test("a fader has to catch its level before it moves it", async ({ page, desk }) => {
  await desk.act({ kind: "level", page: 1, playback: 2, value: 0.6 });
  await expect(control(page, "fader-2")).toHaveAttribute("aria-valuetext", /60 %/);
  await dragFader(page, "fader-2", 0.1, 0.4);
  await expect(control(page, "fader-2")).toHaveAttribute("data-catching", "raise");
  await expect(control(page, "fader-2")).toHaveAttribute("aria-valuetext", /raise to catch/);
  expect((await desk.playback(1, 2)).level).toBeCloseTo(0.6);
  await dragFader(page, "fader-2", 0.4, 0.8);
  await expect(control(page, "fader-2")).toHaveAttribute("data-catching", "");
  await expect.poll(async () => (await desk.playback(1, 2)).level).toBeCloseTo(0.8, 1);
});

test("a page that is changed at the desk changes lights and meaning together", async ({ page, desk }) => {
  await desk.act({ kind: "on", page: 1, playback: 1, value: true });
  await desk.act({ kind: "on", page: 3, playback: 2, value: true });
  await expectLight(page, "pad-1", "full");
  await desk.act({ kind: "page", value: 3 });
  await expect(control(page, "pad-1")).toContainText("Sea wall");
  await expectLight(page, "pad-1", "dim");
  await expectLight(page, "pad-2", "full");
  await expect(page.getByRole("banner")).toContainText("3 Breakwater");
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(3, 1)).on).toBe(true);
  expect((await desk.playback(1, 1)).on).toBe(true); // page 1 was left alone
});

test("a pad that is held over a page change lets go of what it started", async ({ page, desk }) => {
  await control(page, "shift").hover();
  await page.mouse.down();
  await expect(page.getByRole("banner")).toContainText("Layer Shift");
  await control(page, "pad-4").focus();
  // The mouse holds Shift; a key holds the pad.
  await page.keyboard.down("Space");
  await expect.poll(async () => (await desk.playback(1, 4)).flash).toBe(true);
  await desk.act({ kind: "page", value: 2 });
  await expect(page.getByRole("banner")).toContainText("2 Pilot Light");
  await page.keyboard.up("Space");
  await expect.poll(async () => (await desk.playback(1, 4)).flash).toBe(false);
  expect((await desk.playback(2, 4)).flash).toBe(false);
  await page.mouse.up();
  await expect(page.getByRole("banner")).toContainText("Layer Base");
});

test("the bottom line tells what was heard last and what became of it", async ({ page }) => {
  const line = page.getByRole("region", { name: "Heard last" });
  await control(page, "pad-1").click();
  await expect(line).toContainText("pad 1 pressed");
  await expect(line).toContainText("90 24 7F");
  await expect(line).toContainText("Lights: playback on or off 1.1");
  await expect(line).toContainText(/answered in \d+ ms/);
  await control(page, "pad-15").click();
  await expect(line).toContainText("nothing sent: not mapped");
});

test("the list shows the messages in decimal, hex and by note name, can be filtered and paused", async ({ page }) => {
  await page.keyboard.press("`");
  const list = page.getByRole("listbox", { name: "Messages, newest first" });
  await control(page, "pad-1").click();
  const press = (await trafficOf(page, "note 36 · C1 = 127, ch 1")).first();
  await expect(press).toContainText("90 24 7F");
  await expect(press).toContainText("Mast lanterns");
  await trafficOf(page, "/set/playback/1/1/on 1");
  await page.getByLabel("Filter by text, number or control").fill("/now/playback/1/1/on");
  await expect(list.locator("[data-row]").first()).toContainText(/answered in/);
  await expect(list.locator("[data-row]", { hasText: "90 24 7F" })).toHaveCount(0);
  await page.getByLabel("Filter by text, number or control").fill("");
  await page.getByRole("button", { name: /Pause/ }).click();
  const waiting = page.getByRole("status").filter({ hasText: /newer waiting/ });
  const howMany = async () => Number.parseInt((await waiting.textContent())!.match(/(\d+) newer/)![1]!, 10);
  await control(page, "pad-2").click();
  await expect(waiting).toContainText(/[1-9]\d* newer waiting/);
  // From here on the list is held: what is heard is counted, and not a row moves.
  const shown = await list.locator("[data-row]").allTextContents();
  const before = await howMany();
  await control(page, "pad-3").click();
  await expect.poll(howMany).toBeGreaterThan(before);
  expect(await list.locator("[data-row]").allTextContents()).toEqual(shown);
  await page.getByRole("button", { name: /Go on/ }).click();
  await expect(list.locator("[data-row]", { hasText: "note 37" }).first()).toBeVisible();
});

test("rows of the list are chosen by hand and keys, and only they are copied and saved as a take", async ({ page }) => {
  await page.context().grantPermissions(["clipboard-read", "clipboard-write"]);
  await page.keyboard.press("`");
  for (const id of ["pad-1", "pad-2", "pad-3"]) await control(page, id).click();
  const list = page.getByRole("listbox", { name: "Messages, newest first" });
  await page.getByRole("combobox", { name: "Direction" }).click();
  await page.getByRole("option", { name: "only in" }).click();
  await page.getByRole("combobox", { name: "Kind" }).click();
  await page.getByRole("option", { name: "notes" }).click();
  // The newest of each: the list still has what other tests played.
  const press = (note: number) => list.getByRole("option", { name: new RegExp(`note ${note} .* = 127`) }).first();
  await expect(list.getByRole("option").nth(1)).toContainText("note 38");

  await press(37).click();
  await expect(press(37)).toHaveAttribute("aria-selected", "true");
  await control(page, "pad-4").click();
  await expect(page.getByRole("status").filter({ hasText: "held while you read" })).toContainText(/[1-9]\d* newer/);
  await page.getByRole("button", { name: "Copy 1", exact: true }).click();
  await expect(page.getByText("1 rows copied")).toBeVisible();
  expect((await page.evaluate(() => navigator.clipboard.readText())).split("\t").slice(1, 4)).toEqual([
    "in",
    "Deck grid",
    "90 25 7F",
  ]);

  // From the oldest press to the newest: all that is shown between them.
  await press(36).click();
  await press(38).click({ modifiers: ["Shift"] });
  // Three presses and the two releases between them.
  await expect(list.getByRole("option", { selected: true })).toHaveCount(5);
  const saving = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save 5 as a take" }).click();
  const take = readFileSync(await (await saving).path(), "utf8")
    .trim()
    .split("\n");
  expect(take.slice(1).map((line) => JSON.parse(line).midi)).toEqual([
    "90 24 7F",
    expect.stringMatching(/^[89]0 24/),
    "90 25 7F",
    expect.stringMatching(/^[89]0 25/),
    "90 26 7F",
  ]);

  // By keys: the arrow goes on from the row that was clicked, Shift takes rows along, Enter lets one go, Escape all.
  await page.keyboard.press("Escape");
  await expect(list.getByRole("option", { selected: true })).toHaveCount(0);
  await press(37).click();
  await page.keyboard.press("Shift+ArrowDown");
  await expect(list.getByRole("option", { selected: true })).toHaveCount(2);
  await page.keyboard.press("Enter");
  await expect(list.getByRole("option", { selected: true })).toHaveCount(1);
  await page.keyboard.press("Control+a");
  const shown = /(\d+) shown/.exec((await page.getByRole("status").filter({ hasText: "shown of" }).textContent())!)![1];
  await expect(page.getByRole("button", { name: `Copy ${shown}`, exact: true })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(list).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(list).toBeHidden();
});

test("200,000 messages are kept, found by a filter and held while they are read; only those in view are drawn", async ({
  page,
  velvet,
}) => {
  const port = Number(new URL(velvet.url).port) + 18;
  await velvet.post("/api/edit", {
    kind: "set-surface-ports",
    id: "deck",
    in: { kind: "midi-udp", host: "127.0.0.1", port },
    out: { kind: "screen" },
  });
  await page.keyboard.press("`");
  const list = page.getByRole("listbox", { name: "Messages, newest first" });
  const status = page.getByRole("status").filter({ hasText: "shown of the last" });
  await expect(list.locator("[data-row]").first()).toBeVisible();
  const socket = createSocket("udp4");
  const send = (number: number) =>
    new Promise((done) => socket.send(Uint8Array.of(0x90, number, 127), port, "127.0.0.1", done));
  // Three notes that nothing is mapped to, in turn; a free pad's release is a row as well as its press.
  // A busy machine loses datagrams; the list is full when it says so.
  await expect(async () => {
    for (let n = 0; n < 60_000; n++) {
      await send(90 + (n % 3));
      if (n % 250 === 0) await new Promise((done) => setImmediate(done));
    }
    await expect(status).toContainText(/ of the last 20\d{4}$/, { timeout: 1500 });
  }).toPass({ timeout: 120_000, intervals: [0] });
  await page.getByLabel("Filter by text, number or control").fill("note 91");
  await expect(status).toContainText(/[56]\d{4} shown of the last/);
  await expect(list.locator("[data-row]").first()).toContainText("90 5B 7F");
  expect(await list.locator("[data-row]").count()).toBeLessThan(60);

  // Down in the list: it is held, whatever comes.
  await list.evaluate((e) => e.scrollTo(0, 600_000));
  await expect(status).toContainText("held while you read");
  const shown = await list.locator("[data-row]").first().getAttribute("data-row");
  for (let n = 0; n < 600; n++) await send(91);
  await expect(status).toContainText(/[1-9]\d* newer waiting/);
  expect(await list.locator("[data-row]").first().getAttribute("data-row")).toBe(shown);
  await page.getByLabel("Filter by text, number or control").fill("");
  await page.getByRole("combobox", { name: "Kind" }).click();
  await page.getByRole("option", { name: "programs" }).click();
  // However many other tests left in it: they are few, and nothing else is shown.
  await expect(status).toContainText(/^(.*· )?\d{1,3} shown/);
  for (const row of await list.locator("[data-row]").allTextContents()) expect(row).toContain("program ");
  socket.close();
});
