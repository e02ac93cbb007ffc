/** How the numbers of a series count on, and the numbers as the controls lie. */
import { memo } from "react";
import type { Parameter } from "../../core/format/desk-profile.ts";
import type { SeriesCount } from "../../core/mapping/series.ts";
import { bindingWords } from "../../words/mappings.ts";
import { NumberField } from "../components/NumberField.tsx";
import type { SeriesLine, SeriesNumber, SeriesNumbers } from "./series-lines.ts";

/** So many numbers have room beside each other. */
const MOST_ACROSS = 16;
/** The furthest that a number counts on from one to the next. */
const STEP = 1000;

interface NumberRowProps {
  parameter: Parameter;
  number: SeriesNumber;
  /** It may follow the page that is up. */
  isPage: boolean;
  /** The page of the desk that is up; null = not known. */
  pageUp: number | null;
  hasRows: boolean;
  counts(): SeriesCount;
  onChange(number: SeriesNumber): void;
}

export function NumberRow({ parameter, number, isPage, pageUp, hasRows, counts, onChange }: NumberRowProps) {
  const { from, to, name } = parameter;
  if (number.kind === "same")
    return (
      <>
        <span>{name}</span>
        <span className="col-span-3 flex items-center gap-2 rounded-md bg-follow px-2.5 py-1.5 text-cool">
          <b className="flex-1 font-semibold">{bindingWords(number.binding, pageUp, undefined)}</b>
          <button
            type="button"
            className="underline underline-offset-2"
            onClick={() => onChange({ kind: "counts", count: counts() })}
          >
            count instead
          </button>
        </span>
      </>
    );
  const { count } = number;
  const field = (key: keyof SeriesCount, label: string, min: number, max: number) => (
    <NumberField
      label={label}
      value={count[key]}
      min={min}
      max={max}
      onCommit={(v) => onChange({ kind: "counts", count: { ...count, [key]: Math.round(v) } })}
    />
  );
  return (
    <>
      <span className="grid">
        {name}
        {isPage ? (
          <button
            type="button"
            className="text-left text-cool underline underline-offset-2"
            onClick={() => onChange({ kind: "same", binding: { from: "page" } })}
          >
            follow it
          </button>
        ) : null}
      </span>
      {field("first", `First ${name}`, from, to)}
      {field("along", `${name}: step along the row`, -STEP, STEP)}
      {hasRows ? field("down", `${name}: step to the next row`, -STEP, STEP) : <span />}
    </>
  );
}

/** The numbers as the controls lie: a wrong step is seen at a glance. */
export const AsTheyLie = memo(function AsTheyLie({
  lines,
  numbers,
}: {
  lines: readonly SeriesLine[];
  numbers: SeriesNumbers;
}) {
  const counted = Object.keys(numbers).findLast((id) => numbers[id]!.kind === "counts");
  if (counted === undefined) return null;
  const xs = [...new Set(lines.map((l) => l.place.control.box.x))].sort((a, b) => a - b);
  if (xs.length > MOST_ACROSS) return null; // the lines say them all
  const ys = [...new Set(lines.map((l) => l.place.control.box.y))].sort((a, b) => a - b);
  return (
    <div className="grid gap-1" style={{ gridTemplateColumns: `repeat(${xs.length}, minmax(0, 1fr))` }} aria-hidden>
      {lines.map(({ place: { control }, bindings, outOf, taken }) => {
        const binding = bindings[counted];
        return (
          <span
            key={control.id}
            className={`rounded border-b-[3px] bg-velvet-850 py-1 text-center text-small tabular-nums ${
              outOf ? "border-alert text-alert" : taken ? "border-care text-care" : "border-velvet-600"
            }`}
            style={{ gridColumn: xs.indexOf(control.box.x) + 1, gridRow: ys.indexOf(control.box.y) + 1 }}
          >
            {binding?.from === "fixed" ? binding.value : "·"}
          </span>
        );
      })}
    </div>
  );
});
