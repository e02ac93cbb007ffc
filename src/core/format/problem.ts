/**
 * What is wrong with a document or an edit, as data: a code, a place, and the facts. The sentences are in src/words, and
 * docs/problems.md is made of both. A code that was released is never used for anything else.
 */
import type { z } from "zod";
import type { Gesture } from "./gestures.ts";
import type { Role } from "./roles.ts";
import { RULES, type Rule } from "./rules.ts";
import type { Control } from "./surface-profile.ts";
import type { Format } from "./versions.ts";
import type { Carrier, MessageKind, Wire } from "./wires.ts";

/** Keys and indexes from the root of the document. */
export type Path = readonly (string | number)[];

/** Kinds of things that have an id of their own. */
export type Thing =
  | "surface"
  | "desk"
  | "surface-or-desk"
  | "layer"
  | "mapping"
  | "action"
  | "group"
  | "bank"
  | "variable"
  | "bundle"
  | "route"
  | "session"
  | "surface-profile"
  | "desk-profile"
  | "control"
  | "palette"
  | "display"
  | "surface-bank"
  | "key"
  | "channel"
  | "parameter"
  | "function-parameter"
  | "state"
  | "function"
  | "page-function";

/** What should have stood there. */
export type Expected =
  | { is: "type"; type: string }
  | { is: "one-of"; values: readonly unknown[] }
  | { is: "at-least" | "more-than" | "at-most" | "less-than"; limit: number; of: "characters" | "entries" | "number" }
  | { is: "no-field"; fields: readonly string[] }
  /** A value of this field that is known. */
  | { is: "known"; field: string }
  | { is: "form" }
  | { is: "rule"; rule: Rule }
  | { is: "carrier"; carriers: readonly Carrier[] }
  | { is: "behaviour"; behaviours: readonly Control["behaviour"][] }
  | { is: "time-not-before"; ms: number }
  /** A parameter of the house, such as a bank, of which the show has none. */
  | { is: "some"; parameter: string }
  | { is: "message-of-wire"; wire: Wire }
  | { is: "message"; message: MessageKind; to: "surface" | "desk" }
  | { is: "no-target"; function: string }
  | { is: "no-text"; function: string };

/** What is wrong with a template: a text with `{name}` in it. */
export type TemplateFault =
  | { fault: "closed-not-opened" | "braces" | "two-names"; text: string }
  | { fault: "not-a-name"; name: string; text: string }
  | { fault: "unknown-name"; name: string; in: "address" | "line" | "argument" | "message" | "text" }
  | { fault: "needs-bytes"; name: string; bits: number }
  | { fault: "pulse-as-bytes" }
  | { fault: "missing-field" | "no-such-field"; message: string; field: string }
  | { fault: "needs-field"; field: string; needs: string }
  | { fault: "either-field"; field: string; other: string }
  /** `name`: the parameter that goes from `hasFrom` to `hasTo`; empty where a number stands in the field. */
  | {
      fault: "field-out-of-range";
      field: string;
      name: string;
      hasFrom: number;
      hasTo: number;
      from: number;
      to: number;
    }
  | { fault: "not-a-cue"; text: string }
  | { fault: "not-sysex"; text: string }
  | { fault: "unknown-command"; standard: "show-control" | "machine-control"; command: string };

/** A message as a surface sends it, for the sentence that two controls send the same. */
export interface SentMessage {
  readonly kind: string;
  readonly number?: number | string;
  readonly channel?: number;
}

interface At {
  readonly path: Path;
}

export type Problem = At &
  (
    | { code: "not-json"; reason: string }
    | { code: "too-long"; maxBytes: number }
    | { code: "wrong-format"; expected: Format; found: string }
    | { code: "newer-version"; newest: number; found: number }
    | { code: "not-valid"; expected: Expected }
    | { code: "unknown-id"; what: Thing; id: string }
    | { code: "duplicate-id"; what: Thing; id: string }
    /** `by`: what stands on it; of a mapping its control and its name. */
    | { code: "in-use"; what: Thing; id: string; by: Thing; control?: string; name?: string }
    /** `what`: the name of a parameter, or of what a number counts. */
    | { code: "out-of-range"; what: string; value: number; from: number; to: number }
    | { code: "too-many-values"; count: number; most: number }
    | { code: "missing-number"; parameter: string }
    | { code: "missing-target"; target: "desk" | "mapping" | "port" }
    | { code: "wrong-gesture"; gesture: Gesture; control: Control["kind"]; can: readonly Gesture[] }
    | { code: "no-page"; desk: string }
    | { code: "no-selection"; desk: string }
    | { code: "cycle"; way: readonly string[] }
    | ({ code: "template" } & TemplateFault)
    | { code: "heard-twice"; heard: string; by: string }
    | { code: "sent-twice"; message: SentMessage; by: string }
    | { code: "range-twice"; control: string }
    | { code: "nothing-to-undo" }
    | { code: "nothing-to-redo" }
    | { code: "step-does-not-fit"; label: string }
    /** `reason`: the system's own word for it; `copy`: where the show was written instead, null = nowhere. */
    | { code: "not-saved"; reason: StorageFault; copy: string | null }
    | { code: "changed-elsewhere" }
    | { code: "edits-on-hold"; what: Thing | "show" }
    | { code: "no-such-backup" }
    | { code: "no-such-show" }
    | { code: "no-such-version" }
    | { code: "not-signed-in" }
    | { code: "needs-role"; needs: Role; has: Role }
    | { code: "wrong-passcode" }
    | { code: "too-many-tries"; waitS: number }
    | { code: "pairing-over" }
    | { code: "passcode-length"; least: number; most: number }
    | { code: "passcode-taken"; role: Role }
    | { code: "passcode-needed" }
    | { code: "no-such-session" }
  );

/** Why the disk did not take something. */
export type StorageFault = "full" | "gone" | "read-only" | "damaged" | "failed";

export type ProblemCode = Problem["code"];

/** "mappings[3].actions[0].function": the place as programs write it, for logs and for who edits documents by hand. */
export function pathText(path: Path): string {
  return path.reduce<string>((text, p) => (typeof p === "number" ? `${text}[${p}]` : text ? `${text}.${p}` : p), "");
}

/** Zod's issues as our problems. */
export function problemsOf(error: z.ZodError): Problem[] {
  return error.issues.map((issue) => {
    const path = issue.path.map((p) => (typeof p === "symbol" ? String(p) : p));
    return { code: "not-valid", path, expected: expectation(issue) };
  });
}

const ALL_RULES: ReadonlySet<string> = new Set(RULES);

function isRule(text: string): text is Rule {
  return ALL_RULES.has(text);
}

function expectation(issue: z.core.$ZodIssue): Expected {
  if (isRule(issue.message)) return { is: "rule", rule: issue.message };
  switch (issue.code) {
    case "invalid_type":
      return { is: "type", type: issue.expected };
    case "invalid_value":
      return { is: "one-of", values: issue.values };
    case "too_small":
      return {
        is: issue.inclusive ? "at-least" : "more-than",
        limit: Number(issue.minimum),
        of: counted(issue.origin),
      };
    case "too_big":
      return { is: issue.inclusive ? "at-most" : "less-than", limit: Number(issue.maximum), of: counted(issue.origin) };
    case "unrecognized_keys":
      return { is: "no-field", fields: issue.keys };
    case "invalid_union":
      return issue.discriminator ? { is: "known", field: issue.discriminator } : { is: "form" };
    default:
      return { is: "form" };
  }
}

function counted(origin: string): "characters" | "entries" | "number" {
  if (origin === "string") return "characters";
  return origin === "array" ? "entries" : "number";
}
