/** The checks as a quiet list: the way to each place, and what ends it where that changes nothing else. */
import { control, expect, openPlace, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";

test("mappings that never act are switched off together, and what they lie beside plays as before", async ({
  page,
  velvet,
  desk,
}) => {
  const { mappings } = await velvet.show();
  for (const pad of ["pad-1", "pad-2"]) {
    const first = mappings.find((m) => m.control === pad)!;
    const twin = { ...first, id: `twin-${pad}` };
    expect((await velvet.post("/api/edit", { kind: "add-mapping", mapping: twin })).status).toBe(200);
  }
  await openPlace(page, velvet, "map");
  await page.getByRole("button", { name: /4 checks/ }).click();
  const parts = page.getByRole("dialog", { name: "Layers and more" });
  await parts.getByRole("tab", { name: /Checks/ }).click();
  await expect(parts).toContainText("say the same; the other one wins.");
  await expectNoFaults(page);
  await parts.getByRole("button", { name: "Switch this one off" }).first().click();
  await expect(parts.getByRole("button", { name: "Switch this one off" })).toHaveCount(1);
  await page.keyboard.press("Escape");
  await page.keyboard.press("Control+z");
  await page.getByRole("button", { name: /4 checks/ }).click();
  await parts.getByRole("tab", { name: /Checks/ }).click();
  await parts.getByRole("button", { name: "Mend 2" }).click();
  await expect(parts).toContainText("Nothing odd");
  await page.keyboard.press("Escape");
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
});

test("from a check of a route and of a desk to where it is mended", async ({ page, velvet }) => {
  const route = { id: "ring", name: "Ring", on: true, from: "deck", to: "deck", pass: "all" };
  expect((await velvet.post("/api/edit", { kind: "put-route", item: route })).status).toBe(200);
  await openPlace(page, velvet, "map");
  await page.getByRole("button", { name: /1 check/ }).click();
  const parts = page.getByRole("dialog", { name: "Layers and more" });
  await parts.getByRole("tab", { name: /Checks/ }).click();
  await parts.getByRole("button", { name: "Go there" }).click();
  await expect(parts.getByLabel("Name of Ring")).toBeVisible();
});
