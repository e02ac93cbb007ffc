/**
 * The shows that lie beside the open one: which there are, and those that were deleted and can be recovered for a while.
 * The open one is the one that was opened last; what is done with it is in show-store.ts.
 */
import { Op, QueryTypes, type Sequelize } from "sequelize";
import type { ShowOnShelf } from "../../core/live/shelf.ts";
import type { Models, ShowRow } from "./models.ts";

/** So long a deleted show can be recovered, in ms. */
export const RECOVERABLE_MS = 30 * 86_400_000;

/** The shows that are not deleted, the one that was opened last first. */
export function openedShows({ shows }: Models): Promise<ShowRow[]> {
  return shows.findAll({
    where: { deletedAtMs: null },
    order: [
      ["openedAtMs", "DESC"],
      ["id", "DESC"],
    ],
  });
}

interface Listed {
  id: number;
  name: string | null;
  mappings: number | null;
  saved_at_ms: number;
  deleted_at_ms: number | null;
}

/** All shows, those opened last first. What is in a document that cannot be read is not known. */
export async function listShows(database: Sequelize, open: number): Promise<ShowOnShelf[]> {
  const rows = await database.query<Listed>(
    `SELECT id, saved_at_ms, deleted_at_ms,
       CASE WHEN json_valid(document) THEN json_extract(document, '$.name') END AS name,
       CASE WHEN json_valid(document) THEN json_array_length(document, '$.mappings') END AS mappings
     FROM shows ORDER BY opened_at_ms DESC, id DESC`,
    { type: QueryTypes.SELECT },
  );
  return rows.map(({ id, name, mappings, saved_at_ms, deleted_at_ms }) => ({
    id,
    name: typeof name === "string" ? name : "",
    mappings: mappings ?? 0,
    savedAtMs: saved_at_ms,
    deletedAtMs: deleted_at_ms,
    isOpen: id === open,
  }));
}

/** Shows that were deleted too long ago are gone, with their history. */
export async function forgetDeleted({ shows }: Models, nowMs: number): Promise<void> {
  await shows.destroy({ where: { deletedAtMs: { [Op.lt]: nowMs - RECOVERABLE_MS } } });
}

/** A name that no other show has: "Regatta", then "Regatta 2". */
export function freeName(name: string, shows: readonly ShowOnShelf[]): string {
  const taken = new Set(shows.filter((s) => s.deletedAtMs === null).map((s) => s.name));
  if (!taken.has(name)) return name;
  const stem = name.replace(/ \d+$/, "").slice(0, 70);
  for (let n = 2; ; n++) if (!taken.has(`${stem} ${n}`)) return `${stem} ${n}`;
}
