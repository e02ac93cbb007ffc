/** Surfaces and desks: the browser's own MIDI devices, ports, names, and what is told when something is not there. */
import type { Page } from "@playwright/test";
import {
  chooseSurface,
  control,
  dragFader,
  expect,
  expectLight,
  more,
  openPlace,
  openShowMenu,
  test,
} from "./application.ts";
import { fakeMidi } from "./fake-midi.ts";

const DECK = "Deck unit";

test("a real surface: its bytes reach the desk, and its lights come back to it", async ({ page, velvet, desk }) => {
  await fakeMidi(page);
  await openPlace(page, velvet, "connect");
  await page.evaluate((name) => window.fakeMidi.plug(name), DECK);
  await page.getByRole("button", { name: "Look for devices" }).click();
  const device = page.locator(`[data-device="${DECK}"]`);
  await expect(device).toContainText("free");
  const card = page.getByRole("article", { name: "Deck grid" });
  for (const way of ["In", "Out"]) {
    await card.getByRole("combobox", { name: `${way} port of Deck grid` }).click();
    await page.getByRole("option", { name: new RegExp(DECK) }).click();
  }
  await expect(device).toContainText("Deck grid");
  // Everything is drawn as soon as the output is there: 31 lights.
  await expect.poll(() => page.evaluate((name) => window.fakeMidi.sent[name]?.length ?? 0, DECK)).toBeGreaterThan(30);
  await expect(device).toHaveAttribute("data-sent", "true");

  await page.evaluate((name) => {
    window.fakeMidi.sent[name] = [];
    window.fakeMidi.play(name, [0x90, 38, 127]);
    window.fakeMidi.play(name, [0x80, 38, 64]);
  }, DECK);
  await expect(device).toHaveAttribute("data-heard", "true");
  await expect.poll(async () => (await desk.playback(1, 3)).on).toBe(true);
  // The unit's light for pad 3 was set to the desk's pink at full, by a note on the pad's own number.
  await expect
    .poll(() => page.evaluate((name) => window.fakeMidi.sent[name], DECK))
    .toContainEqual([0x90, 38, 41 + 16]);
  await expect(card).toContainText(/heard/);
});

test("a device that is pulled out and plugged in again is taken back and drawn", async ({ page, velvet, desk }) => {
  await fakeMidi(page);
  await velvet.post("/api/edit", {
    kind: "set-surface-ports",
    id: "deck",
    in: { kind: "browser-midi", device: DECK, nth: 1 },
    out: { kind: "browser-midi", device: DECK, nth: 1 },
  });
  await openPlace(page, velvet, "connect");
  const card = page.getByRole("article", { name: "Deck grid" });
  await expect(card).toContainText(`no open browser has “${DECK}”`);
  await page.evaluate((name) => window.fakeMidi.plug(name), DECK);
  await page.getByRole("button", { name: "Look for devices" }).click();
  await expect(card).not.toContainText("no open browser");
  // Held while the cable is pulled: it is let go at the desk.
  await page.evaluate((name) => window.fakeMidi.play(name, [0x90, 36 + 20, 127]), DECK);
  await expect.poll(async () => (await desk.playback(3, 6)).flash).toBe(true);
  await page.evaluate((name) => window.fakeMidi.unplug(name), DECK);
  await expect.poll(async () => (await desk.playback(3, 6)).flash).toBe(false);
  await expect(page.getByRole("alert").filter({ hasText: "Deck grid is unplugged" })).toContainText("Plug it in again");
  await page.evaluate((name) => {
    window.fakeMidi.sent[name] = [];
    window.fakeMidi.plug(name);
  }, DECK);
  await expect(card).not.toContainText("no open browser");
  await expect.poll(() => page.evaluate((name) => window.fakeMidi.sent[name]?.length ?? 0, DECK)).toBeGreaterThan(30);
});

test("two windows with one device: it plays once, is shown once, and is taken over by the other", async ({
  page,
  velvet,
  desk,
}) => {
  const port = { kind: "browser-midi", device: DECK, nth: 1 };
  await velvet.post("/api/edit", { kind: "set-surface-ports", id: "deck", in: port, out: port });
  const other = await page.context().newPage();
  for (const tab of [page, other]) {
    await fakeMidi(tab);
    await openPlace(tab, velvet, "connect");
  }
  const ask = async (tab: Page) => {
    await tab.evaluate((name) => window.fakeMidi.plug(name), DECK);
    await tab.getByRole("button", { name: "Look for devices" }).click();
  };
  const press = async (tab: Page) => {
    await tab.evaluate((name) => {
      window.fakeMidi.play(name, [0x90, 36, 127]);
      window.fakeMidi.play(name, [0x80, 36, 64]);
    }, DECK);
  };
  await ask(page);
  await expect(other.locator(`[data-elsewhere="${DECK}"]`)).toContainText("in another browser");
  await ask(other);
  await expect(other.locator("[data-elsewhere]")).toHaveCount(0);
  await expect(other.locator(`[data-device="${DECK}"]`)).toContainText("plays through another window");
  await expect(page.locator(`[data-device="${DECK}"]`)).not.toContainText("plays through another window");
  // One press of the unit is heard by both windows.
  await press(other);
  await press(page);
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
  await page.evaluate((name) => window.fakeMidi.play(name, [0xb0, 20, 64]), DECK);
  await expect(page.getByRole("article", { name: "Deck grid" })).toContainText("heard now");
  expect((await desk.playback(1, 1)).on).toBe(true); // once on, not on and off again

  // Loaded anew, a window has its devices back by itself, and is now the second.
  await other.evaluate((name) => {
    window.fakeMidi.sent[name] = [];
  }, DECK);
  await page.reload();
  await page.evaluate((name) => window.fakeMidi.plug(name), DECK);
  await expect(page.locator(`[data-device="${DECK}"]`)).toContainText("plays through another window");
  await expect(other.locator(`[data-device="${DECK}"]`)).not.toContainText("plays through another window");
  await expect.poll(() => other.evaluate((name) => window.fakeMidi.sent[name]?.length ?? 0, DECK)).toBeGreaterThan(30);
  await press(page);
  await press(other);
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(false);
  await other.close();
});

test("learning takes the control of a real surface too", async ({ page, velvet }) => {
  await fakeMidi(page);
  await velvet.post("/api/edit", {
    kind: "set-surface-ports",
    id: "deck",
    in: { kind: "browser-midi", device: DECK, nth: 1 },
    out: { kind: "browser-midi", device: DECK, nth: 1 },
  });
  await openPlace(page, velvet, "connect");
  await page.evaluate((name) => window.fakeMidi.plug(name), DECK);
  await page.getByRole("button", { name: "Look for devices" }).click();
  await page.keyboard.press("2");
  await page.keyboard.press("l");
  await page.evaluate((name) => window.fakeMidi.play(name, [0xb0, 22, 64]), DECK);
  await expect(page.getByRole("region", { name: "What it does" })).toContainText("Fader 3");
  await expect(page.getByRole("region", { name: "What it does" })).toContainText("controller 22 · 16h · ch 1");
});

test("a browser that is not allowed MIDI says so, and asks again", async ({ page, velvet }) => {
  await fakeMidi(page, "refused");
  await openPlace(page, velvet, "connect");
  await page.getByRole("button", { name: "Look for devices" }).click();
  await expect(page.getByRole("alert")).toContainText("The browser did not allow MIDI for this page.");
  await expect(page.getByRole("button", { name: "Ask again" })).toBeVisible();
});

test("a browser without MIDI says so", async ({ page, velvet }) => {
  await fakeMidi(page, "none");
  await openPlace(page, velvet, "connect");
  await page.getByRole("button", { name: "Look for devices" }).click();
  await expect(page.getByRole("alert")).toContainText("This browser has no MIDI.");
});

test("a surface and a desk are added, named and removed, and what is in use is refused", async ({ page, velvet }) => {
  await openPlace(page, velvet, "connect");
  await page.getByRole("button", { name: "Add a surface" }).click();
  await page.getByRole("dialog").getByLabel("Name").fill("Second deck");
  await page.getByRole("dialog").getByRole("button", { name: "Add it" }).click();
  await expect(page.getByRole("article", { name: "Second deck" })).toBeVisible();
  await page.getByRole("button", { name: "Add a desk" }).click();
  await page.getByRole("dialog").getByLabel("Name").fill("Spare lights");
  await page.getByRole("dialog").getByRole("button", { name: "Add it" }).click();
  await expect(page.getByRole("article", { name: "Spare lights" })).toBeVisible();
  await page
    .getByRole("article", { name: "Spare lights" })
    .getByRole("button", { name: "Spare lights", exact: true })
    .click();
  await page.getByLabel("Name of the desk").fill("Old lights");
  await page.keyboard.press("Enter");
  await more(page, "Old lights", "Remove it");
  await expect(page.getByRole("article", { name: "Old lights" })).toHaveCount(0);
  await more(page, "Lights", "Remove it");
  await expect(page.getByText("the desk “Lights” is used by the mapping of").first()).toBeVisible();
  await expect(page.getByRole("article", { name: "Lights", exact: true })).toBeVisible();
});

test("a show is kept as a document and opened again; one with faults changes nothing", async ({ page, velvet }) => {
  await openPlace(page, velvet, "connect");
  const download = page.waitForEvent("download");
  await (await openShowMenu(page)).getByRole("link", { name: /Export this show/ }).click();
  const file = await download;
  expect(file.suggestedFilename()).toBe("the-lantern-regatta.show.json");
  await velvet.post("/api/edit", { kind: "rename-show", name: "Changed" });
  await expect(page.getByRole("banner")).toContainText("Changed");
  await page.getByLabel("Show document").setInputFiles(await file.path());
  await expect(page.getByRole("banner")).toContainText("The Lantern Regatta");
  const broken = { ...(await velvet.show()), version: 7 };
  await page
    .getByLabel("Show document")
    .setInputFiles({ name: "x.json", mimeType: "application/json", buffer: Buffer.from(JSON.stringify(broken)) });
  await expect(page.getByText("version 7 was written by a newer Velvet Hinge")).toBeVisible();
  await expect(page.getByRole("banner")).toContainText("The Lantern Regatta");
});

test("Run is locked: keys change nothing, and leaving takes two seconds of holding", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "run");
  await expectLight(page, "pad-1", "dim");
  const before = JSON.stringify(await velvet.show());
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
  for (const key of ["Delete", "o", "Control+z", "1", "2"]) await page.keyboard.press(key);
  expect(JSON.stringify(await velvet.show())).toBe(before);
  await expect(page).toHaveURL(/\/run$/);
  for (let i = 0; i < 3; i++) {
    await page.goBack();
    await expect(page).toHaveURL(/\/run$/);
  }
  await expect(page.getByRole("button", { name: "Hold 2 s to unlock" })).toBeVisible();
  await control(page, "pad-21").hover();
  await page.mouse.down();
  await expect(page.getByRole("complementary")).toContainText("Storm lamp");
  await page.mouse.up();
  const unlock = page.getByRole("button", { name: "Hold 2 s to unlock" });
  await unlock.click();
  await expect(page).toHaveURL(/\/run$/);
  await unlock.hover();
  await page.mouse.down();
  await expect(page).toHaveURL(/\/map$/);
  await page.mouse.up();
});

test("each kind of trouble has its own words: refusing, silent, and the way back", async ({ page, velvet }) => {
  await openPlace(page, velvet, "connect");
  const vision = page.getByRole("article", { name: "Vision" });
  const sound = page.getByRole("article", { name: "Sound" });
  await expect(vision).toContainText("answering");
  await expect(sound).toContainText("answering");
  await velvet.vision.fault({ refuse: true });
  await velvet.sound.fault({ deaf: true });
  await expect(vision).toContainText("refusing");
  await expect(vision.getByRole("alert")).toContainText("Nobody listens there.");
  await expect(sound).toContainText(/silent for/);
  await expect(sound.getByRole("alert")).toContainText("remote control over the network is switched on");
  await sound.getByRole("button", { name: "Try it" }).click();
  await expect(sound).toContainText("No answer came.");
  await velvet.vision.fault({ kind: "none" });
  await velvet.sound.fault({ kind: "none" });
  await expect(vision).toContainText("answering");
  await expect(sound).toContainText("answering");
});

test("what hands do while a desk is silent: the newest level arrives with its return, an old press never", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "map");
  await chooseSurface(page, "Tide strips");
  await expect(page.locator('[data-display="Name 1"]')).toHaveText("Narrator");
  await velvet.sound.act({ kind: "level", channel: 2, value: -15 });
  await expect(control(page, "fader-2")).toHaveAttribute("aria-valuetext", /−15.0 dB/);
  await velvet.sound.fault({ deaf: true });
  await expect(control(page, "mute-1")).toHaveAccessibleName(/no answer/);
  await control(page, "mute-1").click();
  await expect(page.getByRole("region", { name: "Heard last" })).toContainText("the desk does not answer");
  await dragFader(page, "fader-2", 0.5, 0.75);
  await expect(page.getByRole("region", { name: "Heard last" })).toContainText("kept until the desk answers");
  await velvet.sound.fault({ kind: "none" });
  await expect.poll(async () => (await velvet.sound.state()).channels[1]!.level).toBeCloseTo(0, 0);
  expect((await velvet.sound.state()).channels[0]!.mute).toBe(false);
});

test("motors, rings and texts follow the desk and the bank, and a hand on a motor moves the desk", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "map");
  await chooseSurface(page, "Tide strips");
  await expect(page.locator('[data-display="Name 4"]')).toHaveText("Drums");
  const place = (id: string) => control(page, id).getAttribute("aria-valuenow");
  await velvet.sound.act({ kind: "level", channel: 4, value: 0 });
  await expect.poll(() => place("fader-4")).toBe("75");
  await expect(page.locator('[data-display="Value 4"]')).toHaveText("0.0 dB");
  await velvet.sound.act({ kind: "pan", channel: 4, value: 1 });
  await expect(control(page, "knob-4")).toHaveAttribute("data-ring", "100");
  await velvet.sound.act({ kind: "level", channel: 12, value: -15 });
  await control(page, "bank-up").click();
  await expect(page.locator('[data-display="Name 4"]')).toHaveText("Bells");
  await expect.poll(() => place("fader-4")).toBe("50");
  await dragFader(page, "fader-4", 0.5, 0.75);
  await expect.poll(async () => (await velvet.sound.state()).channels[11]!.level).toBeCloseTo(0, 0);
  await control(page, "knob-4").focus();
  for (let n = 0; n < 10; n++) await page.keyboard.press("ArrowDown");
  await expect.poll(async () => (await velvet.sound.state()).channels[11]!.pan).toBeLessThan(0);
  await control(page, "bank-down").click(); // where it was for the tests that follow
  await expect(page.locator('[data-display="Name 4"]')).toHaveText("Drums");
});

test("keys choose pictures and kits, and follow what the desks choose themselves", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await chooseSurface(page, "Pocket keys");
  await expect(control(page, "key-50")).toHaveAccessibleName(/Buoy camera/);
  await control(page, "key-50").click({ position: { x: 12, y: 170 } });
  await expect.poll(async () => (await velvet.vision.state()).mixes[0]!.program).toBe(2);
  await expect(control(page, "key-50")).toHaveAttribute("data-state", "on");
  await control(page, "key-64").click({ position: { x: 12, y: 170 } });
  await expect.poll(async () => (await velvet.bell.state()).kit).toBe(2);
  await velvet.bell.act({ kind: "kit", kit: 3 });
  await expect(control(page, "key-65")).toHaveAttribute("data-state", "on");
  await control(page, "program-up").click();
  await expect.poll(async () => (await velvet.bell.state()).kit).toBe(4);
});

test("a surface is replaced by another kind: proposed side by side, changed, and taken back", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "connect");
  await more(page, "Pocket keys", "Replace it");
  const dialog = page.getByRole("dialog", { name: "Replace Pocket keys" });
  await dialog.getByRole("combobox", { name: "Replaced by" }).click();
  await page.getByRole("option", { name: "Deck grid", exact: true }).click();
  await expect(dialog.getByRole("combobox", { name: "C 1 becomes" })).toHaveValue("pad-2");
  await expect(dialog.getByRole("status")).toContainText("4 without a place"); // endless knobs: the grid has none
  await dialog.getByRole("combobox", { name: "C 1 becomes" }).selectOption("pad-30");
  await dialog.getByRole("button", { name: "Replace it" }).click();
  await expect(dialog).toBeHidden();
  const mapped = async () =>
    ((await velvet.show()) as unknown as { mappings: { surface: string; control: string }[] }).mappings
      .filter((m) => m.surface === "keys")
      .map((m) => m.control);
  expect(await mapped()).toContain("pad-30");
  expect(await mapped()).not.toContain("knob-1");
  await page.keyboard.press("Control+z");
  await expect.poll(mapped).toContain("knob-1");
});

test("of two devices with one name the one that is touched is chosen, and keeps its place when it comes back elsewhere", async ({
  page,
  velvet,
}) => {
  await fakeMidi(page);
  await openPlace(page, velvet, "connect");
  await page.evaluate(() => {
    window.fakeMidi.plug("Twin", "left");
    window.fakeMidi.plug("Twin", "right");
  });
  await page.getByRole("button", { name: "Look for devices" }).click();
  await expect(page.locator('[data-device="Twin"]')).toHaveCount(2);
  const card = page.getByRole("article", { name: "Deck grid" });
  await card.getByRole("button", { name: "It is the one I touch" }).click();
  await page.evaluate(() => window.fakeMidi.play("right", [0x90, 36, 1]));
  await expect(card.getByRole("combobox", { name: "In port of Deck grid" })).toContainText("number 2");
  await page.evaluate(() => window.fakeMidi.unplug("left"));
  await expect(page.locator('[data-device="Twin"]')).toHaveCount(1);
  await page.evaluate(() => window.fakeMidi.play("right", [0x80, 36, 1]));
  await expect(card).toContainText(/heard now|ready|heard/);
  await page.evaluate(() => {
    window.fakeMidi.unplug("right");
    window.fakeMidi.plug("Twin", "left");
    window.fakeMidi.plug("Twin", "another socket");
  });
  await page.evaluate(() => window.fakeMidi.play("another socket", [0x90, 37, 127]));
  await expect(page.getByRole("region", { name: "Heard last" })).toContainText("pad 2");
});

test("a backup is opened in the place of the show, and undone", async ({ page, velvet }) => {
  const { name } = await velvet.show();
  await openPlace(page, velvet, "connect");
  await velvet.post("/api/edit", { kind: "rename-show", name: "Renamed since" });
  await expect(page.getByRole("banner")).toContainText("Renamed since");
  await (await openShowMenu(page)).getByRole("button", { name: /Backups/ }).click();
  const dialog = page.getByRole("dialog", { name: "Backups of this show" });
  await expect(dialog.getByRole("listitem").first()).toContainText("today");
  await dialog.getByRole("button", { name: "Open this one" }).last().click();
  await expect(page.getByText(/Restored: open/)).toBeVisible();
  await expect(dialog).toHaveCount(0);
  expect((await velvet.show()).name).toBe(name);
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("banner")).toContainText("Renamed since");
});
