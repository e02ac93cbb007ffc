/** Surface profiles for tests, made from what a control sends. */
import type { Control, SurfaceProfile } from "../../src/core/format/surface-profile.ts";

export function control(id: string, sends: Control["sends"], more: Partial<Control> = {}): Control {
  return {
    id,
    name: id,
    kind: "pad",
    behaviour: "springs-back",
    box: { x: 0, y: 0, width: 1, height: 1 },
    sends,
    ...more,
  };
}

export const fader = (id: string, sends: Control["sends"], more: Partial<Control> = {}) =>
  control(id, sends, { kind: "fader", behaviour: "absolute", ...more });
export const encoder = (id: string, sends: Control["sends"], more: Partial<Control> = {}) =>
  control(id, sends, { kind: "knob", behaviour: "relative", ...more });
export const once = (id: string, sends: Control["sends"]) => control(id, sends, { behaviour: "one-shot" });

export function surfaceProfile(controls: Control[], more: Partial<SurfaceProfile> = {}): SurfaceProfile {
  return {
    format: "velvet-hinge/surface-profile",
    version: 2,
    id: "test-surface",
    name: "Test surface",
    about: "",
    size: { width: 1, height: 1 },
    lightsItself: false,
    controls,
    palettes: [],
    ...more,
  };
}
