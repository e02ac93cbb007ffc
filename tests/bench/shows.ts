/** Shows for the bench: faders, each to a level of its own at one desk. */
import quayLights from "../../profiles/quay-lights.desk.json" with { type: "json" };
import type { DeskProfile } from "../../src/core/format/desk-profile.ts";
import { WHOLE_TRAVEL } from "../../src/core/format/givens.ts";
import { type Profiles, profilesOf } from "../../src/core/format/profiles.ts";
import type { Shape } from "../../src/core/format/shape.ts";
import { emptyShow, type Mapping, type Show } from "../../src/core/format/show.ts";
import type { SurfaceProfile } from "../../src/core/format/surface-profile.ts";
import { DESK_PROFILE_FORMAT, SURFACE_PROFILE_FORMAT } from "../../src/core/format/versions.ts";
import { shippedProfiles } from "../../src/server/profiles.ts";

/** Controllers 0..99 on channels 1..10. */
export const CONTROLS_A_SURFACE = 1000;
const NUMBERS_A_CHANNEL = 100;

export interface Wired {
  show: Show;
  profiles: Profiles;
}

/** What control `i` of a surface sends: a channel 0..15 and a controller number. */
export function messageOf(i: number): { channel: number; number: number } {
  return { channel: Math.floor(i / NUMBERS_A_CHANNEL), number: i % NUMBERS_A_CHANNEL };
}

/**
 * small: 100 mappings. large: 10,000, as a show comes to so many: 1,000 controls that mean something else on each of
 * ten pages. spread: 10,000 controls on ten surfaces, with one mapping each.
 */
export type Size = "small" | "large" | "spread";

const SIZES: Record<Size, { surfaces: number; controls: number; pages: number }> = {
  small: { surfaces: 1, controls: 100, pages: 1 },
  large: { surfaces: 1, controls: 1000, pages: 10 },
  spread: { surfaces: 10, controls: 1000, pages: 1 },
};

export function showOfSize(size: Size): Wired {
  const { surfaces, controls, pages } = SIZES[size];
  const surface: SurfaceProfile = {
    format: SURFACE_PROFILE_FORMAT,
    version: 2,
    id: "wide",
    name: "Wide",
    about: "",
    size: { width: 100, height: 10 },
    lightsItself: false,
    palettes: [],
    controls: Array.from({ length: CONTROLS_A_SURFACE }, (_, i) => ({
      id: `fader-${i + 1}`,
      name: `Fader ${i + 1}`,
      kind: "fader",
      behaviour: "absolute",
      box: { x: i % 100, y: Math.floor(i / 100), width: 1, height: 1 },
      sends: { kind: "controller", channel: messageOf(i).channel + 1, number: messageOf(i).number },
    })),
  };
  // Every mapping has a level of its own, so that ten thousand of them also touch ten thousand values.
  const desk: DeskProfile = {
    ...(quayLights as unknown as DeskProfile),
    format: DESK_PROFILE_FORMAT,
    id: "wide-desk",
    parameters: [
      { id: "page", name: "page", from: 1, to: 10 },
      { id: "playback", name: "playback", from: 1, to: 1000 },
      { id: "direction", name: "direction", from: -1, to: 1 },
    ],
  };
  const show: Show = {
    ...emptyShow("Bench"),
    surfaces: Array.from({ length: surfaces }, (_, i) => ({
      id: `s-${i}`,
      name: `Surface ${i}`,
      profile: surface.id,
      in: { kind: "screen" },
      out: { kind: "none" },
    })),
    desks: [{ id: "desk", name: "Desk", profile: desk.id, host: "127.0.0.1", port: 9, listenPort: 10 }],
    mappings: Array.from({ length: surfaces * pages * controls }, (_, i): Mapping => {
      const c = i % controls;
      const p = Math.floor(i / controls) % pages;
      const s = Math.floor(i / (controls * pages));
      const mapping = levelMapping(`m-${i}`, `s-${s}`, `fader-${c + 1}`, "desk", s + p + 1, c + 1);
      return pages > 1 ? { ...mapping, pages: { desk: "desk", in: [p + 1] } } : mapping;
    }),
  };
  const house = shippedProfiles().desks.filter((d) => d.id === "house");
  return { show, profiles: profilesOf([surface], [desk, ...house]) };
}

/** As `showOfSize`, with three actions a mapping and every step of their shapes on that still sends. */
export function shapedShow(size: "small" | "large"): Wired {
  const { show, profiles } = showOfSize(size);
  const shape: Shape = {
    input: [0.05, 0.95],
    outside: "clamp",
    invert: true,
    curve: { kind: "s" },
    steps: 512,
    deadBand: { at: 0.5, width: 0.05 },
    fine: { factor: 0.1, while: { layer: "fine" } },
    slewPerS: 1000,
    jumpLimitPerS: 10_000,
    output: [0.1, 0.9],
    roundTo: 0.001,
    ratePerS: 1000,
  };
  return {
    profiles,
    // As it comes from a document: no part of it is shared by two mappings.
    show: structuredClone({
      ...show,
      layers: [...show.layers, { id: "fine", name: "Fine" }],
      mappings: show.mappings.map((m) => ({
        ...m,
        actions: [0, 1, 2].map((k) => structuredClone({ ...m.actions[0]!, id: `a-${k}`, shape })),
      })),
    }),
  };
}

/** So many mappings with three actions each: as many controls as one surface has, on each of as many pages as it takes. */
export function editedShow(mappings: number): Wired {
  const { show, profiles } = shapedShow("large");
  const pages = Math.ceil(mappings / CONTROLS_A_SURFACE);
  const made = Array.from({ length: mappings }, (_, i): Mapping => {
    const own = show.mappings[i % show.mappings.length]!;
    const surface = `s-${Math.floor(i / (10 * CONTROLS_A_SURFACE))}`;
    return { ...structuredClone(own), id: `m-${i}`, surface };
  });
  const surfaces = Array.from({ length: Math.ceil(pages / 10) }, (_, i) => ({
    ...show.surfaces[0]!,
    id: `s-${i}`,
    name: `Surface ${i}`,
  }));
  return { profiles, show: { ...show, surfaces, mappings: made } };
}

/** The latency show with ten thousand mappings more, on another surface: for swapping it in under load. */
export function bigShowForLatency(show: Show): Show {
  return {
    ...show,
    surfaces: [
      ...show.surfaces,
      { id: "big", name: "Big", profile: "deck-grid", in: { kind: "screen" }, out: { kind: "none" } },
    ],
    mappings: [
      ...show.mappings,
      ...Array.from({ length: 10_000 }, (_, i): Mapping => {
        const own = levelMapping(`big-${i}`, "big", `fader-${(i % 6) + 1}`, "lights", (i % 9) + 1, (i % 20) + 1);
        return { ...own, pages: { desk: "lights", in: [(i % 9) + 1] } };
      }),
    ],
  };
}

/** Controls of a pad grid, and pages on each of which they mean something else. */
const PADS = 30;
const GRID = PADS + 6;
const PAGES = 9;

/** The latency show with so many mappings more, of three actions each: on as many pad grids as it takes. */
export function largeShowForLatency(show: Show, mappings: number): Show {
  const surfaces = Array.from({ length: Math.ceil(mappings / (GRID * PAGES)) }, (_, i) => ({
    id: `big-${i}`,
    name: `Big ${i}`,
    profile: "deck-grid",
    in: { kind: "screen" } as const,
    out: { kind: "none" } as const,
  }));
  return {
    ...show,
    surfaces: [...show.surfaces, ...surfaces],
    mappings: [
      ...show.mappings,
      ...Array.from({ length: mappings }, (_, i): Mapping => {
        const control = (i % GRID) + 1;
        const page = (Math.floor(i / GRID) % PAGES) + 1;
        const surface = `big-${Math.floor(i / (GRID * PAGES))}`;
        const name = control <= PADS ? `pad-${control}` : `fader-${control - PADS}`;
        const own = levelMapping(`big-${i}`, surface, name, "lights", page, (i % 20) + 1);
        const actions = [1, 2, 3].map((k) => ({ ...own.actions[0]!, id: `a-${k}` }));
        const gesture = control <= PADS ? ("press" as const) : own.gesture;
        return { ...own, gesture, actions, pages: { desk: "lights", in: [page] } };
      }),
    ],
  };
}

/** Pads of the wall, and what its rows hold. */
export const WALL_PADS = 512;
const WALL_ROW = 32;

/** The latency show with 2,000 mappings on 10 surfaces, and a wall of pads of which none does anything yet. */
export function showForMapping(show: Show): Show {
  const wall: SurfaceProfile = {
    format: SURFACE_PROFILE_FORMAT,
    version: 2,
    id: "wall",
    name: "Wall",
    about: "",
    size: { width: WALL_ROW, height: WALL_PADS / WALL_ROW },
    lightsItself: false,
    palettes: [],
    controls: Array.from({ length: WALL_PADS }, (_, i) => ({
      id: `pad-${i + 1}`,
      name: `Pad ${i + 1}`,
      kind: "pad",
      behaviour: "springs-back",
      box: { x: i % WALL_ROW, y: Math.floor(i / WALL_ROW), width: 1, height: 1 },
      sends: { kind: "note", channel: Math.floor(i / 128) + 1, number: i % 128 },
    })),
  };
  const wide: DeskProfile = {
    ...(quayLights as unknown as DeskProfile),
    format: DESK_PROFILE_FORMAT,
    id: "wide-lights",
    name: "Wide lights",
    parameters: (quayLights as unknown as DeskProfile).parameters.map((p) =>
      p.id === "playback" ? { ...p, to: WALL_PADS } : p,
    ),
  };
  const mapped = largeShowForLatency(show, 2000 - LATENCY_FADERS);
  const more = Array.from({ length: 10 - 1 - mapped.surfaces.length }, (_, i) => ({
    ...show.surfaces[0]!,
    id: `more-${i}`,
    name: `More ${i}`,
    in: { kind: "screen" } as const,
  }));
  return {
    ...mapped,
    // The desk of the bench only listens.
    desks: mapped.desks.map((d) => ({ ...d, profile: wide.id, whenSilent: "send" as const })),
    surfaces: [
      ...mapped.surfaces,
      ...more,
      { id: "wall", name: "Wall", profile: wall.id, in: { kind: "screen" }, out: { kind: "none" } },
    ],
    profiles: { surfaces: [wall], desks: [wide] },
  };
}

/** Faders of the latency show; with 128 values each, a message can be told from its neighbours. */
export const LATENCY_FADERS = 5;

/** The pad grid's faders over UDP to five levels of the lighting desk. */
export function showForLatency(midiPort: number, deskPort: number, listenPort: number): Show {
  return {
    ...emptyShow("Bench"),
    surfaces: [
      {
        id: "fast",
        name: "Fast",
        profile: "deck-grid",
        in: { kind: "midi-udp", host: "127.0.0.1", port: midiPort },
        out: { kind: "none" },
      },
    ],
    desks: [{ id: "lights", name: "Lights", profile: "quay-lights", host: "127.0.0.1", port: deskPort, listenPort }],
    mappings: Array.from(
      { length: LATENCY_FADERS },
      (_, i): Mapping => levelMapping(`m-${i + 1}`, "fast", `fader-${i + 1}`, "lights", 1, i + 1),
    ),
  };
}

function levelMapping(
  id: string,
  surface: string,
  control: string,
  desk: string,
  page: number,
  playback: number,
): Mapping {
  return {
    id,
    name: "",
    note: "",
    on: true,
    surface,
    control,
    gesture: "move",
    layers: [],
    takeover: "jump",
    look: {},
    actions: [
      {
        id: "a-1",
        on: true,
        desk,
        function: "playback.level",
        bindings: { page: { from: "fixed", value: page }, playback: { from: "fixed", value: playback } },
        shape: WHOLE_TRAVEL,
      },
    ],
  };
}
