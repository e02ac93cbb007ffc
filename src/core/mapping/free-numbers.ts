/** The next note or controller that a surface does not use itself: for lights, for MIDI out, for a control of one's own. */
import type { SurfaceProfile } from "../format/surface-profile.ts";
import { expandBanks } from "../surface/internal-banks.ts";

/** Controllers that mean something by themselves: bank select, data entry and parameter numbers, channel mode. */
const RESERVED = new Set([0, 6, 32, 38, 96, 97, 98, 99, 100, 101]);
const LAST_NOTE = 127;
const LAST_CONTROLLER = 119;

/** Numbers of a kind that controls, lights and touches of a surface use on a channel 1..16. */
function usedNumbers(profile: SurfaceProfile, kind: "note" | "controller", channel: number): Set<number> {
  const used = new Set<number>();
  for (const { sends, light, touch, pressure } of expandBanks(profile).controls) {
    const add = (m: { kind: string; channel?: number; number?: number | undefined } | undefined) => {
      if (m && m.channel === channel && m.number !== undefined && m.kind === kind) used.add(m.number);
    };
    add(light);
    add(touch);
    add(sends);
    if (pressure?.kind === "poly-pressure") add({ ...pressure, kind: "note" });
    if (sends.kind === "relative" || sends.kind === "clicks") add({ ...sends, kind: "controller" });
    if (sends.kind === "controller-14") {
      add({ ...sends, kind: "controller" });
      add({ kind: "controller", channel: sends.channel, number: sends.number + 32 });
    }
    if (sends.kind === "any" && sends.of === kind && channel >= sends.channels[0] && channel <= sends.channels[1])
      for (let n = sends.numbers[0]; n <= sends.numbers[1]; n++) used.add(n);
  }
  return used;
}

/** The lowest free number from `from` on, then around; null where none is left. */
export function nextFree(
  profile: SurfaceProfile,
  kind: "note" | "controller",
  channel: number,
  from = 0,
  taken: ReadonlySet<number> = new Set(),
): number | null {
  const used = usedNumbers(profile, kind, channel);
  const count = (kind === "note" ? LAST_NOTE : LAST_CONTROLLER) + 1;
  for (let i = 0; i < count; i++) {
    const n = (from + i) % count;
    if (!used.has(n) && !taken.has(n) && (kind === "note" || !RESERVED.has(n))) return n;
  }
  return null;
}
