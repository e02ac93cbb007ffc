/** All mappings of the show as a table, and the controls that are free, in the place of one surface and its spine. */
import { createSortedRowModel, rowSortingFeature, sortFns, tableFeatures, useTable } from "@tanstack/react-table";
import { useVirtualizer } from "@tanstack/react-virtual";
import { ArrowDown, ArrowUp, ChevronDown, ChevronRight, Table2 } from "lucide-react";
import { memo, type RefObject, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Button, Key } from "../../components/controls.tsx";
import { useLive, usePage, usePageStore } from "../../live/store.ts";
import { BulkBar } from "./BulkBar.tsx";
import { CoverageStrip } from "./CoverageStrip.tsx";
import { COLUMNS, type Column, gridOf } from "./columns.ts";
import { FilterRow } from "./FilterRow.tsx";
import { TableCell } from "./TableCell.tsx";
import { useTableKeys } from "./table-keys.ts";
import { filtered, type GroupBy, lines, NO_FILTER, type TableRow, tableRows } from "./table-rows.ts";
import { type Ticks, useTicks } from "./ticks.ts";

const ROW_PX = 29;
/** More rows than most screens have in view, so that the places of their elements do not change while it is scrolled. */
const POOL = 64;
const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel(), sortFns });
/** Names and numbers in them are sorted as a person would: pad 2 before pad 10. */
const columns = COLUMNS.map(({ id, name, sortsBy }) => ({
  id,
  header: name,
  accessorFn: sortsBy,
  sortFn: "alphanumeric" as const,
}));

export function MappingTable() {
  const store = usePageStore();
  const show = useLive((l) => l.show);
  const compiled = useLive((l) => l.compiled);
  const [filter, setFilter] = useState(NO_FILTER);
  const groupBy = usePage((s) => s.tableGroups);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set(["name"]));
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  // Names of the desks come and go all the time: rows are made anew with the show, and where something is looked for.
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above
  const all = useMemo(() => tableRows(store.getState().live), [store, show, compiled, filter.text]);
  const data = useMemo(() => filtered(all, filter), [all, filter]);
  const table = useTable({ features, columns, data, getRowId: (r) => r.id });
  const sorted = table.getSortedRowModel().rows;
  const list = useMemo(
    () =>
      lines(
        sorted.map((r) => r.original),
        groupBy,
        folded,
      ),
    [sorted, groupBy, folded],
  );
  const visible = useMemo(() => COLUMNS.filter((c) => !hidden.has(c.id)), [hidden]);
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: list.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 6,
    useFlushSync: false, // rows that are drawn a frame later cost no frame
  });
  const ticks = useTicks(list);
  const keys = useTableKeys({ list, visible, virtual, ticks, scroller });
  const hands = useRef({ keys, ticks });
  hands.current = { keys, ticks };
  const group = useCallback(
    (by: GroupBy) => {
      setFolded(new Set());
      store.setState({ tableGroups: by });
    },
    [store],
  );
  useEffect(() => scroller.current?.focus(), []);
  const items = virtual.getVirtualItems();
  const first = items.find((i) => i.end > (virtual.scrollOffset ?? 0))?.index ?? 0;
  // What leaves at one end comes in at the other: its elements are written anew, which costs half of making others.
  const pool = Math.max(POOL, items.length);
  const inView = Math.ceil((virtual.scrollRect?.height ?? 0) / ROW_PX);
  const fold = (group: string) => {
    const next = new Set(folded);
    if (!next.delete(group)) next.add(group);
    setFolded(next);
  };
  return (
    <section
      className="leaf relative grid min-h-0 grid-rows-[auto_auto_auto_auto_minmax(0,1fr)_auto] border-r border-brass-700 pt-3"
      aria-label="Every mapping"
    >
      <div className="flex items-center gap-3 px-4 pb-2">
        <h1 className="text-head font-semibold whitespace-nowrap">Every mapping</h1>
        <span className="text-ink-500">{show.mappings.length.toLocaleString("en")} in this show</span>
        <span className="flex-1" />
        <Button onClick={() => store.setState({ tableOpen: false })}>
          <Table2 size={14} aria-hidden /> Back to the surface <Key>T</Key>
        </Button>
      </div>
      <CoverageStrip filter={filter} onFilter={setFilter} />
      <FilterRow
        rows={all}
        filter={filter}
        groupBy={groupBy}
        hidden={hidden}
        onFilter={setFilter}
        onGroupBy={group}
        onHidden={setHidden}
      />
      <div
        className="grid h-7 items-center gap-2 border-b border-velvet-600 px-4 text-[11.5px] text-ink-500"
        style={{ gridTemplateColumns: gridOf(visible) }}
      >
        <input
          type="checkbox"
          aria-label="Choose all rows"
          checked={ticks.all}
          onChange={() => ticks.setAll(!ticks.all)}
          className="accent-brass-400"
        />
        {visible.map((c) => (
          <SortHead
            key={c.id}
            column={c}
            sorted={table.getColumn(c.id)?.getIsSorted() ?? false}
            onSort={() => table.getColumn(c.id)?.toggleSorting()}
          />
        ))}
      </div>
      {/* biome-ignore lint/a11y/useSemanticElements: ten thousand rows, of which those in view are on the page */}
      <div
        ref={scroller}
        role="grid"
        tabIndex={0}
        id="mapping-table"
        aria-label="Mappings"
        aria-multiselectable="true"
        aria-rowcount={list.length}
        aria-colcount={visible.length + 1}
        aria-activedescendant={keys.activeId}
        onKeyDown={keys.onKeyDown}
        onMouseDown={(e) => {
          // The grid keeps the focus, so that its keys go on; a field that is open keeps it too.
          if ((e.target as Element).closest("input:not([type=checkbox]),select,label")) return;
          e.preventDefault();
          e.currentTarget.focus();
        }}
        className="group/grid overflow-y-auto outline-none [contain:strict] focus-visible:shadow-[inset_0_0_0_1px_var(--color-brass-700)]"
      >
        <div role="presentation" className="relative" style={{ height: virtual.getTotalSize() }}>
          {items.map((item) => {
            const line = list[item.index]!;
            const at = { top: item.start, height: ROW_PX };
            return line.kind === "head" ? (
              <GroupHead
                key={`head ${item.index % pool}`}
                at={at}
                index={item.index}
                name={line.name}
                count={line.count}
                span={visible.length + 1}
                isFolded={folded.has(line.group)}
                isActive={keys.row === item.index}
                onFold={() => fold(line.group)}
              />
            ) : (
              <Row
                key={`row ${item.index % pool}`}
                top={item.start}
                index={item.index}
                row={line.row}
                visible={visible}
                isTicked={ticks.has(line.row.id)}
                active={keys.row === item.index ? keys.column : null}
                isEditing={keys.editing && keys.row === item.index}
                hands={hands}
              />
            );
          })}
        </div>
        {list.length === 0 ? <p className="px-4 py-4 text-ink-500">{nothingWords(filter.only)}</p> : null}
      </div>
      <div
        className="flex min-h-7 items-center gap-3 border-t border-velvet-700 px-4 text-small text-ink-500"
        role="status"
      >
        <span className="flex-1">
          {list.length === 0
            ? "no rows"
            : `rows ${(first + 1).toLocaleString("en")} to ${Math.min(list.length, first + inView).toLocaleString("en")} of ${list.length.toLocaleString("en")}`}
        </span>
        <span>Enter changes a cell · Space chooses · Shift and Ctrl choose more</span>
      </div>
      {ticks.rows.length > 0 ? <BulkBar rows={ticks.rows} onNone={() => ticks.setAll(false)} /> : null}
    </section>
  );
}

function nothingWords(only: string): string {
  if (only === "clashing") return "No clash.";
  if (only === "off") return "Nothing is off.";
  return "Nothing fits. Widen the filter.";
}

function SortHead({ column, sorted, onSort }: { column: Column; sorted: false | "asc" | "desc"; onSort(): void }) {
  return (
    <button
      type="button"
      onClick={onSort}
      aria-label={`Sort by ${column.name}`}
      className="flex min-w-0 items-center gap-1 overflow-hidden text-left hover:text-ink-100"
    >
      {column.name}
      {sorted === "asc" ? <ArrowUp size={11} aria-hidden /> : null}
      {sorted === "desc" ? <ArrowDown size={11} aria-hidden /> : null}
    </button>
  );
}

interface At {
  readonly top: number;
  readonly height: number;
}

function GroupHead(props: {
  at: At;
  index: number;
  name: string;
  count: number;
  span: number;
  isFolded: boolean;
  isActive: boolean;
  onFold(): void;
}) {
  const { at, index, name, count, span, isFolded, isActive, onFold } = props;
  return (
    // biome-ignore lint/a11y/useFocusableInteractive: the grid has the focus, and tells which row is active
    // biome-ignore lint/a11y/useSemanticElements: only the rows in view are on the page
    <div
      role="row"
      aria-rowindex={index + 1}
      id={`table-${index}`}
      className={`absolute right-0 left-0 flex border-b border-velvet-800 bg-velvet-850 ${isActive ? "outline -outline-offset-1 outline-brass-500" : ""}`}
      style={at}
    >
      {/* biome-ignore lint/a11y/useFocusableInteractive: the grid has the focus, and tells which cell is active */}
      {/* biome-ignore lint/a11y/useSemanticElements: only the rows in view are on the page */}
      <span role="gridcell" aria-colspan={span} className="flex min-w-0 flex-1">
        <button
          type="button"
          tabIndex={-1}
          aria-expanded={!isFolded}
          onClick={onFold}
          className="flex h-full w-full items-center gap-2.5 px-4 text-[12.5px]"
        >
          {isFolded ? <ChevronRight size={14} aria-hidden /> : <ChevronDown size={14} aria-hidden />}
          <b className="min-w-0 overflow-hidden text-ellipsis whitespace-nowrap">
            <bdi>{name}</bdi>
          </b>
          <span className="text-ink-500">{count.toLocaleString("en")} rows</span>
        </button>
      </span>
    </div>
  );
}

interface RowProps {
  top: number;
  index: number;
  row: TableRow;
  visible: readonly Column[];
  isTicked: boolean;
  /** Its active cell; null = none of them. */
  active: number | null;
  isEditing: boolean;
  /** What hands do, as it is when they do it: a row is not drawn anew for it. */
  hands: RefObject<{ readonly keys: ReturnType<typeof useTableKeys>; readonly ticks: Ticks }>;
}

/** While the table is scrolled, only rows that come into view are drawn. */
const Row = memo(function Row({ top, index, row, visible, isTicked, active, isEditing, hands }: RowProps) {
  const dim = row.mapping !== null && !row.isOn;
  return (
    // biome-ignore lint/a11y/useFocusableInteractive: the grid has the focus, and tells which cell is active
    // biome-ignore lint/a11y/useSemanticElements: only the rows in view are on the page
    <div
      role="row"
      aria-rowindex={index + 1}
      aria-selected={isTicked}
      data-row={row.id}
      className={`absolute right-0 left-0 grid items-center gap-2 border-b border-velvet-800 px-4 text-[12.5px] hover:bg-velvet-850 ${isTicked ? "bg-armed" : ""} ${dim ? "text-ink-500" : ""}`}
      style={{ top, height: ROW_PX, gridTemplateColumns: gridOf(visible) }}
    >
      {/* biome-ignore lint/a11y/useFocusableInteractive: the grid has the focus, and tells which cell is active */}
      {/* biome-ignore lint/a11y/useSemanticElements: only the rows in view are on the page */}
      <span role="gridcell" className="flex">
        <input
          type="checkbox"
          tabIndex={-1}
          aria-label={`Choose ${row.controlName}`}
          checked={isTicked}
          onClick={(e) => hands.current.ticks.tick(index, e.shiftKey)}
          onChange={() => {}}
          className="accent-brass-400"
        />
      </span>
      {visible.map((column, c) => (
        <TableCell
          // What is typed for one row never lands in another that comes to its place.
          key={isEditing && active === c ? `${column.id} ${row.id}` : column.id}
          id={`table-${index}-${c}`}
          row={row}
          column={column.id}
          isActive={active === c}
          isEditing={isEditing && active === c}
          onActive={() => hands.current.keys.goTo(index, c)}
          onEdit={() => hands.current.keys.edit(index, c)}
          onDone={(move) => hands.current.keys.done(move)}
        />
      ))}
    </div>
  );
});
