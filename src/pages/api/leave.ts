import type { APIRoute } from "astro";
import { json } from "../../server/json-answer.ts";

/** Ends the session that asks. */
export const POST: APIRoute = ({ locals: { access, who } }) => {
  if (who?.session) access.endSession(who.session);
  const answer = json({ ok: true });
  answer.headers.set("set-cookie", access.cookieThatEnds);
  return answer;
};
