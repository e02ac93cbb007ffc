/** Copy, cut, duplicate and swap: what is put in is seen line by line before it is done. */
import type { Page } from "@playwright/test";
import { type Application, control, expect, openPlace, test } from "./application.ts";

const panel = (page: Page) => page.getByRole("region", { name: "Put in" });

interface Shown {
  id: string;
  surface: string;
  control: string;
  layers: string[];
  actions: { function: string; bindings: Record<string, { value?: number }> }[];
}
const onPad = async (velvet: Application, pad: string) =>
  ((await velvet.show()).mappings as unknown as Shown[]).filter((m) => m.surface === "deck" && m.control === pad);
const playback = (m: Shown | undefined) => m?.actions[0]?.bindings.playback?.value;

test.beforeEach(async ({ page, velvet }) => {
  await page.context().grantPermissions(["clipboard-read", "clipboard-write"]);
  await openPlace(page, velvet, "map");
});

test("a pad is copied to another with its numbers moved on, by keys; the desk does it, and one undo takes it back", async ({
  page,
  velvet,
  desk,
}) => {
  await control(page, "pad-1").click();
  await page.keyboard.press("Control+c");
  await expect(page.getByText("2 mappings copied.")).toBeVisible();
  await control(page, "pad-17").click();
  await page.keyboard.press("Control+v");
  await expect(panel(page).getByRole("listitem")).toHaveCount(1);
  await expect(panel(page)).toContainText("playback on or off up, 1 Mast lanterns");
  await page.getByRole("textbox", { name: "Numbers move on by" }).fill("13");
  await page.keyboard.press("Enter");
  await expect(panel(page)).toContainText("playback on or off up, 14 Gulls");
  expect(await onPad(velvet, "pad-17")).toEqual([]); // nothing is done before it is applied
  await panel(page)
    .getByRole("button", { name: /^Put in/ })
    .click();
  await expect(panel(page)).toHaveCount(0);
  expect((await onPad(velvet, "pad-17")).map(playback)).toEqual([14, 14]);
  await control(page, "pad-17").click();
  await expect.poll(async () => (await desk.playback(1, 14)).on).toBe(true);
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await onPad(velvet, "pad-17")).length).toBe(0);
});

test("what is taken is said for each, and a number that the desk does not have is refused with its reason", async ({
  page,
  velvet,
}) => {
  const before = await onPad(velvet, "pad-2");
  await control(page, "pad-1").click();
  await page.keyboard.press("Control+c");
  await control(page, "pad-2").click();
  await page.keyboard.press("Control+v");
  await expect(panel(page)).toContainText("taken");
  await page.getByRole("textbox", { name: "Numbers move on by" }).fill("20");
  await page.keyboard.press("Enter");
  await expect(panel(page).getByRole("status")).toContainText("There is no playback 21. The desk has 1 to 20.");
  await expect(panel(page).getByRole("button", { name: /^Put in/ })).toBeDisabled();
  await page.getByRole("textbox", { name: "Numbers move on by" }).fill("4");
  await page.keyboard.press("Enter");
  await page.getByRole("combobox", { name: "What becomes of Pad 2" }).click();
  await page.getByRole("option", { name: "leave out" }).click();
  await expect(panel(page).getByRole("status")).toContainText("Nothing of it can be put in here.");
  await page.getByRole("combobox", { name: "What becomes of Pad 2" }).click();
  await page.getByRole("option", { name: "replace" }).click();
  await panel(page).getByRole("heading").click();
  await page.keyboard.press("Enter");
  await expect(panel(page)).toHaveCount(0);
  const after = await onPad(velvet, "pad-2");
  expect(after.map(playback)).toEqual([5, 5]);
  expect(after.some((m) => before.some((b) => b.id === m.id))).toBe(false);
});

test("cut is moved: it goes from where it was once it is put in, and Escape leaves all as it was", async ({
  page,
  velvet,
}) => {
  const was = await onPad(velvet, "pad-20"); // it keeps its id
  await control(page, "pad-20").click();
  await page.keyboard.press("Control+x");
  await control(page, "pad-16").click();
  await page.keyboard.press("Control+v");
  await expect(panel(page).getByRole("heading")).toHaveText("Move 1 mapping");
  await page.keyboard.press("Escape");
  expect(await onPad(velvet, "pad-20")).toEqual(was);
  await page.keyboard.press("Control+v");
  await expect(panel(page)).toBeVisible();
  await page.keyboard.press("Enter");
  await expect.poll(async () => (await onPad(velvet, "pad-16")).map((m) => m.id)).toEqual(was.map((m) => m.id));
  expect(await onPad(velvet, "pad-20")).toEqual([]);
});

test("duplicate finds the next free pads; two that are chosen are swapped", async ({ page, velvet }) => {
  await control(page, "pad-14").click();
  await page.keyboard.press("Control+d");
  // The next free pad behind it, with the number moved on.
  await expect(panel(page)).toContainText("Pad 15");
  await page.keyboard.press("Enter");
  await expect.poll(async () => playback((await onPad(velvet, "pad-15"))[0])).toBe(15);
  const [one, other] = [await onPad(velvet, "pad-3"), await onPad(velvet, "pad-4")];
  await control(page, "pad-3").click();
  await control(page, "pad-4").click({ modifiers: ["Control"] });
  await page.getByRole("button", { name: "Swap the two" }).click();
  const ids = (all: Shown[]) => all.map((m) => m.id);
  await expect.poll(async () => ids(await onPad(velvet, "pad-3"))).toEqual(ids(other));
  expect(ids(await onPad(velvet, "pad-4"))).toEqual(ids(one));
});

test("the clipboard has the open format, and other text is told to be none", async ({ page }) => {
  await control(page, "pad-1").click();
  await page.keyboard.press("Control+c");
  const text = await page.evaluate(() => navigator.clipboard.readText());
  expect(JSON.parse(text)).toMatchObject({
    format: "velvet-hinge/mappings",
    controls: [{ surface: "deck", control: "pad-1" }],
    desks: [{ id: "lights", profile: "quay-lights" }],
  });
  await page.evaluate(() => navigator.clipboard.writeText("bread, milk"));
  await page.keyboard.press("Control+v");
  await expect(page.getByText("What was copied are no mappings.")).toBeVisible();
  await page.evaluate((cut) => navigator.clipboard.writeText(cut), text.slice(0, -20));
  await page.keyboard.press("Control+v");
  await expect(page.getByText("The text is cut off, or changed by hand.")).toBeVisible();
});
