/** What carries the messages: cables inside the program, UDP and TCP, and what is told when it does not fit. */
import { createSocket } from "node:dgram";
import { once } from "node:events";
import { createServer } from "node:net";
import { SACN_PORT } from "../../src/core/dmx/sacn.ts";
import { sacnPacket } from "../rig/dmx-packets.ts";
import { control, dragFader, expect, more, openPlace, test, trafficOf } from "./application.ts";

test("a cable inside the program: what goes to a MIDI desk comes in as the keys of a surface", async ({
  page,
  velvet,
}) => {
  await openPlace(page, velvet, "connect");
  const keys = page.getByRole("article", { name: "Pocket keys" });
  await keys.getByRole("combobox", { name: "In port of Pocket keys" }).click();
  await page.getByRole("option", { name: "a new cable in this program" }).click();
  await keys.getByLabel("Cable of In port of Pocket keys").fill("Foghorn to keys");
  await page.keyboard.press("Enter");
  await expect(keys.getByRole("combobox", { name: "In port of Pocket keys" })).toHaveText("cable");
  await expect(keys.getByLabel("Cable of In port of Pocket keys")).toHaveValue("Foghorn to keys");

  await page.getByRole("button", { name: "Add a desk" }).click();
  const dialog = page.getByRole("dialog", { name: "Add a desk" });
  await dialog.getByRole("combobox", { name: "What it is" }).click();
  await page.getByRole("option", { name: "MIDI", exact: true }).click();
  await expect(dialog.getByLabel("Name")).toHaveValue("MIDI"); // another kind has another name
  await dialog.getByLabel("Name").fill("Foghorn");
  await dialog.getByRole("combobox", { name: "MIDI out" }).click();
  await page.getByRole("option", { name: "cable “Foghorn to keys”" }).click();
  await dialog.getByRole("button", { name: "Add it" }).click();
  const card = page.getByRole("article", { name: "Foghorn" });
  await expect(card).toContainText("cable “Foghorn to keys”");

  const show = (await velvet.show()) as unknown as { desks: { id: string; name: string }[] };
  const { id } = show.desks.find((d) => d.name === "Foghorn")!;
  const bindings = { channel: { from: "fixed", value: 3 }, note: { from: "fixed", value: 64 } };
  const action = { id: "a-1", on: true, desk: id, function: "note", bindings, shape: { input: [0, 1], invert: false } };
  const mapping = {
    id: "m-horn",
    name: "Horn",
    note: "",
    on: true,
    surface: "deck",
    control: "pad-15",
    gesture: "press",
  };
  const added = await velvet.post("/api/edit", {
    kind: "add-mapping",
    mapping: { ...mapping, layers: [], takeover: "jump", look: {}, actions: [action] },
  });
  expect(added.status).toBe(200);
  await page.getByRole("link", { name: /Map/ }).click();
  await control(page, "pad-15").click();
  // Key 64 of the pocket keys chooses the second kit, of a desk that is asked over UDP.
  await expect.poll(async () => (await velvet.bell.state()).kit).toBe(2);
  await page.keyboard.press("`");
  await expect((await trafficOf(page, "Pocket keys")).first()).toContainText("ch 3");
  await page.keyboard.press("`");

  // A surface that is given one cable for both ways is told before anything goes round.
  await page.getByRole("link", { name: /Connect/ }).click();
  await keys.getByRole("combobox", { name: "Out port of Pocket keys" }).click();
  await page.getByRole("option", { name: "cable “Foghorn to keys”" }).click();
  await expect(keys.getByRole("alert")).toContainText("Pocket keys sends to the very port it listens on");
});

test("a desk is reached over TCP in either framing, and goes on as over UDP", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "connect");
  const card = page.getByRole("article", { name: "Lights" });
  await expect(card).toContainText("answering");
  // What was asked before the ports were open is no loss that anybody has to know of.
  await expect(page.getByText(/messages? (was|were) dropped/)).toHaveCount(0);
  for (const [carried, level] of [
    ["OSC over TCP, after its length", 0.7],
    ["OSC over TCP, framed by SLIP", 0.3],
    ["OSC over UDP", 0.6],
  ] as const) {
    await more(page, "Lights", "Change address");
    const dialog = page.getByRole("dialog", { name: "Address of Lights" });
    await dialog.getByRole("combobox", { name: "Carried by" }).click();
    await page.getByRole("option", { name: carried }).click();
    await expect(dialog.getByLabel("Heard on port")).toHaveCount(carried.endsWith("UDP") ? 1 : 0);
    await dialog.getByRole("button", { name: "Use this address" }).click();
    await expect(card).toContainText(`${carried} to 127.0.0.1:${desk.ports.port}`);
    await expect(card).toContainText("answering");
    await desk.act({ kind: "level", page: 1, playback: 1, value: level });
    await page.getByRole("link", { name: /Map/ }).click();
    await expect(control(page, "fader-1")).toHaveAttribute("aria-valuetext", new RegExp(`${level * 100} %`));
    await dragFader(page, "fader-1", level, 0.9);
    await expect.poll(async () => (await desk.playback(1, 1)).level).toBeCloseTo(0.9, 1);
    await page.getByRole("link", { name: /Connect/ }).click();
  }
  // Its power is cut and comes back: over TCP it is found again as over UDP.
  await velvet.post("/api/edit", {
    kind: "set-desk-address",
    id: "lights",
    host: "127.0.0.1",
    port: desk.ports.port,
    listenPort: desk.ports.port + 1,
    over: "tcp",
  });
  await expect(card).toContainText("on the same connection");
  await desk.kill();
  await expect(card).toContainText("refusing");
  await desk.start();
  await expect(card).toContainText("answering");
});

test("a desk that frames otherwise is told so, and what could not be read is counted", async ({ page, velvet }) => {
  const server = createServer((socket) => {
    socket.on("error", () => {}); // it is hung up on
    socket.write(Buffer.from([0xc0, 0x2f, 0x67, 0x6f, 0, 0x2c, 0, 0, 0, 0xc0]));
  });
  server.listen(0, "127.0.0.1");
  await once(server, "listening");
  const { port } = server.address() as { port: number };
  await openPlace(page, velvet, "connect");
  await velvet.post("/api/edit", {
    kind: "set-desk-address",
    id: "lights",
    host: "127.0.0.1",
    port,
    listenPort: port,
    over: "tcp",
  });
  const card = page.getByRole("article", { name: "Lights" });
  await expect(card.getByRole("alert")).toContainText("what comes is not framed by lengths; try SLIP");
  await expect(card).toContainText(/messages? (was|were) dropped/);
  server.close();
});

test("a DMX channel starts a cue, and another moves a level", async ({ page, velvet, desk }) => {
  await openPlace(page, velvet, "connect");
  await page.getByRole("button", { name: "Add a surface" }).click();
  const adding = page.getByRole("dialog", { name: "Add a surface" });
  await adding.getByRole("combobox", { name: "What it is" }).click();
  await page.getByRole("option", { name: "DMX channels" }).click();
  await adding.getByLabel("Name").fill("House desk");
  await adding.getByRole("button", { name: "Add it" }).click();
  const card = page.getByRole("article", { name: "House desk" });
  await card.getByRole("combobox", { name: "In port of House desk" }).click();
  await page.getByRole("option", { name: "a DMX universe" }).click();
  const dialog = page.getByRole("dialog", { name: "A DMX universe" });
  await dialog.getByLabel("Universe").fill("7");
  await dialog.getByLabel("First channel").fill("101");
  await dialog.getByRole("combobox", { name: "Heard from" }).click();
  await page.getByRole("option", { name: "this computer only" }).click();
  await dialog.getByLabel("Off below").fill("200");
  await dialog.getByRole("button", { name: "Use it" }).click();
  // A switch that goes off above where it goes on is refused, and the card is as it was.
  await expect(page.getByText("Not changed")).toBeVisible();
  await card.getByRole("combobox", { name: "In port of House desk" }).click();
  await page.getByRole("option", { name: "a DMX universe" }).click();
  await dialog.getByLabel("Universe").fill("7");
  await dialog.getByLabel("First channel").fill("101");
  await dialog.getByRole("combobox", { name: "Heard from" }).click();
  await page.getByRole("option", { name: "this computer only" }).click();
  await dialog.getByRole("button", { name: "Use it" }).click();
  await expect(card).toContainText("sACN universe 7 from channel 101");
  await expect(card).toContainText("nobody sends universe 7");

  const universe = createSocket("udp4");
  let sequence = 0;
  /** The house desk says its levels, by address. */
  const say = (levels: Record<number, number>) => {
    const slots = new Array<number>(512).fill(0);
    for (const [address, level] of Object.entries(levels)) slots[Number(address) - 1] = level;
    universe.send(sacnPacket(slots, { universe: 7, sequence: sequence++ & 0xff }), SACN_PORT, "127.0.0.1");
  };
  say({});
  await expect(card).not.toContainText("nobody sends");
  await page.getByRole("link", { name: /Map/ }).click();
  const region = page.getByRole("region", { name: "What it does" });
  const learn = async (levels: Record<number, number>, name: string, what: string) => {
    await page.getByRole("button", { name: /^Learn/ }).click();
    await expect(page.getByRole("status").filter({ hasText: "Touch a control" })).toBeVisible();
    say(levels);
    await expect(region).toContainText(name);
    await page.getByRole("combobox", { name: "What should it do?" }).fill(what);
    await page.keyboard.press("Enter");
    await expect(region).toContainText(`Lights · ${what}`);
  };
  await learn({ 125: 255 }, "Channel 25", "go in the cue list");
  say({});
  const { cue } = await desk.state();
  say({ 125: 127 }); // not far enough
  say({ 125: 128 });
  await expect.poll(async () => (await desk.state()).cue).toBe(cue + 1);
  say({ 125: 120 }); // not far enough back
  say({ 125: 255 });
  say({});
  await learn({ 103: 40 }, "Channel 3", "grand master");
  say({ 103: 255 });
  say({ 103: 51 });
  await expect.poll(async () => (await desk.state()).grand).toBeCloseTo(0.2, 2);
  expect((await desk.state()).cue).toBe(cue + 1);
  universe.close();
});
