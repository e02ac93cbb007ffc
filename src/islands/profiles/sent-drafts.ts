/**
 * What was sent and has not come back: drafts return in the order they were sent, while the next is already being typed.
 * A draft that comes back must not take the place of what has been typed since.
 */
export class SentDrafts {
  #sent: string[] = [];

  sent(text: string): void {
    this.#sent.push(text);
  }

  /** It was not taken, and will not come back. */
  refused(text: string): void {
    this.#sent = this.#sent.filter((t) => t !== text);
  }

  /** True where this is one that was sent from here; those before it will not come any more. */
  isOwn(text: string): boolean {
    const at = this.#sent.indexOf(text);
    this.#sent = at < 0 ? [] : this.#sent.slice(at + 1);
    return at >= 0;
  }
}

/** A draft as a text that is the same however its fields are ordered: the server orders them as the format does. */
export function draftText(draft: object): string {
  return JSON.stringify(draft, (_, value: unknown) =>
    typeof value === "object" && value !== null && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  );
}
