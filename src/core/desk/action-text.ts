/**
 * The text that an action says in the place of `{text}`: what was typed, with `{name}`, `{value}` and `{page}` in it (RFC 6570,
 * level 1). It stands on one line, whatever the names are.
 */
import type { TemplateFault } from "../format/problem.ts";
import { fillTemplate, parseTemplate } from "./template.ts";
import { valueText } from "./wire-numbers.ts";

/** Names that may stand in the text of an action. */
export const TEXT_NAMES: readonly string[] = ["name", "value", "page"];

/** The most that is said, in UTF-16 units; each is at most three bytes of UTF-8. */
export const MOST_TEXT = 200;
export const TEXT_BYTES = 3 * MOST_TEXT;

/** A page that nobody knows. */
const NO_PAGE = "-";

export interface TextFacts {
  /** Of the mapping, or of its control where the mapping has none. */
  readonly name: string;
  /** The page of the desk that is up; null = not known. */
  readonly page: number | null;
}

/** What is wrong with a text that was typed. */
export function textFaults(text: string): TemplateFault[] {
  const parsed = parseTemplate(text);
  if (!parsed.ok) return [parsed.fault];
  return parsed.template.names.flatMap((name) =>
    TEXT_NAMES.includes(name) ? [] : [{ fault: "unknown-name", name, in: "text" }],
  );
}

/** `value` as the desk is sent it. What is no template stands as it was typed. */
export function actionText(text: string, { name, page }: TextFacts, value: number): string {
  const parsed = parseTemplate(text);
  const said = parsed.ok
    ? fillTemplate(parsed.template, (n) => (n === "value" ? valueText(value) : n === "page" ? (page ?? NO_PAGE) : name))
    : text;
  const line = said.replaceAll(/[\r\n\0]/g, " ");
  if (line.length <= MOST_TEXT) return line;
  // No half of a pair: it would be another character (Unicode, section 3.8, “surrogates”).
  const isPair = /[\ud800-\udbff]/.test(line[MOST_TEXT - 1]!);
  return line.slice(0, isPair ? MOST_TEXT - 1 : MOST_TEXT);
}
