/** Faults of accessibility that a tool can find: in the three places, and in what opens over them. */
import { control, expect, more, openKinds, openPlace, openShowMenu, test } from "./application.ts";
import { expectNoFaults } from "./axe.ts";
import { fakeMidi } from "./fake-midi.ts";

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

test("the table has none, with rows chosen and a cell that is changed; nor have what is put in, many that are chosen, and a series", async ({
  page,
  velvet,
}) => {
  await page.context().grantPermissions(["clipboard-read", "clipboard-write"]);
  await openPlace(page, velvet, "map");
  await control(page, "pad-1").click();
  await page.keyboard.press("Control+c");
  await page.keyboard.press("t");
  await expect(page.getByRole("grid", { name: "Mappings" })).toBeFocused();
  await page.getByRole("checkbox", { name: "Choose Pad 3" }).first().click();
  await expect(page.getByRole("toolbar", { name: "All that are chosen" })).toBeVisible();
  await expectNoFaults(page);
  await page.keyboard.press("Escape");
  for (const key of ["ArrowRight", "ArrowRight", "Enter"]) await page.keyboard.press(key);
  await expect(page.getByText("Layers (none ticked: every layer)")).toBeVisible();
  await expectNoFaults(page);
  await page.keyboard.press("Escape");
  await page.keyboard.press("Control+v");
  await expect(page.getByRole("region", { name: "Put in" })).toBeVisible();
  await expectNoFaults(page);
  await page.keyboard.press("Escape");
  await control(page, "pad-9").click();
  await control(page, "pad-17").click({ modifiers: ["Shift"] });
  await expect(page.getByRole("toolbar", { name: "All their mappings" })).toBeVisible();
  await expectNoFaults(page);
  await page.getByRole("option", { name: /^Flash playback/ }).click();
  await expect(page.getByRole("region", { name: "Series" })).toContainText("taken");
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
    await (await openKinds(page)).getByRole("combobox", { name: "Make a profile" }).click();
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
    if (name.startsWith("Replace")) await more(page, "Tide strips", "Replace it");
    else await page.getByRole("button", { name, exact: true }).click();
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

test("what teaches has none: an armed function, a desk that is listened to, a typed address, the show’s menu", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "map");
  await page.getByRole("option", { name: /^Playback on or off/ }).click();
  await expect(page.getByText("Touch what should do this")).toBeVisible();
  await expectNoFaults(page);
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Listen to the desks" }).click();
  await expect(page.getByText("Move something at a desk")).toBeVisible();
  await expectNoFaults(page);
  await page.keyboard.press("Escape");
  await page.getByRole("combobox", { name: "What should it do?" }).fill("/quay/fan/3/level");
  await expect(page.getByRole("region", { name: "New function" })).toBeVisible();
  await expectNoFaults(page);
  const menu = await openShowMenu(page);
  await menu.getByRole("button", { name: /Versions/ }).click();
  await expect(page.getByRole("list", { name: "Versions" })).toContainText("Now");
  await expectNoFaults(page);
  await menu.getByRole("button", { name: "Open another show" }).click();
  await expect(page.getByRole("list", { name: "Shows" })).toContainText("open now");
  await expectNoFaults(page);
});

test("an empty show, and a surface that is drawn as it is touched, have none", async ({ page, velvet }) => {
  const show = (await velvet.show()) as unknown as { layers: object[] };
  const empty = { ...show, layers: show.layers.slice(0, 1), surfaces: [], desks: [], mappings: [] };
  expect((await velvet.put(JSON.stringify(empty))).status).toBe(200);
  await fakeMidi(page);
  await openPlace(page, velvet, "connect");
  await expect(page.getByRole("heading", { name: "From hand to light" })).toBeVisible();
  await expectNoFaults(page);
  await page.getByRole("button", { name: "Put it away" }).click();
  await page.getByRole("button", { name: "Look for devices" }).click();
  await page.evaluate(() => window.fakeMidi.plug("Cliff Sixteen"));
  await page.evaluate(() => window.fakeMidi.play("Cliff Sixteen", [0x90, 36, 1]));
  await expect(page.getByRole("article", { name: "Cliff Sixteen is here" })).toBeVisible();
  await expectNoFaults(page);
  await page.getByRole("button", { name: "Use it" }).click();
  await expect(page.getByText("Touch anything on Cliff Sixteen")).toBeVisible();
  await page.evaluate(() => window.fakeMidi.play("Cliff Sixteen", [0x90, 36, 1]));
  await expect(page.getByRole("region", { name: "Light" })).toBeVisible();
  await page.getByRole("button", { name: "127", exact: true }).click();
  await expectNoFaults(page);
});
