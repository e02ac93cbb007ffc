/** The columns of the table, in their order. */
import type { TableRow } from "./table-rows.ts";

export type ColumnId =
  | "control"
  | "name"
  | "gesture"
  | "holds"
  | "does"
  | "numbers"
  | "shape"
  | "takeover"
  | "light"
  | "on";

export interface Column {
  readonly id: ColumnId;
  readonly name: string;
  /** As a column of a CSS grid. */
  readonly width: string;
  /** What its rows are sorted by. */
  sortsBy(row: TableRow): string | number;
}

export const COLUMNS: readonly Column[] = [
  { id: "control", name: "control", width: "minmax(80px,1.1fr)", sortsBy: (r) => r.place },
  { id: "name", name: "name", width: "minmax(70px,1fr)", sortsBy: (r) => r.mapping?.name ?? "" },
  { id: "gesture", name: "gesture", width: "minmax(60px,0.8fr)", sortsBy: (r) => r.gesture },
  { id: "holds", name: "holds", width: "minmax(70px,1.1fr)", sortsBy: (r) => r.holds },
  { id: "does", name: "action", width: "minmax(110px,1.9fr)", sortsBy: (r) => `${r.desk} ${r.does}` },
  { id: "numbers", name: "numbers", width: "minmax(90px,1.7fr)", sortsBy: (r) => r.numbers },
  { id: "shape", name: "shape", width: "minmax(60px,1fr)", sortsBy: (r) => r.shape },
  { id: "takeover", name: "takeover", width: "minmax(54px,0.7fr)", sortsBy: (r) => r.takeover },
  { id: "light", name: "light", width: "66px", sortsBy: (r) => r.light },
  { id: "on", name: "on", width: "36px", sortsBy: (r) => (r.isOn ? 1 : 0) },
];

export const gridOf = (columns: readonly Column[]) => ["18px", ...columns.map((c) => c.width)].join(" ");

/** Cells that Enter works on as a press does: they have no field to type into. */
export const CHANGED_BY_A_PRESS: ReadonlySet<ColumnId> = new Set(["control", "does", "shape", "on"]);
