/** What the table is narrowed to, how it is grouped, and which columns it has. */
import { Search, X } from "lucide-react";
import { Popover } from "radix-ui";
import { memo, useMemo } from "react";
import { Select } from "../../components/Select.tsx";
import { useLive } from "../../live/store.ts";
import { CsvButtons } from "./CsvButtons.tsx";
import { COLUMNS } from "./columns.ts";
import { countsOf, type GroupBy, type Only, type TableFilter, type TableRow } from "./table-rows.ts";

const ONLY: readonly (readonly [Only, string])[] = [
  ["all", "All"],
  ["mapped", "mapped"],
  ["free", "free controls"],
  ["clashing", "clashes"],
  ["off", "off for now"],
];
const GROUPS: readonly { value: GroupBy; label: string }[] = [
  { value: "surface", label: "By surface" },
  { value: "desk", label: "By desk" },
  { value: "holds", label: "By where it holds" },
  { value: "bundle", label: "By bundle" },
  { value: "none", label: "No groups" },
];

interface Props {
  rows: readonly TableRow[];
  filter: TableFilter;
  groupBy: GroupBy;
  hidden: ReadonlySet<string>;
  onFilter(filter: TableFilter): void;
  onGroupBy(by: GroupBy): void;
  onHidden(hidden: ReadonlySet<string>): void;
}

export const FilterRow = memo(function FilterRow({
  rows,
  filter,
  groupBy,
  hidden,
  onFilter,
  onGroupBy,
  onHidden,
}: Props) {
  const counts = useMemo(() => countsOf(rows, filter), [rows, filter]);
  const surfaceName = useLive((l) => l.show.surfaces.find((s) => s.id === filter.surface)?.name);
  return (
    <div className="flex flex-wrap items-center gap-2 px-4 py-2">
      <label className="flex h-7 w-[150px] items-center gap-2 rounded-lg border border-velvet-700 bg-velvet-950 px-2.5 focus-within:border-brass-500">
        <Search size={13} aria-hidden className="text-ink-500" />
        <input
          aria-label="Filter the table"
          placeholder="Text or number"
          value={filter.text}
          onChange={(e) => onFilter({ ...filter, text: e.target.value })}
          onKeyDown={(e) => {
            if (e.key === "Enter" || e.key === "ArrowDown") document.getElementById("mapping-table")?.focus();
            else if (e.key === "Escape") onFilter({ ...filter, text: "" });
            else return;
            e.preventDefault();
            e.stopPropagation();
          }}
          className="min-w-0 flex-1 bg-transparent text-small text-ink-100 outline-none placeholder:text-ink-500"
        />
      </label>
      <div role="toolbar" aria-label="Only" className="flex gap-1.5">
        {ONLY.map(([only, words]) => (
          <button
            key={only}
            type="button"
            aria-pressed={filter.only === only}
            onClick={() => onFilter({ ...filter, only })}
            className={`h-7 rounded-full bg-velvet-800 px-2.5 text-small whitespace-nowrap aria-pressed:bg-velvet-700 aria-pressed:font-semibold aria-pressed:text-ink-100 ${
              only === "clashing" && counts.clashing > 0 ? "text-care" : "text-ink-300"
            }`}
          >
            {words}{" "}
            <span className={`tabular-nums ${filter.only === only ? "text-ink-300" : "text-ink-500"}`}>
              {counts[only].toLocaleString("en")}
            </span>
          </button>
        ))}
      </div>
      {filter.surface !== "" ? (
        <button
          type="button"
          onClick={() => onFilter({ ...filter, surface: "", page: 0 })}
          className="inline-flex h-7 max-w-[200px] items-center gap-1.5 rounded-full bg-armed px-2.5 text-small text-brass-300"
        >
          <span className="overflow-hidden text-ellipsis whitespace-nowrap">
            <bdi>{surfaceName}</bdi>
            {filter.page > 0 ? `, page ${filter.page}` : ""}
          </span>
          <X size={12} aria-label="everywhere again" />
        </button>
      ) : null}
      <span className="flex-1" />
      <Select label="Groups" value={groupBy} options={GROUPS} onChange={onGroupBy} className="h-7 px-2.5" />
      <Popover.Root>
        <Popover.Trigger className="h-7 rounded-lg bg-velvet-800 px-2.5 text-small hover:bg-velvet-700">
          Columns
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="end"
            sideOffset={4}
            className="z-40 grid gap-1.5 rounded-xl border border-velvet-600 bg-velvet-850 p-3 text-small shadow-2xl"
          >
            {COLUMNS.filter((c) => c.id !== "control").map(({ id, name }) => (
              <label key={id} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={!hidden.has(id)}
                  onChange={() => {
                    const next = new Set(hidden);
                    if (!next.delete(id)) next.add(id);
                    onHidden(next);
                  }}
                  className="accent-brass-400"
                />
                {name}
              </label>
            ))}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
      <CsvButtons />
    </div>
  );
});
