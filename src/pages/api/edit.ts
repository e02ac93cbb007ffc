import type { APIRoute } from "astro";
import { parseJson } from "../../core/format/read-format.ts";
import type { Editor } from "../../server/edits-of-others.ts";
import { answered, bodyText, refused, tooLong } from "../../server/json-answer.ts";

/** Ten thousand mappings changed at once fit into it. */
const MAX_EDIT_BYTES = 8 * 1024 * 1024;

/** Carries out one edit (core/edit/edit-kinds.ts). */
export const POST: APIRoute = async ({ request, locals }) => {
  const text = await bodyText(request, MAX_EDIT_BYTES);
  if (text === null) return tooLong(MAX_EDIT_BYTES);
  const data = parseJson(text);
  if (!data.ok) return refused(data.problems);
  return answered(await locals.application.edit(data.value, editorOf(request.headers)));
};

/** A window says who it is and what it had in view; a program that says nothing means what it sends. */
function editorOf(headers: Headers): Editor | null {
  const page = headers.get("x-page") ?? "";
  const seen = headers.get("x-seen") ?? "";
  return /^[\w-]{1,64}$/.test(page) && /^\d{1,15}$/.test(seen) ? { page, seen: Number(seen) } : null;
}
