/** Several shows, and the versions of one: with the mouse and with the keys alone. */
import { expect, openPlace, openShowMenu, test } from "./application.ts";

test("a show begins beside the others, is renamed, left, opened again, deleted and brought back", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "map");
  const banner = page.getByRole("banner");
  await (await openShowMenu(page)).getByRole("button", { name: "New, empty show" }).click();
  await expect(banner).toContainText("New show");
  const name = (await openShowMenu(page)).getByLabel("Name of the show");
  await name.fill("Matinee");
  await page.keyboard.press("Enter");
  await expect(banner).toContainText("Matinee");

  await (await openShowMenu(page)).getByRole("button", { name: "Open another show" }).click();
  const shelf = page.getByRole("dialog", { name: "Open another show" });
  await expect(shelf.getByRole("listitem").filter({ hasText: "Matinee" })).toContainText("open now");
  await shelf
    .getByRole("listitem")
    .filter({ hasText: "The Lantern Regatta" })
    .getByRole("button", { name: "Open", exact: true })
    .click();
  await expect(banner).toContainText("The Lantern Regatta");
  expect((await velvet.show()).mappings).toHaveLength(128);

  await (await openShowMenu(page)).getByRole("button", { name: "Delete this show" }).click();
  await expect(banner).toContainText("Matinee");
  await page.getByRole("button", { name: "Undo", exact: true }).last().click();
  await expect(banner).toContainText("The Lantern Regatta");

  await (await openShowMenu(page)).getByRole("button", { name: "Open another show" }).click();
  await shelf.getByRole("button", { name: "Delete Matinee" }).click();
  await expect(shelf.getByRole("listitem").filter({ hasText: "Matinee" })).toHaveCount(0);
  await page.keyboard.press("Escape");
  await (await openShowMenu(page)).getByRole("button", { name: "Recover a deleted show" }).click();
  const deleted = page.getByRole("dialog", { name: "Recover a deleted show" });
  await deleted
    .getByRole("listitem")
    .filter({ hasText: "Matinee" })
    .first()
    .getByRole("button", { name: "Recover" })
    .click();
  await expect(banner).toContainText("Matinee");
  await velvet.openShow("The Lantern Regatta");
});

test("a duplicate is another show: what is done in it is not done in the first", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await (await openShowMenu(page)).getByRole("button", { name: "Duplicate this show" }).click();
  await expect(page.getByRole("banner")).toContainText("The Lantern Regatta 2");
  // It runs as the first did: a press reaches the desk.
  await page.locator('[data-control="pad-1"]').click();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
  await page.keyboard.press("Delete");
  await expect.poll(async () => (await velvet.show()).mappings.length).toBe(127);
  await velvet.openShow("The Lantern Regatta");
  await expect.poll(async () => (await velvet.show()).mappings.length).toBe(128);
  await expect(page.getByRole("banner")).toContainText("128 mappings");
});

test("a version is named, compared in words, gone back to as an edit, and opened beside", async ({ page, velvet }) => {
  await openPlace(page, velvet, "connect");
  const versions = () => page.getByRole("list", { name: "Versions" });
  await (await openShowMenu(page)).getByRole("button", { name: /Versions/ }).click();
  await page.getByRole("button", { name: "Name the present one" }).click();
  await page.getByLabel("Name of the present version").fill("Dress rehearsal");
  await page.keyboard.press("Enter");
  await expect(versions()).toContainText("Dress rehearsal");

  const [first, second] = (await velvet.show()).mappings;
  await velvet.post("/api/edit", { kind: "remove-mapping", id: first!.id });
  await velvet.post("/api/edit", {
    kind: "change-mapping",
    id: second!.id,
    set: { look: { colour: "#ff0000" } },
  });
  await velvet.post("/api/edit", { kind: "add-layer", layer: { id: "squall", name: "Squall" } });
  await expect(versions().getByRole("listitem").filter({ hasText: "Add the layer Squall" })).toBeVisible();
  const row = versions().getByRole("listitem").filter({ hasText: "Dress rehearsal" });
  await row.getByRole("button", { name: "Dress rehearsal" }).click();
  await expect(row).toContainText("One layer, one light and one mapping differ.");
  await row.getByRole("button", { name: "Compare" }).click();
  const compare = page.getByRole("dialog", { name: "What differs" });
  await expect(compare.getByRole("listitem")).toHaveText([
    "Layer Squall: new",
    "Pad 2 of Deck grid: light",
    "Pad 1 of Deck grid: gone",
  ]);
  await page.keyboard.press("Escape");

  await (await openShowMenu(page)).getByRole("button", { name: /Versions/ }).click();
  await row.getByRole("button", { name: "Dress rehearsal" }).click();
  await row.getByRole("button", { name: "Go back to this" }).click();
  // The menu goes once the server has answered; opened before that, it would be closed.
  await expect(page.getByRole("dialog", { name: "This show" })).toHaveCount(0);
  await expect.poll(async () => (await velvet.show()).mappings[0]!.id).toBe(first!.id);
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await velvet.show()).mappings[0]!.id).toBe(second!.id);

  await (await openShowMenu(page)).getByRole("button", { name: /Versions/ }).click();
  await row.getByRole("button", { name: "Dress rehearsal" }).click();
  await row.getByRole("button", { name: "Open as another show" }).click();
  await expect(page.getByRole("banner")).toContainText("The Lantern Regatta 2");
  await velvet.openShow("The Lantern Regatta");
});

test("by keys alone: into the versions, back out, and to a version", async ({ page, velvet }) => {
  await velvet.post("/api/edit", { kind: "add-layer", layer: { id: "swell", name: "Swell" } });
  await openPlace(page, velvet, "map");
  await page.keyboard.press("Alt+s");
  await expect(page.getByLabel("Name of the show")).toBeFocused();
  for (let n = 0; n < 5; n++) await page.keyboard.press("ArrowDown");
  await expect(page.getByRole("button", { name: /Versions/ })).toBeFocused();
  await page.keyboard.press("ArrowRight");
  await expect(page.getByRole("list", { name: "Versions" }).getByRole("button", { name: /^Now/ })).toBeFocused();
  await page.keyboard.press("ArrowLeft");
  await expect(page.getByRole("button", { name: /Versions/ })).toBeFocused();
  await expect(page.getByRole("list", { name: "Versions" })).toHaveCount(0);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("list", { name: "Versions" }).getByRole("button", { name: /^Now/ })).toBeFocused();
  await page.keyboard.press("ArrowDown"); // the edit that led here
  await page.keyboard.press("Escape");
  await expect(page.getByRole("dialog", { name: "This show" })).toHaveCount(0);
});

test("what cannot be read is not imported, with the place and the reason, and no show is begun", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "connect");
  await openShowMenu(page); // what reads a file is there from now on
  const before = (await velvet.shows()).length;
  const show = await velvet.show();
  const import_ = (document: string) =>
    page
      .getByLabel("Show document")
      .setInputFiles({ name: "x.json", mimeType: "application/json", buffer: Buffer.from(document) });
  await import_(JSON.stringify({ ...show, mappings: [{ ...show.mappings[0], surface: "nowhere" }] }));
  await expect(page.getByText("there is no surface “nowhere”").first()).toBeVisible();
  await import_(JSON.stringify({ ...show, version: 99 }));
  await expect(page.getByText("version 99 was written by a newer Velvet Hinge").first()).toBeVisible();
  expect((await velvet.shows()).length).toBe(before);
  const body = "x".repeat(50_000_000);
  const headers = { "content-type": "application/json" };
  expect((await fetch(`${velvet.url}/api/shows`, { method: "PUT", headers, body })).status).toBe(413);
  expect((await velvet.show()).name).toBe(show.name);
});
