/** Answers of our endpoints. */
import type { z } from "zod";
import { type Problem, problemsOf } from "../core/format/problem.ts";
import { parseJson } from "../core/format/read-format.ts";
import { problemAdvice } from "../words/problems.ts";
import type { Answer } from "./shows.ts";

/** Longest show document that is taken, in bytes. */
export const MAX_DOCUMENT_BYTES = 32 * 1024 * 1024;

export function json(body: unknown, status = 200): Response {
  return new Response(JSON.stringify(body), { status, headers: { "content-type": "application/json" } });
}

/**
 * Done, or refused with its sentences: 422, the request was understood and the show would not be valid; 409, somebody else
 * changed the same thing meanwhile.
 */
export function answered(answer: Answer): Response {
  if (answer.ok) return json(answer);
  return json(answer, answer.meanwhile === undefined ? 422 : 409);
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

/** A body that is small and of this form; otherwise the answer that refuses it. */
export async function bodyOf<T>(
  request: Request,
  form: z.ZodType<T>,
  maxBytes: number,
): Promise<{ ok: true; data: T } | { ok: false; response: Response }> {
  const text = await bodyText(request, maxBytes);
  if (text === null) return { ok: false, response: tooLong(maxBytes) };
  const json = parseJson(text);
  if (!json.ok) return { ok: false, response: refused(json.problems) };
  const read = form.safeParse(json.value);
  return read.success ? { ok: true, data: read.data } : { ok: false, response: refused(problemsOf(read.error)) };
}

/** Refused before anything looked into it: 422. */
export function refused(problems: readonly Problem[], status = 422): Response {
  return json({ ok: false, problems: problems.map((p) => problemAdvice(p)) }, status);
}

export function tooLong(maxBytes: number): Response {
  return refused([{ code: "too-long", path: [], maxBytes }], 413);
}
