/** Faults of accessibility that a tool can find on a page as it stands. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";

const AXE = readFileSync(join(import.meta.dirname, "..", "..", "node_modules", "axe-core", "axe.min.js"), "utf8");

export async function expectNoFaults(page: Page): Promise<void> {
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
