/**
 * What the schemas and the checks demand beyond types, by code. A schema gives the code where Zod wants a message; the
 * sentences are in src/words.
 */

export const RULES = [
  // Texts and names.
  "id",
  "name",
  "colour",
  "colour-with-alpha",
  "one-line",
  "hex-bytes",
  "osc-address",
  "heard-address",
  "whole-digits",
  "slot",
  "header-name",
  "header-value",
  "login-user",
  "login-password",
  "computer-key",
  "cue-number",
  "cue-slot",
  "cue-of-command",
  "text-without-null",
  "display-bytes",
  // Numbers and ranges.
  "range-not-falling",
  "range-rising",
  "range-of-4096",
  "law-rising",
  "two-numbers",
  "channels-1-to-16",
  "numbers-0-to-127",
  "ring-rising",
  "start-inside",
  "bank-room",
  "input-rising",
  "exponent-not-0",
  "curve-points",
  "dmx-off-above-on",
  "dmx-universe",
  // What belongs together.
  "another-control",
  "order-for-sets",
  "number-or-switch",
  "ports-of-its-own",
  "no-midi-ports",
  "its-midi-ports",
  "universe-comes-in",
  "base-has-no-group",
  "speaks-midi",
  "needs-banks",
  "motor-of-fader",
  "whole-midi",
  "no-key",
  "one-key",
  "two-keys",
  "chosen-trigger",
  "free-message-short",
  "free-midi",
  "free-osc",
  "free-line",
] as const;
export type Rule = (typeof RULES)[number];

/** For a schema: the rule that a refinement checks, and which field is at fault where it is not the whole. */
export function rule(code: Rule, ...path: (string | number)[]): { message: Rule; path?: (string | number)[] } {
  return path.length > 0 ? { message: code, path } : { message: code };
}
