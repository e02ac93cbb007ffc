/** Edits on hold, in words. */

export function holdWords(edits: number): string {
  return edits === 0 ? "Edits are held" : `${edits} ${edits === 1 ? "edit" : "edits"} on hold`;
}

/** A time of the day, as the computer of the page has it. */
export function sinceWords(atMs: number): string {
  return new Date(atMs).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });
}
