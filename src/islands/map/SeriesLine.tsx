/** One line of a series: what a control would do, and what becomes of what it does already. */
import { optionsOf, Select } from "../components/Select.tsx";
import { mappingLabel } from "../live/mapping-label.ts";
import { numberName } from "../live/number-name.ts";
import { useLive } from "../live/store.ts";
import { Taken } from "./apply-panel.tsx";
import type { ClashAnswer, SeriesLine } from "./series-lines.ts";

export const ANSWERS = optionsOf({ keep: "keep both", replace: "replace", leave: "leave out" } satisfies Record<
  ClashAnswer,
  string
>);

interface LineProps {
  nth: number;
  line: SeriesLine;
  desk: string;
  verb: string;
  answer: ClashAnswer;
  onAnswer(answer: ClashAnswer): void;
}

export function Line({ nth, line: { place, bindings, taken, outOf }, desk, verb, answer, onAnswer }: LineProps) {
  const words = useLive((l) => {
    const profile = l.compiled.desks.find((d) => d.id === desk)?.profile;
    return Object.entries(bindings)
      .map(([id, b]) => {
        const parameter = profile?.parameters.find((p) => p.id === id);
        if (!parameter || b.from !== "fixed") return "";
        return [b.value, numberName(l, desk, parameter, b.value)].filter(Boolean).join(" ");
      })
      .filter(Boolean)
      .join(", ");
  });
  // It may have gone with the edit that is coming home, a moment before the panel does.
  const does = useLive((l) => {
    const m = taken ? l.compiled.mappingOf.get(taken.id) : undefined;
    return m === undefined ? "" : mappingLabel(l, m);
  });
  return (
    <div className={`border-b border-velvet-800 ${taken ? "bg-care-ground" : ""}`}>
      <div className="flex items-baseline gap-2.5 px-1.5 py-1.5 text-small">
        <span className="w-5 text-right font-mono text-tiny text-ink-500">{nth}</span>
        <span className="w-[30%] overflow-hidden text-ellipsis whitespace-nowrap">{place.control.name}</span>
        <span className="text-warm" aria-hidden>
          →
        </span>
        <span className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap">
          {verb} <b className="font-semibold">{words}</b>
        </span>
        {outOf ? <span className="text-alert">there is none</span> : null}
        {taken ? <Taken /> : null}
      </div>
      {taken ? (
        <div className="flex items-center gap-2 pr-1.5 pb-2 pl-9 text-small">
          <span className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap text-ink-300">
            It does <b className="font-semibold">{does || "something"}</b> already.
          </span>
          <Select
            label={`What becomes of ${place.control.name}`}
            value={answer}
            options={ANSWERS}
            onChange={onAnswer}
          />
        </div>
      ) : null}
    </div>
  );
}
