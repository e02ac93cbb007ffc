/**
 * Which inputs are certain to hear what leaves by an output: those on the same cable, or at the same UDP port of this program.
 * A device or a session may echo, or not.
 */
import { leadToSame } from "../format/port-kinds.ts";
import type { Desk, PortRef, Surface } from "../format/show.ts";

const CERTAIN: ReadonlySet<PortRef["kind"]> = new Set(["cable", "midi-udp"]);

/** Indexes of the surfaces and of the MIDI desks; itself is left out. */
export interface Fed {
  readonly surfaces: readonly number[];
  readonly desks: readonly number[];
}

export interface Feeds {
  readonly ofSurface: readonly Fed[];
  readonly ofDesk: readonly Fed[];
}

export function feedsOf(surfaces: readonly Surface[], desks: readonly Desk[]): Feeds {
  const fedBy = (out: PortRef | undefined, surface: number, desk: number): Fed => {
    const indexes = (ins: readonly (PortRef | undefined)[], self: number) =>
      ins.flatMap((port, i) =>
        i !== self && out && port && CERTAIN.has(port.kind) && leadToSame(out, port) ? [i] : [],
      );
    return {
      surfaces: indexes(
        surfaces.map((s) => s.in),
        surface,
      ),
      desks: indexes(
        desks.map((d) => d.midi?.in),
        desk,
      ),
    };
  };
  return {
    ofSurface: surfaces.map((s, i) => fedBy(s.out, i, -1)),
    ofDesk: desks.map((d, i) => fedBy(d.midi?.out, -1, i)),
  };
}
