/** What a sentence about an outcome needs beside its code: numbers of the row, and names that only the show knows. */
export interface OutcomeFacts {
  /** The two numbers of the row (core/trace/outcome.ts). */
  readonly a: number;
  readonly b: number;
  /** Length of the message in bytes; 0 = only `a` knows it. */
  readonly length: number;
  /** The mapping or the action, as it is called now; empty = there is none. */
  readonly mapping: string;
  /** Name of a parameter, by its index in the function of the mapping's first action. */
  parameter(nth: number): string;
  /** What is not met: "grand master is 100 %, wanted 0 to 50 %". */
  readonly condition: string;
  /** Why a browser's message was refused. */
  readonly reason: string;
}
