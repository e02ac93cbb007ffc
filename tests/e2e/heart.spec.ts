/** Gestures, bindings, shapes, MIDI desks and routes, made with mouse and keyboard and heard at the other end. */
import type { Page } from "@playwright/test";
import { control, dragFader, expect, expectLight, openPlace, test } from "./application.ts";
import { fakeMidi } from "./fake-midi.ts";

const SYNTH = "Foghorn unit";
const spine = (page: Page) => page.getByRole("region", { name: "What it does" });
const line = (page: Page) => page.getByRole("region", { name: "Heard last" });
const sent = (page: Page, name = SYNTH) => page.evaluate((n) => window.fakeMidi.sent[n] ?? [], name);

async function give(page: Page, text: string): Promise<void> {
  await page.getByRole("combobox", { name: "What should it do?" }).fill(text);
  await page.keyboard.press("Enter");
}

async function pick(page: Page, label: string | RegExp, option: string | RegExp): Promise<void> {
  await spine(page)
    .getByRole("combobox", { name: label, exact: typeof label === "string" })
    .click();
  await page.getByRole("option", { name: option }).click();
}

test("two gestures on one pad: a tap goes, a hold flashes until it is let go", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await control(page, "pad-17").click();
  await give(page, "go playback");
  await pick(page, "Gesture Press", /^Tap$/);
  await expect(spine(page).getByRole("combobox", { name: "Gesture Tap" })).toBeVisible();
  await pick(page, "playback", /^6$/);
  await pick(page, "Another gesture", "Hold");
  const hold = spine(page).locator('[data-gesture="hold"]');
  await expect(hold).toHaveAttribute("data-shown", "true"); // it is what is worked on from now on
  await give(page, "flash");
  await expect(hold).toContainText("flash playback");
  await hold.getByRole("combobox", { name: "playback", exact: true }).click();
  await page.getByRole("option", { name: "7", exact: true }).click();
  await expect(hold.getByRole("combobox", { name: "playback", exact: true })).toHaveText("7");
  await control(page, "pad-17").hover();
  await page.mouse.down();
  await expect.poll(async () => (await desk.playback(1, 7)).flash).toBe(true);
  expect((await desk.playback(1, 6)).on).toBe(false);
  await page.mouse.up();
  await expect.poll(async () => (await desk.playback(1, 7)).flash).toBe(false);
  expect((await desk.playback(1, 6)).on).toBe(false);
  await control(page, "pad-17").click();
  await expect.poll(async () => (await desk.playback(1, 6)).on).toBe(true);
});

test("a bank of strips: added, bound, and moved by a pad of the house", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await page.keyboard.press("g");
  const parts = page.getByRole("dialog", { name: "Layers and more" });
  await parts.getByRole("tab", { name: /Banks/ }).click();
  await parts.getByRole("button", { name: "Add a bank" }).click();
  await expect(parts).toContainText("now 1 to 8");
  await page.keyboard.press("Escape");
  await control(page, "fader-1").click();
  await pick(page, "playback", "a strip of a bank");
  await pick(page, "Takeover", /^jump/);
  await control(page, "pad-17").click();
  await give(page, "move a bank");
  const by = spine(page).getByLabel("by number");
  await by.fill("8");
  await by.press("Enter");
  await expect(by).toHaveValue("8");
  await control(page, "pad-17").click();
  await dragFader(page, "fader-1", 0, 1);
  await expect.poll(async () => (await desk.playback(1, 9)).level).toBe(1);
  expect((await desk.playback(1, 1)).level).toBe(0);
});

test("one action for several playbacks, and a number that is none is refused", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await control(page, "pad-17").click();
  await give(page, "playback on or off");
  await pick(page, "playback", /^several/);
  const list = spine(page).getByLabel("playback list");
  await list.fill("1, 4 to 6");
  await list.press("Enter");
  await expect(list).toHaveValue("1, 4 to 6");
  await control(page, "pad-17").click();
  for (const n of [1, 4, 5, 6]) await expect.poll(async () => (await desk.playback(1, n)).on).toBe(true);
  expect((await desk.playback(1, 2)).on).toBe(false);
  await list.fill("1, 21");
  await list.press("Enter");
  await expect(page.getByText("playback 21: the desk has 1 to 20")).toBeVisible();
  await expect(list).toHaveValue("1, 4 to 6");
});

test("a condition and a chord decide which of two mappings it is", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await control(page, "fader-1").click();
  await spine(page).getByRole("button", { name: "when and how" }).click();
  await pick(page, "While held", "Pad 18");
  await expect(page.getByRole("region", { name: "Surface" }).locator('[data-control="fader-1"]')).toHaveAttribute(
    "data-state",
    "elsewhere",
  );
  await dragFader(page, "fader-1", 0, 0.5);
  await expect(line(page)).toContainText("the condition of Mast lanterns is not met: Pad 18 is not held");
  expect((await desk.playback(1, 1)).level).toBe(0);
});

test("a shape with a curve and steps drives the desk through them", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await control(page, "fader-1").click();
  await pick(page, "Takeover", /^jump/);
  await spine(page).getByRole("button", { name: /% to/ }).click();
  await pick(page, "Curve", "own points");
  const points = spine(page).getByLabel("Points, in percent");
  await points.fill("0 0, 50 90, 100 100");
  await points.press("Enter");
  await pick(page, "Add a step", "steps");
  await expect(spine(page)).toContainText("own points, steps");
  await dragFader(page, "fader-1", 0, 0.5);
  await expect.poll(async () => Math.round((await desk.playback(1, 1)).level * 100)).toBe(90);
  await spine(page).getByRole("button", { name: "Leave out steps" }).click();
  await expect(spine(page)).not.toContainText("own points, steps");
});

test("a desk that is driven by MIDI, and a route for what nothing takes", async ({ page, velvet }) => {
  await fakeMidi(page);
  await openPlace(page, velvet, "connect");
  await page.evaluate((name) => window.fakeMidi.plug(name), SYNTH);
  await page.getByRole("button", { name: "Look for devices" }).click();
  await expect(page.locator(`[data-device="${SYNTH}"]`)).toBeVisible();
  await page.getByRole("button", { name: "Add a desk" }).click();
  const dialog = page.getByRole("dialog", { name: "Add a desk" });
  await dialog.getByRole("combobox", { name: "What it is" }).click();
  await page.getByRole("option", { name: "MIDI", exact: true }).click();
  await dialog.getByLabel("Name").fill("Foghorn");
  await dialog.getByRole("combobox", { name: "MIDI out" }).click();
  await page.getByRole("option", { name: new RegExp(SYNTH) }).click();
  await dialog.getByRole("button", { name: "Add it" }).click();
  const card = page.getByRole("article", { name: "Foghorn" });
  await expect(card).toContainText("open");
  // As long as nobody used it, it was asked what it is (MIDI 1.0, identity request).
  expect(await sent(page)).toEqual([[0xf0, 0x7e, 0x7f, 0x06, 0x01, 0xf7]]);
  await page.evaluate((name) => {
    window.fakeMidi.sent[name] = [];
  }, SYNTH);

  await page.getByRole("link", { name: /Map/ }).click();
  await control(page, "pad-17").click();
  await give(page, "foghorn note key");
  await expect(spine(page)).toContainText("Foghorn · note");
  await control(page, "pad-17").click();
  await expect
    .poll(() => sent(page))
    .toEqual([
      [0x90, 17, 127],
      [0x80, 17, 64],
    ]);
  await expectLight(page, "pad-17", "dim"); // nothing is reported: off again, as it was sent

  await page.keyboard.press("g");
  const parts = page.getByRole("dialog", { name: "Layers and more" });
  await parts.getByRole("tab", { name: /Routes/ }).click();
  await parts.getByRole("button", { name: "Add a route" }).click();
  await parts.getByRole("combobox", { name: "To", exact: true }).click();
  await page.getByRole("option", { name: "Foghorn" }).click();
  await expect(parts.getByRole("combobox", { name: "To", exact: true })).toContainText("Foghorn");
  await page.keyboard.press("Escape");
  await control(page, "pad-18").click(); // free
  await expect.poll(() => sent(page)).toContainEqual([0x90, 53, 127]);
  await expect(line(page)).toContainText("passed on");
});

test("a range of keys follows the key, and Learn says what it heard and what else moved", async ({
  page,
  velvet,
  desk,
}) => {
  await fakeMidi(page);
  await velvet.post("/api/edit", {
    kind: "set-surface-ports",
    id: "deck",
    in: { kind: "browser-midi", device: SYNTH, nth: 1 },
    out: { kind: "none" },
  });
  await openPlace(page, velvet, "connect");
  await page.evaluate((name) => window.fakeMidi.plug(name), SYNTH);
  await page.getByRole("button", { name: "Look for devices" }).click();
  await expect(page.locator(`[data-device="${SYNTH}"]`)).toBeVisible();
  await page.getByRole("link", { name: /Map/ }).click();
  const play = (...messages: number[][]) =>
    page.evaluate(
      ([name, all]) => {
        for (const m of all) window.fakeMidi.play(name, m);
      },
      [SYNTH, messages] as const,
    );

  await page.getByRole("button", { name: "+ a range of messages" }).click();
  const dialog = page.getByRole("dialog", { name: "A range of messages" });
  await dialog.getByLabel("First number").fill("C4");
  await dialog.getByLabel("Last number").fill("53h");
  await dialog.getByRole("button", { name: "Map it" }).click();
  await expect(spine(page)).toContainText("any note C4 to B4 (72 to 83) · any channel");
  await give(page, "flash");
  await pick(page, "playback", "from the message");
  const offset = spine(page).getByLabel("playback offset");
  await offset.fill("-71");
  await offset.press("Enter");
  await expect(spine(page)).toContainText("the message’s number − 71");
  await play([0x95, 74, 100]);
  await expect.poll(async () => (await desk.playback(1, 3)).flash).toBe(true);
  await play([0x85, 74, 64]);
  await expect.poll(async () => (await desk.playback(1, 3)).flash).toBe(false);

  await page.keyboard.press("l");
  await play([0x9f, 100, 127], [0x8f, 100, 64]);
  await expect(spine(page)).toContainText("Heard note 100 · 64h · E6 · ch 16, a button");
  await play([0xb0, 20, 10], [0xb0, 21, 10], [0xb0, 21, 11], [0xb0, 20, 90], [0xb0, 20, 100]);
  await expect(spine(page)).toContainText("Fader 1");
  await expect(spine(page)).toContainText(/also moved:\s*Fader 2/);
  // Told to ignore the one that will not stand still, Learn takes the other, however far that one moves.
  await spine(page).getByRole("button", { name: "Ignore Fader 2 when learning" }).click();
  await page.keyboard.press("Escape"); // out of the search
  await page.keyboard.press("l");
  await expect(spine(page)).toContainText("1 control is ignored");
  await play([0xb0, 21, 0], [0xb0, 21, 127], [0xb0, 21, 0], [0xb0, 22, 10], [0xb0, 22, 30], [0xb0, 22, 40]);
  await expect(spine(page)).toContainText("Fader 3");
});

test("a message one thing away from a mapping says which", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await expectLight(page, "pad-1", "dim");
  await control(page, "pad-24").click();
  await page.keyboard.press("o");
  await expectLight(page, "pad-24", "off");
  await control(page, "pad-24").click();
  await expect(line(page)).toContainText("almost Blackout: it is switched off");
});

test("checks: a layer nothing enters is told, with the way to it", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await page.keyboard.press("g");
  const parts = page.getByRole("dialog", { name: "Layers and more" });
  await parts.getByRole("button", { name: "Add a layer" }).click();
  await expect(parts.getByLabel("Name of Layer 3")).toBeVisible();
  await page.keyboard.press("Escape");
  await control(page, "pad-24").click();
  await spine(page)
    .getByRole("button", { name: /everywhere/ })
    .click();
  await page.getByLabel("Layer 3").click();
  await page.keyboard.press("Escape");
  await expect(spine(page).getByRole("alert")).toContainText("Nothing enters the layer Layer 3");
  await page.getByRole("button", { name: /1 check/ }).click();
  await parts.getByRole("tab", { name: /Checks/ }).click();
  await parts.getByRole("button", { name: "Go there" }).first().click();
  await expect(spine(page)).toContainText("Pad 24");
});
