/** Blocks of labels on sheets of paper or along a tape, in millimetres, with room for cut marks around them. */
import type { Label, LabelBlock } from "./label-blocks.ts";

export interface Paper {
  readonly widthMm: number;
  /** Of a tape, how long it may become is no matter: it is cut. */
  readonly heightMm: number;
  readonly isTape: boolean;
}

export const PAPERS = {
  a4: { widthMm: 210, heightMm: 297, isTape: false },
  letter: { widthMm: 215.9, heightMm: 279.4, isTape: false },
  tape: { widthMm: 600, heightMm: 24, isTape: true },
} as const satisfies Record<string, Paper>;

/** Kept free at the edge of a sheet, which printers need, and above the blocks for the head line. */
export const MARGIN_MM = 17;
const TAPE_MARGIN_MM = 6;
/** Between two blocks: cut marks of both stand in it. */
const GAP_MM = 15;

export interface PlacedBlock {
  readonly block: LabelBlock;
  readonly xMm: number;
  readonly yMm: number;
}

export interface Sheet {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly placed: readonly PlacedBlock[];
}

/** No block is drawn smaller than it is: one that is too wide or too high goes on in the next. */
export function labelSheets(blocks: readonly LabelBlock[], paper: Paper): Sheet[] {
  return paper.isTape ? tapes(blocks, paper) : pages(blocks, paper);
}

function pages(blocks: readonly LabelBlock[], { widthMm, heightMm }: Paper): Sheet[] {
  const room = { width: widthMm - 2 * MARGIN_MM, height: heightMm - 2 * MARGIN_MM };
  const sheets: { placed: PlacedBlock[] }[] = [];
  let y = Number.POSITIVE_INFINITY;
  for (const block of blocks.flatMap((b) => pieces(b, room.width, room.height))) {
    if (y + block.heightMm > heightMm - MARGIN_MM + 0.001) {
      sheets.push({ placed: [] });
      y = MARGIN_MM;
    }
    sheets.at(-1)!.placed.push({ block, xMm: MARGIN_MM, yMm: y });
    y += block.heightMm + GAP_MM;
  }
  return sheets.map(({ placed }) => ({ widthMm, heightMm, placed }));
}

/** Each row of labels is a length of tape of its own. */
function tapes(blocks: readonly LabelBlock[], { widthMm, heightMm }: Paper): Sheet[] {
  return blocks
    .flatMap((block) => rowsOf(block))
    .flatMap((row) => pieces(row, widthMm - 2 * TAPE_MARGIN_MM, Number.POSITIVE_INFINITY))
    .map((block) => {
      const height = Math.min(block.heightMm, heightMm - 4);
      const labels = block.labels.map((l) => ({ ...l, heightMm: Math.min(l.heightMm, height) }));
      const placed = { ...block, labels, heightMm: height };
      return {
        widthMm: block.widthMm + 2 * TAPE_MARGIN_MM,
        heightMm,
        placed: [{ block: placed, xMm: TAPE_MARGIN_MM, yMm: (heightMm - height) / 2 }],
      };
    });
}

function rowsOf(block: LabelBlock): LabelBlock[] {
  const tops = [...new Set(block.labels.map((l) => l.yMm))].sort((a, b) => a - b);
  return tops.map((top) =>
    blockOf(
      block.title,
      block.labels.filter((l) => l.yMm === top),
    ),
  );
}

/** A block in pieces that fit, cut between labels. A single label that does not fit stays whole. */
function pieces(block: LabelBlock, width: number, height: number): LabelBlock[] {
  if (block.widthMm <= width + 0.001 && block.heightMm <= height + 0.001) return [block];
  const found = new Map<string, Label[]>();
  const across = starts(block.labels, "xMm", "widthMm", width);
  const down = starts(block.labels, "yMm", "heightMm", height);
  for (const label of block.labels) {
    const key = `${across.findLastIndex((x) => label.xMm >= x)} ${down.findLastIndex((y) => label.yMm >= y)}`;
    found.set(key, [...(found.get(key) ?? []), label]);
  }
  return [...found.values()].map((labels) => blockOf(block.title, labels));
}

/** Where each piece begins along one direction. */
function starts(labels: readonly Label[], at: "xMm" | "yMm", size: "widthMm" | "heightMm", room: number): number[] {
  const sorted = labels.toSorted((a, b) => a[at] - b[at]);
  const found = [sorted[0]![at]];
  for (const label of sorted) if (label[at] + label[size] - found.at(-1)! > room + 0.001) found.push(label[at]);
  return found;
}

function blockOf(title: string, labels: readonly Label[]): LabelBlock {
  const left = Math.min(...labels.map((l) => l.xMm));
  const top = Math.min(...labels.map((l) => l.yMm));
  const moved = labels.map((l) => ({ ...l, xMm: l.xMm - left, yMm: l.yMm - top }));
  return {
    title,
    labels: moved,
    widthMm: Math.max(...moved.map((l) => l.xMm + l.widthMm)),
    heightMm: Math.max(...moved.map((l) => l.yMm + l.heightMm)),
  };
}
