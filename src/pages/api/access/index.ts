import type { APIRoute } from "astro";
import { AT_THIS_COMPUTER } from "../../../server/access/who.ts";
import { json } from "../../../server/json-answer.ts";

/** Where others come in, which roles have a passcode, and who is in. */
export const GET: APIRoute = ({ locals: { access, who } }) => json(access.state(who ?? AT_THIS_COMPUTER));
