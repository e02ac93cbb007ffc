/** Label sheets: true millimetres on the screen, in the file and on paper. */
import { readFileSync } from "node:fs";
import { expect, openPlace, openShowMenu, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";

test("labels follow the map, page and layer; the file and the print have their size", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await (await openShowMenu(page)).getByRole("button", { name: /Print labels/ }).click();
  const labels = page.getByRole("region", { name: "Labels" });
  const sheet = labels.getByAltText("A sheet of labels").first();
  await expect(sheet).toBeVisible();
  const box = (await sheet.boundingBox())!;
  expect(box.width).toBeCloseTo((210 * 96) / 25.4, 0);
  expect(box.height).toBeCloseTo((297 * 96) / 25.4, 0);
  await expectNoFaults(page);

  const text = async () => decodeURIComponent((await sheet.getAttribute("src"))!);
  expect(await text()).toContain(">Mast lanterns<");
  await labels.getByRole("toolbar", { name: "Pages" }).getByRole("button", { name: "3", exact: true }).click();
  await expect.poll(text).toContain(">Undertow<");
  expect(await text()).not.toContain(">Mast lanterns<");
  const mapping = (await velvet.show()).mappings[0]!;
  await velvet.post("/api/edit", { kind: "change-mapping", id: mapping.id, set: { name: "Sluice" } });
  await expect.poll(text).toContain(">Sluice<");

  await labels.getByLabel("Width of a pad of Deck grid in mm").fill("19.5");
  await page.keyboard.press("Enter");
  await expect.poll(text).toMatch(/data-control="pad-2" x="36.5" y="17" width="19.5" height="18.5"/);
  const download = page.waitForEvent("download");
  await labels.getByRole("button", { name: "SVG" }).click();
  const file = readFileSync(await (await download).path(), "utf8");
  expect(file).toMatch(/^<svg [^>]*width="210mm" height="297mm"/);
  expect(file).toContain("@font-face");

  const sheets = Number(/Print (\d+)/.exec(await labels.getByRole("button", { name: /^Print/ }).innerText())![1]);
  const pdf = (await page.pdf({ preferCSSPageSize: true })).toString("latin1");
  expect(pdf.match(/\/Type\s*\/Page\b/g)).toHaveLength(sheets);
  expect(pdf).toMatch(/MediaBox\s*\[\s*0 0 59[45][.\d]* 84[12]/); // A4 in points
  // Of a tape each row is a length of its own, and no longer than it is.
  await labels.getByRole("button", { name: "tape 24 mm" }).click();
  await expect.poll(text).toMatch(/height="24mm"/);
  const widthMm = Number(/^[^>]*width="([\d.]+)mm"/.exec(await text())![1]);
  const tape = (await page.pdf({ preferCSSPageSize: true })).toString("latin1");
  const [, width, height] = /MediaBox\s*\[\s*0 0 ([\d.]+) ([\d.]+)/.exec(tape)!;
  expect(Number(width) / 72).toBeCloseTo(widthMm / 25.4, 1);
  expect(Number(height) / 72).toBeCloseTo(24 / 25.4, 1);
  await page.keyboard.press("Escape");
  await expect(labels).toHaveCount(0);
});
