/** Finds out what lights a control: sends a value, and asks what was seen. The answer counts for all that are alike. */
import { Lightbulb, LightbulbOff, Zap } from "lucide-react";
import { useState } from "react";
import type { OneEdit } from "../../core/edit/edit-kinds.ts";
import type { Palette, SurfaceProfile } from "../../core/format/surface-profile.ts";
import { firstPalette } from "../../core/surface/first-palette.ts";
import { lightOf } from "../../core/teach/board.ts";
import { useActions } from "../live/actions.ts";
import { alike, litBy, setKind, setLight, withPalette } from "./light-found.ts";
import { Answer, type ProbeProps, useAnswerKeys } from "./probe.tsx";

/** Values that light something on most units: first the brightest, then those that are colours where values are colours. */
const VALUES = [127, 1, 5, 9, 21, 64] as const;
/** Colours to name what was seen by. */
const COLOURS = [
  ["white", "#f4edf1"],
  ["red", "#e5484d"],
  ["orange", "#f2a65e"],
  ["yellow", "#f0d36d"],
  ["green", "#6fc27e"],
  ["blue", "#5aa7e0"],
  ["violet", "#9d6fe0"],
  ["pink", "#e07ab8"],
] as const;

export function LightProbe({ surface, profile, control, hasOutput }: ProbeProps) {
  const actions = useActions();
  const [sent, setSent] = useState<number | null>(null);
  const [step, setStep] = useState<"asks" | "colour" | "dark">("asks");
  const light = control.light ?? lightOf(withPalette(profile), control.sends);
  const canLight =
    hasOutput && light !== undefined && control.behaviour !== "absolute" && control.behaviour !== "relative";
  const palette = profile.palettes.find((p) => p.id === light?.palette) ?? firstPalette(light?.palette ?? "lit");
  const send = (value: number) => {
    if (!light) return;
    const status = (light.kind === "note" ? 0x90 : 0xb0) | (light.channel - 1);
    actions.send({ kind: "send-once", to: "surface", id: surface, bytes: [status, light.number, value] });
  };
  const trying = (value: number) => {
    setSent(value);
    setStep("asks");
    send(value);
  };
  /** It is dark again, and the answer counts for all alike. */
  const answer = (does: string, edits: OneEdit[]) => {
    send(palette.off);
    setSent(null);
    setStep("asks");
    void actions.edit({ kind: "together", does, edits });
  };
  const lit = (name: string, colour: string) => {
    if (sent !== null)
      answer(`${name} lights at ${sent}`, litBy(profile, control, palette, { name, colour, value: sent }));
  };
  const itself = () => answer("its pads light themselves", [setKind(profile, { lightsItself: true })]);
  const dark = () =>
    answer(
      "its pads have no light",
      alike(profile, control).map((c) => setLight(profile, c, null)),
    );
  const keys: Record<string, () => void> =
    step !== "asks"
      ? {}
      : sent === null
        ? { s: itself }
        : { y: () => setStep("colour"), n: () => setStep("dark"), s: itself };
  useAnswerKeys(keys);
  if (!canLight) return null;
  const message = `${light.kind} ${light.number}`;
  return (
    <section className="grid gap-3 rounded-xl border-l-[3px] border-cool bg-cool-ground p-3.5" aria-label="Light">
      <div className="flex items-baseline justify-between gap-3">
        <b className="font-semibold">
          {sent === null
            ? "Does it have a light?"
            : step === "colour"
              ? "Which colour was it?"
              : `It was sent ${sent}. Did it light?`}
        </b>
        <span className="font-mono text-small text-cool">← {message}</span>
      </div>
      {sent === null && !profile.lightsItself ? (
        <Answer
          onClick={itself}
          icon={<Zap size={15} aria-hidden />}
          words="It lights itself when pressed"
          letter="S"
        />
      ) : null}
      {sent !== null && step === "asks" ? (
        <div className="grid grid-cols-2 gap-2">
          <Answer
            onClick={() => setStep("colour")}
            icon={<Lightbulb size={15} aria-hidden />}
            words="It lit"
            letter="Y"
          />
          <Answer
            onClick={() => setStep("dark")}
            icon={<LightbulbOff size={15} aria-hidden />}
            words="Stayed dark"
            letter="N"
          />
          <span className="col-span-2 grid">
            <Answer
              onClick={itself}
              icon={<Zap size={15} aria-hidden />}
              words="It lights itself when pressed"
              letter="S"
            />
          </span>
        </div>
      ) : null}
      {sent !== null && step === "colour" ? (
        <div className="flex flex-wrap gap-1.5">
          {COLOURS.map(([name, colour]) => (
            <button
              key={name}
              type="button"
              onClick={() => lit(name, colour)}
              className="inline-flex h-[30px] items-center gap-1.5 rounded-lg bg-velvet-850 px-2.5 text-small hover:bg-velvet-700"
            >
              <i className="size-3 rounded-full" style={{ background: colour }} aria-hidden />
              {name}
            </button>
          ))}
        </div>
      ) : null}
      {step === "dark" ? (
        <p className="flex items-center gap-2 text-ink-300">
          Try another value, or
          <button type="button" className="text-cool underline underline-offset-2" onClick={dark}>
            it has no light
          </button>
        </p>
      ) : null}
      <div className="flex flex-wrap items-center gap-1.5 text-small text-ink-500">
        {sent === null ? "try" : "or try"}
        {VALUES.map((value) => (
          <button
            key={value}
            type="button"
            aria-pressed={value === sent}
            onClick={() => trying(value)}
            className="h-[30px] min-w-10 rounded-md border-b-[3px] bg-velvet-900 px-2 font-mono text-ink-100 hover:bg-velvet-800 aria-pressed:outline aria-pressed:outline-brass-400"
            style={{ borderColor: palette.colours.find((c) => c.full === value)?.colour ?? "var(--color-velvet-700)" }}
          >
            {value}
          </button>
        ))}
      </div>
      <p className="text-small text-ink-500">{knownWords(profile, palette, light !== undefined)}</p>
    </section>
  );
}

function knownWords({ lightsItself }: SurfaceProfile, palette: Palette, hasLight: boolean): string {
  if (lightsItself) return "Known: it lights itself when pressed. What is found here counts for all that are alike.";
  if (!hasLight) return "Known: it has no light.";
  const colours = palette.colours.map((c) => `${c.name} at ${c.full}`).join(", ");
  return `Until something else is known: ${colours}, dark at ${palette.off}. What is found here counts for all that are alike.`;
}
