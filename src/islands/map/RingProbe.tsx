/** Finds out whether a knob or a fader shows a level: one is sent back to its own message, and what was seen is asked. */
import { CircleDashed, CircleOff, MoveVertical } from "lucide-react";
import { useState } from "react";
import type { OneEdit } from "../../core/edit/edit-kinds.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import { levelBytes, ringOf, type Way, wayBack } from "../../core/teach/way-back.ts";
import { useActions } from "../live/actions.ts";
import { Answer, type ProbeProps, useAnswerKeys } from "./probe.tsx";

/** Levels to send, as parts of the whole way. */
const LEVELS = [
  ["lowest", 0],
  ["middle", 0.5],
  ["highest", 1],
] as const;

export function RingProbe({ surface, profile, control, hasOutput }: ProbeProps) {
  const actions = useActions();
  const [sent, setSent] = useState<string | null>(null);
  const way = wayBack(control.sends);
  const canAsk = hasOutput && way !== null && (control.behaviour === "absolute" || control.behaviour === "relative");
  const trying = (name: string, level: number) => {
    setSent(name);
    if (way)
      for (const bytes of levelBytes(way, level))
        actions.send({ kind: "send-once", to: "surface", id: surface, bytes });
  };
  /** The answer counts for all that send in the same way. */
  const answer = (does: string, set: (way: Way) => { ring?: Control["ring"] | null; motor?: Way }) => {
    setSent(null);
    const edits = profile.controls.flatMap((c): OneEdit[] => {
      const own = c.kind === control.kind && c.sends.kind === control.sends.kind ? wayBack(c.sends) : null;
      if (!own) return [];
      const { ring = null, motor = null } = set(own);
      return [{ kind: "change-control", profile: profile.id, id: c.id, set: { ring, motor } }];
    });
    void actions.edit({ kind: "together", does, edits });
  };
  const ring = () => answer(`its ${control.kind}s have rings`, (w) => ({ ring: ringOf(w) }));
  const motor = () => answer(`its ${control.kind}s have motors`, (w) => ({ motor: w }));
  const nothing = () => answer(`its ${control.kind}s show no level`, () => ({}));
  // A pitch bend cannot light a ring, and an endless control stands nowhere.
  const canRing = way !== null && way.kind !== "bend";
  const canMove = control.behaviour === "absolute";
  const keys: Record<string, () => void> =
    sent === null ? {} : { ...(canRing ? { r: ring } : {}), ...(canMove ? { m: motor } : {}), n: nothing };
  useAnswerKeys(keys);
  if (!canAsk || !way) return null;
  return (
    <section className="grid gap-3 rounded-xl border-l-[3px] border-cool bg-cool-ground p-3.5" aria-label="Level">
      <div className="flex items-baseline justify-between gap-3">
        <b className="font-semibold">
          {sent === null ? "Does it show a level?" : `It was sent the ${sent} level. What did it do?`}
        </b>
        <span className="shrink-0 font-mono text-small whitespace-nowrap text-cool">
          ← {way.kind === "bend" ? "pitch bend" : `controller ${way.number}`}
        </span>
      </div>
      {sent === null ? null : (
        <div className="grid grid-cols-2 gap-2">
          {canRing ? (
            <Answer
              onClick={ring}
              icon={<CircleDashed size={15} aria-hidden />}
              words="Its ring showed it"
              letter="R"
            />
          ) : null}
          {canMove ? (
            <Answer onClick={motor} icon={<MoveVertical size={15} aria-hidden />} words="It moved there" letter="M" />
          ) : null}
          <Answer onClick={nothing} icon={<CircleOff size={15} aria-hidden />} words="Nothing" letter="N" />
        </div>
      )}
      <div className="flex flex-wrap items-center gap-1.5 text-small text-ink-500">
        {sent === null ? "try the" : "or try the"}
        {LEVELS.map(([name, level]) => (
          <button
            key={name}
            type="button"
            aria-pressed={name === sent}
            onClick={() => trying(name, level)}
            className="h-[30px] rounded-md bg-velvet-900 px-2.5 text-ink-100 hover:bg-velvet-800 aria-pressed:outline aria-pressed:outline-brass-400"
          >
            {name}
          </button>
        ))}
      </div>
      <p className="text-small text-ink-500">
        {control.motor
          ? "Known: it has a motor, which follows the desk."
          : control.ring
            ? "Known: its ring follows the desk."
            : "Until something else is known it shows nothing. What is found here counts for all that are alike."}
      </p>
    </section>
  );
}
