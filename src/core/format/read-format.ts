/**
 * Reads documents of the open formats. A document is taken whole or refused whole, with every fault and its place; an
 * older one is brought up to date first (versions.ts), on the raw document, before anything else looks at it.
 */
import type { z } from "zod";
import { type Problem, problemsOf } from "./problem.ts";
import { type Format, NEWEST, upToDate } from "./versions.ts";

export type Read<T> = { ok: true; value: T } | { ok: false; problems: Problem[] };

/** No document of ours is nested this deep; who sends more wants something else. */
const MOST_DEPTH = 64;

/** True where objects and lists lie in each other deeper than `MOST_DEPTH`. Looked at before anything is made of the text. */
function isTooDeep(text: string): boolean {
  let depth = 0;
  let isText = false;
  for (let i = 0; i < text.length; i++) {
    const char = text.charCodeAt(i);
    if (isText) {
      if (char === BACKSLASH) i++;
      else if (char === QUOTE) isText = false;
    } else if (char === QUOTE) isText = true;
    else if (char === OPEN_LIST || char === OPEN_OBJECT) {
      if (++depth > MOST_DEPTH) return true;
    } else if (char === CLOSE_LIST || char === CLOSE_OBJECT) depth--;
  }
  return false;
}
const [QUOTE, BACKSLASH, OPEN_LIST, CLOSE_LIST, OPEN_OBJECT, CLOSE_OBJECT] = [34, 92, 91, 93, 123, 125];

export function parseJson(text: string): Read<unknown> {
  if (isTooDeep(text))
    return { ok: false, problems: [{ code: "not-json", path: [], reason: `nested deeper than ${MOST_DEPTH} levels` }] };
  try {
    return { ok: true, value: JSON.parse(text) };
  } catch (error) {
    return { ok: false, problems: [{ code: "not-json", path: [], reason: (error as Error).message }] };
  }
}

/** A raw document as the newest version of its format; refused where it is another format, or a newer version. */
export function newestOf(document: unknown, format: Format): Read<unknown> {
  const head = document as { format?: unknown; version?: unknown } | null;
  if (typeof head !== "object" || head === null || head.format !== format) {
    const found = typeof head === "object" && head !== null ? JSON.stringify(head.format ?? null) : typeof document;
    return { ok: false, problems: [{ code: "wrong-format", path: ["format"], expected: format, found }] };
  }
  const newest = NEWEST[format];
  if (typeof head.version === "number" && head.version > newest)
    return { ok: false, problems: [{ code: "newer-version", path: ["version"], newest, found: head.version }] };
  return { ok: true, value: upToDate(document, format) };
}

export function readFormat<T>(document: unknown, format: Format, schema: z.ZodType<T>): Read<T> {
  const newest = newestOf(document, format);
  if (!newest.ok) return newest;
  const parsed = schema.safeParse(newest.value);
  return parsed.success ? { ok: true, value: parsed.data } : { ok: false, problems: problemsOf(parsed.error) };
}
