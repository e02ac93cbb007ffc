import type { APIRoute } from "astro";
import { ENGINE_FAULTS } from "../../engine/messages.ts";
import { json } from "../../server/json-answer.ts";

/** Breaks the engine, where the server was started with VELVET_FAULTS=1: tests show its recovery with it. */
export const POST: APIRoute = ({ locals, url }) => {
  const how = ENGINE_FAULTS.find((f) => f === (url.searchParams.get("how") ?? "throw"));
  return json({}, how && locals.application.breakEngine(how) ? 200 : 404);
};
