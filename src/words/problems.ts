/** Problems as sentences: where, what, and what to do. */
import type { Path, Problem } from "../core/format/problem.ts";
import { ENGLISH_FAULTS } from "./english-faults.ts";
import type { ProblemEntry } from "./language.ts";
import { nameOf, type Whereabouts, whereWords } from "./where.ts";

function entryOf(problem: Problem): ProblemEntry<Problem> {
  return ENGLISH_FAULTS.problems[problem.code] as unknown as ProblemEntry<Problem>;
}

/** What is wrong, as a clause without a place or a full stop. */
export function problemClause(problem: Problem): string {
  return entryOf(problem).says(problem);
}

/** What to do about it; empty where the sentence itself says so. */
function problemHint(problem: Problem): string {
  return entryOf(problem).remedy ?? "";
}

/** A whole sentence with its place in the words of the document: "Pad 4, Press, second action: channel 99: the desk …". */
export function problemWords(problem: Problem, whereabouts: Whereabouts = {}): string {
  const where = capital(whereWords(placeOf(problem), whereabouts));
  const clause = problemClause(named(problem, whereabouts));
  return `${where ? `${where}: ${clause}` : capital(clause)}.`;
}

/** The sentence, and behind it what to do. */
export function problemAdvice(problem: Problem, whereabouts: Whereabouts = {}): string {
  return [problemWords(problem, whereabouts), problemHint(problem)].filter(Boolean).join(" ");
}

/** What is in use has a name of its own, which people know it by. */
function named(problem: Problem, { document }: Whereabouts): Problem {
  return problem.code === "in-use" ? { ...problem, id: nameOf(document, problem.id) ?? problem.id } : problem;
}

/** Problems that name their number, or their field, need no place below what that belongs to. */
function placeOf(problem: Problem): Path {
  const { code, path } = problem;
  if (code === "not-valid" && problem.expected.is === "known" && path.at(-1) === problem.expected.field)
    return path.slice(0, -1);
  const bindings = path.indexOf("bindings");
  const saysItself = code === "out-of-range" || code === "missing-number";
  return bindings >= 0 && saysItself ? path.slice(0, bindings) : path;
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
