import { Moon, Pencil } from "lucide-react";
import { type ReactNode, useState } from "react";
import { scopeWords, sendsWords } from "../../words/mappings.ts";
import { Button, Key } from "../components/controls.tsx";
import { part } from "../components/part.tsx";
import { useActions } from "../live/actions.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { controlView } from "../surface/control-view.ts";
import type { Choice } from "./choice.ts";
import { ChosenGrip } from "./Grip.tsx";
import { useChoice } from "./use-choice.ts";

const ChosenParts = part(async () => (await import("./ChosenParts.tsx")).ChosenParts, "soon");
const ControlWords = part(async () => (await import("./ControlWords.tsx")).ControlWords);
const ArmedSpine = part(async () => (await import("./ArmedSpine.tsx")).ArmedSpine);
const ManySpine = part(async () => (await import("./ManySpine.tsx")).ManySpine);
const TeachSpine = part(async () => (await import("./TeachSpine.tsx")).TeachSpine);
const Learning = part(async () => (await import("./Learning.tsx")).Learning);
const AlsoMoved = part(async () => (await import("./Learning.tsx")).AlsoMoved);

/** Between the leaves: what the chosen control does. Gestures down, actions across. */
export function Spine() {
  const learning = usePage((s) => s.learning);
  const armed = usePage((s) => s.armed);
  const adding = usePage((s) => s.adding);
  const many = usePage((s) => s.many);
  const choice = useChoice();
  if (adding !== null && !armed)
    return (
      <Frame>
        <TeachSpine key={adding} surface={adding} />
      </Frame>
    );
  if (armed)
    return (
      <Frame>
        <ArmedSpine armed={armed} />
      </Frame>
    );
  if (many)
    return (
      <Frame>
        <ManySpine many={many} />
      </Frame>
    );
  return <Frame>{learning ? <Learning /> : choice ? <Chosen choice={choice} /> : <NothingChosen />}</Frame>;
}

function Frame({ children }: { children: ReactNode }) {
  return (
    <section className="spine relative flex min-h-0 flex-col gap-3 px-[18px] py-3.5" aria-label="What it does">
      {children}
    </section>
  );
}

function NothingChosen() {
  const store = usePageStore();
  return (
    <div className="m-auto grid max-w-[320px] gap-3 text-center">
      <h1 className="text-head font-semibold">Nothing is chosen</h1>
      <p className="text-ink-300">
        Touch a control, on the left or on the real surface, and say what it should do. Or choose on the right what
        should be done, and then touch what should do it.
      </p>
      <Button look="primary" className="justify-self-center" onClick={() => store.setState({ learning: true })}>
        Learn <Key>L</Key>
      </Button>
    </div>
  );
}

function Chosen({ choice }: { choice: Choice }) {
  const store = usePageStore();
  const middleC = useLive((l) => l.show.settings.middleC);
  const label = useLive((l) => controlView(l, choice.surfaceIndex, choice.controlIndex).label);
  const { control, shown } = choice;
  const [words, setWords] = useState(false);
  const note = useLive((l) => l.show.surfaces.find((s) => s.id === choice.surface)?.controls?.[control.id]?.note);
  const moved = usePage((s) => (s.learned?.others.length ?? 0) > 0);
  return (
    <>
      <div className="flex items-start justify-between gap-2.5">
        <div className="-ml-2 flex min-w-0 items-center gap-1">
          {shown ? <ChosenGrip words={[control.name, label].filter(Boolean).join(" · ")} /> : null}
          <h1 className="min-w-0 overflow-hidden text-ellipsis whitespace-nowrap text-head leading-tight font-semibold">
            {[control.name, label].filter(Boolean).join(" · ")}
          </h1>
        </div>
        <span className="flex shrink-0 items-center">
          <Sleep choice={choice} />
          <Button look="quiet" onClick={() => store.setState({ learning: true })}>
            Learn another <Key>L</Key>
          </Button>
        </span>
      </div>
      <div className="-mt-2 flex items-center gap-1.5 font-mono text-small text-ink-500">
        {sendsWords(control, middleC)}
        {control.sends.kind === "any" ? null : (
          <button
            type="button"
            aria-label="Name and note"
            title="What it is called here, and a note on it"
            aria-expanded={words}
            onClick={() => setWords(!words)}
            className="rounded p-1 hover:bg-velvet-800 hover:text-ink-100"
          >
            <Pencil size={12} aria-hidden />
          </button>
        )}
      </div>
      {words ? <ControlWords key={`${choice.surface} ${control.id}`} choice={choice} /> : null}
      {note && !words ? <p className="-mt-1 text-small text-ink-300">{note}</p> : null}
      {moved ? <AlsoMoved /> : null}
      {choice.scopes.length > 1 ? <ScopeTabs choice={choice} /> : null}
      <ChosenParts choice={choice} />
    </>
  );
}

/** A control that sleeps stays mapped, does nothing, and is told nothing. */
function Sleep({ choice: { surface, control } }: { choice: Choice }) {
  const actions = useActions();
  const isAsleep = useLive((l) => l.show.surfaces.find((s) => s.id === surface)?.asleep?.includes(control.id) ?? false);
  return (
    <button
      type="button"
      aria-pressed={isAsleep}
      title={
        isAsleep
          ? "It sleeps: hands do nothing here, and the desk moves nothing. Wake it (Z)"
          : "Let it sleep: it stays mapped and does nothing (Z)"
      }
      onClick={() => void actions.edit({ kind: "set-asleep", id: surface, control: control.id, on: !isAsleep })}
      className="inline-flex h-[28px] items-center gap-1.5 rounded-md px-2 text-small text-ink-500 hover:bg-velvet-800 hover:text-ink-100 aria-pressed:bg-care-ground aria-pressed:text-care"
    >
      <Moon size={14} aria-hidden />
      <span className={isAsleep ? "" : "max-[1179px]:sr-only"}>{isAsleep ? "Wake" : "Sleep"}</span>
    </button>
  );
}

function ScopeTabs({ choice }: { choice: Choice }) {
  const store = usePageStore();
  const show = useLive((l) => l.show);
  return (
    <div className="flex flex-wrap gap-1.5" role="tablist" aria-label="Where this control is mapped">
      {choice.scopes.map((scope) => {
        const [first] = scope;
        return (
          <button
            key={first!.id}
            type="button"
            role="tab"
            aria-selected={scope.some((m) => m.id === choice.shown?.id)}
            onClick={() => store.setState({ chosenMapping: first!.id })}
            className="flex h-[26px] max-w-full items-center gap-1.5 rounded-md bg-velvet-850 px-2.5 text-small whitespace-nowrap text-ink-300 aria-selected:bg-velvet-700 aria-selected:text-ink-100"
          >
            <bdi className="overflow-hidden text-ellipsis">{scopeWords(first!, show)}</bdi>
            {first!.whileHeld ? ` + ${first!.whileHeld.control}` : ""}
            {first!.when ? " · on a condition" : ""}
            {scope.some((m) => m.id === choice.holds) ? <span className="text-cool">now</span> : null}
          </button>
        );
      })}
    </div>
  );
}
