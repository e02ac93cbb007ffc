import { readFileSync } from "node:fs";
import { describe, expect, test } from "vitest";
import { library, mapping, shift, showWith } from "../../tests/rig/shows.ts";
import type { PortRef, Show } from "../core/format/show.ts";
import { Engine } from "./engine.ts";
import type { FromEngine, ToEngine } from "./messages.ts";
import { rehearse, withoutPorts } from "./rehearsal.ts";

const demo = JSON.parse(readFileSync("examples/lantern-regatta.show.json", "utf8")) as Show;
const { surfaces, desks } = library;
const PORT = 40_000;

const everyPort: Record<PortRef["kind"], PortRef> = {
  screen: { kind: "screen" },
  none: { kind: "none" },
  "browser-midi": { kind: "browser-midi", device: "Grid", nth: 1 },
  "computer-midi": { kind: "computer-midi", device: "Grid", nth: 1, virtual: true },
  "midi-udp": { kind: "midi-udp", host: "192.0.2.1", port: 5004 },
  "network-midi": { kind: "network-midi", session: "stage" },
  cable: { kind: "cable", name: "A" },
  dmx: { kind: "dmx", protocol: "sacn", universe: 1, first: 1, reach: "network", on: 130, off: 120 },
};

describe("a rehearsal", () => {
  test.each(Object.entries(everyPort))("opens no port of the show: %s", (_, port) => {
    const out = port.kind === "dmx" ? everyPort.none : port;
    const show: Show = {
      ...showWith([mapping("pad-1", shift())]),
      surfaces: [{ id: "deck", name: "Deck grid", profile: "deck-grid", in: port, out }],
      desks: [
        ...demo.desks,
        { id: "synth", name: "S", profile: "midi", host: "h", port: 1, listenPort: 1, midi: { in: port, out } },
      ],
      sessions: [{ id: "stage", name: "Stage", port: 5004, peers: [] } as never],
    };
    const own = withoutPorts(show, PORT);
    const loopback = (at: number) => ({ kind: "midi-udp", host: "127.0.0.1", port: at });
    const wanted = port.kind === "midi-udp" ? [loopback(0), loopback(PORT)] : [everyPort.screen, everyPort.screen];
    for (const { in: from, out: to } of own.surfaces) expect([from, to]).toEqual(wanted);
    for (const desk of own.desks) {
      expect([desk.host, desk.port, desk.listenPort, desk.over]).toEqual(["127.0.0.1", PORT, 0, "udp"]);
      if (desk.midi) expect([desk.midi.in.kind, desk.midi.out.kind]).toEqual(["none", "none"]);
    }
    expect(own.sessions).toEqual([]);
  });

  test("plays the show with hands of its own, sends to its desks, hears them, and comes to an end", async () => {
    const told: FromEngine[] = [];
    const handled: ToEngine["kind"][] = [];
    await rehearse(demo, { surfaces, desks }, (tell) => {
      const engine = new Engine(
        (message) => {
          told.push(message);
          tell(message);
        },
        () => performance.now(),
      );
      return {
        handle: (message) => {
          handled.push(message.kind);
          engine.handle(message);
        },
      };
    });
    expect(told.at(-1)).toEqual({ kind: "stopped" });
    expect(handled).toContain("midi-bytes");
    const last = told.findLast((m) => m.kind === "batch");
    const counts = Object.values(last?.kind === "batch" ? last.desks : {});
    expect(counts.some((d) => d.out > 0)).toBe(true);
    expect(counts.some((d) => d.in > 0)).toBe(true);
  });

  test("of a show that cannot be played fails, and leaves nothing open", async () => {
    const broken = { ...demo, surfaces: null } as unknown as Show;
    const handled: string[] = [];
    const played = rehearse(broken, { surfaces, desks }, (tell) => ({
      handle: ({ kind }) => {
        handled.push(kind);
        if (kind === "stop") tell({ kind: "stopped" });
      },
    }));
    await expect(played).rejects.toThrow();
    expect(handled.at(-1)).toBe("stop");
  });
});
