/**
 * Labels of a surface as they lie on it, in millimetres: pads in the grid they stand in, everything else a strip for each
 * row.
 */
import type { Control, SurfaceProfile } from "../format/surface-profile.ts";

/** What stands on a label. */
export interface LabelWords {
  readonly name: string;
  /** How it acts, in a word. */
  readonly note: string;
  /** "#rrggbb"; null = it has none. */
  readonly colour: string | null;
}

export interface Label extends LabelWords {
  readonly control: string;
  /** The control as it is numbered on the surface. */
  readonly number: string;
  /** Of its upper left corner in the block. */
  readonly xMm: number;
  readonly yMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
}

export interface LabelBlock {
  /** "Deck grid, pads" */
  readonly title: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly labels: readonly Label[];
}

export interface LabelSize {
  /** Width of one pad, which is the unit that a surface is drawn in, and height of one in a grid. */
  readonly padWidthMm: number;
  readonly padHeightMm: number;
  /** Height of a strip. */
  readonly stripMm: number;
}

/** A row lower than this share of a pad is no grid of caps but a strip. */
const LEAST_PAD = 0.75;
const NEAR = 0.02;

/** `words` tells what a control does; null = it is free. Free controls are left out where `empty` is false. */
export function labelBlocks(
  profile: SurfaceProfile,
  name: string,
  size: LabelSize,
  words: (control: Control) => LabelWords | null,
  empty: boolean,
): LabelBlock[] {
  return groupsOf(profile.controls).flatMap((rows): LabelBlock[] => {
    const controls = rows.flat();
    const first = controls[0]!;
    const isGrid = rows.length > 1 || isPad(first);
    const left = Math.min(...controls.map((c) => c.box.x));
    const top = first.box.y;
    const labels = controls.flatMap((control): Label[] => {
      const said = words(control);
      if (!said && !empty) return [];
      const { box } = control;
      return [
        {
          ...(said ?? { name: "", note: "", colour: null }),
          control: control.id,
          number: /\d+/.exec(control.name)?.[0] ?? control.name,
          xMm: (box.x - left) * size.padWidthMm,
          yMm: isGrid ? (box.y - top) * size.padHeightMm : 0,
          widthMm: box.width * size.padWidthMm,
          heightMm: isGrid ? box.height * size.padHeightMm : size.stripMm,
        },
      ];
    });
    if (labels.length === 0) return [];
    return [
      {
        title: `${name}, ${first.kind}s`,
        widthMm: Math.max(...labels.map((l) => l.xMm + l.widthMm)),
        heightMm: Math.max(...labels.map((l) => l.yMm + l.heightMm)),
        labels,
      },
    ];
  });
}

function isPad({ kind, box }: Control): boolean {
  return (kind === "pad" || kind === "button") && box.height >= LEAST_PAD && box.height <= 2 * box.width;
}

/** Rows of controls that are alike, from the top; rows of pads that touch are one group. */
function groupsOf(controls: readonly Control[]): Control[][][] {
  const rows = new Map<string, Control[]>();
  // What lies in the surface's further banks lies where the first one does, and is labelled by it.
  for (const control of controls.filter((c) => c.bank === undefined)) {
    const { y, width, height } = control.box;
    const key = [control.kind, y, width, height].map((v) => (typeof v === "number" ? v.toFixed(2) : v)).join(" ");
    rows.set(key, [...(rows.get(key) ?? []), control]);
  }
  const sorted = [...rows.values()]
    .map((row) => row.toSorted((a, b) => a.box.x - b.box.x))
    .sort((a, b) => a[0]!.box.y - b[0]!.box.y || a[0]!.box.x - b[0]!.box.x);
  const groups: Control[][][] = [];
  for (const row of sorted) {
    const group = groups.find((g) => goesOn(g.at(-1)![0]!, row[0]!));
    if (group) group.push(row);
    else groups.push([row]);
  }
  return groups;
}

function goesOn(above: Control, below: Control): boolean {
  const isSame = above.kind === below.kind && Math.abs(above.box.width - below.box.width) < NEAR;
  const touches = Math.abs(above.box.y + above.box.height - below.box.y) < 0.15;
  return isSame && touches && isPad(above) && isPad(below);
}
