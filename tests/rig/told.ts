/** Problems as unit tests compare them: where, as programs write it, and the clause in English. */
import { type Problem, pathText } from "../../src/core/format/problem.ts";
import { problemClause } from "../../src/words/problems.ts";

export function told(problem: Problem): string {
  const path = pathText(problem.path);
  return `${path ? `${path}: ` : ""}${problemClause(problem)}.`;
}
