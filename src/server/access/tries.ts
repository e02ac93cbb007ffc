/** How often a passcode may be tried: a few slips are free, then each wrong one makes the next wait longer. */

/** Wrong passcodes of one address that cost no wait. */
const FREE_TRIES = 5;
const FIRST_WAIT_MS = 30_000;
const LONGEST_WAIT_MS = 15 * 60_000;
/** A good hour without a try, and an address is forgiven. */
const FORGIVEN_AFTER_MS = 60 * 60_000;
/** Wrong passcodes of all addresses together in ten minutes: whoever has many addresses has no more tries. */
const TOGETHER = 60;
const TOGETHER_WITHIN_MS = 10 * 60_000;

interface Tried {
  count: number;
  lastMs: number;
  waitUntilMs: number;
}

export class Tries {
  readonly #byAddress = new Map<string, Tried>();
  /** When the wrong ones of the last ten minutes were, the oldest first. */
  #recent: number[] = [];

  /** How long this address has to wait, in ms; 0 = it may try now. */
  waitMs(address: string, nowMs: number): number {
    this.#forget(nowMs);
    const own = (this.#byAddress.get(groupOf(address))?.waitUntilMs ?? nowMs) - nowMs;
    const together = this.#recent.length < TOGETHER ? 0 : this.#recent[0]! + TOGETHER_WITHIN_MS - nowMs;
    return Math.max(0, own, together);
  }

  /** A try begins. It counts as wrong until it `succeeded`, so that many at once are no more than many in a row. */
  begin(address: string, nowMs: number): void {
    const group = groupOf(address);
    const count = (this.#byAddress.get(group)?.count ?? 0) + 1;
    const waitMs =
      count < FREE_TRIES ? 0 : Math.min(FIRST_WAIT_MS * 2 ** Math.min(count - FREE_TRIES, 16), LONGEST_WAIT_MS);
    this.#byAddress.set(group, { count, lastMs: nowMs, waitUntilMs: nowMs + waitMs });
    this.#recent.push(nowMs);
  }

  /** The try was right. Only itself is taken back: who knows one passcode may not guess another's for nothing. */
  succeeded(address: string, nowMs: number): void {
    const group = groupOf(address);
    const tried = this.#byAddress.get(group);
    if (!tried) return;
    this.#recent.pop();
    if (tried.count <= 1) this.#byAddress.delete(group);
    else this.#byAddress.set(group, { count: tried.count - 1, lastMs: nowMs, waitUntilMs: nowMs });
  }

  #forget(nowMs: number): void {
    this.#recent = this.#recent.filter((ms) => nowMs - ms < TOGETHER_WITHIN_MS);
    for (const [group, { lastMs }] of this.#byAddress)
      if (nowMs - lastMs > FORGIVEN_AFTER_MS) this.#byAddress.delete(group);
  }
}

/** Whoever has one address of IPv6 has the 2^64 beside it (RFC 4291, section 2.5.4): they count as one. */
export function groupOf(address: string): string {
  const plain = address.replace(/^::ffff:(?=\d+\.)/i, "").replace(/%.*$/, "");
  if (!plain.includes(":")) return plain;
  const [head = "", tail = ""] = plain.split("::") as [string, string?];
  const left = head === "" ? [] : head.split(":");
  const right = tail === "" ? [] : tail.split(":");
  const missing = plain.includes("::") ? Math.max(0, 8 - left.length - right.length) : 0;
  const groups = [...left, ...Array.from({ length: missing }, () => "0"), ...right];
  return groups
    .slice(0, 4)
    .map((g) => Number.parseInt(g, 16).toString(16))
    .join(":");
}
