/** Mistakes that stop people, each told in the bottom line with what ends it beside it. */
import type { Page } from "@playwright/test";
import { WHOLE_TRAVEL } from "../../src/core/format/givens.ts";
import { type Application, control, expect, openPlace, test } from "./application.ts";

const line = (page: Page) => page.getByRole("region", { name: "Heard last" });
const mend = (page: Page, words: string) => line(page).getByRole("button", { name: words }).click();
const edit = async (velvet: Application, body: object) =>
  expect((await velvet.post("/api/edit", body)).status).toBe(200);
const idOf = async (velvet: Application, controlId: string) =>
  (await velvet.show()).mappings.find(
    (m) => m.control === controlId && (m as never as { surface: string }).surface === "deck",
  )!.id;

test("switched off: on again", async ({ page, velvet, desk }) => {
  const id = await idOf(velvet, "pad-1");
  await edit(velvet, { kind: "change-mapping", id, set: { on: false } });
  await openPlace(page, velvet, "map");
  await control(page, "pad-1").click();
  await expect(line(page)).toContainText("is switched off");
  await mend(page, "Switch it on");
  await expect(control(page, "pad-1")).not.toHaveAttribute("data-state", "switched-off");
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
});

test("another layer: it holds everywhere", async ({ page, velvet, desk }) => {
  const id = await idOf(velvet, "pad-2");
  await edit(velvet, { kind: "change-mapping", id, set: { layers: ["shift"] } });
  await openPlace(page, velvet, "map");
  await control(page, "pad-2").click();
  await expect(line(page)).toContainText("holds on another layer or page");
  await mend(page, "Let it hold everywhere");
  await expect(control(page, "pad-2")).not.toHaveAttribute("data-state", "elsewhere");
  await control(page, "pad-2").click();
  await expect.poll(async () => (await desk.playback(1, 2)).on).toBe(true);
});

test("not mapped: the search is at hand", async ({ page, velvet }) => {
  await openPlace(page, velvet, "map");
  await control(page, "pad-17").click();
  await expect(line(page)).toContainText("not mapped");
  await mend(page, "Say what it does");
  await expect(page.getByRole("combobox", { name: "What should it do?" })).toBeFocused();
});

test("out of service: back in service", async ({ page, velvet, desk }) => {
  await edit(velvet, { kind: "put-group", item: { id: "g", name: "Row one", surface: "deck", controls: ["pad-1"] } });
  const bypass = {
    id: "m-bypass",
    name: "",
    note: "",
    on: true,
    surface: "deck",
    control: "pad-27",
    gesture: "press",
    layers: [],
    takeover: "jump",
    look: {},
    actions: [
      {
        id: "a-bypass",
        on: true,
        desk: "house",
        function: "bypass.commands",
        bindings: { group: { from: "fixed", value: 1 } },
        shape: WHOLE_TRAVEL,
      },
    ],
  };
  await edit(velvet, { kind: "add-mapping", mapping: bypass });
  await openPlace(page, velvet, "map");
  await control(page, "pad-27").click();
  await control(page, "pad-1").click();
  await expect(line(page)).toContainText("out of service");
  await mend(page, "End the bypass");
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
});

test("waiting to be caught: it jumps instead", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await desk.act({ kind: "level", page: 1, playback: 1, value: 0.9 });
  const box = (await control(page, "fader-1").boundingBox())!;
  await page.mouse.click(box.x + box.width / 2, box.y + box.height * 0.6);
  await expect(line(page)).toContainText("to catch");
  await mend(page, "Jump instead");
  const takeover = async () =>
    ((await velvet.show()).mappings.find((m) => m.control === "fader-1") as unknown as { takeover: string }).takeover;
  await expect.poll(takeover).toBe("jump");
  await page.mouse.click(box.x + box.width / 2, box.y + box.height * 0.5);
  await expect.poll(async () => (await desk.playback(1, 1)).level).toBeLessThan(0.8);
});

test("the desk is silent: its card is opened, and it is asked", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  desk.freeze();
  await expect(
    page
      .getByRole("region", { name: "What listens" })
      .getByText(/silent/)
      .first(),
  ).toBeVisible();
  await control(page, "pad-1").click();
  await expect(line(page)).toContainText(/does not answer|not there/);
  await mend(page, "Open Lights");
  await expect(page).toHaveURL(/\/connect$/);
  desk.thaw();
  await expect(page.getByRole("article", { name: "Lights" })).toContainText("answering");
});

test("out of range: to the mapping", async ({ page, velvet }) => {
  const id = await idOf(velvet, "pad-4");
  const action = (await velvet.show()).mappings.find((m) => m.id === id)!.actions[0] as { id: string };
  await edit(velvet, {
    kind: "change-action",
    mapping: id,
    id: action.id,
    set: { bindings: { playback: { from: "message", part: "number", offset: 90 } } },
  });
  await openPlace(page, velvet, "map");
  await control(page, "pad-4").click();
  await expect(line(page)).toContainText("the desk has no playback");
  await control(page, "pad-5").focus();
  await mend(page, "Go to it");
  await expect(page.getByRole("region", { name: "What it does" })).toContainText("Pad 4");
});

test("no control for the message: it is added, and the kind becomes one’s own", async ({ page, velvet }) => {
  await edit(velvet, { kind: "set-surface-ports", id: "deck", in: { kind: "cable", name: "loose" } });
  await openPlace(page, velvet, "map");
  const stray = { kind: "send-once", to: "surface", id: "keys", bytes: [0x90, 119, 100] };
  await edit(velvet, { kind: "set-surface-ports", id: "keys", out: { kind: "cable", name: "loose" } });
  await page.evaluate((message) => {
    const socket = new WebSocket(`ws://${location.host}/live`);
    socket.onopen = () => socket.send(JSON.stringify(message));
  }, stray);
  await expect(line(page)).toContainText("has no control for this message");
  await mend(page, "Add this control");
  await expect(page.getByRole("button", { name: /^Hands/ })).toHaveText(/teach/);
  const own = async () =>
    ((await velvet.show()) as unknown as { profiles?: { surfaces: { name: string }[] } }).profiles?.surfaces.map(
      (p) => p.name,
    );
  await expect.poll(own).toEqual(["Deck grid, ours"]);
  // What was mapped is mapped as before.
  expect(
    (await velvet.show()).mappings.filter((m) => (m as never as { surface: string }).surface === "deck").length,
  ).toBeGreaterThan(20);
});

/** A mapping of a free pad of the deck. */
const onFreePad = (id: string, gesture: string, action: object) => ({
  id,
  name: "",
  note: "",
  on: true,
  surface: "deck",
  control: "pad-17",
  gesture,
  layers: [],
  takeover: "jump",
  look: {},
  actions: [{ id: `a-${id}`, on: true, shape: WHOLE_TRAVEL, ...action }],
});
const toggle = (desk: string) => ({
  desk,
  function: "playback.toggle",
  bindings: { page: { from: "page" }, playback: { from: "fixed", value: 7 } },
});
/** Bytes on a cable, by the way out of the keys. */
async function sayOnCable(page: Page, velvet: Application, name: string, bytes: number[]): Promise<void> {
  await edit(velvet, { kind: "set-surface-ports", id: "keys", out: { kind: "cable", name } });
  await page.evaluate(
    (message) =>
      new Promise<void>((done) => {
        const socket = new WebSocket(`ws://${location.host}/live`);
        socket.onopen = () => {
          socket.send(JSON.stringify(message));
          done();
        };
      }),
    { kind: "send-once", to: "surface", id: "keys", bytes },
  );
}

test("the wrong gesture: to what is mapped there", async ({ page, velvet, desk }) => {
  // On a busy machine even a click takes its time, and it must not become a hold.
  const hold = { ...onFreePad("m-hold", "hold", toggle("lights")), times: { holdMs: 10_000 } };
  await edit(velvet, { kind: "add-mapping", mapping: hold });
  await openPlace(page, velvet, "map");
  await control(page, "pad-17").click();
  await expect(line(page)).toContainText("waiting");
  await control(page, "pad-5").focus();
  await mend(page, "Go to it");
  await expect(page.getByRole("region", { name: "What it does" })).toContainText("Hold");
  expect((await desk.playback(1, 7)).on).toBe(false);
});

test("the page is not known: its desk is opened, and it is asked", async ({ page, velvet }) => {
  const cabin = { id: "cabin", name: "Cabin", profile: "quay-lights", host: "127.0.0.1", port: 9, listenPort: 21_998 };
  await edit(velvet, { kind: "add-desk", desk: cabin });
  await edit(velvet, { kind: "add-mapping", mapping: onFreePad("m-cabin", "press", toggle("cabin")) });
  await openPlace(page, velvet, "map");
  await control(page, "pad-17").click();
  await expect(line(page)).toContainText("has not said which page is up");
  await mend(page, "Open Cabin");
  await expect(page).toHaveURL(/\/connect$/);
  await expect(page.getByRole("article", { name: "Cabin" })).toBeVisible();
});

test("the guard stopped a way that hears itself: it is closed again", async ({ page, velvet }) => {
  // What the deck says goes to the strips, and what goes to the strips is heard by the deck.
  const ring = { kind: "cable", name: "ring" };
  await edit(velvet, { kind: "set-surface-ports", id: "deck", in: ring });
  await edit(velvet, { kind: "set-surface-ports", id: "strips", out: ring });
  await edit(velvet, {
    kind: "put-route",
    item: { id: "r", name: "Ring", from: "deck", to: "strips", on: true, pass: "all" },
  });
  await openPlace(page, velvet, "map");
  await sayOnCable(page, velvet, "ring", [0x9f, 3, 100]);
  await expect(line(page)).toContainText("hearing itself");
  await edit(velvet, { kind: "remove-part", list: "routes", id: "r" });
  await mend(page, "Close it again");
  await page.getByRole("banner").getByRole("link", { name: "Connect" }).click();
  await expect(page.getByRole("article", { name: "Deck grid" })).not.toContainText("hears itself");
});

test("the wrong channel: the control of one’s own kind takes it", async ({ page, velvet, desk }) => {
  const pad = {
    id: "pad-1",
    name: "Pad 1",
    kind: "pad",
    behaviour: "springs-back",
    box: { x: 0, y: 0, width: 1, height: 1 },
    sends: { kind: "note", channel: 10, number: 36 },
  };
  const profile = {
    format: "velvet-hinge/surface-profile",
    version: 1,
    id: "cliff",
    name: "Cliff",
    about: "",
    size: { width: 1, height: 1 },
    lightsItself: false,
    controls: [pad],
    palettes: [],
  };
  await edit(velvet, { kind: "put-surface-profile", profile });
  const port = { kind: "cable", name: "cliff" };
  await edit(velvet, {
    kind: "add-surface",
    surface: { id: "cliff", name: "Cliff", profile: "cliff", in: port, out: { kind: "none" } },
  });
  const mapping = { ...onFreePad("m-cliff", "press", toggle("lights")), surface: "cliff", control: "pad-1" };
  await edit(velvet, { kind: "add-mapping", mapping });
  await openPlace(page, velvet, "map");
  await sayOnCable(page, velvet, "cliff", [0x90, 36, 100]);
  await mend(page, "Use channel 1");
  await expect(line(page)).not.toContainText("Use channel");
  await sayOnCable(page, velvet, "cliff", [0x90, 36, 100]);
  await expect.poll(async () => (await desk.playback(1, 7)).on).toBe(true);
});

test("asleep: it is woken", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "map");
  await control(page, "pad-1").focus();
  await page.keyboard.press("z");
  await expect(control(page, "pad-1")).toHaveAttribute("data-state", "asleep");
  await control(page, "pad-1").click();
  await expect(line(page)).toContainText("out of service");
  await mend(page, "Wake it");
  await expect(control(page, "pad-1")).not.toHaveAttribute("data-state", "asleep");
  await control(page, "pad-1").click();
  await expect.poll(async () => (await desk.playback(1, 1)).on).toBe(true);
});

test("in the list: what was heard before it was opened, and what ends the reason of one row", async ({
  page,
  velvet,
}) => {
  // Desks of one's own kinds are listened to already, without what came before.
  const profile = {
    format: "velvet-hinge/desk-profile",
    version: 2,
    id: "caption",
    name: "Captions",
    kind: "lighting",
    about: "",
    wire: { kind: "osc", port: 21_996, checkAtDesk: [] },
    parameters: [],
    states: [],
    functions: [],
    query: [],
  };
  const own = {
    id: "caption",
    name: "Captions",
    profile: "caption",
    host: "127.0.0.1",
    port: 21_996,
    listenPort: 21_997,
  };
  await edit(velvet, { kind: "put-desk-profile", profile });
  await edit(velvet, { kind: "add-desk", desk: own });
  await openPlace(page, velvet, "map");
  await control(page, "pad-17").click();
  await expect(line(page)).toContainText("not mapped");
  await control(page, "pad-1").click();
  await page.keyboard.press("`");
  const list = page.getByRole("region", { name: "All traffic" });
  // Desks answer all the time: what was played is looked for, or it moves out of sight.
  await page.getByLabel("Filter by text, number or control").fill("not mapped");
  // Rows are used again for others: one that is found before the search has ended may be gone when it is clicked.
  await expect(list.getByRole("option").filter({ hasNotText: "not mapped" })).toHaveCount(0);
  await list
    .getByRole("option", { name: /90 34 7F.*not mapped/ })
    .first()
    .click();
  await list.getByRole("button", { name: "Say what it does" }).click();
  await expect(page.getByRole("combobox", { name: "What should it do?" })).toBeFocused();
});
