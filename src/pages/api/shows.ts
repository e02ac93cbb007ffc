import type { APIRoute } from "astro";
import { ShelfCommand } from "../../core/live/shelf.ts";
import { answered, bodyOf, bodyText, json, MAX_DOCUMENT_BYTES, tooLong } from "../../server/json-answer.ts";

const MAX_BYTES = 1000;

/** The shows that are stored, those opened last first, deleted ones too. */
export const GET: APIRoute = async ({ locals }) => json(await locals.application.shows.list());

/** Begins, duplicates, opens, deletes or recovers a show. */
export const POST: APIRoute = async ({ request, locals }) => {
  const read = await bodyOf(request, ShelfCommand, MAX_BYTES);
  return read.ok ? answered(await locals.application.shows.carryOut(read.data)) : read.response;
};

/** Puts a show document beside the shows that are here, and opens it. */
export const PUT: APIRoute = async ({ request, locals }) => {
  const text = await bodyText(request, MAX_DOCUMENT_BYTES);
  return text === null ? tooLong(MAX_DOCUMENT_BYTES) : answered(await locals.application.addShow(text));
};
