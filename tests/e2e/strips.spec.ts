/** Strips: eight columns of controls become eight channels of a desk, each row its function, in one edit. */
import type { Page } from "@playwright/test";
import { type Application, chooseSurface, control, expect, openPlace, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";

const strips = (page: Page) => page.getByRole("region", { name: "Strips" });

interface Shown {
  id: string;
  surface: string;
  control: string;
  actions: {
    function: string;
    bindings: Record<string, { from: string; value?: number; bank?: string; strip?: number }>;
  }[];
}
const onStrips = async (velvet: Application) =>
  ((await velvet.show()).mappings as unknown as Shown[]).filter((m) => m.surface === "strips");
const driving = async (velvet: Application, id: string) =>
  (await onStrips(velvet)).filter((m) => m.control === id).flatMap((m) => m.actions);

/** The demo show without a mapping on its strips, and without a bank. */
async function bareStrips(velvet: Application): Promise<void> {
  const edits = (await onStrips(velvet)).map((m) => ({ kind: "remove-mapping", id: m.id }));
  expect((await velvet.post("/api/edit", { kind: "together", does: "clear", edits })).status).toBe(200);
}

test("eight strips over 32 channels in six steps: level, mute, select, pan, name", async ({ page, velvet }) => {
  await bareStrips(velvet);
  await openPlace(page, velvet, "map");
  await chooseSurface(page, "Tide strips");
  let steps = 0;
  const step = (work: Promise<unknown>) => {
    steps++;
    return work;
  };
  await step(control(page, "fader-1").click());
  await step(page.keyboard.press("Control+Shift+A"));
  await step(page.getByRole("button", { name: "Make strips of them" }).click());
  // What is likely stands there already, by what the controls are called.
  for (const [row, fn] of [
    ["Knob", "pan"],
    ["Select", "select channel"],
    ["Mute", "mute"],
    ["Fader", "channel level"],
  ])
    await expect(strips(page).getByRole("combobox", { name: `Function of ${row}` })).toHaveText(fn!);
  await step(strips(page).getByRole("button", { name: "through a bank that moves" }).click());
  await expectNoFaults(page);
  expect(await onStrips(velvet)).toEqual([]); // nothing is done before it is applied
  await step(
    strips(page)
      .getByRole("button", { name: /^Apply 32/ })
      .click(),
  );
  await expect(strips(page)).toHaveCount(0);
  expect(steps).toBeLessThanOrEqual(6);
  expect(await driving(velvet, "mute-3")).toMatchObject([
    { function: "channel.mute", bindings: { channel: { from: "strip", strip: 3 } } },
  ]);
  // It plays: a mute reaches the desk, and comes back as the name on the display says.
  await control(page, "mute-3").click();
  await expect.poll(async () => (await velvet.sound.state()).channels[2]!.mute).toBe(true);
  await expect(page.getByText("Brass low").first()).toBeVisible();
  await control(page, "mute-3").click();
  await expect.poll(async () => (await velvet.sound.state()).channels[2]!.mute).toBe(false);
  await page.keyboard.press("Control+z");
  await expect.poll(() => onStrips(velvet)).toEqual([]);
});

test("by keys alone; rows with functions of their own, a first channel, and one that the desk does not have", async ({
  page,
  velvet,
}) => {
  await bareStrips(velvet);
  await openPlace(page, velvet, "map");
  await chooseSurface(page, "Tide strips");
  await control(page, "fader-1").focus();
  await control(page, "fader-1").press("ArrowUp");
  await page.keyboard.press("Control+Shift+A");
  await expect(page.getByText("48 chosen")).toBeVisible();
  await page.getByRole("button", { name: "Make strips of them" }).press("Enter");
  const first = strips(page).getByLabel("First channel");
  await first.fill("26");
  await first.press("Enter");
  await expect(strips(page).getByRole("status")).toContainText("there is no channel 33. The desk has 1 to 32.");
  await expect(strips(page).getByRole("button", { name: /^Apply/ })).toBeDisabled();
  await first.fill("9");
  await first.press("Enter");
  const push = strips(page).getByRole("combobox", { name: "Function of Push" });
  await push.press("Enter");
  await page.getByRole("option", { name: "gate on or off" }).press("Enter");
  await strips(page).getByRole("combobox", { name: "Function of Knob" }).press("Enter");
  await page.getByRole("option", { name: "send to a bus" }).press("Enter");
  const bus = strips(page).getByLabel("bus of Knob");
  await bus.fill("4");
  await bus.press("Enter");
  await strips(page)
    .getByRole("button", { name: /^Apply 40/ })
    .press("Enter");
  await expect(strips(page)).toHaveCount(0);
  expect(await driving(velvet, "knob-8")).toMatchObject([
    { function: "channel.send", bindings: { channel: { value: 16 }, bus: { value: 4 } } },
  ]);
  expect(await driving(velvet, "push-1")).toMatchObject([
    { function: "channel.gate", bindings: { channel: { value: 9 } } },
  ]);
});

test("what is taken is told, and replaced, kept beside or left out", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await chooseSurface(page, "Tide strips");
  await control(page, "mute-1").click();
  await page.keyboard.press("Control+Shift+A");
  await page.getByRole("button", { name: "Make strips of them" }).click();
  await expect(strips(page).getByRole("status")).toContainText("do something already");
  const before = await onStrips(velvet);
  await strips(page).getByRole("combobox", { name: "Those that are taken" }).click();
  await page.getByRole("option", { name: "leave out" }).click();
  await expect(strips(page).getByRole("button", { name: "Apply 0" })).toBeDisabled();
  await page.keyboard.press("Escape");
  await expect(strips(page)).toHaveCount(0);
  expect(await onStrips(velvet)).toEqual(before);
});

test("by fingers alone: the whole surface is chosen where everything is found", async ({ browser, velvet }) => {
  await bareStrips(velvet);
  const context = await browser.newContext({ hasTouch: true, viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await openPlace(page, velvet, "map");
  await page.getByRole("combobox", { name: "Surface" }).tap();
  await page.getByRole("option", { name: "Tide strips", exact: true }).tap();
  await control(page, "fader-1").tap();
  await page.getByRole("button", { name: /^Find anything/ }).tap();
  await page.getByRole("option", { name: /^Choose all controls of the surface/ }).tap();
  await page.getByRole("button", { name: "Make strips of them" }).tap();
  await strips(page)
    .getByRole("button", { name: /^Apply 32/ })
    .tap();
  await expect(strips(page)).toHaveCount(0);
  expect(await driving(velvet, "fader-3")).toMatchObject([{ function: "channel.level" }]);
  await context.close();
});
