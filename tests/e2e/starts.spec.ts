/** The other way round: of each function what starts it, or that nothing does. */
import { expect, openPlace, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";

test("from a function to the control that starts it, and which functions nothing starts", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  const before = await velvet.show();
  await page.keyboard.press("f");
  const starts = page.getByRole("region", { name: "What starts each function" });
  await expect(starts.getByText("Auto transition", { exact: true })).toBeVisible();
  await starts.getByRole("button", { name: /^Fader 4 of Deck grid/ }).click();
  await expect(page.getByRole("region", { name: "What it does" })).toContainText("Fader 4 · Pier bulbs");
  await expectNoFaults(page);

  const search = page.getByLabel("What should it do?");
  await search.fill("choose on preview");
  await expect(starts.getByRole("button")).toHaveCount(0);
  await expect(page.getByRole("status").filter({ hasText: "started by" })).toHaveText(
    "0 of 1 are started by something",
  );
  await search.press("Enter"); // gives nothing: here it is only looked
  await search.press("Escape");
  await page.getByLabel("Only the others").click();
  await expect(starts.getByText("Choose on preview", { exact: true })).toBeVisible();
  await expect(starts.getByText("Auto transition", { exact: true })).toHaveCount(0);
  await expect(starts.getByRole("button")).toHaveCount(0);
  expect(await velvet.show()).toEqual(before);

  await page.keyboard.press("f");
  await expect(page.getByRole("listbox", { name: "Functions" })).toBeVisible();
});
