/** What is here, plays, and is used by nobody: devices of this browser and of the computer, universes, senders. */
import { useEffect, useReducer } from "react";
import type { Stranger } from "../../core/live/protocol.ts";
import { parseHexBytes } from "../../core/midi/hex.ts";
import type { HeardMessage } from "../../core/surface/learn.ts";
import { type MidiDevice, useLive, usePage } from "../live/store.ts";

type Of<K extends Stranger["kind"]> = Extract<Stranger, { kind: K }>;

export interface GhostDevice {
  readonly kind: "device";
  readonly port: "browser-midi" | "computer-midi";
  readonly name: string;
  readonly nth: number;
  readonly hasOutput: boolean;
  readonly heard: readonly HeardMessage[];
  readonly identity: string | undefined;
}
export type GhostUniverse = { readonly kind: "universe"; readonly universe: Of<"universe"> };
export type GhostSender = { readonly kind: "sender"; readonly sender: Of<"sender"> };

export interface Ghost<T = GhostDevice | GhostUniverse | GhostSender> {
  readonly key: string;
  readonly what: T;
  /** By the page's clock, in ms. */
  readonly heardAtMs: number;
}

/** Put away until they are plugged in, or heard, anew; as long as the page lives. Both leaves are told. */
const away = new Set<string>();
const leaves = new Set<() => void>();
/** When each stranger was told of last, by how many messages had come. */
const seen = new Map<string, { in: number; atMs: number }>();

const NO_DEVICES: readonly MidiDevice[] = [];

/** All of them, the last heard first; and how one is put away. */
export function useGhosts(): { ghosts: readonly Ghost[]; putAway(key: string): void } {
  const devices = usePage((s) => (s.midi.kind === "open" ? s.midi.devices : NO_DEVICES));
  const activity = usePage((s) => s.deviceActivity);
  const strangers = useLive((l) => l.strangers);
  const isUsed = useUsed();
  const [, redraw] = useReducer((n: number) => n + 1, 0);
  useEffect(() => activity.watch(redraw), [activity]);
  useEffect(() => {
    leaves.add(redraw);
    return () => {
      leaves.delete(redraw);
    };
  }, []);
  const here: Ghost[] = devices
    .filter((d) => d.input && !isUsed("browser-midi", d.name, d.nth))
    .map((d) => ({
      key: keyOf(d),
      what: {
        kind: "device",
        port: "browser-midi",
        name: d.name,
        nth: d.nth,
        hasOutput: d.output,
        heard: activity.recent(d.name, d.nth),
        identity: activity.identity(d.name, d.nth),
      },
      heardAtMs: activity.times(d.name, d.nth).heardAtMs,
    }));
  const elsewhere = strangers.flatMap(ghostOf);
  const present = new Set([...devices.map(keyOf), ...elsewhere.map((g) => g.key)]);
  for (const key of [...away]) if (!present.has(key)) away.delete(key);
  for (const key of [...seen.keys()]) if (!present.has(key)) seen.delete(key);
  return {
    ghosts: [...here.filter((g) => g.heardAtMs > 0), ...elsewhere]
      .filter((g) => !away.has(g.key))
      .sort((a, b) => b.heardAtMs - a.heardAtMs),
    putAway: (key) => {
      away.add(key);
      for (const told of leaves) told();
    },
  };
}

/** Devices of this browser that nobody uses, heard or not. */
export function useFreeDevices(): readonly MidiDevice[] {
  const devices = usePage((s) => (s.midi.kind === "open" ? s.midi.devices : NO_DEVICES));
  const isUsed = useUsed();
  return devices.filter((d) => d.input && !isUsed("browser-midi", d.name, d.nth));
}

/** Whether a surface or a MIDI desk has a device as its port. */
function useUsed() {
  const surfaces = useLive((l) => l.show.surfaces);
  const desks = useLive((l) => l.show.desks);
  const ports = [...surfaces, ...desks.flatMap((x) => x.midi ?? [])].flatMap((s) => [s.in, s.out]);
  return (kind: GhostDevice["port"], name: string, nth: number) =>
    ports.some((p) => p.kind === kind && p.device === name && p.nth === nth);
}

const keyOf = ({ name, nth }: MidiDevice) => `browser ${nth} ${name}`;

function ghostOf(stranger: Stranger): Ghost[] {
  switch (stranger.kind) {
    case "closed":
      return [];
    case "universe": {
      const { protocol, universe, reach, port } = stranger;
      const key = `universe ${protocol} ${universe} ${reach} ${port}`;
      return [{ key, what: { kind: "universe", universe: stranger }, heardAtMs: heardAt(key, stranger.in) }];
    }
    case "sender": {
      const key = `sender ${stranger.carrier} ${stranger.host} ${stranger.port} ${stranger.listenPort}`;
      return [{ key, what: { kind: "sender", sender: stranger }, heardAtMs: heardAt(key, stranger.in) }];
    }
    case "computer-device": {
      const { device, nth, hasOutput, identity } = stranger;
      const key = `computer ${nth} ${device}`;
      const heard = stranger.heard.flatMap((hex) => {
        const bytes = parseHexBytes(hex);
        return bytes ? [{ source: device, atMs: 0, bytes }] : [];
      });
      return [
        {
          key,
          what: { kind: "device", port: "computer-midi", name: device, nth, hasOutput, heard, identity },
          heardAtMs: heardAt(key, stranger.in),
        },
      ];
    }
    default:
      return stranger satisfies never;
  }
}

function heardAt(key: string, count: number): number {
  const last = seen.get(key);
  if (last?.in === count) return last.atMs;
  const atMs = performance.now();
  seen.set(key, { in: count, atMs });
  return atMs;
}
