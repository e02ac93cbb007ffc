import type { APIRoute } from "astro";
import { json } from "../../server/json-answer.ts";

/** Breaks the engine, where the server was started with VELVET_FAULTS=1: tests show its recovery with it. */
export const POST: APIRoute = ({ locals }) => json({}, locals.application.breakEngine() ? 200 : 404);
