/** The profiles that ship with the program. */
import bellbuoy from "../../profiles/bellbuoy.desk.json" with { type: "json" };
import computerKeys from "../../profiles/computer-keys.surface.json" with { type: "json" };
import deckGrid from "../../profiles/deck-grid.surface.json" with { type: "json" };
import dmxChannels from "../../profiles/dmx-channels.surface.json" with { type: "json" };
import house from "../../profiles/house.desk.json" with { type: "json" };
import midi from "../../profiles/midi.desk.json" with { type: "json" };
import pocketKeys from "../../profiles/pocket-keys.surface.json" with { type: "json" };
import quayLights from "../../profiles/quay-lights.desk.json" with { type: "json" };
import spyglassVision from "../../profiles/spyglass-vision.desk.json" with { type: "json" };
import tideStrips from "../../profiles/tide-strips.surface.json" with { type: "json" };
import undertowSound from "../../profiles/undertow-sound.desk.json" with { type: "json" };
import { readDeskProfile, readSurfaceProfile } from "../core/edit/read.ts";
import type { DeskProfile } from "../core/format/desk-profile.ts";
import { type Profiles, profilesOf } from "../core/format/profiles.ts";
import type { Read } from "../core/format/read-format.ts";
import type { SurfaceProfile } from "../core/format/surface-profile.ts";
import { problemWords } from "../words/problems.ts";

export interface ProfileLibrary {
  surfaces: SurfaceProfile[];
  desks: DeskProfile[];
  profiles: Profiles;
}

export function shippedProfiles(): ProfileLibrary {
  const surfaces = [deckGrid, tideStrips, pocketKeys, computerKeys, dmxChannels].map((p) =>
    must(readSurfaceProfile(p)),
  );
  const desks = [house, midi, quayLights, spyglassVision, undertowSound, bellbuoy].map((p) => must(readDeskProfile(p)));
  return { surfaces, desks, profiles: profilesOf(surfaces, desks) };
}

function must<T>(read: Read<T>): T {
  if (read.ok) return read.value;
  throw new Error(`A profile of ours is not valid: ${read.problems.map((p) => problemWords(p)).join(" ")}`);
}
