import { useMemo, useState } from "react";
import { Switch } from "../components/controls.tsx";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { DeskHead, type Listed } from "./DeskHead.tsx";
import { startedBy } from "./started-by.ts";
import type { TableRow } from "./table/table-rows.ts";

/** So many stand under one function; the table has them all. */
const MOST = 40;
const NONE: readonly TableRow[] = [];

/** Under each function the controls that start it, to go there; or that nothing does. */
export function StartedBy({ functions, drags }: { functions: readonly Listed[]; drags: boolean }) {
  const store = usePageStore();
  const show = useLive((l) => l.show);
  const compiled = useLive((l) => l.compiled);
  const [onlyFree, setOnlyFree] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what starts what changes with the show only
  const starts = useMemo(() => startedBy(store.getState().live), [store, show, compiled]);
  const of = ({ desk, fn }: Listed) => starts.get(`${desk} ${fn.id}`) ?? NONE;
  const free = functions.filter((x) => of(x).length === 0);
  const shown = onlyFree ? free : functions;
  return (
    <>
      <div className="flex items-center justify-between gap-3 text-small text-ink-500">
        <span role="status">
          {functions.length - free.length} of {functions.length} are started by something
        </span>
        <Switch label="Only the others" checked={onlyFree} onChange={setOnlyFree} hint="Those that nothing starts" />
      </div>
      <section className="-mr-2 min-h-0 flex-1 overflow-y-auto pr-2" aria-label="What starts each function">
        {shown.map((x, i) => (
          <div key={`${x.desk} ${x.fn.id}`}>
            {i === 0 || shown[i - 1]!.desk !== x.desk ? <DeskHead id={x.desk} name={x.deskName} /> : null}
            <Starts listed={x} rows={of(x)} drags={drags} />
          </div>
        ))}
        {shown.length === 0 ? (
          <p className="p-2.5 text-ink-500">
            {onlyFree ? "Each of them is started by something." : "Nothing is called that here."}
          </p>
        ) : null}
      </section>
    </>
  );
}

interface StartsProps {
  listed: Listed;
  rows: readonly TableRow[];
  /** It can be dragged to a control. */
  drags: boolean;
}

function Starts({ listed: { desk, deskName, fn }, rows, drags }: StartsProps) {
  const store = usePageStore();
  const chosen = usePage((s) => s.chosenMapping);
  const go = ({ surface, control, mapping }: TableRow) =>
    store.setState({ chosen: { surface, control }, chosenMapping: mapping?.id ?? null, many: null, tableOpen: false });
  return (
    <div className="px-2.5 py-1.5">
      <div
        data-function={fn.id}
        data-desk={desk}
        data-words={`${deskName} · ${fn.name}`}
        title={drags ? "Drag it to the control that should start it" : undefined}
        className={`flex items-baseline gap-2 select-none ${drags ? "cursor-grab" : ""}`}
      >
        <span className="min-w-0 flex-1 overflow-hidden text-ellipsis">{fn.name}</span>
        {rows.length === 0 ? <span className="text-small text-ink-500">nothing</span> : null}
      </div>
      {rows.length > 0 ? (
        <ul className="mt-1 grid gap-0.5">
          {rows.slice(0, MOST).map((row) => (
            <li key={row.id}>
              <button
                type="button"
                aria-current={row.mapping?.id === chosen}
                onClick={() => go(row)}
                className="grid w-full grid-cols-[minmax(0,1fr)_auto] gap-x-2 rounded-md bg-velvet-850 px-2 py-1 text-left text-small hover:bg-velvet-800 aria-[current=true]:outline aria-[current=true]:outline-brass-500"
              >
                <span className="overflow-hidden text-ellipsis whitespace-nowrap">
                  {row.controlName} <span className="text-ink-500">of {row.surfaceName}</span>
                </span>
                <span className="text-ink-300">{row.numbers}</span>
                <span className="col-span-2 text-ink-500">
                  {row.gesture}, {row.holds}
                  {row.isOn ? "" : " · off"}
                </span>
              </button>
            </li>
          ))}
          {rows.length > MOST ? (
            <li className="px-2 text-small text-ink-500">and {rows.length - MOST} more, in the table (T)</li>
          ) : null}
        </ul>
      ) : null}
    </div>
  );
}
