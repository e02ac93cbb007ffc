/**
 * What was sent and has not come back, the oldest first: drafts return in the order they were sent, while the next is
 * already being typed. A draft that comes back must not take the place of what has been typed since.
 */
export type SentDrafts = readonly string[];

/** What is still awaited after this came back; null = it was not sent from here, and nothing that was will come. */
export function afterReturn(sent: SentDrafts, text: string): SentDrafts | null {
  const at = sent.indexOf(text);
  return at < 0 ? null : sent.slice(at + 1);
}

/** A draft as a text that is the same however its fields are ordered: the server orders them as the format does. */
export function draftText(draft: object): string {
  return JSON.stringify(draft, (_, value: unknown) =>
    typeof value === "object" && value !== null && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  );
}
