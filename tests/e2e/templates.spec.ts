/** A new show from templates: what is here gets its usual functions in a few keys, and plays at once. */
import { control, expect, openPlace, openShowMenu, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";

test("pads, faders, strips by keys alone: named, begun, played, taken back by one undo", async ({
  page,
  velvet,
  desk,
}) => {
  await openPlace(page, velvet, "map");
  await page.keyboard.press("Alt+s");
  await page.getByRole("button", { name: /New show from templates/ }).focus();
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog", { name: "A new show from templates" });
  await expect(dialog.getByLabel("Name of the new show")).toBeFocused();
  await expect(dialog).toContainText("Pad 1 to Pad 20: playback on or off, 1 to 20");
  await expect(dialog).toContainText("Fader 1 to Fader 8: channel level, 1 to 8");
  await expectNoFaults(page);
  await page.keyboard.type("Second quay");
  await page.keyboard.press("Enter");
  await expect(dialog).toHaveCount(0);
  await expect(page.getByRole("banner")).toContainText("Second quay");
  await expect(control(page, "pad-5")).toHaveAttribute("data-state", "available");
  await control(page, "pad-5").click();
  await expect.poll(async () => (await desk.playback(1, 5)).on).toBe(true);
  expect((await velvet.shows()).map((s) => s.name)).toContain("The Lantern Regatta");
  await page.keyboard.press("Control+z");
  await expect(control(page, "pad-5")).toHaveAttribute("data-state", "free");
});

test("another surface and desk are chosen, what is shared is said, and nothing chosen begins nothing", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "map");
  const before = await velvet.shows();
  await (await openShowMenu(page)).getByRole("button", { name: /New show from templates/ }).click();
  const dialog = page.getByRole("dialog", { name: "A new show from templates" });
  await dialog.getByRole("combobox", { name: "Desk of Pads and faders" }).click();
  await page.getByRole("option", { name: "Sound" }).click();
  await expect(dialog).toContainText("Pad 1 to Pad 30: mute, 1 to 30");
  for (const box of await dialog.getByRole("checkbox").all()) await box.setChecked(false);
  await expect(dialog.getByRole("button", { name: /Begin the show/ })).toBeDisabled();
  await dialog.getByRole("checkbox").nth(1).check();
  await expect(dialog).toContainText("32 mappings");
  await page.keyboard.press("Escape");
  await expect(dialog).toHaveCount(0);
  expect(await velvet.shows()).toEqual(before);
});
