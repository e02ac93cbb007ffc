import type { Range, Unit } from "../../core/format/desk-profile.ts";
import { DraftField } from "../components/DraftField.tsx";
import { textList } from "../components/ListField.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { Select } from "../components/Select.tsx";

const UNITS: readonly Unit[] = ["none", "%", "dB", "ms", "s", "bpm"];
const FAR = 1e9;

/** A range on the wire with its unit, and how a fader of the desk spreads it. */
export function RangeFields({ label, range, onChange }: { label: string; range: Range; onChange(range: Range): void }) {
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      <NumberField
        label={`${label}: from`}
        value={range.from}
        min={-FAR}
        max={FAR}
        onCommit={(from) => onChange({ ...range, from })}
      />
      to
      <NumberField
        label={`${label}: to`}
        value={range.to}
        min={-FAR}
        max={FAR}
        onCommit={(to) => onChange({ ...range, to })}
      />
      <Select
        label={`${label}: unit`}
        value={range.unit}
        options={UNITS.map((u) => ({ value: u, label: u === "none" ? "no unit" : u }))}
        onChange={(unit) => onChange({ ...range, unit })}
      />
      <span title="Points of a fader’s way and value, such as 0.5 -20; 0.75 0. Empty: spread evenly.">law</span>
      <DraftField
        label={`${label}: law`}
        placeholder="even"
        value={(range.law ?? []).map(([t, v]) => `${t} ${v}`).join("; ")}
        className="w-[170px] font-mono"
        accepts={(text) => lawOf(text) !== null}
        onCommit={(text) => {
          const law = lawOf(text)!;
          const { law: _old, ...rest } = range;
          onChange(law.length === 0 ? rest : { ...range, law });
        }}
      />
    </span>
  );
}

/** Points in pairs, separated by semicolons; null where the text is anything else. */
function lawOf(text: string): [number, number][] | null {
  const points = textList(text, ";").map((t) => t.split(/\s+/).map(Number));
  return points.every((p) => p.length === 2 && p.every(Number.isFinite)) ? (points as [number, number][]) : null;
}
