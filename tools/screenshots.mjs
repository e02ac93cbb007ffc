// npm run screenshots: starts the demo, plays a little, and takes one picture of each main view at 1280x800.
import { spawn } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import { portVariables, STAND_INS } from "../src/standins/table.mjs";
import { CHROMIUM_FLAGS } from "./chromium-flags.mjs";
import { findChromium, NO_CHROMIUM } from "./test-programs.mjs";

const PORTS = { web: 4785, lights: 9170, lightsWeb: 4786 };
/** Every stand-in on ports of its own, so that a demo that runs beside is not disturbed. */
const IDS = Object.keys(STAND_INS);
const OUT = join("docs", "screenshots");

const executablePath = findChromium();
if (!executablePath) {
  console.error(NO_CHROMIUM);
  process.exit(1);
}
const data = mkdtempSync(join(tmpdir(), "velvet-shots-"));
const PASSCODE = "lanterns on the water";
const flags = ["--demo", "--port", String(PORTS.web), "--data", data, "--host", "0.0.0.0", "--name", "quay.example"];
const server = spawn(process.execPath, ["dist/main.mjs", ...flags], {
  stdio: ["ignore", "pipe", "inherit"],
  env: {
    ...process.env,
    VELVET_PASSCODE: PASSCODE,
    ...Object.fromEntries(
      IDS.flatMap((id, i) => [
        [portVariables(id).port, String(PORTS.lights + i * 10)],
        [portVariables(id).webPort, String(PORTS.lightsWeb + i)],
      ]),
    ),
  },
});
await new Promise((resolve) => {
  server.stdout.on("data", (piece) => String(piece).includes("is ready on") && resolve());
});
const browser = await chromium.launch({
  executablePath,
  args: CHROMIUM_FLAGS,
});
/** Somebody does something at a stand-in. */
const at = (id, command, path = "act") =>
  fetch(`http://127.0.0.1:${PORTS.lightsWeb + IDS.indexOf(id)}/${path}`, {
    method: "POST",
    body: JSON.stringify(command),
  });
const desk = (command) => at("lights", command);

try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const open = async (place) => {
    await page.goto(`http://127.0.0.1:${PORTS.web}/${place}`);
    await page.locator("html[data-ready]").waitFor();
    await page.getByText("answering").first().waitFor();
  };
  const shot = async (name) => {
    await page.evaluate(() => document.fonts.ready);
    await page.screenshot({ path: join(OUT, `${name}.png`) });
    console.log(`${OUT}/${name}.png`);
  };
  const base = `http://127.0.0.1:${PORTS.web}`;
  const edit = async (body) => {
    const answer = await fetch(`${base}/api/edit`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(await answer.text());
  };
  const mapped = async (id) => (await (await fetch(`${base}/api/show`)).json()).mappings.find((m) => m.control === id);
  const mappingOf = async (id) => (await mapped(id)).id;
  const actionOf = async (id) => (await mapped(id)).actions[0].id;
  const control = (id) => page.locator(`[data-control="${id}"]`);
  const drag = async (id, from, to) => {
    const box = await control(id).boundingBox();
    const y = (v) => box.y + 14 + (1 - v) * (box.height - 28);
    await page.mouse.move(box.x + box.width / 2, y(from));
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2, y(to), { steps: 10 });
    await page.mouse.up();
  };

  await desk({ kind: "page", value: 3 });
  for (const [playback, value] of [
    [1, 0.72],
    [2, 0.4],
    [3, 0.64],
    [5, 0.3],
  ])
    await desk({ kind: "level", page: 3, playback, value });
  for (const playback of [1, 2, 5, 11]) await desk({ kind: "on", page: 3, playback, value: true });
  await desk({ kind: "grand", value: 0.94 });
  await open("map");
  await drag("fader-1", 0.5, 0.72);
  await drag("fader-2", 0.2, 0.4);
  await drag("fader-6", 0.5, 0.94);
  await drag("fader-3", 0.1, 0.18);
  await control("pad-4").click();
  await page.locator('[data-control="pad-4"][data-lamp="full"]').waitFor();
  await shot("map");
  await page.keyboard.press("`");
  const rows = page.getByRole("listbox", { name: "Messages, newest first" }).getByRole("option");
  await page.getByLabel("Messages a second").locator("figcaption span").first().waitFor();
  await rows.nth(4).click();
  await rows.nth(2).click({ modifiers: ["Shift"] });
  await page.getByRole("button", { name: "Copy 3" }).waitFor();
  await shot("traffic");
  await page.keyboard.press("`");
  // One function for many, of which some do something already.
  await control("pad-9").click();
  await control("pad-17").click({ modifiers: ["Shift"] });
  await page.getByRole("option", { name: /^Flash playback/ }).click();
  await page.getByRole("region", { name: "Series" }).getByText("taken").first().waitFor();
  await shot("series");
  await page.keyboard.press("Escape");
  await page.keyboard.press("Escape");
  // The table, with some rows chosen.
  await page.keyboard.press("t");
  await page.getByRole("grid", { name: "Mappings" }).waitFor();
  for (const n of [3, 4, 5])
    await page
      .getByRole("checkbox", { name: `Choose Pad ${n}`, exact: true })
      .first()
      .click();
  await page.getByRole("toolbar", { name: "All that are chosen" }).waitFor();
  await shot("table");
  await page.keyboard.press("Escape");
  await page.keyboard.press("t");
  for (const item of [
    {
      kind: "put-group",
      item: { id: "songs", name: "Song pads", surface: "deck", controls: ["pad-28", "pad-29", "pad-30"] },
    },
    { kind: "put-layer", item: { id: "select", name: "Select", group: "songs" } },
    { kind: "put-bank", item: { id: "strips", name: "Playbacks", first: 1, last: 20, size: 6 } },
    { kind: "put-variable", item: { id: "verse", name: "Verse", from: 1, to: 4, start: 1, wraps: true } },
    {
      kind: "change-action",
      mapping: await mappingOf("fader-3"),
      id: await actionOf("fader-3"),
      set: {
        shape: {
          curve: { kind: "audio" },
          deadBand: { at: 0, width: 0.04 },
          fine: { factor: 0.2, while: { layer: "shift" } },
          slewPerS: 0.5,
        },
      },
    },
  ])
    await edit(item);
  await page.keyboard.press("g");
  await page.getByLabel("Name of Select").waitFor();
  await shot("parts");
  await page.keyboard.press("Escape");
  for (const [channel, value] of [
    [1, 0],
    [2, -12],
    [3, -20],
    [4, -30],
    [5, 3],
    [7, -6],
    [8, -15],
  ])
    await at("sound", { kind: "level", channel, value });
  await at("sound", { kind: "mute", channel: 3, on: true });
  await at("sound", { kind: "pan", channel: 2, value: -0.5 });
  await at("sound", { kind: "select", channel: 5 });
  for (const input of [1, 4, 7]) await at("vision", { kind: "audio", input, value: -input * 3 });
  await at("vision", { kind: "bar", mix: 1, value: 380 });
  await at("vision", { kind: "key", key: 2, on: true });
  await open("run");
  await shot("run");
  await page.getByRole("tab", { name: "Tide strips" }).click();
  await page.locator('[data-display="Name 1"]', { hasText: "Narrator" }).waitFor();
  await page.waitForFunction(() => document.querySelector('[data-control="fader-5"]')?.ariaValueNow > 80);
  await shot("strips");

  // A desk of one's own, like the lighting desk, and a sound desk that has gone silent.
  const profile = (await (await fetch(`${base}/api/show`)).json()).profiles;
  if (profile) throw new Error("the demo has profiles of its own already");
  const { default: quay } = await import("../profiles/quay-lights.desk.json", { with: { type: "json" } });
  await edit({ kind: "put-desk-profile", profile: { ...quay, id: "harbour", name: "Harbour lights" } });
  await open("connect");
  await page.getByTitle("What is done with the show").click();
  await page.getByRole("button", { name: /Versions/ }).click();
  await page.getByRole("button", { name: "Name the present one" }).click();
  await page.getByLabel("Name of the present version").fill("After the band left");
  await page.keyboard.press("Enter");
  await page.getByRole("list", { name: "Versions" }).getByText("After the band left").waitFor();
  await edit({ kind: "add-layer", layer: { id: "squall", name: "Squall" } });
  await page.getByRole("button", { name: /^After the band left/ }).click();
  await page.getByText("One layer differs.").waitFor();
  await shot("show-menu");
  await page.getByRole("button", { name: /Print labels/ }).click();
  await page.locator("img[alt='A sheet of labels'][src*='font-face']").first().waitFor();
  await page.locator("[data-sonner-toast]").waitFor({ state: "detached" }); // it lies over the size on the screen
  await shot("labels");
  await page.keyboard.press("Escape");
  await page.getByTitle("What is done with the show").click();
  await page.getByRole("button", { name: /Kinds of your own/ }).click();
  await page.getByRole("button", { name: /Harbour lights/ }).click();
  await page.getByRole("tab", { name: /What it does/ }).click();
  await page.locator("[data-preview]").waitFor();
  await shot("profile");
  await page.keyboard.press("Escape");
  await at("sound", { deaf: true }, "fault");
  await page
    .getByRole("article", { name: "Sound" })
    .getByText(/silent for/)
    .waitFor();
  await page.getByRole("article", { name: "Sound" }).scrollIntoViewIfNeeded();
  await shot("connect");
  // Who comes through a proxy counts as from elsewhere.
  const elsewhere = { via: "1.1 quay", "content-type": "application/json" };
  const enter = async (passcode, device) => {
    const body = JSON.stringify({ passcode, device });
    const answer = await fetch(`${base}/api/enter`, { method: "POST", headers: elsewhere, body });
    if (!answer.ok && passcode === PASSCODE) throw new Error(await answer.text());
  };
  await enter(PASSCODE, "Tablet at the mixer");
  await page.getByRole("button", { name: "Who is let in" }).click();
  await page.getByRole("button", { name: "Show a code" }).click();
  await page.locator("[data-pairing]").waitFor();
  await page.locator("[data-session]").waitFor();
  await shot("people");
  await page.keyboard.press("Escape");
  // MIDI on the network: sessions of this computer stand for those of others.
  const session = (id, name, port, more) => ({
    kind: "put-session",
    item: {
      id,
      name,
      port,
      reach: "this-computer",
      admission: "ask",
      allowed: [],
      invites: [],
      announced: false,
      ...more,
    },
  });
  const here = { host: "127.0.0.1", port: 5304 };
  await edit(session("main", "The Lantern Regatta", here.port, { allowed: ["Masthead"] }));
  await edit(session("mast", "Masthead", 5306, { invites: [here] }));
  await edit(session("quay", "Quay cabin", 5308, { invites: [here] }));
  const network = page.getByRole("article", { name: "Session The Lantern Regatta" });
  await network.getByText("asks to join").waitFor();
  await network.getByText(/^connected, /).waitFor();
  await network.evaluate((e) => e.scrollIntoView({ block: "center" }));
  await shot("network");
  // An empty show, and a unit that nobody knows.
  const empty = {
    ...(await (await fetch(`${base}/api/show`)).json()),
    name: "A new show",
    mappings: [],
    surfaces: [],
    desks: [],
  };
  for (const list of ["groups", "banks", "variables", "routes", "sessions", "profiles"]) delete empty[list];
  empty.layers = empty.layers.slice(0, 1);
  const put = await fetch(`${base}/api/show`, {
    method: "PUT",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(empty),
  });
  if (!put.ok) throw new Error(await put.text());
  await page.addInitScript(plugUnit);
  await page.goto(`${base}/connect`);
  await page.locator("html[data-ready]").waitFor();
  await page.getByRole("button", { name: "Put it away" }).click();
  await page.getByRole("button", { name: "Look for devices" }).click();
  await page.getByText("Cliff Sixteen").first().waitFor();
  await page.evaluate(() => window.unit.play([0x99, 36, 110]));
  await page.reload();
  await page.locator("html[data-ready]").waitFor();
  await page.evaluate(() => window.unit.play([0x99, 36, 110]));
  const ghost = page.getByRole("article", { name: "Cliff Sixteen is here" });
  await ghost.waitFor();
  await shot("first-light");
  await ghost.getByRole("button", { name: "Use it" }).click();
  await page.getByText("Touch anything on Cliff Sixteen").waitFor();
  const play = async (messages) => {
    for (const bytes of messages) await page.evaluate((b) => window.unit.play(b), bytes);
  };
  const onBoard = (id) => page.locator(`[data-board-control="${id}"]`).waitFor();
  await play(Array.from({ length: 20 }, (_, i) => [0xb0, 20, i * 6]));
  await onBoard("fader-1");
  await play([1, 1, 1, 127, 127].map((v) => [0xb0, 16, v]));
  await onBoard("knob-1");
  for (const [i, note] of [36, 37, 38].entries()) {
    await play([
      [0x99, note, 110],
      [0x89, note, 0],
    ]);
    await onBoard(`pad-${i + 1}`);
  }
  await page.getByText("go up evenly").waitFor();
  await page.getByRole("button", { name: "127", exact: true }).click();
  await shot("teach");
  for (const [i, { picture }] of Object.values(STAND_INS).entries()) {
    await page.goto(`http://127.0.0.1:${PORTS.lightsWeb + i}`);
    await page.getByText(picture.shows).first().waitFor();
    await shot(picture.file);
  }
} finally {
  await browser.close();
  server.kill("SIGINT");
  await once(server, "exit");
  rmSync(data, { recursive: true, force: true });
}

/** A browser's MIDI system with one unit, which plays what it is told. */
function plugUnit() {
  const port = { id: "unit", name: "Cliff Sixteen", state: "connected", onmidimessage: null, send: () => {} };
  const access = { inputs: new Map([["in", port]]), outputs: new Map([["out", { ...port }]]), onstatechange: null };
  window.unit = { play: (bytes) => port.onmidimessage?.({ data: Uint8Array.from(bytes) }) };
  Object.defineProperty(navigator, "requestMIDIAccess", { configurable: true, value: async () => access });
}
