import type { APIRoute } from "astro";
import { answered } from "../../server/json-answer.ts";

export const POST: APIRoute = async ({ locals }) => answered(await locals.application.redo());
