/**
 * Owns names on the local network (RFC 6762): probes whether they are free (8.1), announces them (8.3), answers for them
 * (6), renames itself where another has them (9), and says good-bye of them (10.1). It knows no sockets and no clock.
 *
 *   probing, three times ── free ──> announcing, twice ──> there
 *      ^ │ taken: the next name           │
 *      └─┴──────────── taken after all <──┘
 */
import {
  ALL_SERVICES,
  instanceName,
  type MdnsRecord,
  type Message,
  numbered,
  type Question,
  SERVICE,
  sameName,
} from "./messages.ts";

export interface Service {
  readonly name: string;
  readonly port: number;
}

const PROBES = 3;
const PROBE_EVERY_MS = 250;
const ANNOUNCEMENTS = 2;
const ANNOUNCE_EVERY_MS = 1000;
/** Who loses to another that probes at the same time waits so long (8.2). */
const LOST_TIE_MS = 1000;
/** After so many conflicts in so long a time it takes its time (8.1). */
const MANY_CONFLICTS = 15;
const WITHIN_MS = 10_000;
const SLOWLY_MS = 5000;
/** The same record is not multicast twice within this, but to defend it (6). */
const NOT_AGAIN_MS = 1000;
const HOST_TTL_S = 120;
const OTHER_TTL_S = 4500;
/** What an ordinary resolver may keep (6.7). */
const LEGACY_TTL_S = 10;
const CLASS_OF_TYPE: Readonly<Record<string, number>> = { A: 1, PTR: 12, TXT: 16, SRV: 33 };

interface Entry {
  readonly service: Service;
  nth: number;
}

export interface Spoken {
  readonly message: Message;
  /** To the address that asked alone, as an ordinary resolver wants it. */
  readonly isUnicast: boolean;
}

export class Publisher {
  readonly #entries: Entry[];
  readonly #host: string;
  readonly #renamed: (from: string, to: string) => void;
  #hostNth = 1;
  #state: "probing" | "announcing" | "there" = "probing";
  #left = PROBES;
  #dueMs: number;
  #conflicts: number[] = [];
  readonly #saidAtMs = new Map<string, number>();

  /** `host`: the label of this computer's name. `chance` 0..1 keeps many that start together from probing at once. */
  constructor(
    services: readonly Service[],
    host: string,
    chance: number,
    nowMs: number,
    renamed: (from: string, to: string) => void = () => {},
  ) {
    this.#entries = services.map((service) => ({ service, nth: 1 }));
    this.#host = host;
    this.#renamed = renamed;
    this.#dueMs = nowMs + chance * PROBE_EVERY_MS;
  }

  /** Labels of its services, as they are known on the network now. */
  get labels(): string[] {
    return this.#entries.map(labelOf);
  }

  /** True once the names are its own. */
  get isThere(): boolean {
    return this.#state !== "probing";
  }

  get dueMs(): number {
    return this.#dueMs;
  }

  /** What is due now, for a network on which this computer has these addresses (IPv4). */
  tick(nowMs: number): ((addresses: readonly string[]) => Message)[] {
    if (nowMs < this.#dueMs) return [];
    if (this.#state === "probing") {
      if (this.#left > 0) {
        this.#left--;
        this.#dueMs = nowMs + PROBE_EVERY_MS;
        return [(addresses) => this.#probe(addresses)];
      }
      this.#state = "announcing";
      this.#left = ANNOUNCEMENTS;
    }
    if (this.#state !== "announcing") return [];
    this.#left--;
    this.#dueMs = this.#left > 0 ? nowMs + ANNOUNCE_EVERY_MS : Number.POSITIVE_INFINITY;
    if (this.#left === 0) this.#state = "there";
    return [(addresses) => response(this.#all(addresses))];
  }

  /** All its records with a time of zero; what others share with it stays (10.1). */
  goodbye(addresses: readonly string[]): Message | null {
    if (!this.isThere) return null;
    const own = this.#all(addresses).filter((r) => !sameName(r.name, ALL_SERVICES));
    return response(own.map((r) => ({ ...r, ttl: 0 })));
  }

  /** Somebody's message: conflicts with it, and what is answered. `isLegacy`: it came from another port than 5353. */
  receive(message: Message, addresses: readonly string[], isLegacy: boolean, nowMs: number): Spoken[] {
    if (message.isResponse) {
      this.#look(message, addresses, nowMs);
      return [];
    }
    if (this.#state === "probing") {
      this.#tie(message.authorities, addresses, nowMs);
      return [];
    }
    return this.#answer(message, addresses, isLegacy, nowMs);
  }

  /** A response that says of one of our names what we do not say: it is taken. */
  #look({ answers, additionals }: Message, addresses: readonly string[], nowMs: number): void {
    const own = this.#unique(addresses);
    for (const told of [...answers, ...additionals]) {
      if (told.ttl === 0) {
        // Another says good-bye of what is ours as well, such as the name of the computer we share: it is there still (10.1).
        if (this.#state === "there" && own.some((r) => sameName(r.name, told.name) && sameData(r, told))) {
          this.#state = "announcing";
          this.#left = 1;
          this.#dueMs = nowMs;
        }
        continue;
      }
      const ours = own.filter((r) => sameName(r.name, told.name) && r.type === told.type);
      if (ours.length === 0 || ours.some((r) => sameData(r, told))) continue;
      // Told by us on another of our networks.
      if (told.type === "A" && this.#isProbingHostOf(told)) continue;
      this.#taken(told.name, nowMs);
      return;
    }
  }

  /** An address of this computer by another of its networks is no conflict. */
  #isProbingHostOf({ data }: MdnsRecord): boolean {
    return this.#ownAddresses.has(String(data));
  }
  #ownAddresses = new Set<string>();
  /** All addresses of this computer, by whatever network. */
  knows(addresses: readonly string[]): void {
    this.#ownAddresses = new Set(addresses);
  }

  #taken(name: string, nowMs: number): void {
    const isHost = sameName(name, this.#hostName());
    if (isHost) this.#hostNth++;
    for (const entry of this.#entries) {
      if (isHost || !sameName(instanceName(labelOf(entry)), name)) continue;
      const from = labelOf(entry);
      entry.nth++;
      this.#renamed(from, labelOf(entry));
    }
    this.#conflicts = [...this.#conflicts.filter((t) => nowMs - t < WITHIN_MS), nowMs];
    this.#state = "probing";
    this.#left = PROBES;
    this.#dueMs = nowMs + (this.#conflicts.length >= MANY_CONFLICTS ? SLOWLY_MS : PROBE_EVERY_MS);
  }

  /** Two that probe for a name at once: whose records are the greater has it, the other waits a second (8.2). */
  #tie(theirs: readonly MdnsRecord[], addresses: readonly string[], nowMs: number): void {
    for (const name of new Set(theirs.map((r) => r.name.toLowerCase()))) {
      const ours = this.#unique(addresses).filter((r) => sameName(r.name, name));
      if (ours.length === 0) continue;
      const order = compare(
        ours,
        theirs.filter((r) => sameName(r.name, name)),
      );
      if (order >= 0) continue; // our own probe come back, or ours is the greater
      this.#left = PROBES;
      this.#dueMs = nowMs + LOST_TIE_MS;
      return;
    }
  }

  #answer(query: Message, addresses: readonly string[], isLegacy: boolean, nowMs: number): Spoken[] {
    const all = this.#all(addresses);
    const isProbe = query.authorities.length > 0;
    const fits = (q: Question, r: MdnsRecord) => sameName(q.name, r.name) && (q.type === r.type || q.type === "ANY");
    const known = (r: MdnsRecord) =>
      query.answers.some((k) => sameName(k.name, r.name) && sameData(k, r) && k.ttl >= r.ttl / 2);
    let answers = all.filter((r) => query.questions.some((q) => fits(q, r)) && !known(r));
    for (const q of query.questions) {
      const has = all.some((r) => sameName(r.name, q.name) && r.isUnique);
      if (has && !all.some((r) => fits(q, r))) answers.push(this.#nothingElse(q.name, all));
    }
    // By network: what was said on one has not been said on another.
    const key = (r: MdnsRecord) => `${addresses.join()} ${recordKey(r)}`;
    if (!isLegacy && !isProbe)
      answers = answers.filter((r) => nowMs - (this.#saidAtMs.get(key(r)) ?? Number.NEGATIVE_INFINITY) >= NOT_AGAIN_MS);
    if (answers.length === 0) return [];
    if (!isLegacy) for (const r of answers) this.#saidAtMs.set(key(r), nowMs);
    const additionals = all.filter(
      (r) => r.isUnique && !answers.some((a) => sameData(a, r) && sameName(a.name, r.name)) && belongs(r, answers, all),
    );
    const told = (list: readonly MdnsRecord[]) =>
      isLegacy ? list.map((r) => ({ ...r, isUnique: false, ttl: Math.min(r.ttl, LEGACY_TTL_S) })) : list;
    const echoed = isLegacy ? { id: query.id ?? 0, questions: query.questions } : {};
    return [
      { message: { ...response(told(answers)), additionals: told(additionals), ...echoed }, isUnicast: isLegacy },
    ];
  }

  #nothingElse(name: string, all: readonly MdnsRecord[]): MdnsRecord {
    const types = [...new Set(all.filter((r) => sameName(r.name, name)).map((r) => r.type))];
    return { type: "NSEC", name, ttl: HOST_TTL_S, isUnique: true, data: { types } };
  }

  #probe(addresses: readonly string[]): Message {
    const authorities = this.#unique(addresses).map((r) => ({ ...r, isUnique: false }));
    const names = [...new Set(authorities.map((r) => r.name))];
    const questions = names.map((name): Question => ({ name, type: "ANY" }));
    return { isResponse: false, questions, answers: [], authorities, additionals: [] };
  }

  #hostName(): string {
    return `${numbered(this.#host, this.#hostNth, "host")}.local`;
  }

  #unique(addresses: readonly string[]): MdnsRecord[] {
    return this.#all(addresses).filter((r) => r.isUnique);
  }

  #all(addresses: readonly string[]): MdnsRecord[] {
    const host = this.#hostName();
    const shared = { ttl: OTHER_TTL_S, isUnique: false };
    const own = { isUnique: true };
    return [
      { ...shared, type: "PTR", name: ALL_SERVICES, data: SERVICE },
      ...this.#entries.flatMap((entry): MdnsRecord[] => {
        const name = instanceName(labelOf(entry));
        return [
          { ...shared, type: "PTR", name: SERVICE, data: name },
          { ...own, type: "SRV", name, ttl: HOST_TTL_S, data: { port: entry.service.port, target: host } },
          { ...own, type: "TXT", name, ttl: OTHER_TTL_S, data: [] },
        ];
      }),
      ...addresses.map((data): MdnsRecord => ({ ...own, type: "A", name: host, ttl: HOST_TTL_S, data })),
    ];
  }
}

function labelOf({ service, nth }: Entry): string {
  return numbered(service.name, nth, "words");
}

function response(answers: readonly MdnsRecord[]): Message {
  return { isResponse: true, questions: [], answers, authorities: [], additionals: [] };
}

function recordKey({ name, type, data }: MdnsRecord): string {
  return `${type} ${name.toLowerCase()} ${JSON.stringify(data)}`;
}

function sameData(a: MdnsRecord, b: MdnsRecord): boolean {
  return a.type === b.type && JSON.stringify(a.data).toLowerCase() === JSON.stringify(b.data).toLowerCase();
}

/** What goes with answers so that nobody has to ask for it: of an instance its port, of a port its address (RFC 6763, 12). */
function belongs(r: MdnsRecord, answers: readonly MdnsRecord[], all: readonly MdnsRecord[]): boolean {
  const instances = answers.flatMap((a) => (a.type === "PTR" ? [a.data] : a.type === "SRV" ? [a.name] : []));
  if (r.type !== "A") return instances.some((name) => sameName(name, r.name));
  return all.some(
    (s) => s.type === "SRV" && sameName(s.data.target, r.name) && instances.some((n) => sameName(n, s.name)),
  );
}

/** Record by record, by type and then by data: above 0 where `ours` is the greater (8.2.1). */
function compare(ours: readonly MdnsRecord[], theirs: readonly MdnsRecord[]): number {
  const sorted = (list: readonly MdnsRecord[]) =>
    list
      .map((r): [number, string] => [CLASS_OF_TYPE[r.type] ?? 0, rdata(r)])
      .sort((a, b) => a[0] - b[0] || order(a[1], b[1]));
  const [a, b] = [sorted(ours), sorted(theirs)];
  for (let i = 0; i < Math.min(a.length, b.length); i++) {
    const found = a[i]![0] - b[i]![0] || order(a[i]![1], b[i]![1]);
    if (found !== 0) return found;
  }
  return a.length - b.length;
}

function order(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}

/** The data in the order of its bytes on the wire, as a text that compares so. */
function rdata(r: MdnsRecord): string {
  const hex = (n: number) => n.toString(16).padStart(4, "0");
  switch (r.type) {
    case "SRV":
      return `0000 0000 ${hex(r.data.port)} ${r.data.target.toLowerCase()}`;
    case "A":
      return r.data
        .split(".")
        .map((n) => hex(Number(n)))
        .join(" ");
    default:
      return JSON.stringify(r.data).toLowerCase();
  }
}
