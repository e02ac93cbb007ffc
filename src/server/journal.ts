/**
 * What the server must not forget when it is killed: what hands hold, the layers that are up, what the house keeps and
 * where the faders stand. A small file beside the database, written anew at each change; whoever starts next reads it.
 * A clean stop takes it away: then nothing is held, and the next start is a fresh one.
 */
import { existsSync, readFileSync, rmSync } from "node:fs";
import { rename, writeFile } from "node:fs/promises";
import { z } from "zod";
import { TIMED_GESTURES, type TimedGesture } from "../core/format/gestures.ts";
import { HOUSE } from "../core/format/givens.ts";
import { NOTHING_UNFINISHED } from "../core/hands/unfinished.ts";
import { ControlChange, type StoredHistory, ValueChange } from "../core/live/protocol.ts";
import type { Carried } from "../core/translate/taking-over.ts";

/** What only moves (faders, values) is written this often at the most, in ms; what is held at once. */
const MOVES_EVERY_MS = 250;
const VERSION = 1;

const Hex = z.string().regex(/^([0-9a-f]{2})*$/);
const HouseCall = z.strictObject({
  fn: z.string(),
  numbers: z.array(z.number()),
  value: z.number(),
  target: z.string(),
  bytes: Hex.nullable(),
  mapping: z.string(),
  action: z.string(),
});
const Named = { desk: z.string(), mapping: z.string(), action: z.string() };
const DeskRelease = z.strictObject({
  kind: z.literal("desk"),
  ...Named,
  state: z.number(),
  value: z.number(),
  datagrams: z.array(Hex),
  delayMs: z.number(),
});
const Release = z.discriminatedUnion("kind", [
  DeskRelease,
  z.strictObject({ kind: z.literal("layer"), ...Named, layer: z.string() }),
  z.strictObject({ kind: z.literal("house"), ...Named, call: HouseCall, delayMs: z.number() }),
  z.strictObject({ kind: z.literal("route"), ...Named, bytes: Hex }),
]);
const When = { dueMs: z.number(), cause: z.number(), lettingGo: z.boolean() };
const Waiting = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("send"), what: Release, ...When }),
  z.strictObject({ kind: z.literal("house"), call: HouseCall, ...When }),
]);
const MappingId = z.string().nullable();
const Gesture = z.strictObject({
  control: z.string(),
  phase: z.number(),
  value: z.number(),
  dueMs: z.number().nullable(),
  pressedAtMs: z.number(),
  parts: z.array(z.int()).max(32).default([]),
  holdMs: z.number(),
  doubleMs: z.number(),
  mappings: z.strictObject(
    Object.fromEntries(TIMED_GESTURES.map((g) => [g, MappingId])) as Record<TimedGesture, typeof MappingId>,
  ),
});
const Unfinished = z.strictObject({
  places: z.array(z.tuple([z.string(), z.number()])),
  waiting: z.array(Waiting),
  surfaces: z.array(
    z.strictObject({
      surface: z.string(),
      gestures: z.array(Gesture),
      onRelease: z.array(z.tuple([z.string(), z.number(), z.string()])),
    }),
  ),
});
const Journal = z.strictObject({
  version: z.literal(VERSION),
  /** The show, and its revision, that the numbers of controls and values belong to. Journals of the first programs have no show. */
  show: z.int().optional(),
  revision: z.int(),
  house: z.array(ValueChange),
  controls: z.record(z.string(), z.array(ControlChange)),
  layers: z.strictObject({ locked: z.array(z.string()), held: z.array(z.string()) }),
  held: z.array(
    z.strictObject({
      surface: z.string(),
      control: z.string(),
      message: z.number(),
      sinceMs: z.number(),
      cause: z.number(),
      releases: z.array(Release),
    }),
  ),
  kept: z.array(DeskRelease),
  /** Journals of the first programs have none. */
  unfinished: Unfinished.optional(),
});

/** Which of the stored shows, in which revision. */
type OfShow = Pick<StoredHistory, "show" | "revision">;

/** As JSON with bytes in hexadecimal. */
export function journalText({ show, revision }: OfShow, { values, controls, holding }: Carried): string {
  const journal = {
    version: VERSION,
    show,
    revision,
    house: values[HOUSE] ?? [],
    controls,
    layers: holding.layers,
    held: holding.held,
    kept: holding.kept,
    unfinished: holding.unfinished,
  };
  return JSON.stringify(journal, (_key, value: unknown) =>
    value instanceof Uint8Array ? Buffer.from(value).toString("hex") : value,
  );
}

/** What a journal carries over to a show in a revision; null = it cannot be read. */
export function readJournal(text: string, now: OfShow): Carried | null {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    return null;
  }
  const read = Journal.safeParse(data);
  if (!read.success) return null;
  const { house, controls, layers, held, kept, unfinished, ...journal } = read.data;
  const isSameShow = journal.revision === now.revision && (journal.show ?? now.show) === now.show;
  return {
    values: isSameShow ? { [HOUSE]: house } : {},
    controls: isSameShow ? controls : {},
    holding: {
      layers,
      // What was held with a message of the last run has no row in the traffic of this one.
      held: held.map((h) => ({ ...h, cause: 0, releases: h.releases.map(withBytes) })),
      kept: kept.map((k) => withBytes(k) as Carried["holding"]["kept"][number]),
      underWay: {}, // desks are asked anew
      unfinished: unfinished
        ? { ...unfinished, waiting: unfinished.waiting.map(waitingWithBytes) }
        : NOTHING_UNFINISHED,
    },
    missed: "all",
  };
}

type WithBytes = Carried["holding"]["held"][number]["releases"][number];

function withBytes(release: z.infer<typeof Release>): WithBytes {
  switch (release.kind) {
    case "desk":
      return { ...release, datagrams: release.datagrams.map(fromHex) };
    case "house":
      return { ...release, call: callWithBytes(release.call) };
    case "route":
      return { ...release, bytes: fromHex(release.bytes) };
    case "layer":
      return release;
    default:
      return release satisfies never;
  }
}

function waitingWithBytes(item: z.infer<typeof Waiting>): Carried["holding"]["unfinished"]["waiting"][number] {
  return item.kind === "send" ? { ...item, what: withBytes(item.what) } : { ...item, call: callWithBytes(item.call) };
}

function callWithBytes({ bytes, ...call }: z.infer<typeof HouseCall>) {
  return { ...call, bytes: bytes === null ? null : fromHex(bytes) };
}

function fromHex(hex: string): Uint8Array {
  return Uint8Array.from(Buffer.from(hex, "hex"));
}

export class RunJournal {
  readonly #path: string;
  readonly #now: () => string;
  readonly #failed: (error: Error) => void;
  #writing: Promise<void> | null = null;
  #again = false;
  #timer: NodeJS.Timeout | null = null;
  #isClosed = false;
  #hasFailed = false;

  /** `now` makes the text of what is so. `failed` is told the first time that it could not be written. */
  constructor(path: string, now: () => string, failed: (error: Error) => void) {
    this.#path = path;
    this.#now = now;
    this.#failed = failed;
  }

  /** What another run left behind; null = it ended well, or nothing of it can be read. */
  static left(path: string, now: OfShow): Carried | null {
    if (!existsSync(path)) return null;
    try {
      return readJournal(readFileSync(path, "utf8"), now);
    } catch {
      return null;
    }
  }

  /** What is held has changed. */
  held(): void {
    if (this.#isClosed) return;
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    if (this.#writing) this.#again = true;
    else this.#writing = this.#write();
  }

  /** Something moved. */
  moved(): void {
    if (this.#isClosed) return;
    this.#timer ??= setTimeout(() => {
      this.#timer = null;
      this.held();
    }, MOVES_EVERY_MS);
  }

  async #write(): Promise<void> {
    const fresh = `${this.#path}.new`;
    try {
      await writeFile(fresh, this.#now(), { mode: 0o600 });
      if (!this.#isClosed) await rename(fresh, this.#path); // a file is there whole, or the one before
      this.#hasFailed = false;
    } catch (error) {
      if (!this.#hasFailed) this.#failed(error as Error);
      this.#hasFailed = true;
    }
    this.#writing = null;
    if (!this.#again) return;
    this.#again = false;
    this.held();
  }

  /** A clean stop: nothing is held any more. */
  async close(): Promise<void> {
    this.#isClosed = true;
    if (this.#timer) clearTimeout(this.#timer);
    await this.#writing;
    rmSync(this.#path, { force: true });
    rmSync(`${this.#path}.new`, { force: true });
  }
}
