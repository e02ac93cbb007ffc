/** docs/problems.md: every sentence that says that something is wrong, by its code. */
import { OUTCOMES, type Outcome } from "../core/trace/outcome.ts";
import { ENGLISH } from "./english.ts";
import { ENGLISH_FAULTS } from "./english-faults.ts";
import type { ProblemEntry, TroubleEntry } from "./language.ts";
import type { OutcomeFacts } from "./outcome-facts.ts";

/** A heading and a table: the code first, what is said last but for the cause and what to do. */
interface Chapter {
  readonly title: string;
  readonly about: string;
  readonly columns: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

const EXAMPLE: OutcomeFacts = {
  a: 1,
  b: 1,
  length: 3,
  mapping: "Mast lanterns",
  parameter: () => "playback",
  condition: "",
  reason: "",
};
/** Where the numbers of the row mean something. */
const EXAMPLES: Partial<Record<Outcome, Partial<OutcomeFacts>>> = {
  waitingToCatch: { a: 0.3, b: 0.64 },
  outOfRange: { a: 99 },
  delayed: { a: 250 },
  confirmed: { a: 12 },
  pulse: { a: 3 },
  dueLater: { a: 40 },
  reported: { a: 3 },
  conditionFalse: { condition: "Pad 18 is not held" },
  refused: { reason: "This “kind” is not known." },
};

function cell(text: string): string {
  return text.replaceAll("|", "\\|").replaceAll("\n", " ");
}

function chapters(): Chapter[] {
  const problems = Object.entries(ENGLISH_FAULTS.problems) as [string, ProblemEntry<never>][];
  const troubles = Object.entries(ENGLISH_FAULTS.troubles) as [string, TroubleEntry<never>][];
  const outcomes = Object.keys(OUTCOMES) as Outcome[];
  return [
    {
      title: "Problems",
      about:
        "A document or an edit is refused whole. Its place stands before the sentence, in the words of the show: “Pad 4, Press, second action: channel 99: the desk has 1 to 32.”",
      columns: ["code", "for example", "why it comes about", "what to do"],
      rows: problems.map(([code, entry]) => [
        code,
        entry.says(entry.example),
        entry.cause,
        entry.remedy ?? "The sentence says it.",
      ]),
    },
    {
      title: "Rules of fields",
      about: "What `not-valid` says of a field that breaks a rule of the format.",
      columns: ["rule", "sentence"],
      rows: Object.entries(ENGLISH_FAULTS.rules),
    },
    {
      title: "Troubles of ports",
      about: "Why a port is not open. It is tried again by itself.",
      columns: ["code", "for example", "what to do"],
      rows: troubles.map(([code, entry]) => [code, entry.says(entry.example), entry.remedy]),
    },
    {
      title: "Checks",
      about: "What a show may have and seldom means. Nothing is refused for it.",
      columns: ["code", "what to do"],
      rows: Object.entries(ENGLISH.advice).map(([code, { remedy }]) => [code, remedy]),
    },
    {
      title: "Outcomes",
      about: "What becomes of a message, as the list of traffic says it.",
      columns: ["code", "number", "for example"],
      rows: outcomes.map((outcome) => [
        outcome,
        String(OUTCOMES[outcome].code),
        ENGLISH.outcomes[outcome]({ ...EXAMPLE, ...EXAMPLES[outcome] }),
      ]),
    },
  ];
}

/** The whole page. */
export function problemsPage(): string {
  const parts = chapters().map(({ title, about, columns, rows }) =>
    [
      `## ${title}`,
      "",
      about,
      "",
      `| ${columns.join(" | ")} |`,
      `|${columns.map(() => "---").join("|")}|`,
      ...rows.map(([code = "", ...rest]) => `| ${[`\`${code}\``, ...rest.map(cell)].join(" | ")} |`),
      "",
    ].join("\n"),
  );
  return [
    "# What the program says when something is wrong",
    "",
    "Made by `npm run formats` out of `src/words`; the tests hold code, words and this page against each other. A code that",
    "was released is never used for anything else.",
    "",
    ...parts,
  ].join("\n");
}
