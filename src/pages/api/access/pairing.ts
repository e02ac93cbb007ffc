import type { APIRoute } from "astro";
import { z } from "zod";
import { ROLES } from "../../../core/format/roles.ts";
import { bodyOf, json } from "../../../server/json-answer.ts";

const MAX_BYTES = 200;
const Pairing = z.strictObject({ role: z.enum(ROLES) });

/** Makes a way in for one device, once. */
export const POST: APIRoute = async ({ request, locals: { access } }) => {
  const body = await bodyOf(request, Pairing, MAX_BYTES);
  return body.ok ? json({ ok: true, ...access.pair(body.data.role) }) : body.response;
};
