/** Rows of the bench, and the table they are printed as. */
export interface Row {
  id: string;
  value: number;
  unit: string;
  /** Beside the bare loop or the bare relay of the same run. */
  ratio: number;
  wanted: string;
  ok: boolean;
}

export function table(rows: readonly Row[]): string {
  const cells = [
    ["", "value", "unit", "ratio", "wanted", ""],
    ...rows.map((r) => [r.id, round(r.value), r.unit, round(r.ratio), r.wanted, r.ok ? "ok" : "NOT MET"]),
  ];
  const widths = cells[0]!.map((_, c) => Math.max(...cells.map((row) => row[c]!.length)));
  return cells.map((row) => row.map((cell, c) => cell.padEnd(widths[c]!)).join("  ")).join("\n");
}

function round(value: number): string {
  return Math.abs(value) >= 100 ? value.toFixed(0) : value.toFixed(2);
}
