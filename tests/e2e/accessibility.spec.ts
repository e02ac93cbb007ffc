/** Faults of accessibility that a tool can find: in the three places, and in what opens over them. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { Page } from "@playwright/test";
import { control, expect, openPlace, test } from "./application.ts";

const AXE = readFileSync(join(import.meta.dirname, "..", "..", "node_modules", "axe-core", "axe.min.js"), "utf8");

async function expectNoFaults(page: Page): Promise<void> {
  await page.evaluate(AXE);
  const faults = await page.evaluate(async () => {
    const { axe } = window as unknown as {
      axe: { run(): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
    };
    return (await axe.run()).violations.map(
      (v) =>
        `${v.id}: ${v.nodes
          .slice(0, 3)
          .map((n) => n.html)
          .join(" | ")}`,
    );
  });
  expect(faults).toEqual([]);
}

for (const place of ["connect", "map", "run"] as const)
  test(`${place} has no faults`, async ({ page, velvet }) => {
    await openPlace(page, velvet, place);
    await expect(page.getByText("answering").first()).toBeVisible();
    if (place === "map") await control(page, "fader-1").click();
    await expectNoFaults(page);
  });

test("the list of traffic has none, with rows chosen", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await control(page, "pad-1").click();
  await page.keyboard.press("`");
  await page.getByRole("listbox", { name: "Messages, newest first" }).getByRole("option").first().click();
  await expect(page.getByRole("button", { name: "Copy 1", exact: true })).toBeVisible();
  await expectNoFaults(page);
});

test("the parts of the show and the search have none", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await page.keyboard.press("g");
  await expect(page.getByRole("dialog")).toBeVisible();
  await expectNoFaults(page);
  await page.keyboard.press("Escape");
  await page.keyboard.press("Control+k");
  await expect(page.getByRole("dialog")).toBeVisible();
  await expectNoFaults(page);
});

for (const kind of ["like Undertow sound desk", "like Spyglass vision", "like Bellbuoy", "like Tide strips"])
  test(`the profile editor has none on any of its pages, for a kind ${kind}`, async ({ page, velvet }) => {
    await openPlace(page, velvet, "connect");
    await page.getByRole("combobox", { name: "Make a profile" }).click();
    await page.getByRole("option", { name: new RegExp(`^${kind}`) }).click();
    const editor = page.getByRole("region", { name: /^Profile of / });
    await expect(editor).toBeVisible();
    const tabs = editor.getByRole("tab");
    expect(await tabs.count()).toBeGreaterThan(2);
    for (let i = 0; i < (await tabs.count()); i++) {
      await tabs.nth(i).click();
      await expect(tabs.nth(i)).toHaveAttribute("aria-selected", "true");
      await expectNoFaults(page);
    }
  });

test("the dialogs of Connect have none", async ({ page, velvet }) => {
  await openPlace(page, velvet, "connect");
  for (const name of ["Add a surface", "Add a desk", "Replace Tide strips"]) {
    await page.getByRole("button", { name, exact: true }).click();
    const dialog = page.getByRole("dialog", { name });
    await expect(dialog).toBeVisible();
    if (name.startsWith("Replace")) {
      await dialog.getByRole("combobox", { name: "Replaced by" }).click();
      await page.getByRole("option", { name: "Deck grid", exact: true }).click();
      await expect(dialog.getByRole("status")).toBeVisible();
    }
    await expectNoFaults(page);
    await page.keyboard.press("Escape");
    await expect(dialog).toBeHidden();
  }
});
