/** Rows of the list as a take: a recording that the dry run reads. */

import { takeEntry, writeTake } from "../format/take.ts";
import type { MessageKind } from "../format/wires.ts";
import { parseHexBytes } from "../midi/hex.ts";
import type { TrafficEntry } from "./traffic-entry.ts";

/** The take, and how many rows are not in it because they were not kept whole or are no messages of a port. */
export function takeOf(
  rows: readonly TrafficEntry[],
  kinds: ReadonlyMap<string, MessageKind>,
): { text: string; left: number } {
  const startMs = rows[0]?.atMs ?? 0;
  let left = 0;
  const entries = rows.flatMap((row) => {
    const bytes = parseHexBytes(row.hex);
    const entry =
      bytes && bytes.length === row.length && row.side !== "browser" && bytes.length > 0
        ? takeEntry(
            Math.max(0, row.atMs - startMs),
            row.device,
            row.out ? "out" : "in",
            bytes,
            kinds.get(row.device) ?? "midi",
          )
        : null;
    if (!entry) left++;
    return entry ? [entry] : [];
  });
  return { text: writeTake(entries), left };
}
