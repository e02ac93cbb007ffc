/**
 * In the browser: the list of traffic by our own rows, and by a library for windows over long lists, with the same rows.
 * The library says which rows are to be seen and where they stand; rows that leave are used again, as ours are.
 */
import { elementScroll, observeElementOffset, observeElementRect, Virtualizer } from "@tanstack/virtual-core";
import { OUTCOME } from "../../src/core/trace/outcome.ts";
import type { TrafficEntry } from "../../src/core/trace/traffic-entry.ts";
import { type BlocksView, COLUMNS, ROW_PX, RowBlocks } from "../../src/islands/traffic/row-blocks.ts";
import type { RowWords } from "../../src/words/traffic.ts";

const ROWS = 200_000;
/** As many rows beyond those in view as ours keeps. */
const BEYOND = 8;

function entry(index: number): TrafficEntry {
  const plain = { out: index % 2 === 0, side: "surface", device: "deck", a: 1, b: 0, cause: 0, length: 3 } as const;
  return { ...plain, seq: ROWS - index, atMs: index, code: OUTCOME.sent, hex: "b01440" };
}

const words = ({ seq }: TrafficEntry): RowWords => ({
  clock: `12:00:00.${String(seq % 1000).padStart(3, "0")}`,
  device: "Deck grid",
  bytes: "B0 14 40",
  reads: `controller 20 = ${seq % 128}, ch 1`,
  text: "Mast lanterns",
  tone: "good",
});

const view: BlocksView = {
  matched: ROWS,
  rowAt: entry,
  words,
  show: null,
  isChosen: () => false,
  isCurrent: () => false,
};

function ours(scroller: HTMLElement, host: HTMLElement): void {
  const blocks = new RowBlocks(scroller, host);
  scroller.addEventListener("scroll", () => blocks.draw(), { passive: true });
  blocks.show(view);
}

function byLibrary(scroller: HTMLElement, host: HTMLElement): void {
  const shown = new Map<number, HTMLElement>();
  const draw = () => {
    const items = list.getVirtualItems();
    const wanted = new Set(items.map((i) => i.index));
    const free = [...shown.keys()].filter((index) => !wanted.has(index));
    for (const { index, start } of items) {
      if (shown.has(index)) continue;
      const left = free.pop();
      const element = left === undefined ? row(host) : shown.get(left)!;
      if (left !== undefined) shown.delete(left);
      shown.set(index, element);
      const { clock, device, bytes, reads, text } = words(entry(index));
      element.style.transform = `translateY(${start}px)`;
      for (const [i, said] of ["", clock, "▸", device, bytes, reads, text].entries())
        element.children[i]!.textContent = said;
    }
  };
  const list: Virtualizer<HTMLElement, HTMLElement> = new Virtualizer({
    count: ROWS,
    overscan: BEYOND,
    getScrollElement: () => scroller,
    estimateSize: () => ROW_PX,
    scrollToFn: elementScroll,
    observeElementRect,
    observeElementOffset,
    onChange: draw,
  });
  list._didMount();
  list._willUpdate();
  draw();
}

function row(host: HTMLElement): HTMLElement {
  const element = document.createElement("div");
  element.className = `absolute inset-x-0 bg-velvet-900 ${COLUMNS} items-center border-b border-white/5 text-[12.5px] whitespace-nowrap`;
  element.style.height = `${ROW_PX}px`;
  for (let i = 0; i < 7; i++) element.append(document.createElement("span"));
  host.append(element);
  return element;
}

const KINDS = { ours, library: byLibrary };
const asked = new URLSearchParams(location.hash.slice(1)).get("kind") === "library" ? "library" : "ours";
const scroller = document.createElement("div");
scroller.style.cssText = "position:relative;width:1240px;height:420px;overflow-y:auto";
const host = document.createElement("div");
host.style.cssText = `position:relative;height:${ROWS * ROW_PX}px`;
scroller.append(host);
document.body.append(scroller);
KINDS[asked](scroller, host);

/** Scrolls by so many pixels a frame, for so many frames. */
Object.assign(window, {
  play: (pxAFrame: number, frames: number) =>
    new Promise<number>((resolve) => {
      let left = frames;
      const frame = () => {
        scroller.scrollTop += pxAFrame;
        if (--left > 0) requestAnimationFrame(frame);
        else resolve(host.querySelectorAll("div").length);
      };
      requestAnimationFrame(frame);
    }),
});
