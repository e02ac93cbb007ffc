import { ChevronRight } from "lucide-react";
import { useState } from "react";
import { GESTURE } from "../../core/format/gestures.ts";
import type { Mapping } from "../../core/format/show.ts";
import { BEHAVIOUR_WORDS } from "../../words/mappings.ts";
import { Button, Chip, Key } from "../components/controls.tsx";
import { part } from "../components/part.tsx";
import { useActions } from "../live/actions.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { type Choice, newMapping } from "./choice.ts";
import { AddGesture, GestureRow, MappingAdvice } from "./GestureRows.tsx";
import { LightCard } from "./LightCard.tsx";
import { ScopeChips } from "./ScopeChips.tsx";

const HowFields = part(async () => (await import("./HowFields.tsx")).HowFields);
const SpineMenu = part(async () => (await import("./SpineMenu.tsx")).SpineMenu);

/** What the chosen control does, or that it is free. Fetched after the Map, which can be played before. */
export function ChosenParts({ choice }: { choice: Choice }) {
  const { shown } = choice;
  return (
    <>
      <div className="-mr-2 flex min-h-0 flex-1 flex-col gap-3 overflow-y-auto pr-2">
        {shown ? <MappingParts choice={choice} mapping={shown} /> : <Unmapped choice={choice} />}
      </div>
      {shown ? <Footer choice={choice} mapping={shown} /> : null}
    </>
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
  const bundle = useLive((l) => l.show.bundles?.find((b) => b.id === mapping.bundle));
  const presses = choice.beside.some((m) => GESTURE[m.gesture].holds);
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <ScopeChips key={mapping.id} mapping={mapping} />
        <Chip>{BEHAVIOUR_WORDS[choice.control.behaviour]}</Chip>
        {!mapping.on ? <Chip className="bg-care-ground text-care">off for now</Chip> : null}
        {bundle ? (
          <Chip className={bundle.on ? "" : "bg-care-ground text-care"}>
            {bundle.name}
            {bundle.on ? "" : ", switched off"}
          </Chip>
        ) : null}
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
      {/* What is typed for one mapping never lands in another. */}
      {how ? <HowFields key={mapping.id} mapping={mapping} /> : null}
      {mapping.note && !how ? <p className="text-small text-ink-300">{mapping.note}</p> : null}
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
      <LightCard key={`light ${mapping.id}`} mapping={mapping} control={choice.control} />
    </>
  );
}

function Footer({ choice, mapping }: { choice: Choice; mapping: Mapping }) {
  const actions = useActions();
  const store = usePageStore();
  return (
    <div className="flex flex-wrap items-center gap-2 border-t border-velvet-700 pt-2.5">
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
      <SpineMenu />
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
