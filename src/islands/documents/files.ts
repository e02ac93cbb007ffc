/** Profiles as files: out to the disk, and in again. */

import { readDeskProfile, readSurfaceProfile } from "../../core/edit/read.ts";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import { parseJson, type Read } from "../../core/format/read-format.ts";
import type { SurfaceProfile } from "../../core/format/surface-profile.ts";
import { DESK_PROFILE_FORMAT } from "../../core/format/versions.ts";
import { idFrom } from "./new-ids.ts";

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

/** `document`: as it came in, for the places of its faults. */
export type ReadProfile = { document: unknown } & (
  | { side: "desk"; read: Read<DeskProfile> }
  | { side: "surface"; read: Read<SurfaceProfile> }
);

/** A profile document of either side, by its own format. */
export function readProfile(text: string): ReadProfile {
  const json = parseJson(text);
  if (!json.ok) return { document: null, side: "desk", read: json };
  const document = json.value;
  const isDesk = (document as { format?: unknown } | null)?.format === DESK_PROFILE_FORMAT;
  return isDesk
    ? { document, side: "desk", read: readDeskProfile(document) }
    : { document, side: "surface", read: readSurfaceProfile(document) };
}
