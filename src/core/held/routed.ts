/**
 * What routes have passed on and has not ended (rule 6 for routes): notes, and pedals that are down. It stands among the
 * presses that hands hold, each with the message that ends it where it went to, so that no change of routes, channels or
 * show leaves it sounding, and whoever lets go of everything lets go of it too.
 */
import { PEDAL_DOWN_FROM, PEDALS } from "../midi/controllers.ts";
import type { Held, HeldPresses, Release } from "./held-presses.ts";

/** In the place of a control: what a source holds by routes. No control of a profile has a space in its id. */
const ROUTED = "routed ";
const END_VELOCITY = 64;

/** What a message does to something that sounds until it is ended. */
export type Hold = "begins" | "ends" | "neither";

export function holdOf(status: number, data1: number, data2: number): Hold {
  switch (status & 0xf0) {
    case 0x80:
      return "ends";
    case 0x90:
      return data2 > 0 ? "begins" : "ends";
    case 0xb0:
      return !PEDALS.includes(data1) ? "neither" : data2 >= PEDAL_DOWN_FROM ? "begins" : "ends";
    default:
      return "neither";
  }
}

function keyOf(status: number, data1: number): string {
  return `${ROUTED}${status & 15} ${(status & 0xf0) === 0xb0 ? "pedal" : "note"} ${data1}`;
}

export function isRouted({ control }: Held): boolean {
  return control.startsWith(ROUTED);
}

/** The channel 0..15 on which a source holds it. */
export function routedChannel({ control }: Held): number {
  return Number(control.split(" ")[1]);
}

export class RoutedHolds {
  readonly #held: HeldPresses;

  constructor(held: HeldPresses) {
    this.#held = held;
  }

  /** True where a source, a surface or a desk, holds something by routes. */
  any(source: string): boolean {
    return this.#held.list().some((h) => h.surface === source && isRouted(h));
  }

  /** A route passed the beginning of it on to `target` with this status byte. */
  begin(source: string, route: string, target: string, status: number, data1: number, out: number, atMs: number): void {
    const key = keyOf(status, data1);
    const held = this.#held.get(source, key) ?? this.#held.press(source, key, atMs, 0);
    const isPedal = (status & 0xf0) === 0xb0;
    const bytes = isPedal ? Uint8Array.of(out, data1, 0) : Uint8Array.of(0x80 | (out & 15), data1, END_VELOCITY);
    const isThere = held.releases.some((r) => r.kind === "route" && r.desk === target && r.bytes[0] === bytes[0]);
    if (!isThere) this.#held.add(held, { kind: "route", desk: target, mapping: route, action: "", bytes });
  }

  /** It has ended: where it went to, with the messages that end it as its own end says them. Undefined = it was not passed on. */
  end(source: string, status: number, data1: number, data2: number): Extract<Release, { kind: "route" }>[] | undefined {
    const held = this.#held.release(source, keyOf(status, data1));
    return held?.releases.flatMap((r) =>
      r.kind === "route" ? [{ ...r, bytes: Uint8Array.of((status & 0xf0) | (r.bytes[0]! & 15), data1, data2) }] : [],
    );
  }

  /** Everything that a source holds, or what it holds on one channel, as it is to be let go. */
  endAll(source: string, channel = -1): Held[] {
    return this.#held.releaseWhere(
      (h) => h.surface === source && isRouted(h) && (channel < 0 || routedChannel(h) === channel),
    );
  }
}
