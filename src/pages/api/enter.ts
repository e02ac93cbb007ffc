import type { APIRoute } from "astro";
import { z } from "zod";
import { deviceOf } from "../../server/access/access.ts";
import { bodyOf, json, refused } from "../../server/json-answer.ts";

const MAX_BYTES = 2000;
const Device = z.string().trim().max(60);
const Entering = z.union([
  z.strictObject({ passcode: z.string().max(400), device: Device }),
  z.strictObject({ pairing: z.string().max(64), device: Device }),
]);

/** Lets somebody in by a passcode or a pairing code, with a cookie. */
export const POST: APIRoute = async ({ request, locals }) => {
  const body = await bodyOf(request, Entering, MAX_BYTES);
  if (!body.ok) return body.response;
  const { access, address } = locals;
  const device = body.data.device || deviceOf(request.headers.get("user-agent") ?? "");
  const entered =
    "passcode" in body.data
      ? await access.enter(body.data.passcode, device, address)
      : access.enterPaired(body.data.pairing, device, address);
  if (!entered.ok) return refused([entered.problem], entered.status);
  const answer = json({ ok: true, role: entered.role });
  answer.headers.set("set-cookie", entered.cookie);
  return answer;
};
