/** Two windows: of two edits of one thing the second is told and chooses; edits of two things are both done. */
import type { Page } from "@playwright/test";
import { type Application, control, expect, openPlace, test } from "./application.ts";

/** This window and another, both at one pad. */
async function bothAt(page: Page, velvet: Application, pad: string): Promise<Page> {
  const other = await page.context().newPage();
  for (const window of [page, other]) {
    await openPlace(window, velvet, "map");
    await control(window, pad).click();
  }
  return other;
}

test("a window that did not see the other’s edit yet is told, and may do its own all the same", async ({
  page,
  velvet,
}) => {
  const other = await bothAt(page, velvet, "pad-1");
  const mapping = (await velvet.show()).mappings.find((m) => m.control === "pad-1")!;
  const isOn = async () =>
    ((await velvet.show()).mappings as unknown as { id: string; on: boolean }[]).find((m) => m.id === mapping.id)!.on;
  // As if the other window's word were on its way and not here yet: this one has the revision before it in view.
  await page.route("**/api/edit", async (route) => {
    const headers = { ...route.request().headers(), "x-seen": "0" };
    await route.continue({ headers });
  });
  await other.keyboard.press("o");
  await expect.poll(isOn).toBe(false);
  await expect(page.getByRole("button", { name: "Switch on" })).toBeVisible();
  await page.getByRole("button", { name: "Switch on" }).click();
  await expect(page.getByText("Not changed: another window was first")).toBeVisible();
  expect(await isOn()).toBe(false);
  await page.unroute("**/api/edit");
  await page.getByRole("button", { name: "Do mine too" }).click();
  await expect.poll(isOn).toBe(true);
});

test("what was taken back in full view is no reason to be told", async ({ page, velvet }) => {
  const other = await bothAt(page, velvet, "pad-1");
  await other.keyboard.press("o");
  await expect(page.getByRole("button", { name: "Switch on" })).toBeVisible();
  await other.keyboard.press("Control+z");
  await page.getByRole("button", { name: "Switch off" }).click();
  await expect(page.getByRole("button", { name: "Switch on" })).toBeVisible();
  await expect(page.getByText("another window was first")).toHaveCount(0);
});

test("a name that is typed in one window lands in no other mapping, when another window unmaps its own", async ({
  page,
  velvet,
}) => {
  // Pad 13 does something else on each of three pages: what is unmapped makes room for the next on the spine.
  const other = await bothAt(page, velvet, "pad-13");
  await page.getByRole("button", { name: "when and how" }).click();
  const name = page.getByLabel("Name of the mapping");
  await name.fill("Undercurrent");
  const before = (await velvet.show()).mappings.length;
  await other.keyboard.press("Delete");
  await expect.poll(async () => (await velvet.show()).mappings.length).toBe(before - 1);
  await expect(name).not.toHaveValue("Undercurrent");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Tab");
  await control(page, "pad-14").click();
  await expect(page.getByRole("region", { name: "What it does" })).toContainText("Pad 14");
  expect((await velvet.show()).mappings.filter((m) => (m as { name?: string }).name === "Undercurrent")).toEqual([]);
});
