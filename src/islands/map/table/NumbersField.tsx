/** The numbers of an action, typed in their cell; names are offered while one types. */
import { useEffect, useMemo, useRef, useState } from "react";
import type { Action, Mapping } from "../../../core/format/show.ts";
import { useActions } from "../../live/actions.ts";
import { numbersName } from "../../live/number-name.ts";
import { useLive, usePageStore } from "../../live/store.ts";
import { asTyped, readNumbers } from "./typed-numbers.ts";

/** Names that are offered at once, and numbers that are looked through for them. */
const OFFERED = 6;
const LOOKED_THROUGH = 512;

interface Offered {
  readonly value: number;
  readonly name: string;
}

interface Props {
  mapping: Mapping;
  action: Action;
  onDone(move?: number): void;
}

export function NumbersField({ mapping, action, onDone }: Props) {
  const store = usePageStore();
  const actions = useActions();
  const show = useLive((l) => l.show);
  const desk = useLive((l) => l.compiled.desks.find((d) => d.id === action.desk));
  const parameters = useMemo(() => desk?.functions.get(action.function)?.parameters ?? [], [desk, action.function]);
  const page = desk?.profile.page?.parameter;
  const before = asTyped(action, parameters, show);
  const [text, setText] = useState(before);
  const [marked, setMarked] = useState(-1);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.select(), []);
  const read = readNumbers(text, action, parameters, page, show);
  const last = parameters.at(-1);
  const head = text.includes(",") ? `${text.slice(0, text.lastIndexOf(",") + 1)} ` : "";
  const typed = text
    .slice(text.lastIndexOf(",") + 1)
    .trim()
    .toLowerCase();
  const offered = useMemo(() => {
    if (!last || text === before) return [];
    const { live } = store.getState();
    const begin: Offered[] = [];
    const within: Offered[] = [];
    for (let value = last.from; value <= Math.min(last.to, last.from + LOOKED_THROUGH); value++) {
      const bindings = { ...action.bindings, [last.id]: { from: "fixed" as const, value } };
      const name = numbersName(live, action.desk, action.function, bindings, last.id);
      if (!name) continue;
      if (String(value).startsWith(typed) || name.toLowerCase().startsWith(typed)) begin.push({ value, name });
      else if (name.toLowerCase().includes(typed)) within.push({ value, name });
    }
    // Enter takes the first: what begins as it was typed is meant more likely.
    return [...begin, ...within].slice(0, OFFERED);
  }, [store, last, text, before, typed, action]);
  const take = (text: string, move?: number) => {
    const wanted = readNumbers(text, action, parameters, page, show);
    if (wanted.kind === "wrong") {
      setText(text);
      return;
    }
    if (text !== before) {
      const { bindings } = wanted;
      // Nobody waits for the answer: the next keys are for the table.
      void actions.edit({ kind: "change-action", mapping: mapping.id, id: action.id, set: { bindings } });
    }
    onDone(move);
  };
  // What is no number yet may be the beginning of a name.
  const chosen = offered[marked] ?? (read.kind === "wrong" ? offered[0] : undefined);
  return (
    <>
      <input
        ref={field}
        aria-label={`Numbers: ${parameters.map((p) => p.name).join(", ")}`}
        aria-invalid={read.kind === "wrong" && offered.length === 0}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setMarked(-1);
        }}
        onBlur={() => onDone()}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Escape") onDone();
          else if (e.key === "Enter") take(chosen ? head + chosen.value : text);
          else if (e.key === "Tab") take(chosen ? head + chosen.value : text, e.shiftKey ? -1 : 1);
          else if (e.key === "ArrowDown") setMarked(Math.min(offered.length - 1, marked + 1));
          else if (e.key === "ArrowUp") setMarked(Math.max(-1, marked - 1));
          else return;
          e.preventDefault();
        }}
        className="h-[26px] w-full min-w-[96px] rounded-md border border-brass-500 bg-velvet-950 px-2 text-ink-100 outline-none aria-invalid:border-alert"
      />
      {read.kind === "wrong" && offered.length === 0 ? (
        <p
          role="alert"
          className="absolute top-full left-0 z-20 w-[260px] rounded-lg bg-alert-ground px-3 py-2 text-small whitespace-normal text-alert-ink shadow-2xl"
        >
          {read.why}
        </p>
      ) : offered.length > 0 ? (
        <ul className="absolute top-full left-0 z-20 w-[230px] rounded-xl border border-velvet-600 bg-velvet-850 p-1 shadow-2xl">
          {offered.map(({ value, name }, i) => (
            <li key={value}>
              <button
                type="button"
                tabIndex={-1}
                // The field keeps the focus: it takes what it has when it loses it.
                onPointerDown={(e) => e.preventDefault()}
                onClick={() => take(head + value)}
                className={`flex w-full gap-2 rounded-md px-2 py-1 text-left hover:bg-velvet-700 ${offered[i] === chosen ? "bg-velvet-700" : ""}`}
              >
                <span className="w-7 text-right text-ink-500 tabular-nums">{value}</span>
                <span className="overflow-hidden text-ellipsis whitespace-nowrap">{name}</span>
              </button>
            </li>
          ))}
        </ul>
      ) : null}
    </>
  );
}
