/** Profiles as files: out to the disk, and in again. */

import { DESK_PROFILE_FORMAT, type DeskProfile } from "../../core/show/desk-profile.ts";
import { parseJson, type Read, readDeskProfile, readSurfaceProfile } from "../../core/show/read.ts";
import type { SurfaceProfile } from "../../core/show/surface-profile.ts";
import { idFrom } from "../map/new-ids.ts";

/** Hands a document to the browser's downloads. */
export function download(name: string, text: string, type = "application/json"): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}

export function exportProfile(side: "desk" | "surface", profile: { name: string }): void {
  download(`${idFrom(profile.name)}.${side}.json`, `${JSON.stringify(profile, null, 2)}\n`);
}

export type ReadProfile = { side: "desk"; read: Read<DeskProfile> } | { side: "surface"; read: Read<SurfaceProfile> };

/** A profile document of either side, by its own format. */
export function readProfile(text: string): ReadProfile {
  const json = parseJson(text);
  if (!json.ok) return { side: "desk", read: json };
  const isDesk = (json.value as { format?: unknown } | null)?.format === DESK_PROFILE_FORMAT;
  return isDesk
    ? { side: "desk", read: readDeskProfile(json.value) }
    : { side: "surface", read: readSurfaceProfile(json.value) };
}
