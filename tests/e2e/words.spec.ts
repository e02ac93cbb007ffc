/** Names, notes and bundles: what people say of controls, pages, layers and mappings, and mappings switched together. */
import { control, expect, openPlace, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";

test("a control is called otherwise, by keys, with a note; everything that names it says so", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "map");
  await control(page, "pad-15").click();
  await page.getByRole("button", { name: "Name and note" }).focus();
  await page.keyboard.press("Enter");
  const name = page.getByLabel("Name of the control");
  await name.fill("Curtain");
  await name.press("Enter");
  await expect(page.getByRole("heading", { name: "Curtain" })).toBeVisible();
  const note = page.getByLabel("Note on the control");
  await note.fill("only with the stage crew");
  await note.press("Enter");
  await expect(note).toHaveValue("only with the stage crew");
  await expectNoFaults(page);
  await page.getByRole("button", { name: "Name and note" }).click();
  await expect(page.getByText("only with the stage crew")).toBeVisible();
  await expect(control(page, "pad-15")).toHaveAccessibleName(/^Curtain, free/);
  await expect(page.getByRole("region", { name: "Heard last" })).toContainText("curtain");
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("heading", { name: "Pad 15" })).toBeVisible();
});

test("a page and a layer have notes, which stand in the Map while they are up", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await page.keyboard.press("g");
  const parts = page.getByRole("dialog", { name: "Layers and more" });
  await parts.getByLabel("Note on Base").fill("gulls are on the second desk");
  await parts.getByLabel("Note on Base").press("Enter");
  await parts.getByRole("tab", { name: "Pages" }).click();
  const pages = parts.getByRole("region", { name: "Pages of Lights" });
  await pages.getByLabel("Name of page 2").fill("Second Tide");
  await pages.getByLabel("Note on page 2").fill("boats on the left first");
  await pages.getByLabel("Note on page 2").press("Enter");
  await expectNoFaults(page);
  await page.keyboard.press("Escape");
  await desk.act({ kind: "page", value: 2 });
  await expect(page.getByText("Page 2: boats on the left first · Base: gulls are on the second desk")).toBeVisible();
  await expect(page.getByRole("banner")).toContainText("2 Second Tide");
  await desk.act({ kind: "page", value: 1 });
  await expect(page.getByText("boats on the left first")).toHaveCount(0);
});

test("a bundle: chosen pads go into a new one, it is switched off as one, and the bottom line switches it on again", async ({
  page,
  velvet,
  desk,
}) => {
  await openPlace(page, velvet, "map");
  await control(page, "pad-1").click({ modifiers: ["Control"] });
  await control(page, "pad-2").click({ modifiers: ["Control"] });
  await page.getByRole("combobox", { name: "Bundle of all" }).click();
  await page.getByRole("option", { name: "a new one" }).click();
  const bundle = page.getByRole("combobox", { name: "Bundle of all" });
  await expect(bundle).toHaveText("Bundle 1");
  await page.keyboard.press("Control+z"); // one undo takes back the bundle, and who is in it
  await expect(bundle).toHaveText("Bundle…");
  await page.keyboard.press("Control+Shift+z");
  await expect(bundle).toHaveText("Bundle 1");
  await page.keyboard.press("Escape");
  await page.keyboard.press("g");
  const parts = page.getByRole("dialog", { name: "Layers and more" });
  await parts.getByRole("tab", { name: "Bundles" }).click();
  await expect(parts).toContainText("4 mappings");
  await parts.getByLabel("Name of Bundle 1").fill("Guest");
  await parts.getByLabel("Name of Bundle 1").press("Enter");
  await parts.locator("[data-part]").getByRole("switch", { name: "on" }).click();
  await expectNoFaults(page);
  await page.keyboard.press("Escape");
  await expect(control(page, "pad-1")).toHaveAttribute("data-state", "switched-off");
  await control(page, "pad-1").click();
  await expect(page.getByText("Guest, switched off")).toBeVisible();
  const heard = page.getByRole("region", { name: "Heard last" });
  await expect(heard).toContainText("switched off");
  expect((await desk.playback(1, 1)).on).toBe(false);
  await heard.getByRole("button", { name: "Switch on “Guest”" }).click();
  await expect(control(page, "pad-1")).toHaveAttribute("data-state", "available");
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
  // From the bundle to its rows.
  await page.keyboard.press("g");
  await parts.getByRole("tab", { name: "Bundles" }).click();
  await parts.getByRole("button", { name: "Show them" }).click();
  await expect(page.getByRole("grid", { name: "Mappings" }).getByRole("row", { name: /^Guest/ })).toContainText(
    "4 rows",
  );
});
