/** Finds the MIDI sessions of others on the local network (RFC 6762, 5.2; RFC 6763, 4). It knows no sockets and no clock. */
import { instanceLabel, type MdnsRecord, type Message, SERVICE, sameName } from "./messages.ts";

export interface Found {
  readonly name: string;
  readonly host: string;
  readonly port: number;
}

/** Pauses between questions at first, and then for good, in ms. */
const ASK_AFTER_MS = [50, 1000, 3000];
const ASK_EVERY_MS = 15_000;
/** More than this is no show: what comes later is not kept. */
const MOST_FOUND = 256;
/** One that says good-bye is kept for a second (10.1): another may still have it. */
const GONE_AFTER_MS = 1000;
/** Nothing is believed for longer than a day, in s. */
const LONGEST_TTL_S = 86_400;

interface Known {
  readonly label: string;
  untilMs: number;
  ttl: number;
  port: number;
  target: string;
  /** Where the word of it came from. */
  from: string;
}

export class Finder {
  readonly #known = new Map<string, Known>();
  /** Addresses by the name of their computer. */
  readonly #hosts = new Map<string, string>();
  #asked = 0;
  dueMs: number;

  constructor(nowMs: number) {
    this.dueMs = nowMs + ASK_AFTER_MS[0]!;
  }

  /** Forgets what is over; answers with a question when it is time for one. What is known well need not be told again. */
  tick(nowMs: number): Message | null {
    for (const [key, known] of this.#known) if (known.untilMs <= nowMs) this.#known.delete(key);
    if (nowMs < this.dueMs) return null;
    this.#asked++;
    this.dueMs = nowMs + (ASK_AFTER_MS[this.#asked] ?? ASK_EVERY_MS);
    const answers = [...this.#known.entries()].flatMap(([name, k]): MdnsRecord[] => {
      const left = (k.untilMs - nowMs) / 1000;
      return left < k.ttl / 2
        ? []
        : [{ type: "PTR", name: SERVICE, data: name, ttl: Math.floor(left), isUnique: false }];
    });
    const incomplete = [...this.#known.entries()]
      .filter(([, k]) => k.port < 0)
      .map(([name]) => ({ name, type: "SRV" }));
    const questions = [{ name: SERVICE, type: "PTR" }, ...incomplete];
    return { isResponse: false, questions, answers, authorities: [], additionals: [] };
  }

  /** A response that came from the address `from`. True where what is found may have changed. */
  receive({ isResponse, answers, additionals }: Message, from: string, nowMs: number): boolean {
    if (!isResponse) return false;
    let changed = false;
    const records = [...answers, ...additionals];
    for (const r of records)
      if (r.type === "PTR" && sameName(r.name, SERVICE)) changed = this.#pointer(r, from, nowMs) || changed;
    for (const r of records) {
      if (r.type === "SRV") changed = this.#service(r, from, nowMs) || changed;
      else if (r.type === "A" && r.ttl > 0) {
        if (this.#hosts.size >= MOST_FOUND && !this.#hosts.has(r.name.toLowerCase())) continue;
        this.#hosts.set(r.name.toLowerCase(), r.data);
        changed = true;
      }
    }
    return changed;
  }

  #pointer({ data, ttl }: Extract<MdnsRecord, { type: "PTR" }>, from: string, nowMs: number): boolean {
    const label = instanceLabel(data);
    if (label === null) return false;
    const key = data.toLowerCase();
    const known = this.#known.get(key);
    if (ttl === 0) {
      if (known) known.untilMs = Math.min(known.untilMs, nowMs + GONE_AFTER_MS);
      return false;
    }
    const kept = Math.min(ttl, LONGEST_TTL_S);
    if (known) {
      known.untilMs = nowMs + kept * 1000;
      known.ttl = kept;
      return false;
    }
    if (this.#known.size >= MOST_FOUND) return false;
    this.#known.set(key, { label, ttl: kept, untilMs: nowMs + kept * 1000, port: -1, target: "", from });
    this.dueMs = Math.min(this.dueMs, nowMs + ASK_AFTER_MS[0]!); // where it is, is asked at once, if it was not told with it
    return true;
  }

  #service({ name, data, ttl }: Extract<MdnsRecord, { type: "SRV" }>, from: string, nowMs: number): boolean {
    const known = this.#known.get(name.toLowerCase());
    if (!known) return false;
    if (ttl === 0) {
      known.untilMs = Math.min(known.untilMs, nowMs + GONE_AFTER_MS);
      return false;
    }
    known.port = data.port;
    known.target = data.target.toLowerCase();
    known.from = from;
    return true;
  }

  /** What is found, but for those of these labels: they are our own. */
  found(own: readonly string[]): Found[] {
    return [...this.#known.values()]
      .filter(({ label, port }) => port > 0 && !own.some((o) => sameName(o, label)))
      .map(({ label, port, from, target }) => ({ name: label, host: from || (this.#hosts.get(target) ?? ""), port }))
      .filter(({ host }) => host !== "")
      .sort((a, b) => a.name.localeCompare(b.name));
  }
}
