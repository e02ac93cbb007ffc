import type { APIRoute } from "astro";
import { HoldCommand } from "../../core/live/on-hold.ts";
import { answered, bodyOf } from "../../server/json-answer.ts";

const MAX_BYTES = 200;

/** Edits are held, put into the show that runs, or thrown away. */
export const POST: APIRoute = async ({ request, locals }) => {
  const read = await bodyOf(request, HoldCommand, MAX_BYTES);
  return read.ok ? answered(await locals.application.hold(read.data)) : read.response;
};
