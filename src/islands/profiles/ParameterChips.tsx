import type { Parameter } from "../../core/format/desk-profile.ts";

interface Props {
  label: string;
  all: readonly Parameter[];
  chosen: readonly string[];
  onChange(chosen: string[]): void;
}

/** Which of the desk's numbers something depends on, in the order in which they were chosen. */
export function ParameterChips({ label, all, chosen, onChange }: Props) {
  if (all.length === 0) return <span className="text-ink-500">nothing is counted yet</span>;
  return (
    <fieldset className="flex flex-wrap gap-1.5" aria-label={label}>
      {all.map((p) => {
        const on = chosen.includes(p.id);
        return (
          <button
            key={p.id}
            type="button"
            aria-pressed={on}
            disabled={!on && chosen.length >= 3}
            onClick={() => onChange(on ? chosen.filter((id) => id !== p.id) : [...chosen, p.id])}
            className="h-[24px] rounded-full bg-velvet-800 px-2.5 text-ink-300 aria-pressed:bg-cool/25 aria-pressed:text-ink-100 disabled:opacity-50"
          >
            {p.name}
          </button>
        );
      })}
    </fieldset>
  );
}
