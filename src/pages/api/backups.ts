import type { APIRoute } from "astro";
import { z } from "zod";
import { parseJson } from "../../core/format/read-format.ts";
import { answered, bodyText, json, refused, tooLong } from "../../server/json-answer.ts";

const MAX_BYTES = 1000;
const Wanted = z.strictObject({ file: z.string().max(200) });

/** The backups of the stored show, the newest first. */
export const GET: APIRoute = ({ locals }) => json(locals.application.backups());

/** Opens the show of a backup in the place of the present one; it can be undone. */
export const POST: APIRoute = async ({ request, locals }) => {
  const text = await bodyText(request, MAX_BYTES);
  if (text === null) return tooLong(MAX_BYTES);
  const data = parseJson(text);
  if (!data.ok) return refused(data.problems);
  const wanted = Wanted.safeParse(data.value);
  if (!wanted.success || wanted.data.file === "") return refused([{ code: "no-such-backup", path: [] }]);
  return answered(await locals.application.restore(wanted.data.file));
};
