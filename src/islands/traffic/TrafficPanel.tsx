import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo, useRef, useState } from "react";
import { TRAFFIC_KEPT, type TrafficEntry } from "../../core/live/protocol.ts";
import { isUpkeep, type Tone } from "../../core/trace/words.ts";
import { useActions } from "../live/actions.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { Button, Key, TextField } from "../parts/controls.tsx";
import { Select } from "../parts/Select.tsx";
import { became, bytesWords, clockWords, deviceName, readsAs } from "./row-words.ts";

const ROW_PX = 30;
const COLUMNS = "grid grid-cols-[98px_16px_112px_104px_minmax(0,1fr)_minmax(0,300px)] gap-2.5 px-4";
const TONES: Record<Tone, string> = {
  done: "text-ink-300",
  care: "text-care",
  alert: "text-alert",
  quiet: "text-ink-500",
};

/** Everything that came and went, newest first; it lies over the place that is open. */
export function TrafficPanel() {
  const open = usePage((s) => s.trafficOpen);
  return open ? <Panel /> : null;
}

type Ways = "both" | "in" | "out";

function Panel() {
  const store = usePageStore();
  const actions = useActions();
  useEffect(() => {
    actions.send({ kind: "watch-traffic", on: true });
    return () => actions.send({ kind: "watch-traffic", on: false });
  }, [actions]);
  const [paused, setPaused] = useState<LiveState | null>(null);
  const [text, setText] = useState("");
  const [device, setDevice] = useState("every");
  const [ways, setWays] = useState<Ways>("both");
  const [upkeep, setUpkeep] = useState(false);
  const current = usePage((s) => s.live);
  const live = paused ?? current;
  const waiting = paused ? countNewer(current.traffic, paused.traffic) : 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: rows change with the traffic and the show, not with every level
  const rows = useMemo(
    () => filterRows(live, { text, device, ways, upkeep }).reverse(),
    [live.traffic, live.show, text, device, ways, upkeep],
  );
  const devices = useLive((l) => l.show);
  return (
    <section
      aria-label="All traffic"
      className="leaf absolute inset-x-0 bottom-10 z-30 grid h-[64%] grid-rows-[auto_auto_minmax(0,1fr)] border-t border-brass-700 shadow-[0_-20px_40px_#000a]"
      onKeyDown={(e) => {
        if (e.key === " " && !(e.target instanceof HTMLInputElement) && !(e.target instanceof HTMLButtonElement)) {
          setPaused(paused ? null : current);
          e.preventDefault();
        }
      }}
    >
      <div className="flex items-center gap-2 px-4 py-3">
        <TextField
          label="Filter by text, number or control"
          placeholder="Text, number, control"
          className="w-[200px]"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <Select
          label="Device"
          value={device}
          options={[
            { value: "every", label: "every device" },
            ...[...devices.surfaces, ...devices.desks].map((d) => ({ value: d.id, label: d.name })),
          ]}
          onChange={setDevice}
          className="h-[26px] !rounded-full px-3"
        />
        <Select
          label="Direction"
          value={ways}
          options={[
            { value: "both", label: "both ways" },
            { value: "in", label: "only in" },
            { value: "out", label: "only out" },
          ]}
          onChange={(v) => setWays(v as Ways)}
          className="h-[26px] !rounded-full px-3"
        />
        <button
          type="button"
          aria-pressed={upkeep}
          onClick={() => setUpkeep(!upkeep)}
          className="h-[26px] rounded-full bg-velvet-800 px-3 text-small text-ink-300 aria-pressed:bg-velvet-700 aria-pressed:text-ink-100"
        >
          {upkeep ? "with heartbeats" : "no heartbeats"}
        </button>
        <div className="flex-1" />
        <span className="text-ink-500" role="status">
          {live.refused > 0 ? `${live.refused} of browsers refused · ` : ""}
          {paused ? `paused, ${waiting} newer waiting` : `${rows.length} shown of the last ${TRAFFIC_KEPT}`}
        </span>
        <Button aria-pressed={paused !== null} onClick={() => setPaused(paused ? null : current)}>
          {paused ? "Go on" : "Pause"} <Key>Space</Key>
        </Button>
        <Button look="quiet" onClick={() => store.setState({ trafficOpen: false })}>
          Close <Key>`</Key>
        </Button>
      </div>
      <div className={`${COLUMNS} border-b border-white/10 pb-1.5 text-[11.5px] text-ink-500`}>
        <span>time</span>
        <span />
        <span>device</span>
        <span>bytes</span>
        <span>reads as</span>
        <span>became</span>
      </div>
      <Rows rows={rows} live={live} />
    </section>
  );
}

function Rows({ rows, live }: { rows: TrafficEntry[]; live: LiveState }) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 8,
  });
  return (
    <div
      ref={scroller}
      className="overflow-y-auto"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls must be reachable by keys
      tabIndex={0}
      role="log"
      aria-live="off"
      aria-label="Messages, newest first"
    >
      {rows.length === 0 ? (
        <p className="px-4 py-3 text-ink-500">Nothing fits. Widen the filter, or touch a control.</p>
      ) : null}
      <div className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index]!;
          const end = became(live, row);
          return (
            <div
              key={`${row.atMs}-${row.seq}`}
              data-row={row.seq}
              className={`${COLUMNS} absolute inset-x-0 items-center border-b border-white/[.025] text-[12.5px] whitespace-nowrap [&>span]:overflow-hidden [&>span]:text-ellipsis`}
              style={{ height: ROW_PX, transform: `translateY(${item.start}px)` }}
            >
              <span className="font-mono text-small text-ink-500">{clockWords(row.atMs)}</span>
              <span className={row.out ? "text-warm" : "text-cool"} title={row.out ? "out" : "in"}>
                {row.out ? "▸" : "◂"}
              </span>
              <span>{deviceName(live, row)}</span>
              <span className="font-mono text-small text-ink-300">{bytesWords(row)}</span>
              <span>{readsAs(live, row)}</span>
              <span className={TONES[end.tone]}>{end.text}</span>
            </div>
          );
        })}
      </div>
    </div>
  );
}

interface Filter {
  text: string;
  device: string;
  ways: Ways;
  upkeep: boolean;
}

export function filterRows(live: LiveState, filter: Filter): TrafficEntry[] {
  const wanted = filter.text.trim().toLowerCase();
  return live.traffic.filter((row) => {
    if (!filter.upkeep && isUpkeep(row)) return false;
    if (filter.device !== "every" && row.device !== filter.device) return false;
    if (filter.ways !== "both" && row.out !== (filter.ways === "out")) return false;
    if (wanted === "") return true;
    const text = [
      deviceName(live, row),
      bytesWords(row),
      readsAs(live, row),
      became(live, row).text,
      row.part ?? "",
    ].join(" ");
    return text.toLowerCase().includes(wanted);
  });
}

function countNewer(now: readonly TrafficEntry[], then: readonly TrafficEntry[]): number {
  const last = then[then.length - 1];
  if (!last) return now.length;
  return now.filter((r) => r.atMs > last.atMs || (r.atMs === last.atMs && r.seq > last.seq)).length;
}
