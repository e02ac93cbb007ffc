/** Reads shows and profiles, with everything that only a check can see. */
import { DeskProfile } from "../format/desk-profile.ts";
import type { Problem } from "../format/problem.ts";
import type { Profiles } from "../format/profiles.ts";
import { type Read, readFormat } from "../format/read-format.ts";
import { Show } from "../format/show.ts";
import { SurfaceProfile } from "../format/surface-profile.ts";
import { DESK_PROFILE_FORMAT, SHOW_FORMAT, SURFACE_PROFILE_FORMAT } from "../format/versions.ts";
import { checkDeskProfile } from "./check-desk-profile.ts";
import { checkShow } from "./check-show.ts";
import { checkSurfaceProfile } from "./check-surface-profile.ts";

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
