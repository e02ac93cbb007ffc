/** The table of mappings as a file: written, changed in a spreadsheet, looked at before it is read in. */
import { readFileSync } from "node:fs";
import type { Page } from "@playwright/test";
import { control, expect, openPlace, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";

async function csvOf(page: Page): Promise<string[]> {
  const download = page.waitForEvent("download");
  await page.getByRole("button", { name: "Write the table as CSV" }).click();
  const file = await download;
  expect(file.suggestedFilename()).toBe("the-lantern-regatta.mappings.csv");
  return readFileSync(await file.path(), "utf8").split("\r\n");
}

async function readIn(page: Page, lines: readonly string[], name = "regatta.csv"): Promise<void> {
  const buffer = Buffer.from(lines.join("\r\n"));
  await page.getByLabel("CSV of mappings").setInputFiles({ name, mimeType: "text/csv", buffer });
}

test("written, changed and read in: every change is shown first, and one undo takes all back", async ({
  page,
  velvet,
  desk,
}) => {
  await openPlace(page, velvet, "map");
  await page.keyboard.press("t");
  const lines = await csvOf(page);
  expect(lines[0]).toBe(
    "\ufeffmapping,action,surface,control,gesture,layers,pages,name,note,on,takeover,light,desk,function,numbers,action on,delay ms,target,message,text",
  );
  const first = lines.findIndex((l) => l.includes(",pad-1,") && l.includes("page=up; playback=1"));
  lines[first] = lines[first]!.replace("playback=1", "playback=20");
  lines.push(",,Deck grid,Pad 15,,,,Sluice,,,,,Lights,Playback on or off,playback=19");
  await readIn(page, lines);
  const dialog = page.getByRole("dialog", { name: "regatta.csv" });
  await expect(dialog).toContainText("1 row changes something, 1 is new,");
  await expect(dialog.getByRole("listitem")).toHaveText([
    `row ${first + 1}Pad 1 of Deck gridnumbers`,
    `row ${lines.length}Pad 15 of Deck gridnew`,
  ]);
  await expectNoFaults(page);
  expect((await velvet.show()).mappings).toHaveLength(128); // nothing is done before it is read in
  await dialog.getByRole("button", { name: "Read in" }).click();
  await expect(dialog).toHaveCount(0);
  await expect.poll(async () => (await velvet.show()).mappings.length).toBe(129);
  await page.keyboard.press("t");
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(1, 20)).on).toBe(true);
  await control(page, "pad-15").click();
  await expect.poll(async () => (await desk.playback(1, 19)).on).toBe(true);
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await velvet.show()).mappings.length).toBe(128);
});

test("wrong rows are named, and then nothing at all is read in", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await page.keyboard.press("t");
  const lines = await csvOf(page);
  const before = JSON.stringify(await velvet.show());
  const wrong = [...lines];
  wrong[3] = wrong[3]!.replace(/page=up; playback=\d+/, "page=up; playback=21");
  wrong[7] = wrong[7]!.replace(",deck,", ",attic,");
  await readIn(page, wrong);
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText("Nothing can be read in: 2 rows are wrong.");
  await expect(dialog.getByRole("list", { name: "Wrong rows" }).getByRole("listitem")).toHaveText([
    "Row 4: there is no playback 21. The desk has 1 to 20.",
    "Row 8: “attic” is no surface here. There is Deck grid, Tide strips or Pocket keys.",
  ]);
  await expect(dialog.getByRole("button", { name: "Read in" })).toBeDisabled();
  await page.keyboard.press("Escape");
  await readIn(
    page,
    Array.from({ length: 100_000 }, (_, i) => (i === 0 ? lines[0]! : `m-${i}`)),
  );
  await expect(dialog).toContainText("Row 1: the file has more than 40000 rows");
  await page.keyboard.press("Escape");
  await readIn(page, ["x".repeat(17 * 1024 * 1024)], "long.csv");
  await expect(page.getByText("long.csv is longer than 16 MB")).toBeVisible();
  expect(JSON.stringify(await velvet.show())).toBe(before);
});
