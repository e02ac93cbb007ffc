import type { APIRoute } from "astro";
import { z } from "zod";
import { bodyOf, json, refused } from "../../../server/json-answer.ts";

const MAX_BYTES = 200;
const Ending = z.strictObject({ id: z.string().max(40) });

/** Ends somebody's session, at once. */
export const DELETE: APIRoute = async ({ request, locals: { access } }) => {
  const body = await bodyOf(request, Ending, MAX_BYTES);
  if (!body.ok) return body.response;
  return access.endSession(body.data.id) ? json({ ok: true }) : refused([{ code: "no-such-session", path: [] }]);
};
