/** The keys of the table: the grid has the focus and one cell is active; Enter changes it, Escape gives it back. */
import type { Virtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, type RefObject, useEffect, useState } from "react";
import { type PageState, usePageStore } from "../../live/store.ts";
import { CHANGED_BY_A_PRESS, type Column } from "./columns.ts";
import type { TableLine } from "./table-rows.ts";
import type { Ticks } from "./ticks.ts";

interface Given {
  readonly list: readonly TableLine[];
  readonly visible: readonly Column[];
  readonly virtual: Virtualizer<HTMLDivElement, Element>;
  readonly ticks: Ticks;
  readonly scroller: RefObject<HTMLDivElement | null>;
}

const PAGE_ROWS = 12;

export function useTableKeys({ list, visible, virtual, ticks, scroller }: Given) {
  const store = usePageStore();
  const [at, setAt] = useState(() => ({ row: firstRow(list, store.getState()), column: 0 }));
  const [editing, setEditing] = useState(false);
  const row = Math.min(at.row, list.length - 1);
  const column = Math.min(at.column, visible.length - 1);
  const goTo = (r: number, c: number) => {
    const next = {
      row: Math.max(0, Math.min(list.length - 1, r)),
      column: Math.max(0, Math.min(visible.length - 1, c)),
    };
    setEditing(false);
    setAt(next);
    virtual.scrollToIndex(next.row);
  };
  const edit = (r: number, c: number) => {
    setAt({ row: r, column: c });
    setEditing(true);
  };
  /** What was changed, or given back; `move`: on to the next cell, as Tab goes. */
  const done = (move = 0) => {
    setEditing(false);
    if (move !== 0) goTo(row, column + move);
    scroller.current?.focus();
  };
  const line = list[row];
  const active = line?.kind === "row" ? line.row : null;
  const isAlone = ticks.rows.length === 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, so that what was chosen is seen
  useEffect(() => virtual.scrollToIndex(row, { align: "center" }), []);
  // What keys and the leaf on the right work on is the row that is seen to be active, also after the rows changed under it.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the row is made anew with each edit, and stays the same by its id
  useEffect(() => {
    if (!isAlone) return;
    const at = active?.about ? { surface: active.surface, control: active.control } : null;
    store.setState({ chosen: at, chosenMapping: at && (active?.mapping?.id ?? null) });
  }, [store, active?.id, isAlone]);
  const moves: Readonly<Record<string, () => void>> = {
    ArrowDown: () => goTo(row + 1, column),
    ArrowUp: () => goTo(row - 1, column),
    ArrowRight: () => goTo(row, column + 1),
    ArrowLeft: () => goTo(row, column - 1),
    PageDown: () => goTo(row + PAGE_ROWS, column),
    PageUp: () => goTo(row - PAGE_ROWS, column),
    Home: () => goTo(0, column),
    End: () => goTo(list.length - 1, column),
    " ": () => ticks.tick(row, false),
  };
  const onKeyDown = (e: KeyboardEvent<HTMLDivElement>) => {
    if (e.target !== e.currentTarget) return; // a cell that is being changed has the keys
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "a") ticks.setAll(true);
    else if (e.shiftKey && (e.key === "ArrowDown" || e.key === "ArrowUp")) {
      if (!ticks.has(idAt(list, row))) ticks.tick(row, false);
      const next = row + (e.key === "ArrowDown" ? 1 : -1);
      if (list[next]?.kind === "row") ticks.tick(next, true);
      goTo(next, column);
    } else if (e.key === "Escape" && ticks.rows.length > 0) ticks.setAll(false);
    else if (e.key === "Escape") store.setState({ tableOpen: false });
    else if (e.key === "Enter" || e.key === "F2") {
      if (line?.kind === "head") (document.querySelector(`#table-${row} button`) as HTMLElement | null)?.click();
      else if (CHANGED_BY_A_PRESS.has(visible[column]!.id))
        (document.querySelector(`#table-${row}-${column} button`) as HTMLElement | null)?.click();
      else setEditing(true);
    } else if (moves[e.key] && !e.ctrlKey && !e.metaKey) moves[e.key]!();
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const activeId = line?.kind === "head" ? `table-${row}` : `table-${row}-${column}`;
  return { row, column, editing, goTo, edit, done, onKeyDown, activeId };
}

/** That of the chosen control; else the first below the head of its group. */
function firstRow(list: readonly TableLine[], { chosen, chosenMapping }: PageState): number {
  const isOf = (l: TableLine) =>
    l.kind === "row" && l.row.surface === chosen?.surface && l.row.control === chosen.control;
  const own = list.findIndex((l) => isOf(l) && l.kind === "row" && l.row.mapping?.id === chosenMapping);
  const first = own >= 0 ? own : list.findIndex(isOf);
  return first >= 0 ? first : 1;
}

function idAt(list: readonly TableLine[], index: number): string {
  const line = list[index];
  return line?.kind === "row" ? line.row.id : "";
}
