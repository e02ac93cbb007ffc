/**
 * The rows on the page, written to by hand and not by React: while thousands of messages come in, a scroll must not
 * wait for anything. A fixed number of rows is used again and again; only what differs is written. A library for windows
 * over long lists takes half as long again for the same rows (bench row `traffic.window`: ours costs 0.64 of it).
 */
import { clsx } from "clsx";
import type { Tone } from "../../core/trace/outcome.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import type { RowWords } from "../../words/traffic.ts";

export const ROW_PX = 30;
/** Rows come in by the block: a scroll then costs a redraw every few rows, not every row. */
const ROWS_A_BLOCK = 4;
const BLOCK_PX = ROWS_A_BLOCK * ROW_PX;
/** Blocks on the page before and behind those in view. */
const BLOCKS_BEYOND = 2;

export const COLUMNS = "grid grid-cols-[14px_98px_16px_112px_104px_minmax(0,1fr)_minmax(0,300px)] gap-2.5 px-4";
const TONES: Record<Tone, string> = {
  good: "text-ink-300",
  care: "text-care",
  alert: "text-alert",
  quiet: "text-ink-500",
};
const CHECK = "M20 6 9 17l-5-5";

export interface BlocksView {
  /** Rows in the list, 0 or more. */
  readonly matched: number;
  rowAt(index: number): TrafficEntry | undefined;
  words(row: TrafficEntry): RowWords;
  /** Words of another show are other words. */
  readonly show: unknown;
  isChosen(row: TrafficEntry): boolean;
  isCurrent(row: TrafficEntry): boolean;
}

export const rowId = (seq: number) => `traffic-${seq}`;

/** Draws into `host`, which lies in `scroller` and is as high as all rows together. */
export class RowBlocks {
  private readonly scroller: HTMLElement;
  private readonly host: HTMLElement;
  private blocks: Block[] = [];
  private view: BlocksView | null = null;

  constructor(scroller: HTMLElement, host: HTMLElement) {
    this.scroller = scroller;
    this.host = host;
  }

  /** What is to be seen has changed. Returns the indexes of the first row on the page and of the one after the last. */
  show(view: BlocksView): readonly [number, number] {
    this.view = view;
    return this.draw();
  }

  /** Puts the rows where the list is scrolled to; returns as `show` does. */
  draw(): readonly [number, number] {
    const { view, scroller } = this;
    if (!view) return [0, 0];
    const all = Math.ceil(view.matched / ROWS_A_BLOCK);
    // As many wherever it stands: the block that leaves at one end is the one that comes in at the other.
    const length = Math.min(all, Math.ceil(scroller.clientHeight / BLOCK_PX) + 1 + 2 * BLOCKS_BEYOND);
    const top = Math.floor(scroller.scrollTop / BLOCK_PX) - BLOCKS_BEYOND;
    const first = Math.max(0, Math.min(top, all - length));
    while (this.blocks.length > length) this.blocks.pop()!.element.remove();
    while (this.blocks.length < length) {
      const block = new Block();
      this.blocks.push(block);
      this.host.append(block.element);
    }
    for (let i = first; i < first + length; i++) this.blocks[i % length]!.write(i, view);
    return [first * ROWS_A_BLOCK, (first + length) * ROWS_A_BLOCK];
  }
}

class Block {
  readonly element = make("div", { role: "presentation" });
  private readonly rows = Array.from({ length: ROWS_A_BLOCK }, () => new Row());
  private index = -1;

  constructor() {
    // A picture of its own on an opaque ground: a block that comes in leaves the others as they are painted.
    this.element.className = "absolute inset-x-0 bg-velvet-900 [contain:strict] will-change-transform";
    this.element.style.height = `${BLOCK_PX}px`;
    this.element.append(...this.rows.map((r) => r.element));
  }

  write(index: number, view: BlocksView): void {
    if (index !== this.index) {
      this.element.style.transform = `translateY(${index * BLOCK_PX}px)`;
      this.index = index;
    }
    for (const [i, row] of this.rows.entries()) row.write(view.rowAt(index * ROWS_A_BLOCK + i), view);
  }
}

class Row {
  readonly element = make("div", { role: "option", hidden: "" });
  private readonly check = make("span", {});
  private readonly clock = new Words("font-mono text-small text-ink-500");
  private readonly way = new Words("");
  private readonly device = new Words("truncate");
  private readonly bytes = new Words("font-mono text-small text-ink-300");
  private readonly reads = new Words("truncate");
  private readonly became = new Words("");
  private row: TrafficEntry | undefined;
  private code = -1;
  private show: unknown;
  private isChosen = false;
  private isCurrent = false;

  constructor() {
    this.check.className = "text-brass-300";
    const words = [this.clock, this.way, this.device, this.bytes, this.reads, this.became];
    this.element.style.height = `${ROW_PX}px`;
    this.element.append(this.check, ...words.map((w) => w.element));
    this.mark(false, false);
  }

  write(row: TrafficEntry | undefined, view: BlocksView): void {
    const isOther = row?.seq !== this.row?.seq;
    // A row that is not there yet has no number, and cannot be chosen.
    if (isOther) this.name(row);
    this.row = row;
    if (!row) return;
    // Words are made once for a row, not again with every level that moves.
    if (isOther || row.code !== this.code || view.show !== this.show) this.word(row, view.words(row));
    this.code = row.code;
    this.show = view.show;
    const isChosen = view.isChosen(row);
    const isCurrent = view.isCurrent(row);
    if (isChosen !== this.isChosen || isCurrent !== this.isCurrent) this.mark(isChosen, isCurrent);
  }

  private name(row: TrafficEntry | undefined): void {
    this.element.hidden = !row;
    if (row) {
      this.element.id = rowId(row.seq);
      this.element.dataset.row = String(row.seq);
    } else {
      this.element.removeAttribute("id");
      delete this.element.dataset.row;
    }
  }

  private word(row: TrafficEntry, words: RowWords): void {
    this.clock.say(words.clock);
    this.way.say(row.out ? "▸" : "◂");
    this.way.look(`font-mono text-[15px] leading-none ${row.out ? "text-warm" : "text-cool"}`);
    this.way.element.title = row.out ? "out" : "in";
    this.device.say(words.device);
    this.bytes.say(words.bytes);
    this.reads.say(words.reads);
    this.became.say(words.text);
    this.became.look(`truncate ${TONES[words.tone]}`);
  }

  private mark(isChosen: boolean, isCurrent: boolean): void {
    this.isChosen = isChosen;
    this.isCurrent = isCurrent;
    this.element.setAttribute("aria-selected", String(isChosen));
    this.element.className = clsx(
      COLUMNS,
      "items-center border-b border-white/5 text-[12.5px] whitespace-nowrap [&[hidden]]:hidden",
      isChosen && "bg-brass-400/15",
      isCurrent && "outline outline-1 -outline-offset-1 outline-brass-300",
    );
    this.check.replaceChildren(...(isChosen ? [tick()] : []));
  }
}

/** One column of a row; the page is touched only where it says something else. */
class Words {
  readonly element = make("span", {});
  private readonly text = document.createTextNode("");
  private saying = "";
  private looking: string;

  constructor(look: string) {
    this.looking = look;
    this.element.className = look;
    this.element.append(this.text);
  }

  say(words: string): void {
    if (words === this.saying) return;
    this.saying = words;
    this.text.data = words;
  }

  look(look: string): void {
    if (look === this.looking) return;
    this.looking = look;
    this.element.className = look;
  }
}

function make<K extends keyof HTMLElementTagNameMap>(kind: K, attributes: Record<string, string>) {
  const element = document.createElement(kind);
  for (const [name, value] of Object.entries(attributes)) element.setAttribute(name, value);
  return element;
}

function tick(): SVGElement {
  const svg = document.createElementNS("http://www.w3.org/2000/svg", "svg");
  const attributes = {
    width: "13",
    height: "13",
    viewBox: "0 0 24 24",
    fill: "none",
    stroke: "currentColor",
    "stroke-width": "2",
    "aria-hidden": "true",
  };
  for (const [name, value] of Object.entries(attributes)) svg.setAttribute(name, value);
  svg.append(document.createElementNS("http://www.w3.org/2000/svg", "path"));
  svg.firstElementChild!.setAttribute("d", CHECK);
  return svg;
}
