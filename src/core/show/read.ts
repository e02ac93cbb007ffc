/**
 * Reads documents: shows and profiles. A document is taken whole or refused whole, with every fault and its
 * place. Older versions are brought up to date here, one step at a time.
 */
import type { z } from "zod";
import { checkDeskProfile, checkShow, checkSurfaceProfile, type Profiles } from "./check.ts";
import { DESK_PROFILE_FORMAT, DeskProfile } from "./desk-profile.ts";
import { type Problem, problemsOf } from "./problem.ts";
import { SHOW_FORMAT, Show } from "./show.ts";
import { SURFACE_PROFILE_FORMAT, SurfaceProfile } from "./surface-profile.ts";

export type Read<T> = { ok: true; value: T } | { ok: false; problems: Problem[] };

/** Newest version of each format. A migration from version n stands in `STEPS` under the format's name at n. */
const NEWEST = 1;

export function parseJson(text: string): Read<unknown> {
  try {
    return { ok: true, value: JSON.parse(text) };
  } catch (error) {
    return { ok: false, problems: [{ code: "not-json", path: [], detail: (error as Error).message }] };
  }
}

export function readShow(document: unknown, profiles: Profiles): Read<Show> {
  const read = readFormat(document, SHOW_FORMAT, Show);
  return read.ok ? checked(read.value, checkShow(read.value, profiles)) : read;
}

export function readSurfaceProfile(document: unknown): Read<SurfaceProfile> {
  const read = readFormat(document, SURFACE_PROFILE_FORMAT, SurfaceProfile);
  return read.ok ? checked(read.value, checkSurfaceProfile(read.value)) : read;
}

export function readDeskProfile(document: unknown): Read<DeskProfile> {
  const read = readFormat(document, DESK_PROFILE_FORMAT, DeskProfile);
  return read.ok ? checked(read.value, checkDeskProfile(read.value)) : read;
}

function checked<T>(value: T, problems: Problem[]): Read<T> {
  return problems.length > 0 ? { ok: false, problems } : { ok: true, value };
}

function readFormat<T>(document: unknown, format: string, schema: z.ZodType<T>): Read<T> {
  const head = document as { format?: unknown; version?: unknown } | null;
  if (typeof head !== "object" || head === null || head.format !== format) {
    const found = typeof head === "object" && head !== null ? JSON.stringify(head.format ?? null) : typeof document;
    return {
      ok: false,
      problems: [{ code: "wrong-format", path: ["format"], expected: JSON.stringify(format), found }],
    };
  }
  if (typeof head.version === "number" && head.version > NEWEST)
    return { ok: false, problems: [{ code: "newer-version", path: ["version"], newest: NEWEST, found: head.version }] };
  const parsed = schema.safeParse(document);
  return parsed.success ? { ok: true, value: parsed.data } : { ok: false, problems: problemsOf(parsed.error) };
}
