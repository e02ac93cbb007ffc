/** At a glance: which controls do something on which page. A press on a page narrows the table to it. */
import { memo, useMemo } from "react";
import { useLive } from "../../live/store.ts";
import { type Cell, type Coverage, coverageOf } from "./coverage.ts";
import type { TableFilter } from "./table-rows.ts";

/** Pictures are so many cells high, each of so many px. */
const CELLS_HIGH = 7;
const CELL = 3;
const PITCH = 4;

interface Props {
  filter: TableFilter;
  onFilter(filter: TableFilter): void;
}

export const CoverageStrip = memo(function CoverageStrip({ filter, onFilter }: Props) {
  const show = useLive((l) => l.show);
  const compiled = useLive((l) => l.compiled);
  const coverage = useMemo(() => coverageOf({ show, compiled }), [show, compiled]);
  const pageUp = useLive((l) => {
    const desk = l.compiled.desks.find((d) => d.page);
    return desk ? (l.desks[desk.id]?.page ?? null) : null;
  });
  return (
    <div
      className="flex justify-between gap-4 overflow-x-auto border-b border-velvet-700 px-4 pt-0.5 pb-2.5"
      data-coverage
    >
      {coverage.map((c) => (
        <div key={c.surface} className="shrink-0">
          <button
            type="button"
            onClick={() => onFilter({ ...filter, surface: c.surface, page: 0 })}
            className="mb-1.5 flex gap-2 text-[11.5px] whitespace-nowrap hover:underline"
          >
            <b className="max-w-[160px] overflow-hidden font-semibold text-ellipsis text-ink-300">
              <bdi>{c.name}</bdi>
            </b>
            <span className="text-ink-500">{countWords(c)}</span>
          </button>
          <div className="flex gap-1.5">
            {c.blocks.map(({ page, cells }) => (
              <button
                key={page}
                type="button"
                title={page === 0 ? c.name : `${c.name}, page ${page}`}
                aria-label={page === 0 ? `Only ${c.name}` : `Only ${c.name} on page ${page}`}
                aria-pressed={filter.surface === c.surface && filter.page === page}
                onClick={() => onFilter({ ...filter, surface: c.surface, page })}
                className="grid justify-items-center gap-1 rounded p-0.5 hover:bg-velvet-800 aria-pressed:bg-armed"
              >
                <Cells cells={cells} />
                {page === 0 ? null : (
                  <span
                    className={`px-1 font-mono text-[10.5px] ${page === pageUp ? "text-ink-100 shadow-[0_2px_0_var(--color-cool)]" : "text-ink-500"}`}
                  >
                    {page}
                  </span>
                )}
              </button>
            ))}
          </div>
        </div>
      ))}
    </div>
  );
});

function countWords({ counts, blocks }: Coverage): string {
  const over = blocks.length > 1 ? "on all pages: " : "";
  const clash = counts.clashing > 0 ? `, ${counts.clashing} clash` : "";
  const free = counts.free === 0 ? "none free" : `${counts.free.toLocaleString("en")} free`;
  return `${over}${(counts.mapped + counts.clashing).toLocaleString("en")} mapped${clash}, ${free}`;
}

/** One path for each kind of cell: a wall of a thousand controls is three shapes, not a thousand. */
const Cells = memo(function Cells({ cells }: { cells: readonly Cell[] }) {
  const columns = Math.max(1, Math.ceil(cells.length / CELLS_HIGH));
  const path = (kind: Cell, shape: string) =>
    cells
      .map((c, i) => (c === kind ? `M${(i % columns) * PITCH} ${Math.floor(i / columns) * PITCH}${shape}` : ""))
      .join("");
  const square = `h${CELL}v${CELL}h-${CELL}z`;
  return (
    <svg width={columns * PITCH - 1} height={CELLS_HIGH * PITCH - 1} aria-hidden>
      <path d={path("free", square)} className="fill-velvet-700" />
      <path d={path("mapped", square)} className="fill-ink-500" />
      <path d={path("clashing", `m${CELL / 2} -1l${CELL / 2 + 1} ${CELL + 1}h-${CELL + 2}z`)} className="fill-care" />
    </svg>
  );
});
