/** What is wrong with a document, as data: a code, a place, and the facts. Words are made at the border. */
import type { z } from "zod";

export type Path = readonly (string | number)[];

export type Problem =
  | { code: "not-json"; path: Path; detail: string }
  | { code: "wrong-format"; path: Path; expected: string; found: string }
  | { code: "newer-version"; path: Path; newest: number; found: number }
  | { code: "not-valid"; path: Path; expected: string }
  | { code: "unknown-id"; path: Path; what: string; id: string }
  | { code: "twice"; path: Path; what: string; id: string }
  | { code: "in-use"; path: Path; what: string; id: string; by: string }
  | { code: "out-of-range"; path: Path; what: string; value: number; from: number; to: number }
  | { code: "missing-binding"; path: Path; parameter: string }
  | { code: "wrong-gesture"; path: Path; gesture: string; control: string; expected: string }
  | { code: "no-page"; path: Path; desk: string }
  | { code: "no-selection"; path: Path; desk: string }
  | { code: "cycle"; path: Path; way: readonly string[] }
  | { code: "template"; path: Path; detail: string };

/** "mappings[3].actions[0].function" */
export function pathWords(path: Path): string {
  return path.reduce<string>((text, p) => (typeof p === "number" ? `${text}[${p}]` : text ? `${text}.${p}` : p), "");
}

/** One problem as a sentence with its place. */
export function problemWords(problem: Problem): string {
  const place = problem.path.length > 0 ? `${pathWords(problem.path)}: ` : "";
  return place + sentence(problem);
}

function sentence(p: Problem): string {
  switch (p.code) {
    case "not-json":
      return `this is not a JSON document (${p.detail}).`;
    case "wrong-format":
      return `expected ${p.expected}, found ${p.found}.`;
    case "newer-version":
      return `version ${p.found} was written by a newer Velvet Hinge; this one reads up to version ${p.newest}.`;
    case "not-valid":
      return `expected ${p.expected}.`;
    case "unknown-id":
      return `there is no ${p.what} “${p.id}”.`;
    case "twice":
      return `the ${p.what} “${p.id}” stands here a second time.`;
    case "in-use":
      return `the ${p.what} “${p.id}” is used by ${p.by}. Change or remove that first.`;
    case "out-of-range":
      return `${p.what} ${p.value} is outside ${p.from} to ${p.to}.`;
    case "missing-binding":
      return `expected a number for ${p.parameter}.`;
    case "wrong-gesture":
      return `a ${p.control} has no “${p.gesture}”; expected ${p.expected}.`;
    case "no-page":
      return `the desk “${p.desk}” has no pages to follow.`;
    case "no-selection":
      return `the desk “${p.desk}” tells no selection to follow.`;
    case "cycle":
      return `this mapping would run itself without end: ${p.way.map((id) => `“${id}”`).join(" runs ")}.`;
    case "template":
      return p.detail;
    default:
      return p satisfies never;
  }
}

/** Zod's issues as our problems; what stands inside a union is told by its most specific place. */
export function problemsOf(error: z.ZodError): Problem[] {
  return error.issues.map((issue) => {
    const path = issue.path.map((p) => (typeof p === "symbol" ? String(p) : p));
    return { code: "not-valid", path, expected: expectation(issue) };
  });
}

function expectation(issue: z.core.$ZodIssue): string {
  switch (issue.code) {
    case "invalid_type":
      return `${issue.expected}`;
    case "invalid_value":
      return issue.values.map((v) => JSON.stringify(v)).join(" or ");
    case "too_small":
      return `${issue.inclusive ? "at least" : "more than"} ${issue.minimum}${countWord(issue.origin)}`;
    case "too_big":
      return `at most ${issue.maximum}${countWord(issue.origin)}`;
    case "unrecognized_keys":
      return `no field ${issue.keys.map((k) => `“${k}”`).join(", ")} here`;
    case "invalid_union":
      return issue.discriminator ? `a known “${issue.discriminator}”` : "one of the allowed forms";
    default:
      return issue.message;
  }
}

function countWord(origin: string): string {
  if (origin === "string") return " characters";
  return origin === "array" ? " entries" : "";
}
