/** Small shows for tests: the pad grid and the quay lighting desk, mapped as a test says. */

import { WHOLE_TRAVEL } from "../../src/core/format/givens.ts";
import { type Profiles, profilesOf } from "../../src/core/format/profiles.ts";
import type { Binding } from "../../src/core/format/shape.ts";
import { type Action, type Desk, emptyShow, type Mapping, type Show } from "../../src/core/format/show.ts";
import type { SurfaceProfile } from "../../src/core/format/surface-profile.ts";
import { shippedProfiles } from "../../src/server/profiles.ts";

export const library = shippedProfiles();
export const profiles: Profiles = library.profiles;

export const page: Binding = { from: "page" };
export const fixed = (value: number): Binding => ({ from: "fixed", value });

export function action(id: string, fn: string, bindings: Action["bindings"] = {}, more: Partial<Action> = {}): Action {
  return { id, on: true, desk: "lights", function: fn, bindings, shape: WHOLE_TRAVEL, ...more };
}

/** A mapping of one control of the pad grid. Faders move, everything else is pressed. */
export function mapping(control: string, actions: Action | Action[], more: Partial<Mapping> = {}): Mapping {
  const fader = control.startsWith("fader");
  return {
    id: `m-${control}`,
    name: "",
    note: "",
    on: true,
    surface: "deck",
    control,
    gesture: fader ? "move" : "press",
    layers: [],
    takeover: fader ? "catch" : "jump",
    look: {},
    actions: Array.isArray(actions) ? actions : [actions],
    ...more,
  };
}

export const toggle = (playback: number, p: Binding = page) =>
  action(`t-${playback}`, "playback.toggle", { page: p, playback: fixed(playback) });
export const flash = (playback: number, p: Binding = page) =>
  action(`f-${playback}`, "playback.flash", { page: p, playback: fixed(playback) });
export const level = (playback: number, p: Binding = page, more: Partial<Action> = {}) =>
  action(`l-${playback}`, "playback.level", { page: p, playback: fixed(playback) }, more);
/** An action of the house. */
export const house = (fn: string, bindings: Action["bindings"] = {}, more: Partial<Action> = {}) =>
  action(`h-${fn}`, fn, bindings, { desk: "house", ...more });
export const shift = () => action("s", "layer", { layer: fixed(2) }, { desk: "house" });

export function showWith(mappings: Mapping[], more: Partial<Show> = {}): Show {
  return {
    ...emptyShow("Test"),
    surfaces: [
      { id: "deck", name: "Deck grid", profile: "deck-grid", in: { kind: "screen" }, out: { kind: "screen" } },
    ],
    desks: [{ id: "lights", name: "Lights", profile: "quay-lights", host: "127.0.0.1", port: 9100, listenPort: 9101 }],
    layers: [
      { id: "base", name: "Base" },
      { id: "shift", name: "Shift" },
    ],
    mappings,
    ...more,
  };
}

/** The show of `showWith` with a surface of one's own in the place of the pad grid, and a MIDI desk beside the lights. */
export function showOn(
  profile: SurfaceProfile,
  mappings: Mapping[],
  more: Partial<Show> = {},
): { show: Show; profiles: Profiles } {
  const show = showWith(mappings, {
    surfaces: [{ id: "deck", name: "Deck", profile: profile.id, in: { kind: "screen" }, out: { kind: "screen" } }],
    ...more,
  });
  return { show, profiles: profilesOf([...library.surfaces, profile], library.desks) };
}

export const synth: Desk = {
  id: "synth",
  name: "Synth",
  profile: "midi",
  host: "none",
  port: 1,
  listenPort: 1,
  midi: { in: { kind: "none" }, out: { kind: "none" } },
};

const at = (id: string, profile: string, port: number): Desk => ({
  id,
  name: id,
  profile,
  host: "127.0.0.1",
  port,
  listenPort: port + 1,
});
export const vision = at("vision", "spyglass-vision", 9110);
export const sound = at("sound", "undertow-sound", 9120);
export const instrument: Desk = { ...synth, id: "bell", name: "Bell", profile: "bellbuoy" };

/** Playback `playback` of page 1 is told to go. */
export const go = (playback: number) =>
  action(`g-${playback}`, "playback.go", { page: fixed(1), playback: fixed(playback) });
/** What a desk hears of it. */
export const went = (...playbacks: number[]) => playbacks.map((p) => `/set/playback/1/${p}/go`);
/** A fader without takeover: its first value is sent. */
export const jump = { takeover: "jump" } as const;
