import { type KeyboardEvent, type MouseEvent, memo, useEffect, useLayoutEffect, useRef, useState } from "react";
import { rowWords } from "../../words/traffic.ts";
import { liveNames } from "../live/row-names.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { type BlocksView, COLUMNS, ROW_PX, RowBlocks, rowId } from "./row-blocks.ts";
import type { Rows } from "./traffic-messages.ts";
import type { TrafficCalls } from "./use-traffic.ts";

/** Rows that are fetched beyond those on the page, so that a small scroll finds them there. */
const MARGIN = 60;

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
  const { matched, onReading } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const hand = useChoosing(props, scroller);
  const host = useRows(props, scroller, hand.current);
  return (
    <div className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)]">
      <div className={`${COLUMNS} border-b border-velvet-700 pb-1.5 text-[11.5px] text-ink-500`}>
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
        <div ref={host} role="presentation" className="relative" style={{ height: matched * ROW_PX }} />
        {matched === 0 ? (
          <p className="px-4 py-3 text-ink-500">Nothing fits. Widen the filter, or touch a control.</p>
        ) : null}
      </div>
    </div>
  );
});

/** Keeps the rows on the page as the list stands; returns what they are to be put into. */
function useRows(
  { rows, matched, chosen, calls }: Props,
  scroller: { readonly current: HTMLDivElement | null },
  current: number | null,
) {
  const store = usePageStore();
  const compiled = useLive((l) => l.compiled);
  const host = useRef<HTMLDivElement>(null);
  const blocks = useRef<RowBlocks | null>(null);
  const fetched = useRef("");
  // A new part only where the last one does not reach: in steps of a margin, not with every row.
  const fetch = useRef(([first, end]: readonly [number, number]) => {
    const from = Math.max(0, (Math.floor(first / MARGIN) - 1) * MARGIN);
    const count = (Math.ceil(end / MARGIN) + 1) * MARGIN - from;
    if (fetched.current === `${from} ${count}`) return;
    fetched.current = `${from} ${count}`;
    calls.window(from, count);
  });
  useLayoutEffect(() => {
    blocks.current ??= new RowBlocks(scroller.current!, host.current!);
    const view: BlocksView = {
      matched,
      rowAt: (index) => rows.rows[index - rows.from],
      words: (row) => rowWords(row, liveNames(store.getState().live)),
      show: compiled,
      isChosen: (row) => chosen.has(row.seq),
      isCurrent: (row) => row.seq === current,
    };
    fetch.current(blocks.current.show(view));
  }, [scroller, store, rows, matched, compiled, chosen, current]);
  useEffect(() => {
    const box = scroller.current!;
    const draw = () => {
      if (blocks.current) fetch.current(blocks.current.draw());
    };
    const scrolled = () => {
      calls.scrolled();
      draw();
    };
    const size = new ResizeObserver(draw);
    size.observe(box);
    box.addEventListener("scroll", scrolled, { passive: true });
    return () => {
      size.disconnect();
      box.removeEventListener("scroll", scrolled);
    };
  }, [scroller, calls]);
  return host;
}

/** Rows are chosen by a click, with Shift from the last one on; by keys with the arrows and Enter. */
function useChoosing(
  { rows, matched, calls, onReading, onChoose }: Props,
  scroller: { current: HTMLDivElement | null },
) {
  /** The row that keys act on, by its number. */
  const [current, setCurrent] = useState<number | null>(null);
  const rowAt = (index: number) => rows.rows[index - rows.from];
  const indexOf = (seq: number | null) => {
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
    const here = indexOf(current);
    const index = here < 0 ? Math.ceil(box.scrollTop / ROW_PX) : Math.max(0, Math.min(matched - 1, here + by));
    const row = rowAt(index);
    if (!row) return;
    onReading(true);
    if (shift && current !== null) onChoose(current, row.seq);
    setCurrent(row.seq);
    const top = index * ROW_PX;
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
