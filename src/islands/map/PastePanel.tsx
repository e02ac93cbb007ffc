/** What was copied, line by line as it would stand on the chosen controls, before anything is done. */
import { useMemo, useState } from "react";
import {
  type PasteAnswer,
  type PasteLine,
  type PasteTrouble,
  type PasteWhat,
  pasteEdits,
  pasteLines,
} from "../../core/edit/pasting.ts";
import { ENGLISH } from "../../words/english.ts";
import { inSentence, scopeWords } from "../../words/mappings.ts";
import { Button, Key } from "../components/controls.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { Segments } from "../components/Segments.tsx";
import { optionsOf, Select } from "../components/Select.tsx";
import { useActions } from "../live/actions.ts";
import { type PageState, useLive, usePage, usePageStore } from "../live/store.ts";
import { AnswerForAll, Taken, useApplying, useApplyPanel, useHeld } from "./apply-panel.tsx";
import { pasteInto, targetsOf } from "./copying.ts";
import { LongList } from "./LongList.tsx";
import { numbersWords } from "./table/table-rows.ts";

const WHAT: readonly (readonly [PasteWhat, string])[] = [
  ["mappings", "everything"],
  ["actions", "actions beside"],
  ["lights", "lights only"],
  ["shapes", "shapes only"],
];
const ANSWERS = optionsOf({ replace: "replace", keep: "keep both", leave: "leave out" } satisfies Record<
  PasteAnswer,
  string
>);
const AS_COPIED = "-";
const EVERY = "every";

export function PastePanel({ pasting }: { pasting: NonNullable<PageState["pasting"]> }) {
  const store = usePageStore();
  const actions = useActions();
  const { isApplying, run } = useApplying();
  const show = useHeld(
    useLive((l) => l.show),
    isApplying,
  );
  const chosen = usePage((s) => s.chosen);
  const many = usePage((s) => s.many);
  const { document, cut } = pasting;
  const [what, setWhat] = useState<PasteWhat>("mappings");
  const [moveOn, setMoveOn] = useState(pasting.moveOn);
  const [layer, setLayer] = useState(AS_COPIED);
  const [page, setPage] = useState(AS_COPIED);
  const [answers, setAnswers] = useState<Readonly<Record<string, PasteAnswer>>>({});
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is chosen, and what stands there, decides about the targets
  const lines = useMemo(() => {
    const state = store.getState();
    const targets = targetsOf(state, document.controls.length);
    const scope = {
      layers: layer === AS_COPIED ? null : layer === EVERY ? [] : [layer],
      page: page === AS_COPIED ? null : page === EVERY ? 0 : Number(page),
    };
    return pasteLines(document, targets, { what, moveOn, scope }, pasteInto(state));
  }, [store, document, what, moveOn, layer, page, show, chosen, many]);
  const edits = useMemo(
    () => pasteEdits(lines, what, answers, pasteInto(store.getState()), cut),
    [store, lines, what, answers, cut],
  );
  const moves = cut.length > 0 && what === "mappings";
  const leave = () => store.setState({ pasting: null });
  const out = lines.find((l) => l.trouble?.kind === "out-of-range");
  const canApply = edits.length > 0 && !out;
  const apply = async () => {
    if (!canApply) return;
    const does = `${moves ? "move" : "paste"} ${document.mappings.length} mappings to ${lines.length} controls`;
    await run(async () => {
      if (!(await actions.edit({ kind: "together", does, edits }))) return;
      // What was cut is there only once.
      if (moves) store.setState((s) => ({ copied: s.copied && { ...s.copied, cut: [] } }));
      leave();
    });
  };
  const panel = useApplyPanel(() => void apply(), leave);
  const taken = lines.filter((l) => l.taken.length > 0);
  const pages = usePages();
  return (
    <section
      ref={panel}
      tabIndex={-1}
      className="leaf col-span-2 outline-none grid min-h-0 grid-rows-[auto_auto_minmax(0,1fr)_auto] gap-3 border-l border-brass-700 px-[18px] py-3.5"
      aria-label="Put in"
    >
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="flex-1 text-head font-semibold">
          {moves ? "Move" : "Put in"}{" "}
          {document.mappings.length === 1 ? "1 mapping" : `${document.mappings.length} mappings`}
        </h1>
        <Segments label="What is put in" value={what} options={WHAT} onChange={(w) => setWhat(w)} />
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2 text-small text-ink-300">
        <span className="flex items-center gap-2">
          numbers move on by
          <NumberField
            label="Numbers move on by"
            value={moveOn}
            min={-1000}
            max={1000}
            onCommit={(v) => setMoveOn(Math.round(v))}
          />
        </span>
        {document.controls.length !== moveOn ? (
          <button
            type="button"
            className="text-cool underline underline-offset-2"
            onClick={() => setMoveOn(document.controls.length)}
          >
            by {document.controls.length}
          </button>
        ) : null}
        <span className="flex items-center gap-2">
          on
          <Select
            label="Layer"
            value={layer}
            options={[
              { value: AS_COPIED, label: "the layers as copied" },
              { value: EVERY, label: "every layer" },
              ...show.layers.map((l) => ({ value: l.id, label: l.name })),
            ]}
            onChange={setLayer}
          />
          {pages.length > 0 ? (
            <Select
              label="Page"
              value={page}
              options={[
                { value: AS_COPIED, label: "the pages as copied" },
                { value: EVERY, label: "every page" },
                ...pages.map((p) => ({ value: String(p), label: `page ${p}` })),
              ]}
              onChange={setPage}
            />
          ) : null}
        </span>
      </div>
      <div className="flex min-h-0 flex-col">
        <div className="flex items-baseline gap-3 border-b border-velvet-700 pb-1.5 text-small">
          <b className="flex-1 font-semibold whitespace-nowrap">
            {lines.length === 1 ? "1 control" : `${lines.length} controls`}
          </b>
          {lines.length < document.controls.length ? (
            <span className="text-care">
              there is room for {lines.length} of {document.controls.length}
            </span>
          ) : null}
          <AnswerForAll
            taken={taken.map((l) => l.target.control.id)}
            answers={answers}
            usual="replace"
            options={ANSWERS}
            onChange={setAnswers}
          />
        </div>
        <LongList label="What each gets" items={lines} keyOf={(l) => l.target.control.id}>
          {(line) => (
            <Line
              line={line}
              answer={answers[line.target.control.id] ?? "replace"}
              onAnswer={(a) => setAnswers({ ...answers, [line.target.control.id]: a })}
            />
          )}
        </LongList>
      </div>
      <div className="flex flex-wrap items-center gap-3 border-t border-velvet-700 pt-2.5">
        <Button look="quiet" onClick={leave}>
          Never mind <Key>Esc</Key>
        </Button>
        <span className="flex-1 text-small text-ink-500" role="status">
          {out
            ? troubleWords(out.trouble!)
            : edits.length === 0
              ? "Nothing of it can be put in here."
              : "Ctrl Z takes all of it back."}
        </span>
        <Button look="primary" disabled={!canApply} onClick={() => void apply()}>
          {moves ? "Move" : "Put in"} <Key>Enter</Key>
        </Button>
      </div>
    </section>
  );
}

/** The pages that there are, where a desk has any. */
function usePages(): number[] {
  const parameter = useLive((l) => l.compiled.desks.find((d) => d.page)?.pageParameter);
  return parameter ? Array.from({ length: parameter.to - parameter.from + 1 }, (_, i) => parameter.from + i) : [];
}

function troubleWords(trouble: PasteTrouble): string {
  switch (trouble.kind) {
    case "no-function":
      return `There is no ${trouble.function} of ${trouble.desk} in this show.`;
    case "out-of-range":
      return `There is no ${trouble.parameter.name} ${trouble.number}. The desk has ${trouble.parameter.from} to ${trouble.parameter.to}.`;
    case "nothing-copied":
      return "The control it would come from does nothing.";
    default:
      return trouble satisfies never;
  }
}

function Line({ line, answer, onAnswer }: { line: PasteLine; answer: PasteAnswer; onAnswer(a: PasteAnswer): void }) {
  const { target, mappings, taken, trouble } = line;
  const store = usePageStore();
  const show = useLive((l) => l.show);
  const words = mappings.map((m) => {
    const { live } = store.getState();
    const does = m.actions.map((a) => {
      const fn = live.compiled.desks.find((d) => d.id === a.desk)?.functions.get(a.function);
      return fn ? `${inSentence(fn.fn.name)} ${numbersWords(live, a, fn.parameters)}` : a.function;
    });
    return {
      id: m.id,
      gesture: ENGLISH.gestures[m.gesture],
      holds: scopeWords(m, show),
      does: does.join(" + ") || "no action",
    };
  });
  return (
    <div className={`border-b border-velvet-800 px-1.5 py-1.5 text-small ${taken.length > 0 ? "bg-care-ground" : ""}`}>
      <div className="grid grid-cols-[minmax(90px,0.6fr)_minmax(0,2fr)_auto] items-baseline gap-2.5">
        <span className="overflow-hidden text-ellipsis whitespace-nowrap">{target.control.name}</span>
        <span className="grid min-w-0">
          {words.map((w) => (
            <span key={w.id} className="overflow-hidden text-ellipsis whitespace-nowrap">
              <span className="text-ink-500">
                {w.gesture}, {w.holds}:{" "}
              </span>
              <b className="font-semibold">{w.does}</b>
            </span>
          ))}
          {trouble ? <span className="text-alert">{troubleWords(trouble)}</span> : null}
        </span>
        {taken.length > 0 ? (
          <span className="flex items-center gap-2">
            <Taken />
            <Select
              label={`What becomes of ${target.control.name}`}
              value={answer}
              options={ANSWERS}
              onChange={onAnswer}
            />
          </span>
        ) : null}
      </div>
    </div>
  );
}
