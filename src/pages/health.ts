import type { APIRoute } from "astro";
import { json } from "../server/json-answer.ts";

/** How the program is, for whoever watches over it. */
export const GET: APIRoute = ({ locals }) => json(locals.application.health());
