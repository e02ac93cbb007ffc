import type { APIRoute } from "astro";
import { VersionKey } from "../../../core/live/shelf.ts";
import { json, refused } from "../../../server/json-answer.ts";

/** What is different between the versions `before` and `after`, in words. */
export const GET: APIRoute = async ({ url, locals }) => {
  const before = VersionKey.safeParse(url.searchParams.get("before"));
  const after = VersionKey.safeParse(url.searchParams.get("after") ?? "now");
  const found =
    before.success && after.success ? await locals.application.shows.compare(before.data, after.data) : null;
  return found ? json({ ok: true, ...found }) : refused([{ code: "no-such-version", path: [] }]);
};
