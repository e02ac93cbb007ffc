/** What differs between the kinds of ports that MIDI comes and goes by: one record for each. */
import type { PortRef } from "./show.ts";

type RefOf<K extends PortRef["kind"]> = Extract<PortRef, { kind: K }>;

interface PortFacts<K extends PortRef["kind"]> {
  /** A port of this kind can be an output. Every kind can be an input. */
  readonly goesOut: boolean;
  /** At its other end is a unit of its own: what we send is not what we hear. */
  readonly hasUnit: boolean;
  /** An address, at which whoever sends to it is heard. */
  readonly isAddress: boolean;
  /** Messages a second that go out, and how many of them at once: a cable is slow, a screen is not. */
  readonly perS: number;
  readonly burst: number;
  /** What is sent may be lost without anybody being told. A cable does not lose, and sessions make good what was lost. */
  readonly losesUntold: boolean;
  /** The same for two ports that lead to the same end; null: it leads to none of which there could be two. */
  end(ref: RefOf<K>): string | null;
}

/** MIDI 1.0, "Hardware": 31,250 baud, so about 1,000 messages of three bytes a second. */
const DIN = { perS: 1000, burst: 32, losesUntold: false } as const;
const FAST = { perS: 20_000, burst: 2048, losesUntold: false } as const;

export const PORT_KINDS: { readonly [K in PortRef["kind"]]: PortFacts<K> } = {
  screen: { goesOut: true, hasUnit: false, isAddress: false, ...FAST, end: () => null },
  "browser-midi": {
    goesOut: true,
    hasUnit: true,
    isAddress: false,
    ...DIN,
    end: ({ device, nth }) => `${nth} ${device}`,
  },
  "midi-udp": {
    goesOut: true,
    hasUnit: false,
    isAddress: true,
    ...FAST,
    losesUntold: true,
    end: ({ host, port }) => `${port} ${host}`,
  },
  cable: { goesOut: true, hasUnit: false, isAddress: false, ...FAST, end: ({ name }) => name },
  "network-midi": {
    goesOut: true,
    hasUnit: true,
    isAddress: false,
    perS: 4000,
    burst: 512,
    losesUntold: false,
    end: ({ session }) => session,
  },
  "computer-midi": {
    goesOut: true,
    hasUnit: true,
    isAddress: false,
    ...DIN,
    end: ({ device, nth }) => `${nth} ${device}`,
  },
  dmx: { goesOut: false, hasUnit: false, isAddress: false, ...DIN, end: () => null },
  none: { goesOut: true, hasUnit: false, isAddress: false, ...DIN, end: () => null },
};

/** True where two ports lead to the same end. */
export function leadToSame(a: PortRef, b: PortRef): boolean {
  const end = endOf(a);
  return end !== null && a.kind === b.kind && end === endOf(b);
}

function endOf<K extends PortRef["kind"]>(ref: RefOf<K>): string | null {
  return (PORT_KINDS[ref.kind] as PortFacts<K>).end(ref);
}
