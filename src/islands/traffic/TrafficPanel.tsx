import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useEffect, useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import type { TrafficEntry } from "../../core/live/protocol.ts";
import type { CompiledShow } from "../../core/mapping/compile.ts";
import { TAKE_WIRES } from "../../core/show/take.ts";
import { KINDS, NO_FILTER, type TrafficFilter, type TrafficKind } from "../../core/trace/traffic-store.ts";
import type { Tone } from "../../core/trace/words.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { Button, Key, TextField } from "../parts/controls.tsx";
import { Select } from "../parts/Select.tsx";
import { download } from "../profiles/profile-files.ts";
import { RateChart } from "./RateChart.tsx";
import { became, bytesWords, clockWords, deviceName, readsAs } from "./row-words.ts";
import { takeOf } from "./take-of.ts";
import { type TrafficHandle, useTraffic } from "./use-traffic.ts";

const ROW_PX = 30;
const COLUMNS = "grid grid-cols-[98px_16px_112px_104px_minmax(0,1fr)_minmax(0,300px)] gap-2.5 px-4";
const TONES: Record<Tone, string> = {
  done: "text-ink-300",
  care: "text-care",
  alert: "text-alert",
  quiet: "text-ink-500",
};
const KIND_WORDS: Record<TrafficKind, string> = {
  every: "every kind",
  note: "notes",
  controller: "controllers",
  program: "programs",
  bend: "bends",
  sysex: "SysEx",
  osc: "OSC",
  line: "lines",
  other: "all else",
};
const PILL = "h-[26px] !rounded-full px-3";

/** Everything that came and went, newest first; it lies over the place that is open. */
export function TrafficPanel() {
  const open = usePage((s) => s.trafficOpen);
  return open ? <Panel /> : null;
}

function Panel() {
  const store = usePageStore();
  const [filter, setFilter] = useState<TrafficFilter>(NO_FILTER);
  const [paused, setPaused] = useState(false);
  // What is read must not run away: a list that is not at its top waits as if it were paused.
  const [reading, setReading] = useState(false);
  const traffic = useTraffic(filter, paused || reading);
  const { kept, matched, waiting, rates } = traffic.list;
  const set = (change: Partial<TrafficFilter>) => setFilter((f) => ({ ...f, ...change }));
  const surfaces = useLive((l) => l.show.surfaces);
  const desks = useLive((l) => l.show.desks);
  const controls = useLive((l) => l.compiled.surfaces.find((s) => s.id === filter.device)?.profile.controls);
  const refused = useLive((l) => l.refused);
  const names = useMemo(() => new Map([...surfaces, ...desks].map((d) => [d.id, d.name])), [surfaces, desks]);
  const save = async () => {
    const { compiled } = store.getState().live;
    const wires = new Map(compiled.desks.map((d) => [d.id, TAKE_WIRES[d.profile.wire.kind]]));
    const { text, left } = takeOf(await traffic.all(), wires);
    download("velvet-hinge.take.jsonl", text, "application/jsonl");
    if (left > 0)
      toast(`${left} messages are not in the take`, { description: "They were too long to be kept whole." });
  };
  const copy = async () => {
    const live = store.getState().live;
    const rows = await traffic.all();
    const lines = rows.map((r) =>
      [
        clockWords(r.atMs),
        r.out ? "out" : "in",
        deviceName(live, r),
        bytesWords(live, r),
        readsAs(live, r),
        became(live, r).text,
      ].join("\t"),
    );
    await navigator.clipboard.writeText(`${lines.join("\n")}\n`);
    toast(`${rows.length} rows copied`);
  };
  return (
    <section
      aria-label="All traffic"
      className="leaf absolute inset-x-0 bottom-10 z-30 grid h-[64%] grid-rows-[auto_auto_auto_minmax(0,1fr)] border-t border-brass-700 shadow-[0_-20px_40px_#000a]"
      onKeyDown={(e) => {
        if (e.key === " " && !(e.target instanceof HTMLInputElement) && !(e.target instanceof HTMLButtonElement)) {
          setPaused(!paused);
          e.preventDefault();
        }
      }}
    >
      <div className="flex flex-wrap items-center gap-2 px-4 py-3">
        <TextField
          label="Filter by text, number or control"
          placeholder="Text, number, control"
          className="w-[180px]"
          value={filter.text}
          onChange={(e) => set({ text: e.target.value })}
        />
        <Select
          label="Device"
          value={filter.device}
          options={[
            { value: "every", label: "every device" },
            ...[...surfaces, ...desks].map((d) => ({ value: d.id, label: d.name })),
          ]}
          onChange={(device) => set({ device, control: "every" })}
          className={PILL}
        />
        {controls ? (
          <Select
            label="Control"
            value={filter.control}
            options={[
              { value: "every", label: "every control" },
              ...controls.map((c) => ({ value: c.id, label: c.name })),
            ]}
            onChange={(control) => set({ control })}
            className={PILL}
          />
        ) : null}
        <Select
          label="Direction"
          value={filter.ways}
          options={[
            { value: "both", label: "both ways" },
            { value: "in", label: "only in" },
            { value: "out", label: "only out" },
          ]}
          onChange={(v) => set({ ways: v as TrafficFilter["ways"] })}
          className={PILL}
        />
        <Select
          label="Kind"
          value={filter.kind}
          options={KINDS.map((k) => ({ value: k, label: KIND_WORDS[k] }))}
          onChange={(v) => set({ kind: v as TrafficKind })}
          className={PILL}
        />
        <button
          type="button"
          aria-pressed={filter.upkeep}
          onClick={() => set({ upkeep: !filter.upkeep })}
          className="h-[26px] rounded-full bg-velvet-800 px-3 text-small text-ink-300 aria-pressed:bg-velvet-700 aria-pressed:text-ink-100"
        >
          {filter.upkeep ? "with heartbeats" : "no heartbeats"}
        </button>
        <div className="flex-1" />
        <Button size="small" onClick={() => void copy()}>
          Copy
        </Button>
        <Button size="small" onClick={() => void save()}>
          Save as a take
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
        <span className="ml-auto text-small text-ink-500" role="status">
          {refused > 0 ? `${refused} of browsers refused · ` : ""}
          {paused ? "paused, " : reading ? "held while you read, " : ""}
          {paused || reading ? `${waiting} newer waiting · ` : ""}
          {matched} shown of the last {kept}
        </span>
      </div>
      <div className={`${COLUMNS} border-b border-white/10 pb-1.5 text-[11.5px] text-ink-500`}>
        <span>time</span>
        <span />
        <span>device</span>
        <span>bytes</span>
        <span>reads as</span>
        <span>became</span>
      </div>
      <Rows traffic={traffic} onReading={setReading} />
    </section>
  );
}

/** Rows that are fetched beyond those in view, so that a small scroll finds them there. */
const MARGIN = 60;

function Rows({ traffic, onReading }: { traffic: TrafficHandle; onReading(on: boolean): void }) {
  const { list } = traffic;
  const compiled = useLive((l) => l.compiled);
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: list.matched,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    // Rows beyond the edge are there already: a scroll need not wait for React.
    useFlushSync: false,
  });
  const items = virtual.getVirtualItems();
  const first = items[0]?.index ?? 0;
  const last = items.at(-1)?.index ?? 0;
  // A new window only where the last one does not reach: in steps of a margin, not with every row.
  const from = Math.max(0, (Math.floor(first / MARGIN) - 1) * MARGIN);
  const count = (Math.ceil((last + 1) / MARGIN) + 1) * MARGIN - from;
  useEffect(() => {
    traffic.window(from, count);
  }, [traffic.window, from, count]);
  return (
    <div
      ref={scroller}
      className="overflow-y-auto [contain:strict]"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls must be reachable by keys
      tabIndex={0}
      role="log"
      aria-live="off"
      aria-label="Messages, newest first"
      onScroll={(e) => onReading(e.currentTarget.scrollTop > ROW_PX)}
    >
      {list.matched === 0 ? (
        <p className="px-4 py-3 text-ink-500">Nothing fits. Widen the filter, or touch a control.</p>
      ) : null}
      <div className="relative" style={{ height: virtual.getTotalSize() }}>
        {items.map((item) => {
          const row = list.rows[item.index - list.from];
          return row ? <Row key={row.seq} row={row} top={item.start} compiled={compiled} /> : null;
        })}
      </div>
    </div>
  );
}

// Words are made once for a row, not again with every level that moves; a new show has new names.
const Row = memo(
  function Row({ row, top }: { row: TrafficEntry; top: number; compiled: CompiledShow }) {
    const { live } = usePageStore().getState();
    const end = became(live, row);
    return (
      <div
        data-row={row.seq}
        className={`${COLUMNS} absolute inset-x-0 items-center border-b border-white/5 text-[12.5px] whitespace-nowrap [&>span]:overflow-hidden [&>span]:text-ellipsis`}
        style={{ top, height: ROW_PX }}
      >
        <span className="font-mono text-small text-ink-500">{clockWords(row.atMs)}</span>
        <span className={row.out ? "text-warm" : "text-cool"} title={row.out ? "out" : "in"}>
          {row.out ? "▸" : "◂"}
        </span>
        <span>{deviceName(live, row)}</span>
        <span className="font-mono text-small text-ink-300">{bytesWords(live, row)}</span>
        <span>{readsAs(live, row)}</span>
        <span className={TONES[end.tone]}>{end.text}</span>
      </div>
    );
  },
  (a, b) => a.row.seq === b.row.seq && a.row.code === b.row.code && a.top === b.top && a.compiled === b.compiled,
);
