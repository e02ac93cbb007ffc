/** From nothing to the first light, with every step counted: a person’s press, touch or typed line is one. */
import type { Page } from "@playwright/test";
import { type Application, control, expect, expectLight, openPlace, secondApplication, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";
import { fakeMidi } from "./fake-midi.ts";
import { LinePeer, OscPeer } from "./own-peers.ts";

const UNIT = "Cliff Sixteen";
const PEER_PORT = 21_980;

/** Steps that a person takes. */
class Steps {
  count = 0;
  async step(work: () => Promise<unknown>): Promise<void> {
    this.count++;
    await work();
  }
}

async function emptyShow(velvet: Application, name = "New show"): Promise<void> {
  const { settings, layers, ...show } = (await velvet.show()) as unknown as Record<string, unknown>;
  const document = {
    ...show,
    name,
    settings,
    layers: (layers as object[]).slice(0, 1),
    surfaces: [],
    desks: [],
    mappings: [],
  };
  for (const list of ["groups", "banks", "variables", "routes", "sessions", "profiles"])
    delete (document as never)[list];
  expect((await velvet.put(JSON.stringify(document))).status).toBe(200);
}

/** The unit is plugged in, and this browser was let have it before. */
async function plugIn(page: Page): Promise<void> {
  await page.getByRole("button", { name: "Put it away" }).click();
  await page.getByRole("button", { name: "Look for devices" }).click();
  await page.evaluate((name) => window.fakeMidi.plug(name), UNIT);
}
const play = (page: Page, ...bytes: number[]) =>
  page.evaluate(([name, b]) => window.fakeMidi.play(name, b), [UNIT, bytes] as const);
const tap = async (page: Page, note: number) => {
  await play(page, 0x99, note, 110);
  await play(page, 0x89, note, 0);
};
const spine = (page: Page) => page.getByRole("region", { name: "What it does" });
const search = (page: Page) => page.getByRole("combobox", { name: "What should it do?" });

test("4 steps from an empty show to a lit pad, with a stand-in", async ({ page }) => {
  const velvet = secondApplication();
  await velvet.start([]);
  try {
    await openPlace(page, velvet, "connect");
    await expect(page.getByRole("heading", { name: "From hand to light" })).toBeVisible();
    const steps = new Steps();
    await steps.step(() => page.getByRole("button", { name: "Draw a Deck grid" }).click());
    await steps.step(() => page.getByRole("button", { name: /use a stand-in/ }).click());
    await expect(page.getByRole("article", { name: "Lights" })).toHaveAttribute("data-health", "answering");
    await steps.step(() => page.getByRole("button", { name: /^Take “Playback on or off”/ }).click());
    await steps.step(() => control(page, "pad-1").click());
    await expectLight(page, "pad-1", "dim");
    expect(steps.count).toBe(4);
    // Hands play again, and the pad does what it says.
    await page.keyboard.press("Escape");
    await control(page, "pad-1").click();
    await expectLight(page, "pad-1", "full");
    // The way to the first light is not shown any more; what is plugged in stands in its place.
    await page.getByRole("link", { name: "Connect" }).click();
    await expect(page.getByRole("heading", { name: "Plugged in and on the network" })).toBeVisible();
    // The stand-in comes back with the program.
    await page.goto("about:blank");
    await velvet.stop();
    await velvet.start([]);
    await openPlace(page, velvet, "connect");
    await expect(page.getByRole("article", { name: "Lights" })).toHaveAttribute("data-health", "answering");
  } finally {
    // What the page still fetches is no fault of a program that is told to stop.
    await page.goto("about:blank");
    await velvet.stop();
    velvet.clean();
  }
});

/** Tabs on until what is named has the focus, as who has no mouse does. */
async function tabTo(page: Page, name: RegExp): Promise<void> {
  const focused = () =>
    page.evaluate(() => {
      const e = document.activeElement;
      return `${e?.getAttribute("aria-label") ?? ""} ${e?.textContent ?? ""}`;
    });
  for (let n = 0; n < 150; n++) {
    await page.keyboard.press("Tab");
    if (name.test(await focused())) return;
  }
  throw new Error(`no Tab leads to ${name}`);
}

test("first light by the keyboard alone", async ({ page }) => {
  const velvet = secondApplication();
  await velvet.start([]);
  try {
    await openPlace(page, velvet, "connect");
    await expect(page.getByRole("heading", { name: "From hand to light" })).toBeVisible();
    await tabTo(page, /Draw a Deck grid/);
    await page.keyboard.press("Enter");
    await expect(page.getByRole("article", { name: "Deck grid" })).toBeVisible();
    await tabTo(page, /use a stand-in/i);
    await page.keyboard.press("Enter");
    await expect(page.getByRole("article", { name: "Lights" })).toHaveAttribute("data-health", "answering");
    await tabTo(page, /Take “Playback on or off”/);
    await page.keyboard.press("Enter");
    await expect(spine(page)).toContainText("Touch what should do this");
    await tabTo(page, /Pad 1/);
    await page.keyboard.press("Space");
    await expectLight(page, "pad-1", "dim");
    await page.keyboard.press("Escape");
    await page.keyboard.press("Space");
    await expectLight(page, "pad-1", "full");
  } finally {
    await page.goto("about:blank");
    await velvet.stop();
    velvet.clean();
  }
});

test("first light by touch", async ({ browser }) => {
  const velvet = secondApplication();
  await velvet.start([]);
  const context = await browser.newContext({ hasTouch: true, viewport: { width: 1024, height: 768 } });
  try {
    const tablet = await context.newPage();
    await openPlace(tablet, velvet, "connect");
    await tablet.getByRole("button", { name: "Draw a Deck grid" }).tap();
    await tablet.getByRole("button", { name: /use a stand-in/ }).tap();
    await expect(tablet.getByRole("article", { name: "Lights" })).toHaveAttribute("data-health", "answering");
    await tablet.getByRole("button", { name: /^Take “Playback on or off”/ }).tap();
    await control(tablet, "pad-1").tap();
    await expectLight(tablet, "pad-1", "dim");
    await tablet
      .getByRole("button", { name: /Done|Stop|End/ })
      .first()
      .tap();
    await control(tablet, "pad-1").tap();
    await expectLight(tablet, "pad-1", "full");
  } finally {
    await context.close();
    await velvet.stop();
    velvet.clean();
  }
});

test("the demo show is one press from an empty one", async ({ page }) => {
  const velvet = secondApplication();
  await velvet.start([]);
  try {
    await openPlace(page, velvet, "connect");
    await page.getByRole("button", { name: "Load the demo show" }).click();
    await expect(page.getByRole("banner")).toContainText("The Lantern Regatta");
    for (const name of ["Lights", "Vision", "Sound", "Bellbuoy"])
      await expect(page.getByRole("article", { name })).toContainText("answering");
  } finally {
    // What the page still fetches is no fault of a program that is told to stop.
    await page.goto("about:blank");
    await velvet.stop();
    velvet.clean();
  }
});

test("6 steps for a surface and an OSC desk that nobody knows: the pad lights by what the desk says", async ({
  page,
  velvet,
}) => {
  const peer = new OscPeer();
  await peer.open(PEER_PORT);
  await emptyShow(velvet);
  await fakeMidi(page);
  await openPlace(page, velvet, "connect");
  await plugIn(page);
  await tap(page, 36);
  const ghost = page.getByRole("article", { name: `${UNIT} is here` });
  await expect(ghost).toContainText("note 36");

  const steps = new Steps();
  await steps.step(() => ghost.getByRole("button", { name: "Use it" }).click());
  await expect(page).toHaveURL(/\/map$/);
  await expect(spine(page)).toContainText(`Touch anything on ${UNIT}`);
  await expect(page.getByRole("button", { name: /^Hands/ })).toHaveText(/teach/);
  await steps.step(() => tap(page, 36));
  await expect(spine(page)).toContainText("New: Pad 1");
  await expect(spine(page)).toContainText("it let go by itself");
  await steps.step(() => search(page).fill("/quay/lamp/3/on"));
  await steps.step(() => page.getByLabel("Address of the new desk").fill(`127.0.0.1:${PEER_PORT}`));
  await steps.step(() => page.getByRole("button", { name: "Use it" }).click());
  await expect(search(page)).toHaveValue("");
  await steps.step(() => page.getByRole("button", { name: /^Done, let hands play/ }).click());
  expect(steps.count).toBe(6);
  await expect(page.getByRole("button", { name: /^Hands/ })).toHaveText(/play/);

  await tap(page, 36);
  await expect.poll(() => peer.heard).toEqual(["/quay/lamp/3/on 1"]);
  peer.say(PEER_PORT + 1, "/quay/lamp/3/on", 1);
  // The light is the value back to the same message; dark is 0.
  const lit = () => page.evaluate((name) => window.fakeMidi.sent[name]?.filter((b) => b[0] === 0x99).at(-1), UNIT);
  await expect.poll(lit).toEqual([0x99, 36, 127]);
  peer.say(PEER_PORT + 1, "/quay/lamp/3/on", 0);
  await expect.poll(lit).toEqual([0x99, 36, 0]);
  // What it says that nobody knows stands on top of the list, one press from a function.
  peer.say(PEER_PORT + 1, "/quay/fan/2/level", 0.25);
  await page
    .getByRole("region", { name: "Heard just now" })
    .getByRole("button", { name: "/quay/fan/2/level 0.25" })
    .click();
  await expect(page.getByRole("region", { name: "New function" })).toContainText("fan 2");
  peer.close();
});

test("a desk of lines from nothing: typed, sent once, mapped, and followed", async ({ page, velvet }) => {
  const peer = new LinePeer();
  await peer.open(PEER_PORT + 10);
  await emptyShow(velvet);
  await openPlace(page, velvet, "connect");
  await page.getByRole("button", { name: "Draw a Deck grid" }).click();
  await page.getByRole("button", { name: "Add a desk" }).click();
  const dialog = page.getByRole("dialog", { name: "Add a desk" });
  await dialog.getByRole("combobox", { name: "What it is" }).click();
  await page.getByRole("option", { name: "any desk by lines of text" }).click();
  await expect(dialog.getByLabel("Name")).toHaveValue("Line desk");
  await dialog.getByLabel("Port", { exact: true }).fill(String(PEER_PORT + 10));
  await dialog.getByRole("button", { name: "Add it" }).click();
  await page.getByRole("link", { name: "Map" }).click();
  await control(page, "pad-2").click();
  await page.keyboard.press("/");
  await page.keyboard.type("CUT 3");
  const panel = page.getByRole("region", { name: "New function" });
  await panel.getByRole("button", { name: "on/off" }).click();
  await panel.getByRole("button", { name: "Send it once" }).click();
  await expect.poll(() => peer.heard).toEqual(["CUT 3 1"]);
  await panel.getByRole("button", { name: "Use it" }).click();
  await expect(spine(page)).toContainText("Line desk · CUT");
  await control(page, "pad-2").click();
  await expect.poll(() => peer.heard.at(-1)).toBe("CUT 3 1");
  await expectLight(page, "pad-2", "full");
  await control(page, "pad-2").click();
  await expect.poll(() => peer.heard.at(-1)).toBe("CUT 3 0");
  await expectLight(page, "pad-2", "dim");
  peer.close();
});

test("function first: sixteen pads in a row are 18 steps, and each can be taken back", async ({
  page,
  velvet,
  desk,
}) => {
  const show = await velvet.show();
  for (const m of show.mappings.filter(
    (x) => /^pad-([1-9]|1[0-6])$/.test(x.control) && (x as never as { surface: string }).surface === "deck",
  ))
    await velvet.post("/api/edit", { kind: "remove-mapping", id: m.id });
  await openPlace(page, velvet, "map");
  const steps = new Steps();
  await steps.step(() => page.getByRole("option", { name: /^Playback on or off/ }).click());
  await expect(spine(page)).toContainText("Touch what should do this");
  for (let n = 1; n <= 16; n++) await steps.step(() => control(page, `pad-${n}`).click());
  await expect(spine(page)).toContainText("Pad 16");
  await steps.step(() => page.keyboard.press("Escape"));
  expect(steps.count).toBe(18);
  const numbers = async () =>
    (
      (await velvet.show()) as unknown as {
        mappings: { control: string; surface: string; actions: { bindings: { playback?: { value: number } } }[] }[];
      }
    ).mappings
      .filter((m) => m.surface === "deck" && /^pad-([1-9]|1[0-6])$/.test(m.control))
      .map((m) => [m.control, m.actions[0]!.bindings.playback?.value]);
  await expect.poll(numbers).toEqual(Array.from({ length: 16 }, (_, i) => [`pad-${i + 1}`, i + 1]));
  // Nothing of it was played.
  expect((await desk.state()).pages.flat().some((p) => p.on)).toBe(false);

  // Once more by keys: leave out, give, take back; what does something already is asked about.
  await page.getByRole("option", { name: /^Flash playback/ }).click();
  await page.keyboard.press("Space");
  await expect(spine(page)).toContainText("Leave out 2");
  await control(page, "pad-17").click();
  await expect(spine(page)).toContainText("Leave out 3");
  await page.keyboard.press("Backspace");
  await expect(spine(page)).toContainText("Leave out 2");
  await control(page, "pad-3").click();
  await expect(spine(page).getByRole("alert")).toContainText("Pad 3 does something already");
  await spine(page).getByRole("button", { name: "Replace it" }).click();
  await expect(spine(page)).toContainText("in the place of what it did");
  await spine(page).getByRole("button", { name: "Take back" }).first().click();
  await expect.poll(async () => (await numbers()).find(([c]) => c === "pad-3")).toEqual(["pad-3", 3]);
});

test("a surface that nobody knows: pads, a fader, an encoder, a knob that will not rest, a row, and its colours", async ({
  page,
  velvet,
}) => {
  await emptyShow(velvet);
  await fakeMidi(page);
  await openPlace(page, velvet, "connect");
  await plugIn(page);
  await tap(page, 36);
  await expect(page.getByRole("article", { name: `${UNIT} is here` })).toBeVisible();
  await page.keyboard.press("u");
  await expect(page).toHaveURL(/\/map$/);
  await expect(spine(page)).toContainText("Touch anything on");
  const board = (id: string) => page.locator(`[data-board-control="${id}"]`);
  for (const [i, note] of [36, 37, 38].entries()) {
    await tap(page, note);
    await expect(board(`pad-${i + 1}`)).toBeVisible();
  }
  await page
    .getByRole("region", { name: "The rest of the row" })
    .getByRole("button", { name: "Add 39 to 51 as pads" })
    .click();
  await expect(board("pad-16")).toBeVisible();
  for (let v = 0; v <= 120; v += 8) await play(page, 0xb0, 20, v);
  await expect(board("fader-1")).toBeVisible();
  for (const v of [1, 1, 1, 127, 127]) await play(page, 0xb0, 16, v);
  await expect(board("knob-1")).toBeVisible();
  await expect(spine(page)).toContainText("two’s complement");
  // By the page's own clock: what trembles does so as fast on a computer that is busy.
  await page.evaluate(async (name) => {
    for (let i = 0; i < 16; i++) {
      window.fakeMidi.play(name, [0xb0, 7, 63 + (i % 2)]);
      await new Promise((done) => setTimeout(done, 60));
    }
  }, UNIT);
  await expect(spine(page).getByRole("note")).toContainText("controller 7");
  await expect(board("fader-2")).toHaveCount(0);

  // Its light: a value is sent, and what was seen counts for all pads.
  await board("pad-2").click();
  const light = page.getByRole("region", { name: "Light" });
  await light.getByRole("button", { name: "5", exact: true }).click();
  await expect.poll(() => page.evaluate((name) => window.fakeMidi.sent[name]?.at(-1), UNIT)).toEqual([0x99, 37, 5]);
  await page.keyboard.press("y");
  await light.getByRole("button", { name: "red" }).click();
  await expect(light).toContainText("red at 5, dark at 0");
  await board("pad-3").click();
  await light.getByRole("button", { name: "9", exact: true }).click();
  await page.keyboard.press("y");
  await light.getByRole("button", { name: "orange" }).click();
  await expect(light).toContainText("red at 5, orange at 9");

  // Its ring: a level is sent, and what was seen counts for all knobs.
  await board("knob-1").click();
  const level = page.getByRole("region", { name: "Level" });
  await level.getByRole("button", { name: "middle" }).click();
  await expect.poll(() => page.evaluate((name) => window.fakeMidi.sent[name]?.at(-1), UNIT)).toEqual([0xb0, 16, 64]);
  await expectNoFaults(page);
  await page.keyboard.press("r");
  await expect(level).toContainText("its ring follows the desk");

  await page.getByRole("button", { name: /^Done, let hands play/ }).click();
  await expect(control(page, "pad-16")).toBeVisible();
  type Kind = { name: string; palettes: { colours: { name: string }[] }[]; controls: { id: string; light?: object }[] };
  const kind = ((await velvet.show()) as unknown as { profiles: { surfaces: Kind[] } }).profiles.surfaces[0]!;
  expect(kind.name).toBe(UNIT);
  expect(kind.palettes[0]!.colours.map((c) => c.name)).toEqual(["red", "orange"]);
  expect(kind.controls.filter((c) => c.light)).toHaveLength(16);
  // In another show it is known again.
  await emptyShow(velvet, "Another show");
  await page.getByRole("banner").getByRole("link", { name: "Connect" }).click();
  await tap(page, 40);
  await expect(page.getByRole("combobox", { name: `What ${UNIT} is` })).toContainText("as before");
});
