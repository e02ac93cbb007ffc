/** How long a thread of this process has had a processor, so that one that hangs is told from one that waits for its turn. */
import { readFileSync } from "node:fs";

/** Linux counts in hundredths of a second here on every machine (proc(5), `sysconf(_SC_CLK_TCK)`). */
const TICK_MS = 10;
/** Places of utime and stime behind the name of the thread (proc(5), `/proc/pid/stat`). */
const UTIME = 11;
const STIME = 12;

/** Time on a processor since the thread began, in ms; null where the system does not tell, or 0 is its number. */
export function threadTimeMs(thread: number): number | null {
  if (thread <= 0) return null;
  try {
    const stat = readFileSync(`/proc/self/task/${thread}/stat`, "latin1");
    // The name may have blanks and brackets in it.
    const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
    const ms = (Number(fields[UTIME]) + Number(fields[STIME])) * TICK_MS;
    return Number.isFinite(ms) ? ms : null;
  } catch {
    return null; // another system, or the thread is gone
  }
}
