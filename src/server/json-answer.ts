/** Answers of our endpoints. */
import type { Problem } from "../core/format/problem.ts";
import { problemAdvice } from "../words/problems.ts";
import type { Answer } from "./application.ts";

/** Longest show document that is taken, in bytes. */
export const MAX_DOCUMENT_BYTES = 32 * 1024 * 1024;

export function json(body: unknown, status = 200): Response {
  return new Response(JSON.stringify(body), { status, headers: { "content-type": "application/json" } });
}

/** Done, or refused with its sentences: 422, the request was understood and the show would not be valid. */
export function answered(answer: Answer): Response {
  return json(answer, answer.ok ? 200 : 422);
}

/** The body as text; null where it is longer than allowed. It is counted while it arrives: a length may be left unsaid. */
export async function bodyText(request: Request, maxBytes: number): Promise<string | null> {
  if (Number(request.headers.get("content-length") ?? 0) > maxBytes) return null;
  if (!request.body) return "";
  const reader = request.body.getReader();
  const decoder = new TextDecoder();
  let bytes = 0;
  let text = "";
  for (;;) {
    const { done, value } = (await reader.read()) as { done: boolean; value?: Uint8Array };
    if (done) return text + decoder.decode();
    bytes += value!.length;
    if (bytes > maxBytes) {
      await reader.cancel();
      return null;
    }
    text += decoder.decode(value, { stream: true });
  }
}

/** Refused before anything looked into it: 422. */
export function refused(problems: readonly Problem[], status = 422): Response {
  return json({ ok: false, problems: problems.map((p) => problemAdvice(p)) }, status);
}

export function tooLong(maxBytes: number): Response {
  return refused([{ code: "too-long", path: [], maxBytes }], 413);
}
