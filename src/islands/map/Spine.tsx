import { ChevronRight } from "lucide-react";
import { useMemo, useState } from "react";
import { adviceFor } from "../../core/mapping/advice.ts";
import { BEHAVIOUR_WORDS, placeWords, sendsWords } from "../../core/mapping/describe.ts";
import { GESTURE_WORDS, gesturesOf } from "../../core/mapping/gestures.ts";
import type { Gesture, Mapping } from "../../core/show/show.ts";
import { candidateKey } from "../../core/surface/learn.ts";
import { controlOf } from "../app/follow-touch.ts";
import { useActions } from "../live/actions.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { Button, Chip, Key } from "../parts/controls.tsx";
import { Select } from "../parts/Select.tsx";
import { controlView } from "../surface/control-view.ts";
import { ActionCard } from "./ActionCard.tsx";
import { type Choice, choiceOf, newMapping } from "./choice.ts";
import { HowFields } from "./HowFields.tsx";
import { LightCard } from "./LightCard.tsx";
import { PlaceChips } from "./PlaceChips.tsx";

/** Between the leaves: what the chosen control does. Gestures down, actions across. */
export function Spine() {
  const chosen = usePage((s) => s.chosen);
  const learning = usePage((s) => s.learning);
  // The choice is made of the show and the context; both are replaced when they change.
  const show = useLive((l) => l.show);
  const context = useLive((l) => l.context);
  const chosenMapping = usePage((s) => s.chosenMapping);
  const store = usePageStore();
  void [chosen, show, context, chosenMapping];
  const choice = choiceOf(store.getState());
  return (
    <section className="spine relative flex min-h-0 flex-col gap-3 px-[18px] py-3.5" aria-label="What it does">
      {learning ? <Learning /> : choice ? <Chosen choice={choice} /> : <NothingChosen />}
    </section>
  );
}

function Learning() {
  const store = usePageStore();
  const learned = usePage((s) => s.learned);
  const middleC = useLive((l) => l.show.settings.middleC);
  return (
    <div className="m-auto grid max-w-[340px] gap-3 text-center" role="status">
      <h1 className="text-head font-semibold text-brass-300">Touch a control</h1>
      <p className="text-ink-300">
        Press, turn or move it, here on the screen or on the real surface. The one that moves most is taken.
      </p>
      {learned?.best && !learned.known ? (
        <p className="rounded-lg bg-care-ground px-3 py-2 text-[12.5px] text-care">
          Heard {sendsWords(learned.best, middleC)}, a {learned.best.kind}: the surface’s profile has no such control.
        </p>
      ) : null}
      <Button className="justify-self-center" onClick={() => store.setState({ learning: false })}>
        Stop <Key>Esc</Key>
      </Button>
    </div>
  );
}

/** What else moved while Learn listened: one of them may have been meant, or may never stand still. */
function AlsoMoved() {
  const store = usePageStore();
  const actions = useActions();
  const learned = usePage((s) => s.learned);
  const live = useLive((l) => l);
  if (!learned || learned.others.length === 0) return null;
  return (
    <div className="flex flex-wrap items-center gap-1.5 text-small text-ink-500">
      also moved:
      {learned.others.slice(0, 4).map((other) => {
        const at = controlOf(live, other);
        const key = candidateKey(other.source, other.sends);
        const name = at
          ? live.compiled.surfaces.find((s) => s.id === at.surface)?.profile.controls.find((c) => c.id === at.control)
              ?.name
          : sendsWords(other, live.show.settings.middleC);
        return (
          <span key={key} className="inline-flex items-center rounded-md bg-velvet-850 pl-2 text-ink-300">
            {at ? (
              <button
                type="button"
                className="hover:text-ink-100"
                onClick={() => actions.choose(at.surface, at.control)}
              >
                {name}
              </button>
            ) : (
              name
            )}
            <button
              type="button"
              aria-label={`Ignore ${name} when learning`}
              title="Ignore it when learning: it will not stand still"
              className="px-1.5 text-ink-500 hover:text-ink-100"
              onClick={() =>
                store.setState((s) => ({
                  ignored: new Set([...s.ignored, key]),
                  learned: s.learned ? { ...s.learned, others: s.learned.others.filter((o) => o !== other) } : null,
                }))
              }
            >
              ignore
            </button>
          </span>
        );
      })}
    </div>
  );
}

function NothingChosen() {
  const store = usePageStore();
  return (
    <div className="m-auto grid max-w-[320px] gap-3 text-center">
      <h1 className="text-head font-semibold">Nothing is chosen</h1>
      <p className="text-ink-300">Touch a control on the left, or let the real surface choose it.</p>
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
  return (
    <>
      <div className="flex items-start justify-between gap-2.5">
        <div className="min-w-0">
          <h1 className="overflow-hidden text-ellipsis whitespace-nowrap text-head leading-tight font-semibold">
            {[control.name, label].filter(Boolean).join(" · ")}
          </h1>
          <div className="mt-[3px] font-mono text-small text-ink-500">{sendsWords(control, middleC)}</div>
        </div>
        <Button look="quiet" onClick={() => store.setState({ learning: true })}>
          Learn another <Key>L</Key>
        </Button>
      </div>
      <AlsoMoved />
      {choice.places.length > 1 ? <PlaceTabs choice={choice} /> : null}
      <div className="-mr-2 flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto pr-2">
        {shown ? <MappingParts choice={choice} mapping={shown} /> : <Unmapped choice={choice} />}
      </div>
      {shown ? <Footer choice={choice} mapping={shown} /> : null}
    </>
  );
}

function PlaceTabs({ choice }: { choice: Choice }) {
  const store = usePageStore();
  const show = useLive((l) => l.show);
  return (
    <div className="flex flex-wrap gap-1.5" role="tablist" aria-label="Where this control is mapped">
      {choice.places.map((place) => {
        const [first] = place;
        return (
          <button
            key={first!.id}
            type="button"
            role="tab"
            aria-selected={place.some((m) => m.id === choice.shown?.id)}
            onClick={() => store.setState({ chosenMapping: first!.id })}
            className="flex h-[26px] items-center gap-1.5 rounded-md bg-velvet-850 px-2.5 text-small text-ink-300 aria-selected:bg-velvet-700 aria-selected:text-ink-100"
          >
            {placeWords(first!, show)}
            {first!.whileHeld ? ` + ${first!.whileHeld.control}` : ""}
            {first!.when ? " · on a condition" : ""}
            {place.some((m) => m.id === choice.holds) ? <span className="text-cool">now</span> : null}
          </button>
        );
      })}
    </div>
  );
}

function Unmapped({ choice }: { choice: Choice }) {
  return (
    <div className="grid gap-3">
      <div className="flex gap-2">
        <Chip>{BEHAVIOUR_WORDS[choice.control.behaviour]}</Chip>
      </div>
      <p className="text-ink-300">
        This control is free. Say on the right what it should do: <Key>/</Key> searches, <Key>Enter</Key> takes.
      </p>
    </div>
  );
}

function MappingParts({ choice, mapping }: { choice: Choice; mapping: Mapping }) {
  const [how, setHow] = useState(false);
  const presses = choice.beside.some((m) => gestureHolds(m.gesture));
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <PlaceChips mapping={mapping} />
        <Chip>{BEHAVIOUR_WORDS[choice.control.behaviour]}</Chip>
        {!mapping.on ? <Chip className="bg-care-ground text-care">off for now</Chip> : null}
        <button
          type="button"
          aria-expanded={how}
          onClick={() => setHow(!how)}
          className="inline-flex h-[26px] items-center gap-1 rounded-full bg-velvet-800 px-2.5 text-small text-ink-300 hover:bg-velvet-700"
        >
          <ChevronRight size={12} aria-hidden className={how ? "rotate-90" : ""} />
          when and how
        </button>
      </div>
      {how ? <HowFields mapping={mapping} /> : null}
      <MappingAdvice mapping={mapping} />
      {choice.beside.map((m) => (
        <GestureRow key={m.id} choice={choice} mapping={m} shown={m.id === mapping.id} />
      ))}
      <AddGesture choice={choice} mapping={mapping} />
      {presses ? (
        <div className="grid grid-cols-[76px_1fr] gap-2.5">
          <b className="text-right text-[12.5px] font-semibold text-ink-300">Let go</b>
          <span className="text-small text-ink-500">what was pressed is let go, even after a page change</span>
        </div>
      ) : null}
      <LightCard mapping={mapping} control={choice.control} />
    </>
  );
}

function gestureHolds(gesture: Gesture): boolean {
  return gesture === "press" || gesture === "hold" || gesture === "while-held" || gesture === "double";
}

/** One gesture with its actions across. */
function GestureRow({ choice, mapping, shown }: { choice: Choice; mapping: Mapping; shown: boolean }) {
  const store = usePageStore();
  const actions = useActions();
  const several = choice.beside.length > 1;
  const choose = () => store.setState({ chosenMapping: mapping.id });
  const options = gesturesOf(choice.control).map((g) => ({ value: g, label: GESTURE_WORDS[g] }));
  return (
    <div
      className={`grid grid-cols-[76px_1fr] gap-2.5 ${several && !shown ? "opacity-75" : ""}`}
      data-gesture={mapping.gesture}
      data-shown={shown}
    >
      <span className="flex flex-col items-end pt-[5px]">
        <Select
          label={`Gesture ${GESTURE_WORDS[mapping.gesture]}`}
          value={mapping.gesture}
          options={options}
          onChange={(g) =>
            void actions.edit({ kind: "change-mapping", id: mapping.id, set: { gesture: g as Gesture } })
          }
          className="h-[26px] !bg-transparent px-1 font-semibold"
        />
        {several && !shown ? (
          <button type="button" onClick={choose} className="px-1 text-tiny text-ink-500 hover:text-ink-100">
            work on it
          </button>
        ) : null}
      </span>
      <div
        className={`grid gap-2 ${several && shown ? "rounded-[10px] outline outline-brass-500/40 outline-offset-2" : ""}`}
      >
        {mapping.actions.map((action) => (
          <ActionCard key={action.id} mapping={mapping} action={action} control={choice.control} />
        ))}
        <button
          type="button"
          className="justify-self-start pt-0.5 pl-0.5 text-small text-ink-500 hover:text-ink-100"
          onClick={() => {
            choose();
            document.getElementById("function-search")?.focus();
          }}
        >
          + {mapping.actions.length === 0 ? "an action" : "another action"} {shown ? <Key>/</Key> : null}
        </button>
      </div>
    </div>
  );
}

/** A further gesture of the same control at the same place. */
function AddGesture({ choice, mapping }: { choice: Choice; mapping: Mapping }) {
  const store = usePageStore();
  const actions = useActions();
  const used = new Set(choice.beside.map((m) => m.gesture));
  const free = gesturesOf(choice.control).filter((g) => !used.has(g));
  if (free.length === 0) return null;
  return (
    <div className="grid grid-cols-[76px_1fr] gap-2.5">
      <span />
      <Select
        label="Another gesture"
        value=""
        placeholder="+ another gesture"
        options={free.map((g) => ({ value: g, label: GESTURE_WORDS[g] }))}
        onChange={(g) => {
          const { layers, pages, whileHeld, when } = mapping;
          const extra: Mapping = {
            ...newMapping(choice),
            gesture: g as Gesture,
            layers,
            ...(pages ? { pages } : {}),
            ...(whileHeld ? { whileHeld } : {}),
            ...(when ? { when } : {}),
          };
          void actions.edit({ kind: "add-mapping", mapping: extra }).then((ok) => {
            if (ok) store.setState({ chosenMapping: extra.id });
          });
        }}
        className="h-[24px] justify-self-start !bg-transparent px-0.5"
      />
    </div>
  );
}

/** What the checks have to say about this mapping. */
function MappingAdvice({ mapping }: { mapping: Mapping }) {
  const compiled = useLive((l) => l.compiled);
  const own = useMemo(
    () => adviceFor(compiled).filter((a) => "mapping" in a.place && a.place.mapping === mapping.id),
    [compiled, mapping.id],
  );
  return own.map((a) => (
    <p
      key={a.code + a.text}
      role={a.severity === "note" ? "note" : "alert"}
      className={`rounded-lg px-3 py-2 text-[12.5px] ${a.severity === "fault" ? "bg-alert-ground text-alert-ink" : "bg-care-ground text-care"}`}
    >
      {a.text}
    </p>
  ));
}

function Footer({ choice, mapping }: { choice: Choice; mapping: Mapping }) {
  const actions = useActions();
  const store = usePageStore();
  return (
    <div className="flex items-center gap-2 border-t border-velvet-700 pt-2.5">
      <Button onClick={() => void actions.edit({ kind: "change-mapping", id: mapping.id, set: { on: !mapping.on } })}>
        {mapping.on ? "Switch off" : "Switch on"} <Key>O</Key>
      </Button>
      <Button
        title="Another mapping of this control, for another layer or page"
        onClick={() => {
          const extra = elsewhere(
            choice,
            store.getState().live.layer,
            store.getState().live.show.layers.map((l) => l.id),
          );
          void actions.edit({ kind: "add-mapping", mapping: extra }).then((ok) => {
            if (ok) store.setState({ chosenMapping: extra.id });
          });
        }}
      >
        Elsewhere too
      </Button>
      <div className="flex-1" />
      <Button look="quiet" onClick={() => void actions.edit({ kind: "remove-mapping", id: mapping.id })}>
        Unmap <Key>Del</Key>
      </Button>
    </div>
  );
}

/** A further mapping of the control, on the first layer that has none of its own. */
function elsewhere(choice: Choice, layer: string, layers: readonly string[]): Mapping {
  const taken = new Set(choice.mappings.flatMap((m) => m.layers));
  const free = layers.find((l) => !taken.has(l) && l !== layer) ?? layers.find((l) => !taken.has(l)) ?? layer;
  return { ...newMapping(choice), layers: [free] };
}
