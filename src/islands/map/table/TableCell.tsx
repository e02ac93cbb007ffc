/** One cell: what it says, and the field that it becomes while it is changed. */
import { clsx } from "clsx";
import { TriangleAlert } from "lucide-react";
import type { ReactNode } from "react";
import type { Mapping } from "../../../core/format/show.ts";
import { useActions } from "../../live/actions.ts";
import { useLive, usePageStore } from "../../live/store.ts";
import { editorOf } from "./cell-fields.tsx";
import type { ColumnId } from "./columns.ts";
import { numbersWords, type TableRow } from "./table-rows.ts";

interface Props {
  id: string;
  row: TableRow;
  column: ColumnId;
  isActive: boolean;
  isEditing: boolean;
  onActive(): void;
  onEdit(): void;
  /** Changed, or given back; 1 = and on to the next cell, -1 = to the one before. */
  onDone(move?: number): void;
}

export function TableCell({ id, row, column, isActive, isEditing, onActive, onEdit, onDone }: Props) {
  const editor = isEditing ? editorOf(row, column, onDone) : null;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid has the keys
    // biome-ignore lint/a11y/useFocusableInteractive: the grid has the focus, and tells which cell is active
    // biome-ignore lint/a11y/useSemanticElements: only the rows in view are on the page
    <div
      role="gridcell"
      id={id}
      data-column={column}
      onClick={isEditing ? undefined : onActive}
      onDoubleClick={isEditing ? undefined : onEdit}
      className={clsx(
        "flex h-full min-w-0 items-center",
        editor ? "relative overflow-visible" : "overflow-hidden whitespace-nowrap",
        isActive &&
          !editor &&
          "rounded-sm group-focus/grid:outline group-focus/grid:-outline-offset-1 group-focus/grid:outline-brass-400",
      )}
    >
      {editor ?? <Content row={row} column={column} />}
    </div>
  );
}

function Content({ row, column }: { row: TableRow; column: ColumnId }) {
  const { mapping } = row;
  switch (column) {
    case "control":
      return <ControlName row={row} />;
    case "name":
      return <Text>{mapping?.name}</Text>;
    case "gesture":
      return <Text soft>{row.isFirst ? row.gesture : ""}</Text>;
    case "holds":
      return <Text soft>{row.isFirst ? row.holds : ""}</Text>;
    case "does":
      return <Does row={row} />;
    case "numbers":
      return <Numbers row={row} />;
    case "shape":
      return <Text soft>{row.shape}</Text>;
    case "takeover":
      return <Text soft>{row.takeover}</Text>;
    case "light":
      return mapping ? <Light mapping={mapping} /> : null;
    case "on":
      return <OnSwitch row={row} />;
    default:
      return column satisfies never;
  }
}

function Text({ children, soft }: { children: ReactNode; soft?: boolean }) {
  return (
    <span
      className={`overflow-hidden text-ellipsis whitespace-nowrap ${soft ? "text-ink-300" : ""}`}
      title={typeof children === "string" ? children : undefined}
    >
      {children}
    </span>
  );
}

/** The control; a press goes to it on its surface. */
function ControlName({ row }: { row: TableRow }) {
  const store = usePageStore();
  const { surface, control, controlName, mapping, isFirst } = row;
  return (
    <button
      type="button"
      tabIndex={-1}
      title={`Go to ${controlName} on ${row.surfaceName}`}
      onClick={() =>
        store.setState({
          chosen: { surface, control },
          chosenMapping: mapping?.id ?? null,
          many: null,
          tableOpen: false,
        })
      }
      className={`overflow-hidden text-left text-ellipsis whitespace-nowrap hover:underline ${isFirst ? "font-medium" : "text-ink-500"}`}
    >
      {controlName}
    </button>
  );
}

/** What it does; a free control leads to the functions. */
function Does({ row }: { row: TableRow }) {
  const store = usePageStore();
  const { surface, control, mapping } = row;
  if (mapping)
    return (
      <button
        type="button"
        tabIndex={-1}
        title={`${row.desk} · ${row.does}: go to it`}
        onClick={() =>
          store.setState({ chosen: { surface, control }, chosenMapping: mapping.id, many: null, tableOpen: false })
        }
        className="overflow-hidden text-left text-ellipsis whitespace-nowrap hover:underline"
      >
        {row.desk ? <span className="text-ink-500">{row.desk} · </span> : null}
        {row.does}
      </button>
    );
  return (
    <button
      type="button"
      tabIndex={-1}
      onClick={() => {
        store.setState({ chosen: { surface, control }, chosenMapping: null });
        document.getElementById("function-search")?.focus();
      }}
      className="text-ink-500 hover:text-ink-100"
    >
      free
    </button>
  );
}

/** With the names that the desk has for them now. */
function Numbers({ row }: { row: TableRow }) {
  const { action } = row;
  const words = useLive((l) => {
    const fn = action && l.compiled.desks.find((d) => d.id === action.desk)?.functions.get(action.function);
    return fn ? numbersWords(l, action, fn.parameters) : "";
  });
  if (!action) return null;
  return (
    <span className={`flex min-w-0 items-center gap-1.5 ${row.clashes ? "text-care" : ""}`}>
      {row.clashes ? <TriangleAlert size={12} aria-label="clashes" className="shrink-0" /> : null}
      {words === "" ? (
        <span className="text-ink-500">none</span>
      ) : words.startsWith("up, ") || words === "up" ? (
        <Text>
          <span className="text-cool">up</span>
          {words.slice(2)}
        </Text>
      ) : (
        <Text>{words}</Text>
      )}
    </span>
  );
}

function Light({ mapping }: { mapping: Mapping }) {
  const { colour } = mapping.look;
  return (
    <span className="flex items-center gap-1.5 text-ink-500">
      {colour ? (
        <i
          className="inline-block h-[13px] w-[13px] rounded-[3px] border border-velvet-600"
          style={{ background: colour }}
        />
      ) : null}
      {colour ? "own" : "desk’s"}
    </span>
  );
}

function OnSwitch({ row: { mapping, controlName } }: { row: TableRow }) {
  const actions = useActions();
  if (!mapping) return null;
  return (
    <button
      type="button"
      role="switch"
      tabIndex={-1}
      aria-checked={mapping.on}
      aria-label={`${controlName} is on`}
      onClick={() => void actions.edit({ kind: "change-mapping", id: mapping.id, set: { on: !mapping.on } })}
      className="relative h-[15px] w-[26px] shrink-0 rounded-full bg-velvet-700 aria-checked:bg-brass-400"
    >
      <i
        className={`absolute top-[2px] h-[11px] w-[11px] rounded-full ${mapping.on ? "left-[13px] bg-brass-ink" : "left-[2px] bg-ink-300"}`}
      />
    </button>
  );
}
