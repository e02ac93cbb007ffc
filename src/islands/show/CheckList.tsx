import type { About, Advice, Severity } from "../../core/mapping/advice.ts";
import { type SafeMend, safeMend, safeMends } from "../../core/mapping/safe-mends.ts";
import { adviceWords, mendWords } from "../../words/advice.ts";
import { Button } from "../components/controls.tsx";
import { useActions } from "../live/actions.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";

const SEVERITY: Record<Severity, { word: string; look: string }> = {
  fault: { word: "cannot work", look: "bg-alert-ground text-alert-ink" },
  care: { word: "may surprise", look: "bg-care-ground text-care" },
  note: { word: "worth knowing", look: "bg-velvet-700 text-ink-300" },
};

const editOf = ({ mapping, set }: SafeMend) => ({ kind: "change-mapping", id: mapping, set }) as const;

interface Props {
  advice: readonly Advice[];
  /** Shows the routes, which are in the same place. */
  toRoutes(): void;
}

/** What the checks found, each with the way to its place, and a press that ends it where that changes nothing else. */
export function CheckList({ advice, toRoutes }: Props) {
  const actions = useActions();
  const show = useLive((l) => l.show);
  const mayEdit = usePage((s) => s.who.role === "edit");
  if (advice.length === 0)
    return (
      <p className="text-ink-300">Nothing odd: no clashes, no layer without an entrance, no number without a desk.</p>
    );
  const safe = mayEdit ? safeMends(show, advice) : [];
  return (
    <div className="grid gap-2.5">
      {safe.length > 1 ? (
        <div className="flex items-center gap-3 text-small text-ink-500">
          <span className="flex-1">
            {safe.length} of these can be mended without changing what any control does. One undo takes all back.
          </span>
          <Button
            size="small"
            onClick={() =>
              void actions.edit({ kind: "together", does: `mend ${safe.length} checks`, edits: safe.map(editOf) })
            }
          >
            Mend {safe.length}
          </Button>
        </div>
      ) : null}
      <ul className="grid gap-2">
        {advice.map((a, i) => {
          const mend = mayEdit ? safeMend(show, a) : null;
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: two pieces of advice may say the same of one place
            <li key={i} className="flex items-start gap-3 rounded-[9px] bg-velvet-800 px-3 py-2">
              <span className={`rounded px-1.5 py-0.5 text-tiny whitespace-nowrap ${SEVERITY[a.severity].look}`}>
                {SEVERITY[a.severity].word}
              </span>
              <span className="flex-1 text-[12.5px]">{adviceWords(a)}</span>
              {mend ? (
                <Button size="small" onClick={() => void actions.edit(editOf(mend))}>
                  {mendWords(a)}
                </Button>
              ) : null}
              <GoThere about={a.about} toRoutes={toRoutes} />
            </li>
          );
        })}
      </ul>
    </div>
  );
}

function GoThere({ about, toRoutes }: { about: About; toRoutes(): void }) {
  const store = usePageStore();
  const actions = useActions();
  const go = () => {
    if ("route" in about) {
      toRoutes();
      return;
    }
    store.setState({ partsOpen: false });
    if ("port" in about) {
      actions.go("connect");
      return;
    }
    const mapping = store.getState().live.show.mappings.find((m) => m.id === about.mapping);
    if (!mapping) return;
    actions.go("map");
    actions.choose(mapping.surface, mapping.control);
    store.setState({ chosenMapping: mapping.id, tableOpen: false });
  };
  return (
    <Button size="small" onClick={go}>
      Go there
    </Button>
  );
}
