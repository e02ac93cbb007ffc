/** What was heard of a control, and what it is taken for, in words. */
import type { Control } from "../core/format/surface-profile.ts";
import type { Shown } from "../core/teach/teacher.ts";

const count = (n: number) => (n === 1 ? "1 message" : `${n} messages`);
const seconds = (ms: number) => `${(ms / 1000).toFixed(ms < 995 ? 2 : 1)} s`;

/** What speaks for the guess: "127 when struck, 0 after 0.18 s: it let go by itself." */
export function evidenceWords({ found, evidence, behaviour }: Shown): string {
  const { low, high, last, releasedAfterMs, zeroVelocity } = evidence;
  switch (found.kind) {
    case "fader":
      return `${count(evidence.count)}, from ${low} to ${high}: it stays where it is put.`;
    case "encoder": {
      const ways = found.confidence > 0.5 ? "both ways known" : "turn it the other way too, to be sure";
      return `${count(evidence.count)} of small steps: it turns without end; ${ways}.`;
    }
    case "program":
    case "transport":
    case "sysex":
      return `${count(evidence.count)}, and nothing when it was let go.`;
    default: {
      const struck = `${high} when pressed`;
      if (releasedAfterMs === null)
        return behaviour === "springs-back"
          ? `${last} when pressed, and nothing yet: it is held, or it latches.`
          : `${struck}, and nothing when it was let go.`;
      const how = zeroVelocity ? "velocity 0" : "a release";
      return behaviour === "latches"
        ? `${struck}, ${how} only ${seconds(releasedAfterMs)} later: it latches.`
        : `${struck}, ${how} after ${seconds(releasedAfterMs)}: it let go by itself.`;
    }
  }
}

/** Kinds that a control which sends this may be. */
export function kindsOf({ behaviour, sends }: Pick<Control, "behaviour" | "sends">): readonly Control["kind"][] {
  if (behaviour === "absolute" || behaviour === "relative") return ["fader", "knob"];
  return sends.kind === "note" ? ["pad", "key", "button"] : ["button", "pad"];
}

/** Behaviours that a control which is pressed may have. */
export const PRESSED: readonly (readonly [Control["behaviour"], string])[] = [
  ["springs-back", "springs back"],
  ["latches", "latches"],
  ["one-shot", "only says “pressed”"],
];
