/** Whatever a port opened, closing it closes: sockets, servers and timers, also while it waits to try again. */
import { describe, expect, test, vi } from "vitest";
import type { NetworkSession } from "../../core/format/show.ts";
import { LineFraming } from "../../core/stream/line-framing.ts";
import { Strangers } from "../strangers.ts";
import { CablePort, Cables } from "./cables.ts";
import { DmxPort, DmxReceivers } from "./dmx.ts";
import { HttpPort } from "./http.ts";
import { MqttPort } from "./mqtt.ts";
import { NetworkMidiPort, NetworkSessions } from "./network-midi.ts";
import type { Port, PortEvents } from "./port.ts";
import { TcpPort } from "./tcp.ts";
import { TcpServerPort } from "./tcp-server.ts";
import { UdpPort } from "./udp.ts";

const HOST = "127.0.0.1";
const NOBODY = 19_660;
const FREE = 19_662;

function handles(): string[] {
  return process
    .getActiveResourcesInfo()
    .filter((kind) => /^(UDP|TCP|Timeout)/.test(kind))
    .sort();
}

/** Handles that were not there before. */
function left(before: readonly string[]): string[] {
  const had = [...before];
  return handles().filter((kind) => {
    const at = had.indexOf(kind);
    if (at >= 0) had.splice(at, 1);
    return at < 0;
  });
}

const SESSION: NetworkSession = {
  id: "n",
  name: "End",
  port: FREE,
  reach: "this-computer",
  admission: "everyone",
  allowed: [],
  invites: [{ host: HOST, port: NOBODY }],
  announced: false,
};

/** Each with what it tells once it is as far as it gets. */
const PORTS: [string, string, (events: PortEvents) => { port: Port; close(): Promise<unknown> }][] = [
  [
    "UDP",
    "refused",
    (e) => alone(new UdpPort({ peer: { host: HOST, port: NOBODY }, listen: { host: HOST, port: FREE } }, e)),
  ],
  ["TCP, nobody there", "failed", (e) => alone(new TcpPort({ host: HOST, port: NOBODY }, new LineFraming("lf"), e))],
  [
    "TCP, the desk calls",
    "waiting",
    (e) => alone(new TcpServerPort({ host: HOST, port: FREE }, () => new LineFraming("lf"), e)),
  ],
  [
    "HTTP, nobody there",
    "failed",
    (e) => alone(new HttpPort({ host: HOST, port: NOBODY, headers: {}, timeoutMs: 500 }, e)),
  ],
  [
    "MQTT, no broker",
    "failed",
    (e) => alone(new MqttPort({ host: HOST, port: NOBODY, version: "5", topics: ["a"], will: "" }, e)),
  ],
  ["a cable", "open", (e) => alone(new CablePort(new Cables(), { name: "c", input: true }, e))],
  [
    "DMX",
    "waiting",
    (e) => {
      const ref = { kind: "dmx", protocol: "sacn", universe: 1, first: 1, reach: "this-computer" } as const;
      const own = { ...ref, port: FREE, on: 128, off: 112 };
      return alone(new DmxPort(new DmxReceivers(() => performance.now(), new Strangers(() => 0)), own, [], e));
    },
  ],
  [
    "network MIDI, nobody there",
    "waiting",
    (e) => {
      const sessions = new NetworkSessions(() => performance.now());
      sessions.set([SESSION]);
      const port = new NetworkMidiPort(sessions, { session: "n", input: false }, e);
      return { port, close: async () => Promise.all([port.close(), sessions.close()]) };
    },
  ],
];

function alone(port: Port) {
  return { port, close: () => port.close() };
}

describe("closed, nothing is left", () => {
  test.each(PORTS)("%s", async (_, settled, make) => {
    const before = handles();
    const states: string[] = [];
    const { port, close } = make({
      message: () => {},
      refused: () => states.push("refused"),
      state: (s) => states.push(s.state),
    });
    port.open();
    const line = new TextEncoder().encode("GET /state");
    await vi.waitFor(() => expect(states).not.toEqual([]));
    port.send(line, 0, line.length);
    await vi.waitFor(() => {
      port.send(line, 0, line.length);
      expect(states).toContain(settled);
    });
    await close();
    // The system closes within a few turns of the loop. (A timer that waits for it would be one of those counted.)
    for (let turn = 0; turn < 200 && left(before).length > 0; turn++)
      await new Promise((resolve) => setImmediate(resolve));
    expect(left(before)).toEqual([]);
    port.send(line, 0, line.length); // does no harm
    await port.close(); // nor does this
    expect(left(before)).toEqual([]);
  });
});
