/**
 * Reads documents of the open formats. A document is taken whole or refused whole, with every fault and its place; an
 * older one is brought up to date first (versions.ts), on the raw document, before anything else looks at it.
 */
import type { z } from "zod";
import { type Problem, problemsOf } from "./problem.ts";
import { type Format, NEWEST, upToDate } from "./versions.ts";

export type Read<T> = { ok: true; value: T } | { ok: false; problems: Problem[] };

export function parseJson(text: string): Read<unknown> {
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
