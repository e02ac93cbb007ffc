import type { APIRoute } from "astro";
import { answered, json } from "../../server/json-answer.ts";
import { StandInFailed } from "../../server/standins.ts";

/** Opens the demo show in the place of the present one, with its stand-ins running; it can be undone. */
export const POST: APIRoute = async ({ locals }) => {
  try {
    await locals.standIns.startAll();
  } catch (error) {
    if (!(error instanceof StandInFailed)) throw error;
    return json({ ok: false, problems: [error.message] }, 503);
  }
  return answered(await locals.application.openShow(JSON.stringify(locals.standIns.demoShow)));
};
