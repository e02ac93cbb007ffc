/** The show that is open: its row, the document as it is stored, the show that it is, and its neighbours in the history. */
import { readShow } from "../../core/edit/read.ts";
import type { Problem } from "../../core/format/problem.ts";
import type { Profiles } from "../../core/format/profiles.ts";
import { parseJson } from "../../core/format/read-format.ts";
import type { Show } from "../../core/format/show.ts";
import type { StoredHistory } from "../../core/live/protocol.ts";
import type { Passwords } from "../passwords.ts";
import type { Models, ShowRow } from "./models.ts";

export interface OpenShow {
  readonly row: ShowRow;
  readonly show: Show;
  /** As it is stored: the show itself, or an older version of it. */
  readonly document: object;
  readonly history: StoredHistory;
}

export interface Unreadable {
  readonly problems: Problem[];
  readonly document: unknown;
}

/** Reads a stored show; what is wrong with it, where that cannot be done. */
export async function readStored(
  models: Models,
  row: ShowRow,
  profiles: Profiles,
  passwords: Pick<Passwords, "takenFrom">,
): Promise<{ ok: true; value: OpenShow } | ({ ok: false } & Unreadable)> {
  const json = parseJson(row.document);
  if (!json.ok) return { ok: false, problems: json.problems, document: null };
  const document = json.value as object;
  const read = readShow(document, profiles);
  if (!read.ok) return { ok: false, problems: read.problems, document };
  const show = passwords.takenFrom(read.value);
  // What was stored with passwords in it is stored without them by the next edit, and counts as older until then.
  const isAsStored = show === read.value && !isOlder(document, read.value);
  const stored = isAsStored ? show : passwords.takenFrom(document);
  return { ok: true, value: { row, show, document: stored, history: await readHistory(models, row) } };
}

export async function readHistory(
  { revisions }: Models,
  { revision, savedAtMs, id }: Pick<ShowRow, "revision" | "savedAtMs" | "id">,
): Promise<StoredHistory> {
  const find = (number: number) =>
    revisions.findOne({ where: { showId: id, number, left: false }, attributes: ["label"] });
  const [undo, redo] = [await find(revision), await find(revision + 1)];
  return { show: id, revision, savedAtMs, undo: undo?.label ?? null, redo: redo?.label ?? null };
}

/** True where a document is of an older version than the show that it was brought up to. */
export function isOlder(document: unknown, show: Show): boolean {
  return (document as { version?: unknown }).version !== show.version;
}

export class UnreadableShow extends Error {
  readonly problems: readonly Problem[];
  readonly document: unknown;
  readonly profiles: Profiles;
  constructor(problems: readonly Problem[], document: unknown, profiles: Profiles) {
    super("The stored show cannot be read.");
    this.problems = problems;
    this.document = document;
    this.profiles = profiles;
  }
}
