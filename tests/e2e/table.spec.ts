/** All mappings as a table: found, changed in place, many at once, and back on the surface. */
import type { Page } from "@playwright/test";
import { type Application, control, expect, openPlace, test } from "./application.ts";

const grid = (page: Page) => page.getByRole("grid", { name: "Mappings" });
const row = (page: Page, text: RegExp) => grid(page).getByRole("row", { name: text }).first();
const bulk = (page: Page) => page.getByRole("toolbar", { name: "All that are chosen" });

interface Shown {
  id: string;
  surface: string;
  control: string;
  on: boolean;
  gesture: string;
  layers: string[];
  look: { colour?: string };
  actions: { function: string; bindings: Record<string, unknown> }[];
}
const onPad = async (velvet: Application, pad: string) =>
  ((await velvet.show()).mappings as unknown as Shown[]).filter((m) => m.surface === "deck" && m.control === pad);

test.beforeEach(async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await page.keyboard.press("t");
  await expect(grid(page)).toBeFocused();
});

test("a number is changed in its cell by keys, its names are offered, and the desk does it at once", async ({
  page,
  velvet,
  desk,
}) => {
  // From the first row to its numbers: control, gesture, holds, action, numbers.
  for (let i = 0; i < 4; i++) await page.keyboard.press("ArrowRight");
  await page.keyboard.press("Enter");
  const field = page.getByRole("textbox", { name: "Numbers: page, playback" });
  await expect(field).toHaveValue("up, 1");
  // An impossible one keeps the field open, with the reason under it.
  await field.fill("up, 21");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert")).toContainText("There is no playback 21. The desk has 1 to 20.");
  await expect(field).toBeFocused();
  await page.keyboard.press("Escape");
  await expect(field).toHaveCount(0);
  await expect(grid(page)).toBeFocused();
  // By its name.
  await page.keyboard.press("Enter");
  await page.keyboard.type("up, s");
  // What begins with it stands before what only has it somewhere.
  await expect(grid(page).getByRole("listitem").first()).toContainText("Swell");
  await field.fill("up, gull");
  await expect(grid(page).getByRole("listitem")).toHaveCount(1);
  await page.keyboard.press("Enter");
  await expect(row(page, /^Choose Pad 1 Pad 1 Press Base/)).toContainText("Gulls");
  const [first] = await onPad(velvet, "pad-1");
  const { playback } = first!.actions[0]!.bindings as { playback: { value: number } };
  await page.keyboard.press("t");
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(1, playback.value)).on).toBe(true);
});

test("gesture, layers and takeover are changed in place, and Tab goes on to the next cell", async ({
  page,
  velvet,
}) => {
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("F2");
  const gesture = page.getByRole("combobox", { name: "Gesture of Pad 1" });
  await gesture.selectOption("Hold");
  await page.keyboard.press("Tab");
  await expect.poll(async () => (await onPad(velvet, "pad-1"))[0]!.gesture).toBe("hold");
  await page.keyboard.press("Enter");
  await page.getByLabel("Shift", { exact: true }).click();
  await expect.poll(async () => (await onPad(velvet, "pad-1"))[0]!.layers).toEqual(["base", "shift"]);
  await page.keyboard.press("Escape");
  await expect(grid(page)).toBeFocused();
});

test("rows are found, chosen with Shift, and switched off together; one undo takes it back", async ({
  page,
  velvet,
}) => {
  await page.getByRole("textbox", { name: "Filter the table" }).fill("flash shift");
  await expect(grid(page).getByRole("checkbox")).not.toHaveCount(0);
  const before = await grid(page).getByRole("checkbox").count();
  expect(before).toBeGreaterThan(3);
  await page.getByRole("checkbox", { name: "Choose Pad 2" }).click();
  await page.getByRole("checkbox", { name: "Choose Pad 5" }).click({ modifiers: ["Shift"] });
  await expect(bulk(page)).toContainText("4 chosen");
  // Letters in a cell that is changed are for its list.
  await grid(page).locator('[data-column="gesture"]').first().dblclick();
  await page.getByRole("combobox", { name: /^Gesture of Pad/ }).press("o");
  await page.keyboard.press("Escape");
  await expect(grid(page)).toBeFocused();
  await expect(bulk(page)).toContainText("4 chosen");
  await page.keyboard.press("o");
  const offOnShift = async () =>
    (await Promise.all(["pad-1", "pad-2", "pad-5", "pad-6"].map((p) => onPad(velvet, p)))).map(
      (all) => all.find((m) => m.layers.includes("shift"))!.on,
    );
  await expect.poll(offOnShift).toEqual([true, false, false, true]);
  await page.getByRole("button", { name: /^off for now/ }).click();
  await expect(grid(page).getByRole("checkbox")).toHaveCount(4);
  // Escape chooses none, wherever in the table the focus is.
  await bulk(page).getByRole("button", { name: "Holds…" }).click();
  await page.keyboard.press("Escape");
  await page.keyboard.press("Escape");
  await expect(bulk(page)).toHaveCount(0);
  await expect(grid(page)).toBeFocused();
  await page.keyboard.press("Control+z");
  await expect.poll(offOnShift).toEqual([true, true, true, true]);
  await expect(page.getByText("Nothing is off.")).toBeVisible();
});

test("what was chosen on the surface stays chosen, and keys work on the row that is seen to be active", async ({
  page,
  velvet,
}) => {
  await page.keyboard.press("t");
  await control(page, "pad-7").click();
  await control(page, "pad-9").click({ modifiers: ["Shift"] });
  await page.keyboard.press("t");
  // Three pads, each with a mapping of two layers.
  await expect(bulk(page)).toContainText("6 chosen");
  await page.keyboard.press("Escape");
  // The rows change under the one that is active: Delete takes that which stands there now.
  await page.getByRole("textbox", { name: "Filter the table" }).fill("back in the cue");
  await page.keyboard.press("Enter");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Delete");
  await expect.poll(async () => (await onPad(velvet, "pad-20")).length).toBe(0);
  expect((await onPad(velvet, "pad-7")).length).toBe(2);
  expect((await onPad(velvet, "pad-1")).length).toBe(2);
});

test("one colour for all, and the desk's again", async ({ page, velvet }) => {
  await page.getByRole("textbox", { name: "Filter the table" }).fill("flash shift");
  for (const pad of [3, 4]) await page.getByRole("checkbox", { name: `Choose Pad ${pad}` }).click();
  await bulk(page).getByRole("button", { name: "Light…" }).click();
  await page.getByLabel("Colour of all their lights").fill("#336699");
  await page.getByRole("button", { name: "Give it to all" }).click();
  const colours = async () =>
    (await Promise.all(["pad-3", "pad-4"].map((p) => onPad(velvet, p)))).map(
      (all) => all.find((m) => m.layers.includes("shift"))!.look.colour,
    );
  await expect.poll(colours).toEqual(["#336699", "#336699"]);
  await page.getByRole("button", { name: "Take the desk’s" }).click();
  await expect.poll(colours).toEqual([undefined, undefined]);
});

test("numbers of rows count on anew", async ({ page, velvet }) => {
  await page.getByRole("textbox", { name: "Filter the table" }).fill("flash shift");
  for (const pad of [3, 4, 5]) await page.getByRole("checkbox", { name: `Choose Pad ${pad}` }).click();
  await bulk(page).getByRole("button", { name: "Count on…" }).click();
  await page.getByRole("textbox", { name: "First playback" }).fill("19");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert")).toContainText("It would reach 21; the desk has 1 to 20.");
  await expect(page.getByRole("button", { name: "Count on over 3" })).toBeDisabled();
  await page.getByRole("textbox", { name: "Step" }).fill("-2");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Count on over 3" }).click();
  const numbers = async () =>
    (await Promise.all(["pad-3", "pad-4", "pad-5"].map((p) => onPad(velvet, p)))).map(
      (all) => (all.find((m) => m.layers.includes("shift"))!.actions[0]!.bindings.playback as { value: number }).value,
    );
  await expect.poll(numbers).toEqual([19, 17, 15]);
});

test("from a row to its control and back; free controls are found and given a function in a series", async ({
  page,
  velvet,
}) => {
  await page.getByRole("textbox", { name: "Filter the table" }).fill("back in the cue");
  await grid(page).getByRole("button", { name: "Pad 20", exact: true }).click();
  await expect(page.getByRole("region", { name: "What it does" })).toContainText("Pad 20");
  await page.keyboard.press("t");
  await page.getByRole("button", { name: "Only Deck grid on page 1" }).click();
  await page.getByRole("button", { name: /^free controls/ }).click();
  await expect(page.getByRole("button", { name: /Deck grid, page 1/ })).toBeVisible();
  await page.getByRole("checkbox", { name: "Choose Pad 16" }).click();
  await page.getByRole("checkbox", { name: "Choose Pad 17" }).click();
  await expect(bulk(page)).toContainText("They are free");
  await page.getByRole("option", { name: /^Flash playback/ }).click();
  await expect(page.getByRole("region", { name: "Series" }).getByRole("listitem")).toHaveCount(2);
  await page.keyboard.press("Enter");
  await expect.poll(async () => (await onPad(velvet, "pad-17")).length).toBe(1);
  // It led from the table, and back to it.
  await expect(grid(page)).toBeVisible();
});

test("a thousand rows: only those in view are on the page, and they are sorted as a person would", async ({
  page,
  velvet,
}) => {
  const [some] = await onPad(velvet, "pad-9");
  const pages = [1, 2, 3, 4, 5, 6, 7, 8, 9];
  const edits = Array.from({ length: 1000 }, (_, i) => ({
    kind: "add-mapping",
    mapping: { ...some!, id: `bulk-${i}`, name: `Row ${i}`, on: false, pages: { desk: "lights", in: [pages[i % 9]] } },
  }));
  expect((await velvet.post("/api/edit", { kind: "together", does: "fill", edits })).status).toBe(200);
  await page.getByRole("textbox", { name: "Filter the table" }).fill("row ");
  await expect(page.getByRole("status").filter({ hasText: "of 1,001" })).toBeVisible();
  expect(await grid(page).getByRole("row").count()).toBeLessThan(60);
  await page.getByRole("button", { name: "Columns" }).click();
  await page.getByLabel("name", { exact: true }).check();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Sort by name" }).click();
  await expect(grid(page).getByRole("row").nth(1)).toContainText("Row 0");
  await expect(grid(page).getByRole("row").nth(3)).toContainText("Row 2");
  await grid(page).focus();
  await page.keyboard.press("End");
  await expect(grid(page).getByRole("row").last()).toContainText("Row 999");
});
