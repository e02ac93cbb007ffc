import { useShallow } from "zustand/react/shallow";
import { BEHAVIOUR_WORDS, placeWords, sendsWords } from "../../core/mapping/describe.ts";
import type { Mapping } from "../../core/show/show.ts";
import { useActions } from "../live/actions.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { Button, Chip, Key } from "../parts/controls.tsx";
import { controlView } from "../surface/control-view.ts";
import { ActionCard } from "./ActionCard.tsx";
import { type Choice, choiceOf, newMapping } from "./choice.ts";
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
  return (
    <div className="m-auto grid max-w-[320px] gap-3 text-center" role="status">
      <h1 className="text-head font-semibold text-brass-300">Touch a control</h1>
      <p className="text-ink-300">
        Press, turn or move it, here on the screen or on the real surface. The first one that moves is taken.
      </p>
      <Button className="justify-self-center" onClick={() => store.setState({ learning: false })}>
        Stop <Key>Esc</Key>
      </Button>
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
      {choice.mappings.length > 1 ? <MappingTabs choice={choice} /> : null}
      <div className="-mr-2 flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto pr-2">
        {shown ? <MappingParts choice={choice} mapping={shown} /> : <Unmapped choice={choice} />}
      </div>
      {shown ? <Footer choice={choice} mapping={shown} /> : null}
    </>
  );
}

function MappingTabs({ choice }: { choice: Choice }) {
  const store = usePageStore();
  const show = useLive((l) => l.show);
  return (
    <div className="flex flex-wrap gap-1.5" role="tablist" aria-label="Mappings of this control">
      {choice.mappings.map((m) => (
        <button
          key={m.id}
          type="button"
          role="tab"
          aria-selected={m.id === choice.shown?.id}
          onClick={() => store.setState({ chosenMapping: m.id })}
          className="flex h-[26px] items-center gap-1.5 rounded-md bg-velvet-850 px-2.5 text-small text-ink-300 aria-selected:bg-velvet-700 aria-selected:text-ink-100"
        >
          {placeWords(m, show)}
          {m.id === choice.holds ? <span className="text-cool">now</span> : null}
        </button>
      ))}
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
  const clash = useLive(
    useShallow((l) =>
      l.compiled.clashes.filter((pair) => pair.some((i) => l.show.mappings[i]?.id === mapping.id)).map((p) => p[0]),
    ),
  );
  const first = useLive((l) => (clash[0] === undefined ? null : l.show.mappings[clash[0]]!.id));
  const press = mapping.gesture === "press";
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <PlaceChips mapping={mapping} />
        <Chip>{BEHAVIOUR_WORDS[choice.control.behaviour]}</Chip>
        {!mapping.on ? <Chip className="bg-care-ground text-care">off for now</Chip> : null}
      </div>
      {first ? (
        <p role="alert" className="rounded-lg bg-alert-ground px-3 py-2 text-[12.5px] text-alert-ink">
          Two mappings of this control hold at the same place.{" "}
          {first === mapping.id ? "This one is first and wins." : "The other one is first and wins."} Change where one
          of them holds.
        </p>
      ) : null}
      <div className="grid grid-cols-[62px_1fr] gap-2.5">
        <b className="pt-[9px] text-right text-[12.5px] font-semibold text-ink-300">{press ? "Press" : "Move"}</b>
        <div className="grid gap-2">
          {mapping.actions.map((action) => (
            <ActionCard key={action.id} mapping={mapping} action={action} control={choice.control} />
          ))}
          <button
            type="button"
            className="justify-self-start pt-0.5 pl-0.5 text-small text-ink-500 hover:text-ink-100"
            onClick={() => document.getElementById("function-search")?.focus()}
          >
            + {mapping.actions.length === 0 ? "an action" : "another action"} <Key>/</Key>
          </button>
        </div>
      </div>
      {press ? (
        <div className="grid grid-cols-[62px_1fr] gap-2.5">
          <b className="text-right text-[12.5px] font-semibold text-ink-300">Release</b>
          <span className="text-small text-ink-500">what was pressed is let go, even after a page change</span>
        </div>
      ) : null}
      <LightCard mapping={mapping} control={choice.control} />
    </>
  );
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
