import type { About, Advice, Severity } from "../../core/mapping/advice.ts";
import { adviceWords } from "../../words/advice.ts";
import { Button } from "../components/controls.tsx";
import { useActions } from "../live/actions.ts";
import { useLive, usePageStore } from "../live/store.ts";

const SEVERITY: Record<Severity, { word: string; look: string }> = {
  fault: { word: "cannot work", look: "bg-alert-ground text-alert-ink" },
  care: { word: "may surprise", look: "bg-care-ground text-care" },
  note: { word: "worth knowing", look: "bg-velvet-700 text-ink-300" },
};

/** What the checks found, each with its place and what to do. */
export function CheckList({ advice }: { advice: readonly Advice[] }) {
  if (advice.length === 0)
    return (
      <p className="text-ink-300">Nothing odd: no clashes, no layer without an entrance, no number without a desk.</p>
    );
  return (
    <ul className="grid gap-2">
      {advice.map((a, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two pieces of advice may say the same of one place
        <li key={i} className="flex items-start gap-3 rounded-[9px] bg-velvet-800 px-3 py-2">
          <span className={`rounded px-1.5 py-0.5 text-tiny whitespace-nowrap ${SEVERITY[a.severity].look}`}>
            {SEVERITY[a.severity].word}
          </span>
          <span className="flex-1 text-[12.5px]">{adviceWords(a)}</span>
          <Show about={a.about} />
        </li>
      ))}
    </ul>
  );
}

function Show({ about }: { about: About }) {
  const store = usePageStore();
  const actions = useActions();
  const mapping = useLive((l) =>
    "mapping" in about ? l.show.mappings.find((m) => m.id === about.mapping) : undefined,
  );
  if (!mapping) return null;
  return (
    <Button
      size="small"
      onClick={() => {
        actions.choose(mapping.surface, mapping.control);
        store.setState({ partsOpen: false, chosenMapping: mapping.id });
      }}
    >
      Show it
    </Button>
  );
}
