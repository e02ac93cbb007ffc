import { type KeyboardEvent, useCallback, useMemo, useState } from "react";
import { WIRES } from "../../core/format/wires.ts";
import { NO_FILTER } from "../../core/trace/traffic-store.ts";
import { rowLine } from "../../words/traffic.ts";
import { Button, Key } from "../components/controls.tsx";
import { download } from "../documents/files.ts";
import { MendList } from "../live/MendList.tsx";
import { liveNames } from "../live/row-names.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { toast } from "../live/toast.ts";
import { FilterBar } from "./FilterBar.tsx";
import { RateChart } from "./RateChart.tsx";
import { TrafficRows } from "./TrafficRows.tsx";
import type { Counts } from "./traffic-messages.ts";
import { useTraffic } from "./use-traffic.ts";

/** Everything that came and went, newest first; it lies over the place that is open. */
export function TrafficPanel() {
  const open = usePage((s) => s.trafficOpen);
  return open ? <Panel /> : null;
}

const NONE: ReadonlySet<number> = new Set();

function Panel() {
  const store = usePageStore();
  const [filter, setFilter] = useState(NO_FILTER);
  const [paused, setPaused] = useState(false);
  // What is read must not run away: a list that is not at its top waits as if it were paused.
  const [reading, setReading] = useState(false);
  const [chosen, setChosen] = useState(NONE);
  const { counts, rows, rates, calls } = useTraffic(filter, paused || reading || chosen.size > 0);
  const surfaces = useLive((l) => l.show.surfaces);
  const desks = useLive((l) => l.show.desks);
  const names = useMemo(() => new Map([...surfaces, ...desks].map((d) => [d.id, d.name])), [surfaces, desks]);
  const only = chosen.size > 0 ? [...chosen] : null;
  // Of one message that was chosen, what ends the reason beside it.
  const found = only?.length === 1 ? rows.rows.find((r) => r.seq === only[0]) : undefined;
  const one = found && !found.out ? found : null;
  const save = async () => {
    const { compiled } = store.getState().live;
    const kinds = new Map(compiled.desks.map((d) => [d.id, WIRES[d.profile.wire.kind].message]));
    const { text, left } = await calls.ask("take", { only, kinds });
    download("velvet-hinge.take.jsonl", text, "application/jsonl");
    if (left > 0)
      toast(`${left} rows are not in the take`, {
        description: "They were not messages of a port, or were too long to be kept whole.",
      });
  };
  const copy = async () => {
    const names = liveNames(store.getState().live);
    const asked = await calls.ask("rows", { only });
    await navigator.clipboard.writeText(`${asked.map((r) => rowLine(r, names)).join("\n")}\n`);
    toast(`${asked.length} rows copied`);
  };
  const choose = useCallback(
    async (from: number, to: number | null) => {
      const all = to === null ? [from] : await calls.ask("between", { from, to });
      setChosen((was) => {
        const now = new Set(was);
        for (const n of all) if (to !== null || !now.delete(n)) now.add(n);
        return now;
      });
    },
    [calls],
  );
  const chooseNone = () => setChosen(NONE);
  const onKeyDown = (e: KeyboardEvent) => {
    const isElsewhere = e.target instanceof HTMLInputElement || e.target instanceof HTMLButtonElement;
    if (e.key === "Escape" && chosen.size > 0) chooseNone();
    else if (e.key === " " && !isElsewhere) setPaused(!paused);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <section
      aria-label="All traffic"
      className="leaf absolute inset-x-0 bottom-10 z-30 isolate grid h-[64%] will-change-transform [contain:layout_style] grid-rows-[auto_auto_minmax(0,1fr)] border-t border-brass-700 shadow-[0_-20px_40px_var(--drop)]"
      onKeyDown={onKeyDown}
    >
      <div className="flex flex-wrap items-center gap-2 px-4 py-3">
        <FilterBar filter={filter} onChange={setFilter} />
        <div className="flex-1" />
        {one ? <MendList rowOf={() => one} /> : null}
        {chosen.size > 0 ? (
          <Button size="small" look="quiet" onClick={chooseNone}>
            Choose none
          </Button>
        ) : null}
        <Button size="small" onClick={() => void copy()}>
          {chosen.size > 0 ? `Copy ${chosen.size}` : "Copy"}
        </Button>
        <Button size="small" onClick={() => void save()}>
          {chosen.size > 0 ? `Save ${chosen.size} as a take` : "Save as a take"}
        </Button>
        <Button size="small" aria-pressed={paused} onClick={() => setPaused(!paused)}>
          {paused ? "Go on" : "Pause"} <Key>Space</Key>
        </Button>
        <Button size="small" look="quiet" onClick={() => store.setState({ trafficOpen: false })}>
          Close <Key>`</Key>
        </Button>
      </div>
      <div className="flex items-center gap-4 px-4 pb-2">
        <RateChart rates={rates} names={names} />
        <Status counts={counts} why={paused ? "paused" : reading || chosen.size > 0 ? "held while you read" : null} />
      </div>
      <TrafficRows
        rows={rows}
        matched={counts.matched}
        chosen={chosen}
        calls={calls}
        onReading={setReading}
        onChoose={choose}
      />
    </section>
  );
}

/** `why`: why nothing new comes into the list; null = it does. */
function Status({ counts, why }: { counts: Counts; why: string | null }) {
  const refused = useLive((l) => l.refused);
  return (
    <span className="ml-auto text-small text-ink-500" role="status">
      {refused > 0 ? `${refused} of browsers refused · ` : ""}
      {why ? `${why}, ${counts.waiting} newer waiting · ` : ""}
      {counts.matched} shown of the last {counts.kept}
    </span>
  );
}
