import type { APIRoute } from "astro";
import { problemWords } from "../../core/show/problem.ts";
import { parseJson } from "../../core/show/read.ts";
import { answered, bodyText, json, tooLong } from "../../server/json-answer.ts";

const MAX_EDIT_BYTES = 256 * 1024;

/** Carries out one edit (core/show/edit-kinds.ts). */
export const POST: APIRoute = async ({ request, locals }) => {
  const text = await bodyText(request, MAX_EDIT_BYTES);
  if (text === null) return tooLong(MAX_EDIT_BYTES);
  const data = parseJson(text);
  if (!data.ok) return json({ ok: false, problems: data.problems.map(problemWords) }, 422);
  return answered(await locals.application.edit(data.value));
};
