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

test("sessions, their dialogs and that of a universe have none", async ({ page, velvet }) => {
  const session = (id: string, name: string, port: number, invites: { host: string; port: number }[]) => ({
    kind: "put-session",
    item: { id, name, port, reach: "this-computer", admission: "ask", allowed: [], invites, announced: false },
  });
  await velvet.post("/api/edit", session("a", "Bridge", 21_530, []));
  await velvet.post("/api/edit", session("b", "Quay cabin", 21_532, [{ host: "127.0.0.1", port: 21_530 }]));
  await openPlace(page, velvet, "connect");
  const bridge = page.getByRole("article", { name: "Session Bridge" });
  await expect(bridge).toContainText("asks to join");
  await expectNoFaults(page);
  const opened = async (open: () => Promise<void>, name: string) => {
    await open();
    await expect(page.getByRole("dialog", { name })).toBeVisible();
    await expectNoFaults(page);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog", { name })).toBeHidden();
  };
  await opened(() => bridge.getByRole("button", { name: "Settings of Bridge" }).click(), "Session Bridge");
  await opened(() => bridge.getByRole("button", { name: "Invite" }).click(), "Invite to Bridge");
  await opened(async () => {
    await page.getByRole("combobox", { name: "In port of Deck grid" }).click();
    await page.getByRole("option", { name: "a DMX universe" }).click();
  }, "A DMX universe");
});
