import type { APIRoute } from "astro";
import { z } from "zod";
import { bodyOf, json } from "../../server/json-answer.ts";
import { StandInFailed } from "../../server/standins.ts";

const MAX_BYTES = 1000;
const Wanted = z.strictObject({ profile: z.string().min(1).max(200) });

/** Starts the stand-in of a kind of desk; answers with the desk as a show has it. */
export const POST: APIRoute = async ({ request, locals }) => {
  const read = await bodyOf(request, Wanted, MAX_BYTES);
  if (!read.ok) return read.response;
  try {
    const desk = await locals.standIns.start(read.data.profile);
    return desk ? json({ ok: true, desk }) : json({ ok: false, problems: ["No stand-in plays such a desk."] }, 404);
  } catch (error) {
    if (!(error instanceof StandInFailed)) throw error;
    return json({ ok: false, problems: [error.message] }, 503);
  }
};
