/** Whoever speaks and is used by nobody offers itself on Connect: real sockets, from senders that the show does not know. */
import { createSocket } from "node:dgram";
import { once } from "node:events";
import { sacnPacket } from "../rig/dmx-packets.ts";
import { chooseSurface, control, expect, openPlace, test } from "./application.ts";
import { OscPeer } from "./own-peers.ts";

const PEER_PORT = 21_990;
const SACN_PORT = 5568;

test("somebody speaks OSC to the port of a desk: it becomes a desk by one key, and the desk beside it hears on", async ({
  page,
  velvet,
}) => {
  const { desks } = (await velvet.show()) as unknown as { desks: { listenPort: number }[] };
  const lights = desks[0]!;
  const peer = new OscPeer();
  await peer.open(PEER_PORT);
  try {
    await openPlace(page, velvet, "connect");
    const ghost = page.getByRole("article", { name: `127.0.0.1, port ${PEER_PORT} is here` });
    await expect(ghost).toHaveCount(0);
    peer.say(lights.listenPort, "/quay/lamp/3/level", 0.5);
    await expect(ghost).toContainText("Heard /quay/lamp/3/level 0.5");
    await expect(ghost.getByRole("combobox")).toContainText("any desk by OSC");
    const network = page.getByRole("region", { name: "Network" });
    await expect(network).toContainText(`127.0.0.1, port ${PEER_PORT}`);
    await page.keyboard.press("u");
    await expect(page.getByRole("article", { name: "Desk at 127.0.0.1" })).toBeVisible();
    await expect(ghost).toHaveCount(0);
    await expect(network).not.toContainText(`port ${PEER_PORT}`);
    // Both hear at one port now, each its own.
    peer.say(lights.listenPort, "/quay/lamp/4/level", 0.25);
    await expect(page.getByLabel("Heard last")).toContainText("/quay/lamp/4/level 0.25");
    await expect(page.getByRole("article", { name: "Lights" })).toHaveAttribute("data-health", "answering");
  } finally {
    peer.close();
  }
});

test("a universe that is looked for becomes faders of the channels that moved, and follows them", async ({
  page,
  velvet,
}) => {
  const socket = createSocket("udp4").bind(0, "127.0.0.1");
  await once(socket, "listening");
  let sequence = 0;
  const send = (...slots: number[]) =>
    socket.send(sacnPacket(slots, { universe: 9, sequence: sequence++ & 0xff }), SACN_PORT, "127.0.0.1");
  try {
    await openPlace(page, velvet, "connect");
    await page.getByRole("button", { name: "Look", exact: true }).click();
    const ghost = page.getByRole("article", { name: "Universe 9 is here" });
    await expect(async () => {
      send(0, 7, sequence);
      await expect(ghost).toContainText("channel 3 moved", { timeout: 700 });
    }).toPass();
    await ghost.getByRole("button", { name: "Use it" }).click();
    await expect(page.getByRole("article", { name: "Universe 9", exact: true })).toBeVisible();
    await expect(ghost).toHaveCount(0);
    // Connect is left: nothing is looked for any more, and the surface goes on hearing.
    await page.getByRole("banner").getByRole("link", { name: "Map" }).click();
    await chooseSurface(page, "Universe 9");
    await expect(async () => {
      send(0, 7, 255);
      await expect(control(page, "channel-3")).toHaveAttribute("aria-valuenow", "100", { timeout: 700 });
    }).toPass();
    await expect(control(page, "channel-2")).toHaveCount(0);
    send(0, 7, 51);
    await expect(control(page, "channel-3")).toHaveAttribute("aria-valuenow", "20");
  } finally {
    socket.close();
  }
});
