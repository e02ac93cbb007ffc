/** The other way round: of each function what starts it. Pure. */
import { type TableRow, type TableSource, tableRows } from "./table/table-rows.ts";

/** "lights playback.go" to the actions that call it, as their controls lie. */
export function startedBy(live: TableSource): Map<string, TableRow[]> {
  const found = new Map<string, TableRow[]>();
  for (const row of tableRows(live)) {
    if (!row.action) continue;
    const key = `${row.action.desk} ${row.action.function}`;
    const list = found.get(key);
    if (list) list.push(row);
    else found.set(key, [row]);
  }
  return found;
}
