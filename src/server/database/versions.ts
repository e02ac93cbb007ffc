/**
 * The states that a show was in. Each edit has one, as long as its step is kept; older ones are thinned out to one an hour,
 * then one a day, and are kept whole and compressed, like those that somebody gave a name.
 */
import { promisify } from "node:util";
import { gunzip as gunzipRaw, gzip as gzipRaw } from "node:zlib";
import type { Patch } from "immer";
import { Op, QueryTypes, type Transaction } from "sequelize";
import { applyStoredPatches } from "../../core/edit/edits.ts";
import type { VersionEntry, VersionList } from "../../core/live/shelf.ts";
import type { Models, RevisionRow, ShowRow } from "./models.ts";

const gzip = promisify(gzipRaw);
const gunzip = promisify(gunzipRaw);

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** Rows of one answer. */
const PAGE = 40;

export interface Limits {
  /** Edits whose steps are kept, so that undo reaches that far. */
  readonly steps: number;
  /** What these steps take at the most, in characters. */
  readonly characters: number;
  /** States that the program keeps by itself, and the bytes that they take at the most. */
  readonly kept: number;
  readonly keptBytes: number;
}

export const LIMITS: Limits = { steps: 2000, characters: 16_000_000, kept: 200, keptBytes: 12_000_000 };
/** So many steps always stay, however long they are. */
const ALWAYS = 20;

/** The states of a show before a time, the newest first; null = from now on. */
export async function listVersions(models: Models, show: ShowRow, beforeMs: number | null): Promise<VersionList> {
  const before = beforeMs === null ? {} : { madeAtMs: { [Op.lt]: beforeMs } };
  const order: [string, string][] = [
    ["madeAtMs", "DESC"],
    ["id", "DESC"],
  ];
  const edits = await models.revisions.findAll({
    where: { showId: show.id, left: false, number: { [Op.lte]: show.revision }, ...before },
    attributes: ["id", "label", "madeAtMs"],
    order,
    limit: 2 * PAGE,
  });
  const kept = await models.versions.findAll({
    where: { showId: show.id, ...before },
    attributes: ["id", "revisionId", "name", "label", "madeAtMs"],
    order,
    limit: 2 * PAGE,
  });
  // A state that is kept stands in the place of its edit, also where it was given its name much later.
  const keptEdits = await models.versions.findAll({ where: { showId: show.id }, attributes: ["revisionId"] });
  const named = new Set(keptEdits.map((v) => v.revisionId));
  const all: VersionEntry[] = [
    ...kept.map((v) => ({ key: `v${v.id}`, name: v.name, label: v.label, madeAtMs: v.madeAtMs })),
    ...edits
      .filter((e) => !named.has(e.id))
      .map((e) => ({ key: `e${e.id}`, name: "", label: e.label, madeAtMs: e.madeAtMs })),
  ].sort((a, b) => b.madeAtMs - a.madeAtMs);
  // What was made in the same moment is not torn apart: the next page begins before it.
  let end = Math.min(PAGE, all.length);
  while (end < all.length && all[end]!.madeAtMs === all[end - 1]!.madeAtMs) end++;
  return { versions: all.slice(0, end), hasOlder: end < all.length };
}

/** How many states there are. */
export async function countVersions({ revisions, versions }: Models, show: ShowRow): Promise<number> {
  const where = { showId: show.id };
  const edits = await revisions.count({ where: { ...where, left: false, number: { [Op.lte]: show.revision } } });
  return edits + (await versions.count({ where }));
}

/** The stored document of a state, in the version of the format it was stored in; null = there is no such state. */
export async function documentOf(
  models: Models,
  show: ShowRow,
  document: object,
  key: string,
): Promise<{ document: object; label: string } | null> {
  if (key === "now") return { document, label: "now" };
  if (key.startsWith("v")) {
    const kept = await models.versions.findOne({ where: { id: Number(key.slice(1)), showId: show.id } });
    if (!kept) return null;
    return { document: JSON.parse(await unzipped(kept.document)) as object, label: kept.name || kept.label };
  }
  let number = -1;
  let label = "as it began";
  if (key !== "begin") {
    const edit = await models.revisions.findOne({ where: { id: Number(key.slice(1)), showId: show.id, left: false } });
    if (!edit || edit.number > show.revision) return null;
    ({ number, label } = edit);
  }
  const steps = await stepsBack(models, show, number);
  let now = document;
  for (const step of steps) now = back(now, step);
  return { document: now, label };
}

/** The steps that lead back to a revision, the newest first. */
function stepsBack({ revisions }: Models, show: ShowRow, to: number): Promise<RevisionRow[]> {
  return revisions.findAll({
    where: { showId: show.id, left: false, number: { [Op.gt]: to, [Op.lte]: show.revision } },
    attributes: ["id", "number", "inverse", "label", "madeAtMs"],
    order: [["number", "DESC"]],
  });
}

function back(document: object, step: RevisionRow): object {
  return applyStoredPatches(document, JSON.parse(step.inverse) as Patch[]) as object;
}

export async function zipped(document: object): Promise<Buffer> {
  return gzip(JSON.stringify(document));
}

async function unzipped(bytes: Buffer): Promise<string> {
  return (await gunzip(bytes)).toString("utf8");
}

/**
 * Thins out what is older than the limits: of the steps that go, the last state of each hour is kept whole; of those states
 * each day's last after a day, and of all the newest. What somebody named stays. To be called in turn with the edits.
 */
export async function thinOut(
  models: Models,
  show: ShowRow,
  document: object,
  nowMs: number,
  limits: Limits = LIMITS,
): Promise<void> {
  const oldest = await firstThatStays(models, show, limits);
  const kept: { revisionId: number; label: string; document: Buffer; madeAtMs: number }[] = [];
  if (oldest !== null) {
    const steps = await stepsBack(models, show, -1);
    let now = document;
    let hour = Number.NaN;
    for (const step of steps) {
      const stepHour = Math.floor(step.madeAtMs / HOUR_MS);
      if (step.number < oldest && stepHour !== hour) {
        hour = stepHour;
        kept.push({
          revisionId: step.id,
          label: step.label,
          document: await zipped(now),
          madeAtMs: step.madeAtMs,
        });
      }
      now = back(now, step);
    }
  }
  await models.shows.sequelize!.transaction(async (transaction) => {
    if (oldest !== null) {
      const have = await models.versions.findAll({
        where: { showId: show.id },
        attributes: ["revisionId"],
        transaction,
      });
      const known = new Set(have.map((v) => v.revisionId));
      for (const state of kept)
        if (!known.has(state.revisionId))
          await models.versions.create({ showId: show.id, name: "", ...state }, { transaction });
      await models.revisions.destroy({ where: { showId: show.id, number: { [Op.lt]: oldest } }, transaction });
    }
    await thinKept(models, show, nowMs, limits, transaction);
  });
}

/** The number of the oldest step that stays; null = all of them do. */
async function firstThatStays({ revisions }: Models, show: ShowRow, limits: Limits): Promise<number | null> {
  const rows = await revisions.sequelize!.query<{ number: number; characters: number }>(
    `SELECT number, SUM(LENGTH(edit) + LENGTH(patches) + LENGTH(inverse)) AS characters
     FROM revisions WHERE show_id = ? GROUP BY number ORDER BY number DESC`,
    { type: QueryTypes.SELECT, replacements: [show.id] },
  );
  let characters = 0;
  for (const [i, row] of rows.entries()) {
    characters += row.characters;
    if (i < ALWAYS || (i < limits.steps && characters <= limits.characters)) continue;
    // What was undone can be done again, and some of what was not can be undone, however far back the show is.
    return Math.min(rows[i - 1]!.number, show.revision - ALWAYS);
  }
  return null;
}

async function thinKept(
  { versions }: Models,
  show: ShowRow,
  nowMs: number,
  limits: Limits,
  transaction: Transaction,
): Promise<void> {
  const rows = await versions.sequelize!.query<{ id: number; madeAtMs: number; bytes: number }>(
    `SELECT id, made_at_ms AS madeAtMs, LENGTH(document) AS bytes FROM versions
     WHERE show_id = ? AND name = '' ORDER BY made_at_ms DESC, id DESC`,
    { type: QueryTypes.SELECT, replacements: [show.id], transaction },
  );
  const gone = outlived(rows, nowMs, limits).map((r) => r.id);
  if (gone.length > 0) await versions.destroy({ where: { id: gone }, transaction });
}

/** Which of the states, given with the newest first, are no longer kept: one an hour stays for a day, then one a day. */
export function outlived<T extends { readonly madeAtMs: number; readonly bytes: number }>(
  states: readonly T[],
  nowMs: number,
  limits: Pick<Limits, "kept" | "keptBytes">,
): T[] {
  const times = new Set<string>();
  let kept = 0;
  let bytes = 0;
  return states.filter((state) => {
    const isYoung = nowMs - state.madeAtMs <= DAY_MS;
    const time = isYoung
      ? `hour ${Math.floor(state.madeAtMs / HOUR_MS)}`
      : `day ${Math.floor(state.madeAtMs / DAY_MS)}`;
    const stays = !times.has(time) && kept < limits.kept && bytes + state.bytes <= limits.keptBytes;
    times.add(time);
    if (!stays) return true;
    kept++;
    bytes += state.bytes;
    return false;
  });
}
