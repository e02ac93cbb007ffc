/** Kinds of desks and surfaces of one's own: described in the application, and driven at once. */
import type { Page } from "@playwright/test";
import {
  type Application,
  chooseSurface,
  control,
  dragFader,
  expect,
  more,
  openKinds,
  openPlace,
  test,
} from "./application.ts";
import { fakeMidi } from "./fake-midi.ts";

const editor = (page: Page) => page.getByRole("region", { name: /^Profile of / });
const tab = (page: Page, name: RegExp) => editor(page).getByRole("tab", { name }).click();

async function choose(page: Page, scope: ReturnType<typeof editor>, label: string, option: string): Promise<void> {
  await scope.getByRole("combobox", { name: label, exact: true }).click();
  await page.getByRole("option", { name: option, exact: true }).click();
}
async function type(scope: ReturnType<typeof editor>, label: string, text: string): Promise<void> {
  const field = scope.getByLabel(label, { exact: true });
  await field.fill(text);
  await field.press("Enter");
}
/** Pictures on the way, for eyes only. */
const look = (page: Page, name: string) =>
  process.env.LOOK ? page.screenshot({ path: `${process.env.LOOK}/${name}.png` }) : Promise.resolve();
async function make(page: Page, what: string): Promise<void> {
  await (await openKinds(page)).getByRole("combobox", { name: "Make a profile" }).click();
  await page.getByRole("option", { name: what, exact: true }).click();
  await expect(editor(page)).toBeVisible();
}
async function addDesk(page: Page, velvet: Application, kind: string, name: string): Promise<void> {
  await page.getByRole("button", { name: "Add a desk" }).click();
  const dialog = page.getByRole("dialog", { name: "Add a desk" });
  await dialog.getByRole("combobox", { name: "What it is" }).click();
  await page.getByRole("option", { name: kind, exact: true }).click();
  await dialog.getByLabel("Name").fill(name);
  await dialog.getByLabel("Port", { exact: true }).fill(String(velvet.desk.ports.port));
  await dialog.getByLabel("Heard on port").fill(String(velvet.desk.ports.port + 13));
  await dialog.getByRole("button", { name: "Add it" }).click();
  await expect(page.getByRole("article", { name })).toBeVisible();
}

test("a desk of one’s own from nothing: asked, listened to, previewed, mapped and driven", async ({
  page,
  velvet,
  desk,
}) => {
  await openPlace(page, velvet, "connect");
  await make(page, "a desk, from nothing");
  await type(editor(page), "Name of the profile", "Harbour kind");
  await editor(page)
    .getByRole("button", { name: /^Close/ })
    .click();
  await addDesk(page, velvet, "Harbour kind", "Harbour desk");
  await (await openKinds(page)).getByRole("button", { name: /Harbour kind/ }).click();

  await tab(page, /How to ask/);
  await editor(page).getByRole("button", { name: "It has to be asked" }).click();
  await type(editor(page), "Subscription 1: address", "/listen");
  await editor(page).getByRole("button", { name: "Ask it from time to time" }).click();
  await type(editor(page), "Heartbeat 1: address", "/pulse");
  await type(editor(page), "Address of the answer", "/pulse/back");
  await expect(editor(page)).toContainText("complete: what you see is what runs");

  await tab(page, /Listen/);
  const heard = (playback: number) =>
    editor(page).getByRole("button", { name: new RegExp(`^/now/playback/1/${playback}/level`) });
  // One after the other: from one message alone nobody can tell which of its numbers varies.
  for (const playback of [4, 5])
    await expect(async () => {
      await desk.act({ kind: "level", page: 1, playback, value: 0.25 });
      await expect(heard(playback)).toBeVisible({ timeout: 1000 });
    }).toPass({ timeout: 45_000 });
  await heard(5).click();
  const marking = page.locator("[data-marking]");
  await expect(marking.getByRole("button", { name: "{playback} = 5" })).toBeVisible();
  await look(page, "listen");
  await marking.getByRole("button", { name: "It tells this" }).click();
  await tab(page, /What it tells/);
  await expect(editor(page).getByLabel(/^Address of/)).toHaveValue("/now/playback/1/{playback}/level");

  await tab(page, /What it does/);
  await editor(page).getByLabel("Name of the function", { exact: true }).fill("Lantern level");
  await editor(page).getByRole("button", { name: "Add", exact: true }).click();
  await choose(page, editor(page), "How it acts", "follows a level");
  await editor(page).getByRole("button", { name: "playback", exact: true }).click();
  await type(editor(page), "Message 1: address", "/set/playback/1/{lantern}/level");
  await expect(editor(page)).toContainText(
    "Function “Lantern level”, first message, address: “lantern” cannot stand in this address",
  ); // not in use
  await type(editor(page), "Message 1: address", "/set/playback/1/{playback}/level");
  await editor(page).getByRole("button", { name: "+ argument" }).click();
  await choose(page, editor(page), "State it changes", "playback level");
  await type(editor(page), "Try playback", "6");
  await type(editor(page), "Try value", "0.5");
  await expect(editor(page).locator("[data-preview]")).toHaveText("/set/playback/1/6/level 0.5");
  await expect(editor(page)).toContainText("complete: what you see is what runs");
  await look(page, "functions");
  await editor(page).getByRole("button", { name: "Send it once" }).click();
  await expect.poll(async () => (await desk.playback(1, 6)).level).toBe(0.5);
  await editor(page)
    .getByRole("button", { name: /^Close/ })
    .click();
  await expect(page.getByRole("article", { name: "Harbour desk" })).toContainText("answering");

  await page.getByRole("link", { name: /Map/ }).click();
  await control(page, "fader-5").click({ position: { x: 20, y: 100 } });
  await page.getByRole("button", { name: "Unmap" }).click();
  await expect(page.getByText("This control is free.")).toBeVisible();
  await page.keyboard.press("/");
  await page.keyboard.type("lantern level");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Harbour desk · lantern level")).toBeVisible(); // bound to the fader’s own number, 5
  await desk.act({ kind: "level", page: 1, playback: 5, value: 0 });
  await expect(control(page, "fader-5")).toHaveAttribute("aria-valuetext", /0 %/);
  await dragFader(page, "fader-5", 0, 0.8);
  await expect.poll(async () => (await desk.playback(1, 5)).level).toBeCloseTo(0.8, 1);
  await expect(control(page, "fader-5")).toHaveAttribute("aria-valuetext", /8\d %|7\d %/);

  // What a mapping stands on is not taken away from under it.
  await page.getByRole("link", { name: /Connect/ }).click();
  await (await openKinds(page)).getByRole("button", { name: /Harbour kind/ }).click();
  await tab(page, /What it does/);
  await editor(page).getByRole("button", { name: "Remove Lantern level" }).click();
  await expect(editor(page)).toContainText("the function “lantern-level” is used by the mapping of fader-5");
  await dragFaderAtDesk(velvet);
});

test("a desk of bytes: the editor shows the very bytes that leave, and each number as bytes where it is one", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "connect");
  await make(page, "a desk, from nothing");
  await choose(page, editor(page), "How it speaks", "lines of text");
  await choose(page, editor(page), "What ends a line", "a carriage return");
  await editor(page)
    .getByRole("switch", { name: /^bytes as/ })
    .click();
  await tab(page, /What it does/);
  await editor(page).getByLabel("Name of the function", { exact: true }).fill("Lantern level");
  await editor(page).getByRole("button", { name: "Add", exact: true }).click();
  await choose(page, editor(page), "How it acts", "follows a level");
  await type(editor(page), "Message 1: line", "\\02V{value:16}\\03");
  await type(editor(page), "Range: to", "1000");
  await type(editor(page), "Try value", "321");
  await expect(editor(page).locator("[data-preview]")).toHaveText("\\02V\\01\\41\\03");
  await expect(editor(page).locator("[data-bytes]")).toHaveText("02 56 01 41 03 0D");
  await type(editor(page), "Message 1: line", "\\02V{value:32}\\03");
  await expect(editor(page)).toContainText("is not a name");
});

test("what is typed while an edit is on its way stays when that edit comes home", async ({ page, velvet }) => {
  await openPlace(page, velvet, "connect");
  await make(page, "a desk, from nothing");
  await tab(page, /What it does/);
  await editor(page).getByLabel("Name of the function", { exact: true }).fill("Lantern level");
  await editor(page).getByRole("button", { name: "Add", exact: true }).click();
  await expect(editor(page)).toContainText("complete: what you see is what runs");
  const letGo: (() => void)[] = [];
  await page.route("**/api/edit", async (route) => {
    await new Promise<void>((done) => letGo.push(done));
    await route.continue();
  });
  await choose(page, editor(page), "How it acts", "follows a level"); // its fields come home in another order
  const address = editor(page).getByLabel("Message 1: address", { exact: true });
  await type(editor(page), "Message 1: address", "/set/lantern");
  await expect.poll(() => letGo.length).toBe(2);
  const home = page.waitForResponse("**/api/edit");
  letGo[0]!();
  await home;
  await expect(address).toHaveValue("/set/lantern");
  await type(editor(page), "Range: to", "1000"); // is made on top of what is seen
  await expect.poll(() => letGo.length).toBe(3);
  for (const next of letGo) next();
  const stored = async () => {
    const show = (await velvet.show()) as unknown as { profiles: { desks: { functions: object[] }[] } };
    return show.profiles.desks[0]?.functions[0];
  };
  await expect.poll(stored).toMatchObject({ range: { to: 1000 }, send: [{ address: "/set/lantern" }] });
  await expect(address).toHaveValue("/set/lantern");
});

/** The show still runs with the profile as it was. */
async function dragFaderAtDesk(velvet: Application): Promise<void> {
  const show = (await velvet.show()) as unknown as { profiles: { desks: { functions: unknown[] }[] } };
  expect(show.profiles.desks[0]!.functions).toHaveLength(1);
}

test("a surface of one’s own is learnt control by control, laid out, and its colours tried on the real pad", async ({
  page,
  velvet,
}) => {
  const NAME = "Rope unit";
  await fakeMidi(page);
  await openPlace(page, velvet, "connect");
  await page.evaluate((name) => window.fakeMidi.plug(name), NAME);
  await page.getByRole("button", { name: "Look for devices" }).click();
  await expect(page.locator(`[data-device="${NAME}"]`)).toBeVisible();
  await make(page, "a surface, from nothing");
  await type(editor(page), "Name of the profile", "Rope kind");
  await editor(page)
    .getByRole("button", { name: /^Close/ })
    .click();
  await page.getByRole("button", { name: "Add a surface" }).click();
  const dialog = page.getByRole("dialog", { name: "Add a surface" });
  await dialog.getByRole("combobox", { name: "What it is" }).click();
  await page.getByRole("option", { name: "Rope kind", exact: true }).click();
  await dialog.getByLabel("Name").fill("Ropes");
  await dialog.getByRole("combobox", { name: "Where" }).click();
  await page.getByRole("option", { name: new RegExp(NAME) }).click();
  await dialog.getByRole("button", { name: "Add it" }).click();
  await expect(page.getByRole("article", { name: "Ropes" })).toBeVisible();

  await more(page, "Ropes", "Edit its kind");
  const said = (bytes: number[]) =>
    page.evaluate(([name, b]) => window.fakeMidi.play(name, [...b]), [NAME, bytes] as const);
  await editor(page).getByRole("switch", { name: "Learn" }).click();
  await expect(editor(page)).toContainText("Listening");
  const onBoard = (id: string) => page.locator(`[data-board-control="${id}"]`);
  await expect(async () => {
    await said([0x90, 36, 100]);
    await said([0x80, 36, 0]);
    await expect(onBoard("pad-1")).toBeVisible({ timeout: 1500 });
  }).toPass({ timeout: 45_000 });
  for (const v of [0, 30, 64, 100, 127]) await said([0xb0, 7, v]);
  await expect(onBoard("fader-1")).toBeVisible();
  for (const v of [1, 1, 127, 1, 1, 2]) await said([0xb0, 16, v]);
  await expect(onBoard("knob-1")).toBeVisible();
  await expect(page.locator("[data-control-fields]")).toContainText("twos complement");
  await editor(page).getByRole("switch", { name: "Learn" }).click();

  await onBoard("pad-1").hover();
  const box = (await onBoard("pad-1").boundingBox())!;
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 4.5, box.y + box.height * 3.5, { steps: 8 });
  await page.mouse.up();
  const lies = async () =>
    ((await velvet.show()) as unknown as { profiles: { surfaces: { controls: { box: object }[] }[] } }).profiles
      .surfaces[0]!.controls[0]!.box;
  await expect.poll(lies).toMatchObject({ x: 4, y: 3 });

  await look(page, "board");
  await tab(page, /Colours/);
  await editor(page).getByLabel("Name of the colours").fill("rope");
  await editor(page).getByRole("button", { name: "Add a set of colours" }).click();
  await tab(page, /Controls/);
  await onBoard("pad-1").click();
  await choose(page, editor(page), "Colours of its light", "rope");
  // A key of the computer, by pressing it; for what turns a pair of them.
  await editor(page).getByRole("button", { name: "A key plays it" }).click();
  await page.keyboard.press("k");
  await onBoard("knob-1").click();
  await editor(page).getByRole("button", { name: "Two keys turn it" }).click();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowUp");
  const keys = async () => {
    const show = (await velvet.show()) as unknown as { profiles: { surfaces: { controls: { keys?: string[] }[] }[] } };
    return show.profiles.surfaces[0]!.controls.flatMap((c) => (c.keys ? [c.keys] : []));
  };
  await expect.poll(keys).toEqual([["KeyK"], ["ArrowDown", "ArrowUp"]]);
  await tab(page, /Colours/);
  await editor(page).getByLabel("Value to try").fill("45");
  await expect
    .poll(() => page.evaluate((name) => window.fakeMidi.sent[name] ?? [], NAME))
    .toContainEqual([0x90, 36, 45]);
  await editor(page).getByRole("button", { name: "It is a new colour" }).click();
  await expect(editor(page).getByLabel("Name of the colour 2")).toHaveValue("value 45");
  await look(page, "palette");
  await editor(page)
    .getByRole("button", { name: /^Close/ })
    .click();

  // It is a surface like any other now.
  await page.getByRole("link", { name: /Map/ }).click();
  await chooseSurface(page, "Ropes");
  await said([0xb0, 7, 64]);
  await expect(control(page, "fader-1")).toBeVisible();
  await expect(page.getByRole("region", { name: "Heard last" })).toContainText("fader 1 moved");
});

test("a profile is made from one that ships, exported, refused with its faults, and taken in again", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "connect");
  await make(page, "like Undertow sound desk");
  await type(editor(page), "Name of the profile", "Our sound");
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    editor(page).getByRole("button", { name: "Export" }).click(),
  ]);
  expect(file.suggestedFilename()).toBe("our-sound.desk.json");
  const { readFile } = await import("node:fs/promises");
  const profile = JSON.parse(await readFile((await file.path())!, "utf8")) as {
    functions: { send: { address: string }[] }[];
  };
  await editor(page).getByRole("button", { name: "Remove", exact: true }).click();
  await expect(editor(page)).toBeHidden();
  await openKinds(page);
  const give = (document: object) =>
    page.getByLabel("Profile document").setInputFiles({
      name: "p.json",
      mimeType: "application/json",
      buffer: Buffer.from(JSON.stringify(document)),
    });
  const faulty = structuredClone(profile);
  faulty.functions[0]!.send[0]!.address = "/do/channel/{strip}/level";
  await give(faulty);
  await expect(
    page.getByText(/^Function “.+”, first message, address: “strip” cannot stand in this address/),
  ).toBeVisible();
  await expect(editor(page)).toBeHidden();
  await give(profile);
  await expect(editor(page).getByLabel("Name of the profile")).toHaveValue("Our sound");
  await expect(editor(page)).toContainText("complete");
});

test("a desk of MIDI: every field says what it takes, refuses what cannot be said, and the preview is what leaves", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "connect");
  await make(page, "a desk, from nothing");
  await choose(page, editor(page), "How it speaks", "MIDI");
  await tab(page, /What it does/);
  await editor(page).getByLabel("Name of the function", { exact: true }).fill("Cue");
  await editor(page).getByRole("button", { name: "Add", exact: true }).click();
  await choose(page, editor(page), "Message 1: kind", "show control");
  await choose(page, editor(page), "Message 1: command", "load");
  const cue = editor(page).getByLabel("Message 1: cue", { exact: true });
  await type(editor(page), "Message 1: cue", "12.5");
  await type(editor(page), "Message 1: list", "3");
  await expect(editor(page).locator("[data-preview]")).toHaveText("F0 7F 7F 02 01 05 31 32 2E 35 00 33 F7");
  await look(page, "midi-show-control");
  await cue.fill("twelve");
  await expect(cue).toHaveAttribute("aria-invalid", "true");
  await cue.press("Escape");
  // A command that carries no cue has no field for one.
  await choose(page, editor(page), "Message 1: command", "all off");
  await expect(cue).toHaveCount(0);
  await expect(editor(page).locator("[data-preview]")).toHaveText("F0 7F 7F 02 01 08 F7");

  await choose(page, editor(page), "Message 1: kind", "controller 14");
  const number = editor(page).getByLabel("Message 1: number", { exact: true });
  await number.fill("40");
  await expect(number).toHaveAttribute("aria-invalid", "true");
  await number.press("Enter");
  await expect(number).toHaveValue("0");
  await choose(page, editor(page), "How it acts", "follows a level");
  await type(editor(page), "Range: to", "20000");
  await expect(editor(page)).toContainText("“{value}” goes from 0 to 20000, and this value only from 0 to 16383");
  await look(page, "midi-refused");
  await type(editor(page), "Range: to", "16383");
  await expect(editor(page)).toContainText("complete: what you see is what runs");
  await choose(page, editor(page), "Message 1: kind", "nrpn");
  await editor(page).getByLabel("Message 1: close", { exact: true }).check();
  await type(editor(page), "Try value", "16383");
  await expect(editor(page).locator("[data-preview]")).toHaveText(
    "B0 63 00 B0 62 00 B0 06 7F B0 26 7F B0 63 7F B0 62 7F",
  );
  await look(page, "midi-nrpn");
  await choose(page, editor(page), "Message 1: kind", "full frame");
  await look(page, "midi-time-code");
});
