/** Dragging in the Map: functions to controls, what controls do to others, actions to their place; by mouse, finger and keys. */
import type { Locator, Page } from "@playwright/test";
import { type Application, control, expect, openPlace, test } from "./application.ts";

interface Shown {
  id: string;
  surface: string;
  control: string;
  actions: { id: string; function: string; bindings: Record<string, { value?: number }> }[];
}
const onPad = async (velvet: Application, pad: string) =>
  ((await velvet.show()).mappings as unknown as Shown[])
    .filter((m) => m.surface === "deck" && m.control === pad)
    .flatMap((m) => m.actions.map((a) => a.function));
const fn = (page: Page, desk: string, id: string) => page.locator(`[data-desk="${desk}"][data-function="${id}"]`);
const frame = (page: Page) => page.locator("[data-drop]");

async function openMap(page: Page, velvet: Application): Promise<void> {
  await openPlace(page, velvet, "map");
  await page.locator("[id^=DndLiveRegion]").waitFor({ state: "attached" }); // what drags is fetched after the Map
}
async function middle(of: Locator): Promise<[number, number]> {
  await of.scrollIntoViewIfNeeded();
  const box = (await of.boundingBox())!;
  return [box.x + box.width / 2, box.y + box.height / 2];
}
/** Takes it up and brings it there, without letting go. */
async function carry(page: Page, from: Locator, to: Locator): Promise<void> {
  const [x, y] = await middle(from);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 12, y + 2, { steps: 3 });
  await page.mouse.move(...(await middle(to)), { steps: 6 });
}

test("a function is dragged to a free pad, which says what it would become; the desk does it, and one undo takes it back", async ({
  page,
  velvet,
  desk,
}) => {
  await openMap(page, velvet);
  await carry(page, fn(page, "lights", "playback.toggle"), control(page, "pad-17"));
  await expect(frame(page)).toHaveText("Playback on or off 17");
  expect(await onPad(velvet, "pad-17")).toEqual([]);
  await page.mouse.up();
  await expect.poll(() => onPad(velvet, "pad-17")).toEqual(["playback.toggle"]);
  await expect(page.getByRole("region", { name: "What it does" })).toContainText("Pad 17");
  await control(page, "pad-17").click();
  await expect.poll(async () => (await desk.playback(1, 17)).on).toBe(true);
  await page.keyboard.press("Control+z");
  await expect.poll(() => onPad(velvet, "pad-17")).toEqual([]);
});

test("let go beside everything, or with Escape, nothing is done; nothing was armed by the long way", async ({
  page,
  velvet,
}) => {
  await openMap(page, velvet);
  const { mappings } = await velvet.show();
  await carry(page, fn(page, "lights", "playback.go"), page.getByRole("link", { name: "Connect" }));
  await expect(frame(page)).toHaveCount(0);
  await page.mouse.up();
  await carry(page, fn(page, "lights", "playback.go"), control(page, "pad-18"));
  await expect(frame(page)).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(frame(page)).toHaveCount(0);
  await page.mouse.up();
  await expect(page.locator("[data-armed=true]")).toHaveCount(0);
  expect((await velvet.show()).mappings).toEqual(mappings);
});

test("on one of many it is a series of all; what many do is dragged on as one", async ({ page, velvet }) => {
  await openMap(page, velvet);
  await control(page, "pad-15").click();
  await control(page, "pad-17").click({ modifiers: ["Shift"] });
  await carry(page, fn(page, "lights", "playback.flash"), control(page, "pad-16"));
  await expect(frame(page)).toHaveText("Flash playback, for all 3");
  await page.mouse.up();
  const series = page.getByRole("region", { name: "Series" });
  await expect(series.getByRole("listitem")).toHaveCount(3);
  await series.getByRole("button", { name: /^Apply/ }).click();
  await expect.poll(() => onPad(velvet, "pad-17")).toEqual(["playback.flash"]);
  await control(page, "pad-15").click();
  await control(page, "pad-17").click({ modifiers: ["Shift"] });
  await carry(page, page.getByRole("button", { name: "Copy what it does" }), control(page, "pad-18"));
  await expect(frame(page)).toHaveText("Copy to Pad 18 and 2 more, in the place of what is there");
  await page.mouse.up();
  await expect.poll(() => onPad(velvet, "pad-20")).toEqual(["playback.flash"]);
});

test("what a pad does is copied to another, and with Alt it is moved there", async ({ page, velvet }) => {
  await openMap(page, velvet);
  await control(page, "pad-30").click();
  const grip = page.getByRole("button", { name: "Copy what it does" });
  await carry(page, grip, control(page, "pad-18"));
  await expect(frame(page)).toHaveText("Copy to Pad 18");
  await page.mouse.up();
  await expect.poll(() => onPad(velvet, "pad-18")).toEqual(["page.go"]);
  expect(await onPad(velvet, "pad-30")).toEqual(["page.go"]);
  await carry(page, grip, control(page, "pad-17"));
  await page.keyboard.down("Alt");
  await expect(frame(page)).toHaveText("Move to Pad 17");
  await page.mouse.up();
  await page.keyboard.up("Alt");
  await expect.poll(() => onPad(velvet, "pad-17")).toEqual(["page.go"]);
  expect(await onPad(velvet, "pad-18")).toEqual([]);
});

test("actions are put in another order, by the pointer and by keys alone", async ({ page, velvet }) => {
  await openMap(page, velvet);
  await control(page, "pad-17").click();
  for (const id of ["playback.go", "playback.flash", "blackout"]) {
    await fn(page, "lights", id).click();
    await expect.poll(async () => (await onPad(velvet, "pad-17")).at(-1)).toBe(id);
  }
  const cards = page.locator("[data-action]");
  await expect(cards).toHaveCount(3);
  await carry(page, cards.nth(2).getByRole("button", { name: /^Move / }), cards.nth(0));
  await expect(frame(page)).toHaveText("Before this one");
  await page.mouse.up();
  await expect.poll(() => onPad(velvet, "pad-17")).toEqual(["blackout", "playback.go", "playback.flash"]);
  await page.getByRole("button", { name: "Move blackout on or off" }).focus();
  await page.keyboard.press("ArrowDown");
  await expect.poll(() => onPad(velvet, "pad-17")).toEqual(["playback.go", "blackout", "playback.flash"]);
  await expect(page.getByRole("button", { name: "Move blackout on or off" })).toBeFocused();
  await page.keyboard.press("ArrowDown");
  await expect.poll(() => onPad(velvet, "pad-17")).toEqual(["playback.go", "playback.flash", "blackout"]);
  await page.keyboard.press("ArrowDown"); // it is the last already
  await page.keyboard.press("ArrowUp");
  await expect.poll(() => onPad(velvet, "pad-17")).toEqual(["playback.go", "blackout", "playback.flash"]);
});

test("a finger drags by the grip", async ({ browser, velvet }) => {
  const context = await browser.newContext({ hasTouch: true, viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await openMap(page, velvet);
  await control(page, "pad-30").tap();
  const [x, y] = await middle(page.getByRole("button", { name: "Copy what it does" }));
  const [toX, toY] = await middle(control(page, "pad-18"));
  const client = await context.newCDPSession(page);
  const touch = (type: "touchStart" | "touchMove" | "touchEnd", at: [number, number] | null) =>
    client.send("Input.dispatchTouchEvent", { type, touchPoints: at ? [{ x: at[0], y: at[1] }] : [] });
  await touch("touchStart", [x, y]);
  for (let i = 1; i <= 8; i++) await touch("touchMove", [x + ((toX - x) * i) / 8, y + ((toY - y) * i) / 8]);
  await expect(frame(page)).toHaveText("Copy to Pad 18");
  await touch("touchEnd", null);
  await expect.poll(() => onPad(velvet, "pad-18")).toEqual(["page.go"]);
  await context.close();
});
