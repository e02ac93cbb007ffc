import type { APIRoute } from "astro";
import { VersionCommand } from "../../core/live/shelf.ts";
import { answered, bodyOf, json } from "../../server/json-answer.ts";

const MAX_BYTES = 1000;

/** The versions of the open show, the newest first; `before`: older than this time in ms. */
export const GET: APIRoute = async ({ url, locals }) => {
  const before = url.searchParams.get("before");
  const beforeMs = before !== null && /^\d{1,15}$/.test(before) ? Number(before) : null;
  return json(await locals.application.shows.versions(beforeMs));
};

/** Names the present version, goes back to one, or opens one as another show. */
export const POST: APIRoute = async ({ request, locals }) => {
  const read = await bodyOf(request, VersionCommand, MAX_BYTES);
  return read.ok ? answered(await locals.application.shows.version(read.data)) : read.response;
};
