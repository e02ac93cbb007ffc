/** The computer's keys as hands on the show. */
import type { Page } from "@playwright/test";
import { type Application, expect, openPlace, test } from "./application.ts";

const fixed = (value: number) => ({ from: "fixed", value });

/** The keyboard as a surface: Q turns playback 2 on or off, W 3, F flashes 6, and the arrows turn the level of 1. */
async function addKeys(velvet: Application): Promise<void> {
  const surface = {
    id: "pc",
    name: "Keyboard",
    profile: "computer-keys",
    in: { kind: "screen" },
    out: { kind: "screen" },
  };
  expect((await velvet.post("/api/edit", { kind: "add-surface", surface })).status).toBe(200);
  for (const [control, fn, playback, gesture] of [
    ["key-q", "playback.toggle", 2, "press"],
    ["key-w", "playback.toggle", 3, "press"],
    ["key-f", "playback.flash", 6, "press"],
    ["up-down", "playback.level", 1, "turn"],
  ] as const) {
    const bindings = { page: fixed(1), playback: fixed(playback) };
    const action = {
      id: "a",
      on: true,
      desk: "lights",
      function: fn,
      bindings,
      shape: { input: [0, 1], invert: false },
    };
    const mapping = { id: `m-${control}`, name: "", note: "", on: true, surface: "pc", control, gesture, layers: [] };
    const added = await velvet.post("/api/edit", {
      kind: "add-mapping",
      mapping: { ...mapping, takeover: "jump", look: {}, actions: [action] },
    });
    expect(added.status).toBe(200);
  }
}

const keysPlay = (page: Page) => page.getByRole("button", { name: /^Keys (play|rest)$/ });

test("keys and pairs of keys play in Run, and elsewhere where they are let, but never while something is typed", async ({
  page,
  velvet,
  desk,
}) => {
  await addKeys(velvet);
  await openPlace(page, velvet, "run");
  await expect(page.getByText("the computer’s keys play")).toBeVisible();
  await expect(page.getByText("answering").first()).toBeVisible();
  await page.keyboard.press("q");
  await expect.poll(async () => (await desk.playback(1, 2)).on).toBe(true);
  for (let n = 0; n < 20; n++) await page.keyboard.press("ArrowUp");
  await expect.poll(async () => (await desk.playback(1, 1)).level).toBeGreaterThan(0.1);
  const up = (await desk.playback(1, 1)).level;
  for (let n = 0; n < 5; n++) await page.keyboard.press("ArrowDown");
  await expect.poll(async () => (await desk.playback(1, 1)).level).toBeLessThan(up);
  await page.keyboard.down("f");
  await expect.poll(async () => (await desk.playback(1, 6)).flash).toBe(true);
  await page.keyboard.up("f");
  await expect.poll(async () => (await desk.playback(1, 6)).flash).toBe(false);

  // On the Map the application's own keys are what they are, until the keys are let play.
  await openPlace(page, velvet, "map");
  await page.keyboard.press("g");
  await expect(page.getByRole("dialog", { name: "Layers and more" })).toBeVisible();
  await page.keyboard.press("Escape");
  await page.keyboard.press("q");
  await expect(keysPlay(page)).toHaveText("Keys rest");
  await keysPlay(page).click();
  await page.keyboard.press("w");
  await expect.poll(async () => (await desk.playback(1, 3)).on).toBe(true);
  expect((await desk.playback(1, 2)).on).toBe(true); // the Q before it did not play
  await page.keyboard.press("g");
  await page.locator("#function-search").fill("");
  await page.locator("#function-search").pressSequentially("qqq");
  await page.locator("#function-search").blur();
  await page.keyboard.press("w");
  await expect.poll(async () => (await desk.playback(1, 3)).on).toBe(false);
  expect((await desk.playback(1, 2)).on).toBe(true);
  await expect(page.getByRole("dialog", { name: "Layers and more" })).toHaveCount(0);
});

test("a key that another window holds plays there alone, and is let go when that window goes away", async ({
  page,
  velvet,
  desk,
}) => {
  await addKeys(velvet);
  const other = await page.context().newPage();
  for (const p of [page, other]) {
    await openPlace(p, velvet, "run");
    await expect(p.getByText("answering").first()).toBeVisible();
  }
  await other.keyboard.down("f");
  await expect.poll(async () => (await desk.playback(1, 6)).flash).toBe(true);
  await page.keyboard.down("f");
  await expect(page.getByText("Another window holds this key of Keyboard.")).toBeVisible();
  await page.keyboard.up("f");
  await page.keyboard.press("q");
  await expect.poll(async () => (await desk.playback(1, 2)).on).toBe(true);
  expect((await desk.playback(1, 6)).flash).toBe(true);
  await other.close();
  await expect.poll(async () => (await desk.playback(1, 6)).flash).toBe(false);
  await page.keyboard.down("f");
  await expect.poll(async () => (await desk.playback(1, 6)).flash).toBe(true);
  await page.evaluate(() => window.dispatchEvent(new Event("blur"))); // its key will not be heard coming up
  await expect.poll(async () => (await desk.playback(1, 6)).flash).toBe(false);
});
