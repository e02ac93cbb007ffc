/** The daylight theme: chosen by hand or by the computer, in every window of this browser, and readable. */

import type { Page } from "@playwright/test";
import { control, expect, openPlace, openShowMenu, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";

/** What the page is drawn in. */
const scheme = (page: Page) => page.evaluate(() => getComputedStyle(document.documentElement).colorScheme);

test.afterEach(async ({ page }) => page.evaluate(() => localStorage.removeItem("theme")));

test("it is dark until somebody chooses; day is kept, is in every window, and Run stays dark", async ({
  page,
  context,
  velvet,
}) => {
  await page.emulateMedia({ colorScheme: "light" });
  await openPlace(page, velvet, "map");
  expect(await scheme(page)).toBe("dark");
  const other = await context.newPage();
  await openPlace(other, velvet, "connect");
  await page.keyboard.press("?");
  await page.getByRole("toolbar", { name: "Theme" }).getByRole("button", { name: "daylight" }).click();
  await page.keyboard.press("Escape");
  await expect.poll(() => scheme(page)).toBe("light");
  await expect.poll(() => scheme(other)).toBe("light");
  await page.reload();
  expect(await scheme(page)).toBe("light"); // from the first moment on, before anything runs
  await openPlace(page, velvet, "run");
  expect(await scheme(page)).toBe("dark");
  await openPlace(page, velvet, "map");
  await page.keyboard.press("Control+k");
  await page.getByRole("option", { name: "Theme: as the computer" }).click();
  await expect.poll(() => scheme(page)).toBe("light");
  await page.emulateMedia({ colorScheme: "dark" });
  await expect.poll(() => scheme(page)).toBe("dark");
  await page.emulateMedia({ colorScheme: null });
});

test("in daylight every ink can be read on its ground", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await page.evaluate(() => {
    localStorage.setItem("theme", "day");
    dispatchEvent(new Event("theme"));
  });
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
  await expectNoFaults(page);
  await page.keyboard.press("t");
  await expect(page.getByRole("grid")).toBeVisible();
  await expectNoFaults(page);
  await page.keyboard.press("t");
  await page.keyboard.press("`");
  await expect(page.getByRole("listbox", { name: "Messages, newest first" }).getByRole("option").first()).toBeVisible();
  await expectNoFaults(page);
  await page.keyboard.press("`");
  await page.keyboard.press("g");
  await expect(page.getByRole("dialog")).toBeVisible();
  await expectNoFaults(page);
  await openPlace(page, velvet, "connect");
  await expectNoFaults(page);
  const menu = await openShowMenu(page);
  await menu.getByRole("button", { name: /Versions/ }).click();
  await expect(page.getByRole("list", { name: "Versions" })).toContainText("Now");
  await expectNoFaults(page);
});

test("in daylight the words that come up at the corner can be read, and what stands on hold", async ({
  page,
  velvet,
}) => {
  await page.addInitScript(() => localStorage.setItem("theme", "day"));
  await openPlace(page, velvet, "map");
  expect(await scheme(page)).toBe("light");
  await page.keyboard.press("e");
  await expect(page.getByText("What runs stays as it is until you put them in (E).")).toBeVisible();
  await expectNoFaults(page);
  await page.getByRole("button", { name: "Edits are held" }).click();
  await expect(page.getByRole("dialog", { name: "Edits on hold" })).toBeVisible();
  await expectNoFaults(page);
});
