/** Two windows: of two edits of one thing the second is told and chooses; edits of two things are both done. */
import { control, expect, openPlace, test } from "./application.ts";

test("a window that did not see the other’s edit yet is told, and may do its own all the same", async ({
  page,
  context,
  velvet,
}) => {
  await openPlace(page, velvet, "map");
  const other = await context.newPage();
  await openPlace(other, velvet, "map");
  const mapping = (await velvet.show()).mappings.find((m) => m.control === "pad-1")!;
  const isOn = async () =>
    ((await velvet.show()).mappings as unknown as { id: string; on: boolean }[]).find((m) => m.id === mapping.id)!.on;
  await control(page, "pad-1").click();
  await control(other, "pad-1").click();
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
