// npm run screenshots: starts the demo, plays a little, and takes one picture of each main view at 1280x800.
import { spawn } from "node:child_process";
import { createSocket } from "node:dgram";
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
  await control("fader-3").click({ position: { x: 20, y: 90 } });
  await page.getByRole("region", { name: "What it does" }).getByRole("button", { name: /% to/ }).click();
  await page.getByLabel("Dead band width").waitFor();
  await shot("shape");
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
  server.kill("SIGSTOP");
  await page.getByRole("alert").filter({ hasText: "No connection since" }).waitFor();
  await control("pad-3").click();
  await page.getByText("Not played").waitFor();
  await shot("lost");
  server.kill("SIGCONT");
  await page.getByRole("alert").filter({ hasText: "No connection since" }).waitFor({ state: "detached" });
  await page.getByRole("tab", { name: "Tide strips" }).click();
  await page.locator('[data-display="Name 1"]', { hasText: "Narrator" }).waitFor();
  await page.waitForFunction(() => document.querySelector('[data-control="fader-5"]')?.ariaValueNow > 80);
  await shot("strips");
  await page.getByRole("tab", { name: "Pocket keys" }).click();
  await shot("keys");

  // A desk of one's own, like the lighting desk, and a sound desk that has gone silent.
  const profile = (await (await fetch(`${base}/api/show`)).json()).profiles;
  if (profile) throw new Error("the demo has profiles of its own already");
  const { default: quay } = await import("../profiles/quay-lights.desk.json", { with: { type: "json" } });
  await edit({ kind: "put-desk-profile", profile: { ...quay, id: "harbour", name: "Harbour lights" } });
  await open("connect");
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
  await page.getByRole("button", { name: "Backups" }).click();
  await page.getByRole("dialog").getByRole("listitem").first().waitFor();
  await shot("backups");
  await page.keyboard.press("Escape");
  // Who comes through a proxy counts as from elsewhere.
  const elsewhere = { via: "1.1 quay", "content-type": "application/json" };
  const enter = async (passcode, device) => {
    const body = JSON.stringify({ passcode, device });
    const answer = await fetch(`${base}/api/enter`, { method: "POST", headers: elsewhere, body });
    if (!answer.ok && passcode === PASSCODE) throw new Error(await answer.text());
  };
  await enter(PASSCODE, "Tablet at the mixer");
  const door = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await door.setExtraHTTPHeaders({ via: elsewhere.via });
  await door.goto(`${base}/run`);
  await door.getByLabel("Passcode").fill("lanterns in the water");
  await door.getByRole("button", { name: "Come in" }).click();
  await door.getByText("This is not the passcode.").waitFor();
  await door.screenshot({ path: join(OUT, "passcode.png") });
  console.log(`${OUT}/passcode.png`);
  await door.context().close();
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
  const universe = { kind: "dmx", protocol: "sacn", universe: 1, first: 1, reach: "this-computer", on: 128, off: 112 };
  const surface = {
    id: "house-desk",
    name: "House desk",
    profile: "dmx-channels",
    in: universe,
    out: { kind: "none" },
  };
  await edit({ kind: "add-surface", surface });
  const action = await mapped("fader-6");
  await edit({
    kind: "add-mapping",
    mapping: { ...action, id: "m-house", surface: "house-desk", control: "channel-6" },
  });
  await open("map");
  await page.getByRole("combobox", { name: "Surface" }).click();
  await page.getByRole("option", { name: "House desk" }).click();
  const house = createSocket("udp4");
  const slots = Array.from({ length: 32 }, (_, i) => (i < 24 ? Math.round(127 + 110 * Math.sin(i / 2.6)) : 0));
  house.send(sacnPacket(slots), 5568, "127.0.0.1");
  await page.waitForFunction(() => document.querySelector('[data-control="channel-3"]')?.ariaValueNow > 50);
  await control("channel-6").click();
  await shot("dmx");
  house.close();
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

/** A data packet of E1.31, as its tables 4-1 to 4-3 have it. */
function sacnPacket(slots) {
  const end = 126 + slots.length;
  const length = (from) => [0x70 | ((end - from) >> 8), (end - from) & 0xff];
  return Uint8Array.from([
    ...[0x00, 0x10, 0, 0, ...new TextEncoder().encode("ASC-E1.17"), 0, 0, 0, ...length(16), 0, 0, 0, 4],
    ...[...new Array(16).fill(1), ...length(38), 0, 0, 0, 2, ...new Array(64).fill(0), 100, 0, 0, 0, 0, 0, 1],
    ...[...length(115), 2, 0xa1, 0, 0, 0, 1, (slots.length + 1) >> 8, (slots.length + 1) & 0xff, 0, ...slots],
  ]);
}
