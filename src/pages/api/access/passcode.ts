import type { APIRoute } from "astro";
import { z } from "zod";
import { ROLES } from "../../../core/format/roles.ts";
import { bodyOf, json, refused } from "../../../server/json-answer.ts";

const MAX_BYTES = 2000;
const Passcode = z.strictObject({ role: z.enum(ROLES), passcode: z.string().max(400).nullable() });

/** Gives a role a passcode, or takes it away; who came in as this role has to come in anew. */
export const PUT: APIRoute = async ({ request, locals: { access, who } }) => {
  const body = await bodyOf(request, Passcode, MAX_BYTES);
  if (!body.ok) return body.response;
  const problem = await access.setPasscode(body.data.role, body.data.passcode, who!);
  return problem ? refused([problem]) : json({ ok: true });
};
