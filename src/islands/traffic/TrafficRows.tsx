import { useVirtualizer } from "@tanstack/react-virtual";
import { clsx } from "clsx";
import { Check } from "lucide-react";
import { type KeyboardEvent, type MouseEvent, memo, useEffect, useRef, useState } from "react";
import type { TrafficEntry } from "../../core/live/protocol.ts";
import type { CompiledShow } from "../../core/mapping/compile.ts";
import type { Tone } from "../../core/trace/words.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { became, bytesWords, clockWords, deviceName, readsAs } from "./row-words.ts";
import type { Rows } from "./traffic-messages.ts";
import type { TrafficCalls } from "./use-traffic.ts";

const ROW_PX = 30;
/** Rows are put on the page by the block: a scroll then costs a redraw every few rows, not every row. */
const ROWS_A_BLOCK = 4;
/** Blocks on the page before and behind those in view. */
const BLOCKS_BEYOND = 2;
const BLOCK_PX = ROWS_A_BLOCK * ROW_PX;
/** Rows that are fetched beyond those on the page, so that a small scroll finds them there. */
const MARGIN = 60;
const COLUMNS = "grid grid-cols-[14px_98px_16px_112px_104px_minmax(0,1fr)_minmax(0,300px)] gap-2.5 px-4";
const TONES: Record<Tone, string> = {
  done: "text-ink-300",
  care: "text-care",
  alert: "text-alert",
  quiet: "text-ink-500",
};
const rowId = (seq: number) => `traffic-${seq}`;

interface Props {
  rows: Rows;
  matched: number;
  /** Numbers of the rows that are chosen. */
  chosen: ReadonlySet<number>;
  calls: TrafficCalls;
  /** The list was scrolled down, or is gone through by keys: it must stand still. */
  onReading(on: boolean): void;
  /** Turns the choice of one row round, or chooses all from one to another. */
  onChoose(from: number, to: number | null): void;
}

/** The rows, of which only those in view are on the page. */
export const TrafficRows = memo(function TrafficRows(props: Props) {
  const { rows, matched, chosen, calls, onReading } = props;
  const compiled = useLive((l) => l.compiled);
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: Math.ceil(matched / ROWS_A_BLOCK),
    getScrollElement: () => scroller.current,
    estimateSize: () => BLOCK_PX,
    // As many blocks wherever it stands: the one that leaves at one end is the one that comes in at the other.
    rangeExtractor: ({ startIndex, count }) => {
      const inView = Math.ceil((scroller.current?.clientHeight ?? 0) / BLOCK_PX) + 1;
      const length = Math.min(count, inView + 2 * BLOCKS_BEYOND);
      const start = Math.max(0, Math.min(startIndex - BLOCKS_BEYOND, count - length));
      return Array.from({ length }, (_, i) => start + i);
    },
    // Rows beyond the edge are there already: a scroll need not wait for React.
    useFlushSync: false,
  });
  const blocks = virtual.getVirtualItems();
  const first = (blocks[0]?.index ?? 0) * ROWS_A_BLOCK;
  const end = ((blocks.at(-1)?.index ?? 0) + 1) * ROWS_A_BLOCK;
  // A new part only where the last one does not reach: in steps of a margin, not with every row.
  const from = Math.max(0, (Math.floor(first / MARGIN) - 1) * MARGIN);
  const count = (Math.ceil(end / MARGIN) + 1) * MARGIN - from;
  useEffect(() => {
    calls.window(from, count);
  }, [calls, from, count]);
  const hand = useChoosing(props, scroller);
  return (
    <div className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)]">
      <div className={`${COLUMNS} border-b border-white/10 pb-1.5 text-[11.5px] text-ink-500`}>
        <span />
        <span>time</span>
        <span />
        <span>device</span>
        <span>bytes</span>
        <span>reads as</span>
        <span>became</span>
      </div>
      <div
        ref={scroller}
        // A ground of its own: the browser then moves the rows as one picture instead of painting them anew.
        className="overflow-y-auto bg-velvet-900 [contain:strict]"
        tabIndex={0}
        id="traffic-rows"
        role="listbox"
        aria-multiselectable="true"
        aria-label="Messages, newest first"
        aria-activedescendant={hand.current === null ? undefined : rowId(hand.current)}
        onScroll={(e) => onReading(e.currentTarget.scrollTop > ROW_PX)}
        onKeyDown={hand.onKeyDown}
        onMouseDown={hand.onMouseDown}
        onClick={hand.onClick}
        onBlur={hand.onBlur}
      >
        <div role="presentation" className="relative" style={{ height: matched * ROW_PX }}>
          {matched === 0 ? (
            <p className="px-4 py-3 text-ink-500">Nothing fits. Widen the filter, or touch a control.</p>
          ) : null}
          {blocks.map((block) => (
            <div
              key={block.index % blocks.length}
              role="presentation"
              // A picture of its own: a block that comes in leaves the others as they are painted.
              className="absolute inset-x-0 bg-velvet-900 [contain:strict] will-change-transform"
              style={{ transform: `translateY(${block.start}px)`, height: BLOCK_PX }}
            >
              {Array.from({ length: ROWS_A_BLOCK }, (_, i) => {
                const row = rows.rows[block.index * ROWS_A_BLOCK + i - rows.from];
                return row ? (
                  // By place: rows that move on as new ones come only change their words.
                  <Row
                    // biome-ignore lint/suspicious/noArrayIndexKey: see above
                    key={i}
                    row={row}
                    compiled={compiled}
                    isChosen={chosen.has(row.seq)}
                    isCurrent={row.seq === hand.current}
                  />
                ) : null;
              })}
            </div>
          ))}
        </div>
      </div>
    </div>
  );
});

/** Rows are chosen by a click, with Shift from the last one on; by keys with the arrows and Enter. */
function useChoosing(
  { rows, matched, calls, onReading, onChoose }: Props,
  scroller: { current: HTMLDivElement | null },
) {
  /** The row that keys act on, by its number. */
  const [current, setCurrent] = useState<number | null>(null);
  const rowAt = (place: number) => rows.rows[place - rows.from];
  const placeOf = (seq: number | null) => {
    const i = rows.rows.findIndex((r) => r.seq === seq);
    return i < 0 ? -1 : i + rows.from;
  };
  const take = (seq: number, shift: boolean) => {
    onReading(true);
    onChoose(shift && current !== null ? current : seq, shift && current !== null ? seq : null);
    setCurrent(seq);
  };
  const step = (by: number, shift: boolean) => {
    const box = scroller.current!;
    const here = placeOf(current);
    const place = here < 0 ? Math.ceil(box.scrollTop / ROW_PX) : Math.max(0, Math.min(matched - 1, here + by));
    const row = rowAt(place);
    if (!row) return;
    onReading(true);
    if (shift && current !== null) onChoose(current, row.seq);
    setCurrent(row.seq);
    const top = place * ROW_PX;
    if (top < box.scrollTop) box.scrollTop = top;
    else if (top + ROW_PX > box.scrollTop + box.clientHeight) box.scrollTop = top + ROW_PX - box.clientHeight;
  };
  return {
    current,
    onBlur: () => {
      setCurrent(null);
      onReading((scroller.current?.scrollTop ?? 0) > ROW_PX);
    },
    onMouseDown: (e: MouseEvent) => {
      if (!e.shiftKey) return;
      e.preventDefault(); // or the text between the two rows is marked
      scroller.current!.focus({ preventScroll: true });
    },
    onClick: (e: MouseEvent) => {
      const seq = (e.target as Element).closest<HTMLElement>("[data-row]")?.dataset.row;
      // Who marks text with the mouse wants the text.
      if (seq !== undefined && (getSelection()?.isCollapsed ?? true)) take(Number(seq), e.shiftKey);
    },
    onKeyDown: (e: KeyboardEvent) => {
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "a")
        void calls.ask("between", { from: 0, to: Number.MAX_SAFE_INTEGER }).then((all) => {
          const [oldest, newest] = [all[0], all.at(-1)];
          if (oldest !== undefined && newest !== undefined) onChoose(oldest, newest);
        });
      else if (e.key === "ArrowDown") step(1, e.shiftKey);
      else if (e.key === "ArrowUp") step(-1, e.shiftKey);
      else if (e.key === "Enter" && current !== null) take(current, false);
      else return;
      e.preventDefault();
      e.stopPropagation();
    },
  };
}

interface RowProps {
  row: TrafficEntry;
  compiled: CompiledShow;
  isChosen: boolean;
  isCurrent: boolean;
}

// Words are made once for a row, not again with every level that moves; a new show has new names.
const Row = memo(
  function Row({ row, isChosen, isCurrent }: RowProps) {
    const { live } = usePageStore().getState();
    const end = became(live, row);
    return (
      // biome-ignore lint/a11y/useFocusableInteractive: the list has the focus, and says which row is current
      <div
        id={rowId(row.seq)}
        data-row={row.seq}
        role="option"
        aria-selected={isChosen}
        className={clsx(
          COLUMNS,
          "items-center border-b border-white/5 text-[12.5px] whitespace-nowrap",
          isChosen && "bg-brass-400/15",
          isCurrent && "outline outline-1 -outline-offset-1 outline-brass-300",
        )}
        style={{ height: ROW_PX }}
      >
        <span className="text-brass-300">{isChosen ? <Check size={13} aria-hidden="true" /> : null}</span>
        <span className="font-mono text-small text-ink-500">{clockWords(row.atMs)}</span>
        <span
          className={clsx("font-mono text-[15px] leading-none", row.out ? "text-warm" : "text-cool")}
          title={row.out ? "out" : "in"}
        >
          {row.out ? "▸" : "◂"}
        </span>
        <span className="truncate">{deviceName(live, row)}</span>
        <span className="font-mono text-small text-ink-300">{bytesWords(live, row)}</span>
        <span className="truncate">{readsAs(live, row)}</span>
        <span className={clsx("truncate", TONES[end.tone])}>{end.text}</span>
      </div>
    );
  },
  (a, b) =>
    a.row.seq === b.row.seq &&
    a.row.code === b.row.code &&
    a.compiled === b.compiled &&
    a.isChosen === b.isChosen &&
    a.isCurrent === b.isCurrent,
);
