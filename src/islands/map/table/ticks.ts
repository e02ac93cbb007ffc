/** Rows of the table that are chosen. */
import { useEffect, useMemo, useState } from "react";
import { usePageStore } from "../../live/store.ts";
import type { TableLine, TableRow } from "./table-rows.ts";

export interface Ticks {
  readonly rows: readonly TableRow[];
  readonly all: boolean;
  has(id: string): boolean;
  /** Turns the choice of the row at this place round; `range`: all from the last one to here are chosen. */
  tick(index: number, range: boolean): void;
  setAll(on: boolean): void;
}

export function useTicks(list: readonly TableLine[]): Ticks {
  const store = usePageStore();
  // What was chosen on the surface stays chosen.
  const [ids, setIds] = useState<ReadonlySet<string>>(() => {
    const { many } = store.getState();
    const isOfMany = (r: TableRow) => r.surface === many?.surface && many.controls.includes(r.control);
    return new Set(list.flatMap((l) => (l.kind === "row" && isOfMany(l.row) ? [l.row.id] : [])));
  });
  const [anchor, setAnchor] = useState<string | null>(null);
  const shown = useMemo(() => list.flatMap((l) => (l.kind === "row" ? [l.row] : [])), [list]);
  const rows = useMemo(() => shown.filter((r) => ids.has(r.id)), [shown, ids]);
  // What is chosen here is chosen in the Map, so that the leaf on the right gives to it.
  useEffect(() => {
    const surfaces = new Set(rows.map((r) => r.surface));
    const controls = [...new Set(rows.filter((r) => r.about).map((r) => r.control))];
    const [surface] = surfaces;
    if (surfaces.size !== 1 || surface === undefined || controls.length === 0) {
      if (store.getState().many) store.setState({ many: null });
      return;
    }
    store.setState({
      chosen: { surface, control: controls[0]! },
      chosenMapping: rows[0]?.mapping?.id ?? null,
      many: controls.length > 1 ? { surface, controls } : null,
    });
  }, [rows, store]);
  return {
    rows,
    all: shown.length > 0 && rows.length === shown.length,
    has: (id) => ids.has(id),
    tick: (index, range) => {
      const line = list[index];
      if (line?.kind !== "row") return;
      const next = new Set(ids);
      const from = range ? list.findIndex((l) => l.kind === "row" && l.row.id === anchor) : -1;
      if (from >= 0)
        for (const l of list.slice(Math.min(from, index), Math.max(from, index) + 1)) {
          if (l.kind === "row") next.add(l.row.id);
        }
      else if (!next.delete(line.row.id)) next.add(line.row.id);
      setAnchor(line.row.id);
      setIds(next);
    },
    setAll: (on) => setIds(on ? new Set(shown.map((r) => r.id)) : new Set()),
  };
}
