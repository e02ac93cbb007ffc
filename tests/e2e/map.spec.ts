/** Making and changing mappings with mouse and keyboard. */
import { control, dragFader, expect, expectLight, openPlace, test } from "./application.ts";

test.beforeEach(async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await expectLight(page, "pad-1", "dim");
});

const spine = "What it does";

test("a mapping made from nothing: learn the control, search the function, and it works at once", async ({
  page,
  desk,
}) => {
  await page.keyboard.press("l");
  await expect(page.getByRole("status").filter({ hasText: "Touch a control" })).toBeVisible();
  await control(page, "pad-17").click();
  const region = page.getByRole("region", { name: spine });
  await expect(region).toContainText("Pad 17");
  await expect(region).toContainText("note 52 · 34h · E2 · ch 1");
  await page.getByRole("combobox", { name: "What should it do?" }).fill("flash");
  await page.keyboard.press("Enter");
  await expect(region).toContainText("Lights · flash playback");
  await expect(region).toContainText("the one that is up (1)");
  await page.getByRole("combobox", { name: "playback", exact: true }).click();
  await page.getByRole("option", { name: "6", exact: true }).click();
  await expect(control(page, "pad-17")).toContainText("Moon on mud");
  await expectLight(page, "pad-17", "dim");
  await control(page, "pad-17").hover();
  await page.mouse.down();
  await expect.poll(async () => (await desk.playback(1, 6)).flash).toBe(true);
  await page.mouse.up();
  await expect.poll(async () => (await desk.playback(1, 6)).flash).toBe(false);
  // It follows the page that is up, and can be bound to one page instead.
  await desk.act({ kind: "page", value: 4 });
  await expect(region).toContainText("the one that is up (4)");
  await expect(control(page, "pad-17")).toContainText("Paper moons");
  await page.getByRole("combobox", { name: "page", exact: true }).click();
  await page.getByRole("option", { name: "1 Slack Water" }).click();
  await expect(control(page, "pad-17")).toContainText("Moon on mud");
});

test("undo and redo, by keys and by button", async ({ page, velvet }) => {
  await control(page, "pad-16").click();
  await page.getByRole("combobox", { name: "What should it do?" }).fill("blackout");
  await page.keyboard.press("Enter");
  const region = page.getByRole("region", { name: spine });
  await expect(region).toContainText("Lights · blackout on or off");
  const before = (await velvet.show()).mappings.length;
  await control(page, "pad-18").click();
  await page.keyboard.press("Control+z");
  await expect(page.getByText("Undone: map pad-16")).toBeVisible();
  await expect.poll(async () => (await velvet.show()).mappings.length).toBe(before - 1);
  await page.keyboard.press("Control+Shift+z");
  await expect(page.getByText("Done again: map pad-16")).toBeVisible();
  await expect.poll(async () => (await velvet.show()).mappings.length).toBe(before);
  await page.getByRole("button", { name: "Undo", exact: true }).first().click();
  await expect.poll(async () => (await velvet.show()).mappings.length).toBe(before - 1);
});

test("several browsers see an edit at once", async ({ page, velvet, browser }) => {
  const other = await browser.newPage();
  await openPlace(other, velvet, "map");
  await control(page, "pad-27").click();
  await page.getByRole("combobox", { name: "What should it do?" }).fill("go in the cue");
  await page.keyboard.press("Enter");
  await expect(control(other, "pad-27")).toContainText("House open"); // the cue that stands
  await other.close();
});

test("a fader drives part of the range, inverted", async ({ page, desk }) => {
  await control(page, "fader-6").click();
  const region = page.getByRole("region", { name: spine });
  await expect(region).toContainText("Lights · grand master");
  await region.getByRole("button", { name: /10 % to 100 %/ }).click();
  await region.getByLabel("Output from").fill("20");
  await region.getByLabel("Output from").press("Enter");
  await region.getByRole("switch", { name: "invert" }).click();
  await region.getByRole("combobox", { name: "Takeover" }).click();
  await page.getByRole("option", { name: /^jump/ }).click();
  await expect(region).toContainText("20 % to 100 %, inverted");
  await dragFader(page, "fader-6", 0.5, 1);
  await expect.poll(async () => (await desk.state()).grand).toBeCloseTo(0.2, 5);
  await dragFader(page, "fader-6", 0.5, 0);
  await expect.poll(async () => (await desk.state()).grand).toBe(1);
});

test("a mapping is switched off, tells so, and is removed by key", async ({ page, desk }) => {
  await control(page, "pad-24").click();
  await expect.poll(async () => (await desk.state()).blackout).toBe(true);
  await page.keyboard.press("o");
  await expect(page.getByRole("region", { name: spine })).toContainText("off for now");
  await expectLight(page, "pad-24", "off");
  await control(page, "pad-24").click();
  await expect(page.getByRole("region", { name: "Heard last" })).toContainText("Blackout is switched off");
  expect((await desk.state()).blackout).toBe(true);
  await page.keyboard.press("Delete");
  await expect(page.getByText("Done: unmap Blackout")).toBeVisible();
  await expect(control(page, "pad-24")).toHaveAttribute("data-state", "free");
  await page.getByRole("button", { name: "Undo", exact: true }).last().click();
  await expect(control(page, "pad-24")).toHaveAttribute("data-state", "switched-off");
});

test("where a mapping holds is chosen by layer and page", async ({ page, desk }) => {
  await control(page, "pad-24").click();
  const region = page.getByRole("region", { name: spine });
  await region.getByRole("button", { name: /everywhere/ }).click();
  await page.getByLabel("3 Breakwater").click();
  await page.keyboard.press("Escape");
  await expect(region).toContainText("page 3");
  await expect(control(page, "pad-24")).toHaveAttribute("data-state", "elsewhere");
  await desk.act({ kind: "page", value: 3 });
  await expect(control(page, "pad-24")).not.toHaveAttribute("data-state", "elsewhere");
});

test("everything is found by typing", async ({ page }) => {
  await page.keyboard.press("Control+k");
  await page.getByRole("combobox", { name: "Find anything" }).fill("storm lamp");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: spine })).toContainText("Pad 21 · Storm lamp");
  await page.keyboard.press("Control+k");
  await page.getByRole("combobox", { name: "Find anything" }).fill("connect");
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/\/connect$/);
});

test("hands teach: a touch chooses, also a tap of no time, and nothing leaves until they play again", async ({
  page,
  desk,
}) => {
  const hands = page.getByRole("button", { name: /^Hands/ });
  await hands.click();
  await expect(hands).toHaveText(/teach/);
  await control(page, "pad-3").click();
  await expect(page.getByRole("region", { name: spine })).toContainText("Pad 3 · Quay wash");
  await control(page, "pad-1").click();
  await expect(page.getByRole("region", { name: spine })).toContainText("Pad 1 ·");
  await page.keyboard.press("h");
  await expect(hands).toHaveText(/play/);
  await control(page, "pad-2").click();
  await expect.poll(async () => (await desk.playback(1, 2)).on).toBe(true);
  expect([(await desk.playback(1, 3)).on, (await desk.playback(1, 1)).on]).toEqual([false, false]);
});

test("from the desk: what is moved there is armed, and the next touch is given it", async ({ page, velvet, desk }) => {
  await page.getByRole("button", { name: "Listen to the desks" }).click();
  await expect(page.getByRole("button", { name: /^Hands/ })).toHaveText(/teach/);
  await desk.act({ kind: "on", page: 1, playback: 9, value: true });
  await expect(page.getByRole("region", { name: spine })).toContainText("Touch what should do this");
  await control(page, "pad-17").click();
  await expect(page.getByRole("region", { name: spine })).toContainText("Pad 17");
  await page.keyboard.press("Escape");
  await expectLight(page, "pad-17", "full");
  await control(page, "pad-17").click();
  await expect.poll(async () => (await desk.playback(1, 9)).on).toBe(false);
  expect((await velvet.show()).mappings.some((m) => m.control === "pad-17")).toBe(true);
});

test("a window that had hands teach is closed: they play again", async ({ page, velvet, desk }) => {
  const other = await page.context().newPage();
  await openPlace(other, velvet, "map");
  await other.getByRole("button", { name: /^Hands/ }).click();
  const hands = page.getByRole("button", { name: /^Hands/ });
  await expect(hands).toHaveText(/teach/);
  await other.close();
  await expect(hands).toHaveText(/play/);
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
});
