/** A function for many controls at once: how its numbers count on, every line before anything is done, and one edit of all. */
import { useMemo, useState } from "react";
import type { Parameter } from "../../core/format/desk-profile.ts";
import { countsOn, placesOf, type SeriesOrder } from "../../core/mapping/series.ts";
import { inSentence } from "../../words/mappings.ts";
import { Button, Key } from "../components/controls.tsx";
import { Segments } from "../components/Segments.tsx";
import { useActions } from "../live/actions.ts";
import type { Many } from "../live/many.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { AnswerForAll, useApplying, useApplyPanel, useHeld } from "./apply-panel.tsx";
import { LongList } from "./LongList.tsx";
import { ANSWERS, Line } from "./SeriesLine.tsx";
import { AsTheyLie, NumberRow } from "./SeriesNumbers.tsx";
import {
  type ClashAnswer,
  firstNumbers,
  type SeriesFunction,
  type SeriesLine,
  type SeriesNumbers,
  seriesEdits,
  seriesLines,
} from "./series-lines.ts";

const ORDERS: readonly (readonly [SeriesOrder, string])[] = [
  ["as-they-lie", "as they lie"],
  ["as-chosen", "as touched"],
  ["down", "down, then across"],
];
interface Props {
  many: Many;
  series: { readonly desk: string; readonly fn: string };
}

export function SeriesPanel({ many, series }: Props) {
  const store = usePageStore();
  const actions = useActions();
  const compiled = useLive((l) => l.compiled);
  const { isApplying, run } = useApplying();
  const context = useHeld(
    useLive((l) => l.context),
    isApplying,
  );
  const desk = compiled.desks.find((d) => d.id === series.desk);
  const pageUp = useLive((l) => l.desks[series.desk]?.page ?? null);
  const fn = desk?.functions.get(series.fn)?.fn;
  const surface = compiled.surfaces.find((s) => s.id === many.surface);
  const [order, setOrder] = useState<SeriesOrder>("as-they-lie");
  const controls = useMemo(
    () => many.controls.flatMap((id) => surface?.profile.controls.find((c) => c.id === id) ?? []),
    [many, surface?.profile],
  );
  const places = useMemo(() => placesOf(controls, order), [controls, order]);
  const meant = useMemo<SeriesFunction | null>(
    () =>
      desk && fn
        ? { desk: desk.id, fn, parameters: desk.profile.parameters, page: desk.profile.page?.parameter }
        : null,
    [desk, fn],
  );
  const [typed, setTyped] = useState<SeriesNumbers>({});
  const [answers, setAnswers] = useState<Readonly<Record<string, ClashAnswer>>>({});
  const leave = () => store.setState({ series: null });
  const numbers = useMemo<SeriesNumbers>(
    () => (meant ? { ...firstNumbers(meant, (first) => countsOn(places, first)), ...typed } : {}),
    [meant, places, typed],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is taken changes with the show, and with what is up
  const lines = useMemo(
    () => (meant ? seriesLines(store.getState(), many.surface, meant, numbers, places) : []),
    [store, many.surface, meant, numbers, places, context],
  );
  const clashes = lines.filter((l) => l.taken);
  const made = lines.filter((l) => !(l.taken && answers[l.place.control.id] === "leave"));
  const out = made.find((l) => l.outOf);
  const apply = async (some: readonly SeriesLine[]) => {
    if (!meant || some.some((l) => l.outOf)) return;
    const edits = seriesEdits(store.getState(), many.surface, meant, some, answers);
    if (edits.length === 0) return;
    const does = `${inSentence(meant.fn.name)} on ${some.length} controls`;
    await run(async () => {
      const isDone = await actions.edit({ kind: "together", does, edits });
      if (isDone && some.length === made.length) store.setState({ series: null, many: null });
    });
  };
  const panel = useApplyPanel(() => void apply(made), leave);
  if (!meant || !desk || !surface) return null;
  return (
    <section
      ref={panel}
      tabIndex={-1}
      className="leaf col-span-2 outline-none grid min-h-0 grid-rows-[auto_minmax(0,1fr)_auto] gap-3 border-l border-brass-700 px-[18px] py-3.5"
      aria-label="Series"
    >
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="flex-1 text-head font-semibold">Count on over {controls.length} controls</h1>
        <span className="text-ink-500">order</span>
        <Segments label="Order" value={order} options={ORDERS} onChange={(v) => setOrder(v)} />
      </div>
      <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-5">
        <div className="flex min-h-0 flex-col gap-3 overflow-y-auto">
          <div className="flex items-center gap-3 rounded-[9px] border-l-[3px] border-warm bg-velvet-850 px-3.5 py-2.5 font-semibold">
            <span className="min-w-0 flex-1">
              <bdi>{desk.desk.name}</bdi> · {inSentence(meant.fn.name)}
            </span>
            <Button look="quiet" onClick={leave}>
              Another
            </Button>
          </div>
          <div className="grid grid-cols-[auto_repeat(3,minmax(0,1fr))] items-center gap-2 text-small">
            <span />
            <span className="text-ink-500">first</span>
            <span className="text-ink-500">next in the row</span>
            <span className="text-ink-500">{order === "down" ? "next column" : "next row"}</span>
            {meant.fn.parameters.map((id) => {
              const parameter = meant.parameters.find((p) => p.id === id)!;
              return (
                <NumberRow
                  key={id}
                  parameter={parameter}
                  number={numbers[id]!}
                  isPage={id === meant.page}
                  pageUp={pageUp}
                  hasRows={places.some((p) => p.row > 0)}
                  counts={() => countsOn(places, Math.max(parameter.from, 1))}
                  onChange={(n) => setTyped({ ...typed, [id]: n })}
                />
              );
            })}
          </div>
          <AsTheyLie lines={lines} numbers={numbers} />
        </div>
        <div className="flex min-h-0 flex-col">
          <div className="flex items-baseline gap-3 border-b border-velvet-700 pb-1.5 text-small">
            <b className="flex-1 font-semibold whitespace-nowrap">{lines.length} lines</b>
            {clashes.length > 0 ? (
              <span className="text-care">{clashes.length === 1 ? "1 is taken" : `${clashes.length} are taken`}</span>
            ) : null}
            <AnswerForAll
              taken={clashes.map((l) => l.place.control.id)}
              answers={answers}
              usual="keep"
              options={ANSWERS}
              onChange={setAnswers}
            />
          </div>
          <LongList label="What each gets" items={lines} keyOf={(l) => l.place.control.id}>
            {(line, i) => (
              <Line
                nth={i + 1}
                line={line}
                desk={desk.id}
                verb={inSentence(meant.fn.name)}
                answer={answers[line.place.control.id] ?? "keep"}
                onAnswer={(a) => setAnswers({ ...answers, [line.place.control.id]: a })}
              />
            )}
          </LongList>
        </div>
      </div>
      <div className="flex flex-wrap items-center gap-3 border-t border-velvet-700 pt-2.5">
        <Button look="quiet" onClick={leave}>
          Never mind <Key>Esc</Key>
        </Button>
        <span className="flex-1 text-small text-ink-500" role="status">
          {out
            ? `${out.place.control.name}: there is no ${out.outOf!.name} ${fixedOf(out, out.outOf!)}. The desk has ${out.outOf!.from} to ${out.outOf!.to}.`
            : "Ctrl Z takes all of it back."}
        </span>
        <Button disabled={lines[0]?.outOf != null} onClick={() => void apply(lines.slice(0, 1))}>
          Try on the first only
        </Button>
        <Button look="primary" disabled={out !== undefined || made.length === 0} onClick={() => void apply(made)}>
          Apply {made.length} <Key>Enter</Key>
        </Button>
      </div>
    </section>
  );
}

function fixedOf({ bindings }: SeriesLine, { id }: Parameter): number {
  const binding = bindings[id];
  return binding?.from === "fixed" ? binding.value : 0;
}
