/** Many controls at once: chosen together, given one function whose number counts on, and changed together. */
import type { Page } from "@playwright/test";
import { type Application, control, expect, expectLight, openPlace, test } from "./application.ts";

const spine = (page: Page) => page.getByRole("region", { name: "What it does" });
const series = (page: Page) => page.getByRole("region", { name: "Series" });
const SIXTEEN = [1, 2, 3, 4, 7, 8, 9, 10, 13, 14, 15, 16, 19, 20, 21, 22].map((n) => `pad-${n}`);

interface Shown {
  id: string;
  surface: string;
  control: string;
  layers: string[];
  actions: { function: string; bindings: Record<string, { from: string; value?: number }> }[];
}
const mappings = async (velvet: Application) => (await velvet.show()).mappings as unknown as Shown[];
const onPad = (all: Shown[], pad: string) => all.filter((m) => m.surface === "deck" && m.control === pad);

async function unmapAll(velvet: Application): Promise<void> {
  const edits = (await mappings(velvet))
    .filter((m) => m.surface === "deck" && SIXTEEN.includes(m.control))
    .map((m) => ({ kind: "remove-mapping", id: m.id }));
  expect((await velvet.post("/api/edit", { kind: "together", does: "clear", edits })).status).toBe(200);
}

test("sixteen pads to sixteen playbacks in four steps, and one undo takes all back", async ({ page, velvet, desk }) => {
  await unmapAll(velvet);
  await openPlace(page, velvet, "map");
  const before = (await mappings(velvet)).length;
  await control(page, "pad-1").click();
  await control(page, "pad-22").click({ modifiers: ["Shift"] });
  await expect(page.getByText("16 chosen")).toBeVisible();
  await page.getByRole("option", { name: /^Playback on or off/ }).click();
  await expect(series(page).getByRole("listitem")).toHaveCount(16);
  await expect(series(page)).toContainText("Apply 16");
  // Nothing is done before it is applied.
  expect((await mappings(velvet)).length).toBe(before);
  await page.keyboard.press("Enter");
  await expect(series(page)).toHaveCount(0);
  const all = await mappings(velvet);
  expect(SIXTEEN.map((pad) => onPad(all, pad)[0]?.actions[0]?.bindings.playback?.value)).toEqual(
    Array.from({ length: 16 }, (_, i) => i + 1),
  );
  expect(onPad(all, "pad-22")[0]!.actions[0]!.bindings.page).toEqual({ from: "page" });
  // What was chosen was never played, and what was made plays.
  expect((await desk.state()).pages.flat().some((p) => p.on)).toBe(false);
  await control(page, "pad-22").click();
  await expect.poll(async () => (await desk.playback(1, 16)).on).toBe(true);
  await expectLight(page, "pad-22", "full");
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await mappings(velvet)).length).toBe(before);
});

test("steps of its own, an order of its own, the page counted, and a number that the desk does not have", async ({
  page,
  velvet,
}) => {
  await unmapAll(velvet);
  await openPlace(page, velvet, "map");
  await control(page, "pad-1").click();
  await control(page, "pad-10").click({ modifiers: ["Shift"] });
  await page.getByRole("option", { name: /^Flash playback/ }).click();
  const next = series(page).getByRole("textbox", { name: "playback: step to the next row" });
  await next.fill("10");
  await next.press("Enter");
  await expect(series(page).getByRole("listitem").nth(4)).toContainText("11");
  await series(page).getByRole("button", { name: "down, then across" }).click();
  await expect(series(page).getByRole("listitem").nth(1)).toContainText("Pad 7");
  await series(page).getByRole("button", { name: "as they lie" }).click();
  await series(page).getByRole("button", { name: "count instead" }).click();
  const first = series(page).getByRole("textbox", { name: "First playback" });
  await first.fill("15");
  await first.press("Enter");
  await expect(series(page).getByRole("status")).toContainText("there is no playback 25");
  await expect(series(page).getByRole("button", { name: /^Apply/ })).toBeDisabled();
  await first.fill("1");
  await first.press("Enter");
  await series(page).getByRole("button", { name: "Try on the first only" }).click();
  await expect.poll(async () => onPad(await mappings(velvet), "pad-1").length).toBe(1);
  expect(onPad(await mappings(velvet), "pad-2")).toEqual([]);
  await page.keyboard.press("Escape");
  await expect(series(page)).toHaveCount(0);
});

test("what is taken keeps what it does, loses it, or is left out, line by line", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  const before = await mappings(velvet);
  for (const [i, pad] of ["pad-1", "pad-2", "pad-3", "pad-15"].entries())
    await control(page, pad).click(i === 0 ? {} : { modifiers: ["Control"] });
  await page.getByRole("option", { name: /^Flash playback/ }).click();
  await expect(series(page)).toContainText("3 are taken");
  const line = (n: number) => series(page).getByRole("listitem").nth(n);
  const answer = async (n: number, words: string) => {
    await line(n).getByRole("combobox").click();
    await page.getByRole("option", { name: words }).click();
  };
  await answer(1, "replace");
  await answer(2, "leave out");
  await series(page).getByRole("button", { name: "Apply 3" }).click();
  await expect(series(page)).toHaveCount(0);
  const functions = (all: Shown[], pad: string) =>
    onPad(all, pad)
      .filter((m) => !m.layers.includes("shift"))
      .flatMap((m) => m.actions.map((a) => a.function));
  const now = await mappings(velvet);
  expect(functions(now, "pad-1")).toEqual([...functions(before, "pad-1"), "playback.flash"]);
  expect(functions(now, "pad-2")).toEqual(["playback.flash"]);
  expect(functions(now, "pad-3")).toEqual(functions(before, "pad-3"));
  expect(functions(now, "pad-15")).toEqual(["playback.flash"]);
});

test("a frame, all alike, one more and one less; switched off, put to sleep and unmapped together", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "map");
  const [from, to] = [(await control(page, "fader-1").boundingBox())!, (await control(page, "fader-3").boundingBox())!];
  await page.mouse.move(from.x - 6, from.y - 8);
  await page.mouse.down();
  await page.mouse.move(to.x + to.width + 2, to.y + to.height + 2, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByText("3 chosen")).toBeVisible();
  await control(page, "fader-4").click({ modifiers: ["Control"], position: { x: 4, y: 4 } });
  await expect(page.getByText("4 chosen")).toBeVisible();
  await control(page, "fader-4").click({ modifiers: ["Control"], position: { x: 4, y: 4 } });
  await expect(page.getByText("3 chosen")).toBeVisible();
  await spine(page).getByRole("button", { name: "Let sleep" }).click();
  await expect(control(page, "fader-2")).toHaveAttribute("data-state", "asleep");
  await spine(page).getByRole("button", { name: "Wake" }).click();
  await expect(control(page, "fader-2")).not.toHaveAttribute("data-state", "asleep");
  await spine(page).getByRole("button", { name: "Switch off" }).click();
  await expect(control(page, "fader-3")).toHaveAttribute("data-state", "switched-off");
  await page.keyboard.press("Control+z");
  await expect(control(page, "fader-3")).not.toHaveAttribute("data-state", "switched-off");
  await page.keyboard.press("Escape");
  await expect(page.getByText("3 chosen")).toHaveCount(0);
  await control(page, "pad-1").click();
  await page.keyboard.press("Control+a");
  await expect(page.getByText("30 chosen")).toBeVisible();
  const count = (await mappings(velvet)).length;
  await spine(page).getByRole("button", { name: "Unmap all" }).click();
  await expect.poll(async () => (await mappings(velvet)).length).toBeLessThan(count - 20);
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await mappings(velvet)).length).toBe(count);
});

test("while hands teach, each touch joins those that are chosen", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await control(page, "pad-15").click();
  await control(page, "pad-17").click({ modifiers: ["Control"] });
  await page.keyboard.press("h");
  await expect(spine(page)).toContainText("each touch joins");
  await control(page, "pad-23").click();
  await expect(page.getByText("3 chosen")).toBeVisible();
  await page.getByRole("option", { name: /^Go playback/ }).click();
  await series(page).getByRole("button", { name: "as touched" }).click();
  await expect(series(page).getByRole("listitem")).toContainText(["Pad 15", "Pad 17", "Pad 23"]);
});

test("a second Enter while the server is at it applies nothing twice", async ({ page, velvet }) => {
  await unmapAll(velvet);
  await openPlace(page, velvet, "map");
  await control(page, "pad-1").click();
  await control(page, "pad-22").click({ modifiers: ["Shift"] });
  await page.getByRole("option", { name: /^Playback on or off/ }).click();
  await expect(series(page).getByRole("listitem")).toHaveCount(16);
  let asked = 0;
  let letGo = () => {};
  const held = new Promise<void>((resolve) => (letGo = resolve));
  await page.route("**/api/edit", async (route) => {
    asked++;
    await held;
    await route.continue();
  });
  for (let i = 0; i < 3; i++) await page.keyboard.press("Enter");
  await expect.poll(() => asked).toBe(1);
  letGo();
  await expect(series(page)).toHaveCount(0);
  expect(asked).toBe(1);
  for (const pad of SIXTEEN) expect(onPad(await mappings(velvet), pad)[0]!.actions).toHaveLength(1);
});
