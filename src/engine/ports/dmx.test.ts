import { createSocket } from "node:dgram";
import { once } from "node:events";
import { afterEach, describe, expect, test, vi } from "vitest";
import { artDmx, artPoll, sacnDiscovery, sacnPacket } from "../../../tests/rig/dmx-packets.ts";
import { artPollReply } from "../../core/dmx/art-poll.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import { troubleWords } from "../../words/troubles.ts";
import { Strangers } from "../strangers.ts";
import { DmxPort, DmxReceivers } from "./dmx.ts";
import type { DmxRef } from "./dmx-receiver.ts";
import { addressTowards } from "./own-address.ts";

const LOOPBACK = "127.0.0.1";
const PORT = 19_620;
const closing: (() => unknown)[] = [];

afterEach(async () => {
  await Promise.all(closing.splice(0).map((close) => close()));
});

const NOBODY = { address: [0, 0, 0, 0], hardware: [0, 0, 0, 0, 0, 0], port: 0, shortName: "", longName: "" };

const strangers = () => new Strangers(() => performance.now());

const fader = (number: number) => control({ kind: "controller-14", channel: 1, number });
const button = (number: number) => control({ kind: "note", channel: 1, number });

function control(sends: Control["sends"]): Control {
  const box = { x: 0, y: 0, width: 1, height: 1 };
  return { id: "c", name: "C", kind: "fader", behaviour: "absolute", box, sends };
}

/** A surface that is part of a universe, by a clock that a test may put forward. */
function surface(receivers: DmxReceivers, controls: Control[], more: Partial<DmxRef> = {}) {
  const heard: string[] = [];
  const states: string[] = [];
  const ref: DmxRef = {
    kind: "dmx",
    protocol: "sacn",
    universe: 1,
    first: 1,
    reach: "this-computer",
    port: PORT,
    on: 128,
    off: 112,
    ...more,
  };
  const port = new DmxPort(receivers, ref, controls, {
    message: (b) => heard.push(Buffer.from(b).toString("hex")),
    refused: () => {},
    state: (s) => states.push(s.trouble ? `${s.state}: ${troubleWords(s.trouble)}` : s.state),
  });
  port.open();
  closing.push(() => port.close());
  return { heard, states, port };
}

async function sender(): Promise<(bytes: Uint8Array) => void> {
  const socket = createSocket("udp4");
  closing.push(() => socket.close());
  return (bytes) => socket.send(bytes, PORT, LOOPBACK);
}

describe("universes over real sockets", () => {
  test("a surface hears its part of its universe; who sends it is what its state says", async () => {
    const receivers = new DmxReceivers(() => performance.now(), strangers());
    const s = surface(receivers, [fader(0), button(1)], { first: 3 });
    await vi.waitFor(() => expect(s.states.at(-1)).toBe("waiting: nobody sends universe 1"));
    const send = await sender();
    send(sacnPacket([0, 0, 255, 200]));
    await vi.waitFor(() => expect(s.heard).toEqual(["b0007f", "b0207f", "90017f"]));
    expect([s.states.at(-1), s.port.counted.in]).toEqual(["open", 1]);
    send(sacnPacket([0, 0, 255, 0], { universe: 2, sequence: 1 }));
    send(sacnPacket([0, 0, 255, 0], { options: 0x80, sequence: 2 })); // a preview
    send(sacnPacket([0, 0, 255, 0], { startCode: 0xdd, sequence: 3 }));
    send(sacnPacket([0, 0, 0, 200], { sequence: 4 }));
    await vi.waitFor(() => expect(s.heard.slice(3)).toEqual(["b00000", "b02000"]));
  });

  test("a source that ends, or falls silent, lets go of its switches", async () => {
    let aheadMs = 0;
    const receivers = new DmxReceivers(() => performance.now() + aheadMs, strangers());
    const s = surface(receivers, [button(0)]);
    const send = await sender();
    await vi.waitFor(() => expect(s.states.at(-1)).toContain("nobody"));
    send(sacnPacket([255]));
    await vi.waitFor(() => expect(s.heard).toEqual(["90007f"]));
    send(sacnPacket([], { options: 0x40, sequence: 1 }));
    await vi.waitFor(() => expect(s.heard).toEqual(["90007f", "800000"]));
    send(sacnPacket([255], { sequence: 2 }));
    await vi.waitFor(() => expect(s.heard).toHaveLength(3));
    aheadMs = 3000;
    await vi.waitFor(() => expect(s.heard.at(-1)).toBe("800000"));
    expect(s.states.at(-1)).toBe("waiting: nobody sends universe 1");
  });

  test("two surfaces share a universe, and its socket; garbage is counted and changes nothing", async () => {
    const receivers = new DmxReceivers(() => performance.now(), strangers());
    const a = surface(receivers, [fader(0)], { protocol: "art-net", universe: 0x123 });
    const b = surface(receivers, [fader(0)], { protocol: "art-net", universe: 0x123, first: 2 });
    const send = await sender();
    await vi.waitFor(() => expect(b.states.at(-1)).toContain("nobody"));
    send(Uint8Array.of(1, 2, 3));
    send(sacnPacket([255, 255]));
    send(artDmx([1, 255], 0x23, 1));
    await vi.waitFor(() =>
      expect([a.heard, b.heard]).toEqual([
        ["b00000", "b02040"],
        ["b0007f", "b0207f"],
      ]),
    );
    expect([a.port.counted.dropped, b.port.counted.dropped]).toEqual([2, 2]);
    await a.port.close();
    send(artDmx([1, 0], 0x23, 1));
    await vi.waitFor(() => expect(b.heard.slice(2)).toEqual(["b00000", "b02000"]));
    expect(a.heard).toHaveLength(2);
  });

  test("universes that nobody follows show themselves at a port that listens, with what moves in them", async () => {
    let nowMs = 0;
    const known = new Strangers(() => nowMs);
    const receivers = new DmxReceivers(() => performance.now(), known);
    const s = surface(receivers, [fader(0)]);
    await vi.waitFor(() => expect(s.states.at(-1)).toContain("nobody"));
    const send = await sender();
    send(sacnPacket([9, 0, 7], { universe: 3 }));
    send(sacnPacket([9, 0, 8, 1], { universe: 3, sequence: 1 }));
    send(sacnDiscovery("Harbour office", [7, 300]));
    send(sacnPacket([255]));
    await vi.waitFor(() => expect(s.heard).toHaveLength(2));
    nowMs += 1000;
    const heard = (universe: number) => known.list().find((k) => k.kind === "universe" && k.universe === universe);
    await vi.waitFor(() => expect(heard(300)).toMatchObject({ protocol: "sacn", name: "Harbour office", slots: [] }));
    expect(heard(3)).toMatchObject({ slots: [3, 4], in: 2 });
    expect([heard(7)?.kind, heard(1)]).toEqual(["universe", undefined]);
    nowMs += 13_000;
    expect(known.list()).toEqual([]);
  });

  test("a universe comes to its group, as long as a surface follows it", async () => {
    const receivers = new DmxReceivers(
      () => performance.now(),
      strangers(),
      () => ["127.0.0.1"], // groups of loopback only: nothing leaves this computer
    );
    const s = surface(receivers, [fader(0)], { reach: "network", universe: 258 });
    const other = surface(receivers, [fader(0)], { reach: "network", universe: 1 });
    await vi.waitFor(() => expect(other.states.at(-1)).toContain("nobody"));
    const socket = createSocket("udp4").bind(0, LOOPBACK);
    await once(socket, "listening");
    closing.push(() => socket.close());
    socket.setMulticastInterface(LOOPBACK);
    socket.setMulticastTTL(0);
    socket.send(sacnPacket([255], { universe: 258 }), PORT, "239.255.1.2");
    await vi.waitFor(() => expect(s.heard).toEqual(["b0007f", "b0207f"]));
    await s.port.close();
    socket.send(sacnPacket([0], { universe: 258, sequence: 1 }), PORT, "239.255.1.2");
    socket.send(sacnPacket([255], { universe: 1 }), PORT, "239.255.0.1");
    await vi.waitFor(() => expect(other.heard).toEqual(["b0007f", "b0207f"]));
    expect(s.heard).toHaveLength(2);
  });

  test("a controller that looks for nodes is told each universe that it asks for; what else the network says is no fault", async () => {
    const receivers = new DmxReceivers(() => performance.now(), strangers());
    const surfaces = [0x123, 4].map((universe) => surface(receivers, [fader(0)], { protocol: "art-net", universe }));
    await vi.waitFor(() => expect(surfaces[1]!.states.at(-1)).toContain("nobody"));
    const controller = createSocket("udp4").bind(0, LOOPBACK);
    await once(controller, "listening");
    closing.push(() => controller.close());
    const told: string[] = [];
    controller.on("message", (b) => told.push(`${b.readUInt16BE(18).toString(16)} ${b[190]} bind ${b[211]}`));
    controller.send(artPoll(), PORT, LOOPBACK);
    await vi.waitFor(() => expect(told).toEqual(["0 4 bind 1", "102 3 bind 2"]));
    controller.send(artPoll([0x100, 0x1ff]), PORT, LOOPBACK);
    await vi.waitFor(() => expect(told.slice(2)).toEqual(["102 3 bind 2"]));
    controller.send(artPollReply(NOBODY, 9, 1), PORT, LOOPBACK);
    controller.send(artDmx([1, 255, 3]), PORT, LOOPBACK); // an odd number of slots
    await vi.waitFor(() => expect(surfaces[0]!.port.counted.dropped).toBe(1));
  });

  test("a port that another program has for itself is said in words, and opened once it is free", async () => {
    const taken = createSocket("udp4").bind(PORT, LOOPBACK);
    await once(taken, "listening");
    const s = surface(new DmxReceivers(() => performance.now(), strangers()), [fader(0)]);
    await vi.waitFor(() => expect(s.states.at(-1)).toBe(`failed: port ${PORT} is already used on this computer`));
    taken.close();
    await vi.waitFor(() => expect(s.states.at(-1)).toBe("waiting: nobody sends universe 1"), 5000);
  });
});

test("other computers are told the address of the card that is on their network", () => {
  const card = (address: string, bits: number, mac: string, internal = false) => ({
    address,
    netmask: "",
    family: "IPv4" as const,
    mac,
    internal,
    cidr: `${address}/${bits}`,
  });
  const cards = {
    lo: [card("127.0.0.1", 8, "00:00:00:00:00:00", true)],
    a: [card("10.0.7.20", 24, "02:00:00:00:00:0a")],
    b: [card("192.168.9.4", 16, "02:00:00:00:00:0b")],
  };
  expect(addressTowards("192.168.200.1", cards)).toEqual({ address: [192, 168, 9, 4], hardware: [2, 0, 0, 0, 0, 11] });
  expect(addressTowards("127.0.0.1", cards).address).toEqual([127, 0, 0, 1]);
  expect(addressTowards("172.16.0.1", cards).address).toEqual([10, 0, 7, 20]);
  expect(addressTowards("10.0.7.1", {}).address).toEqual([127, 0, 0, 1]);
});
