/** From what is known of the desk to what a control shows: word, mode and colour. */
import type { LightMode } from "./palette.ts";

/**
 * The states of a control. Every one has a word, a shape and a colour on the screen (docs/interface.md) and a
 * mode of light on the surface.
 */
export type ControlState = "free" | "available" | "on" | "held" | "unconfirmed" | "silent" | "switched-off";

/** Colour of a control whose desk has none to tell. */
export const DEFAULT_COLOUR = "#d8b066";

export const LIGHT_MODE: Record<ControlState, LightMode> = {
  free: "off",
  "switched-off": "off",
  available: "dim",
  on: "full",
  held: "full",
  unconfirmed: "pulse",
  silent: "pulse",
};

export interface LookFacts {
  mapped: boolean;
  held: boolean;
  /** The desk does not answer. */
  silent: boolean;
  /** What was sent is still not confirmed. */
  unconfirmed: boolean;
  /** The value of the state shown; null where there is none or it is not known. */
  value: number | null;
}

export function controlState(facts: LookFacts): ControlState {
  if (!facts.mapped) return "free";
  if (facts.silent) return "silent";
  if (facts.unconfirmed) return "unconfirmed";
  if (facts.value !== null) return facts.value > 0 ? "on" : "available";
  return facts.held ? "held" : "available";
}
