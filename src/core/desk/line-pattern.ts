/**
 * Lines of text as a desk says them: literal text with `{name}` in it, matched without regular expressions, so that no
 * line can keep us busy. A name takes a word, or with `:8` or `:16` the bytes of a number (byte-text.ts); `{value}` at
 * the end takes all that is left, quotation marks taken off.
 */
import type { TemplateFault } from "../format/problem.ts";
import { bytesOfText, numberAt, numberText, textOfBytes } from "../stream/byte-text.ts";
import { fillTemplate, parseTemplate, type Template } from "./template.ts";

/** Takes a word that does not matter. */
export const ANY = "any";
const VALUE = "value";

export type LinePatternResult = { ok: true; pattern: Template } | { ok: false; fault: TemplateFault };

/** Two names must have something between them, or nothing tells where one ends. */
export function parseLinePattern(text: string): LinePatternResult {
  const parsed = parseTemplate(text, true);
  if (!parsed.ok) return parsed;
  const { literals, bits } = parsed.template;
  for (let i = 1; i < literals.length - 1; i++)
    if (literals[i] === "" && bits[i - 1] === 0) return { ok: false, fault: { fault: "two-names", text } };
  return { ok: true, pattern: parsed.template };
}

/**
 * The pattern of a text that `checkDeskProfile` has accepted; null where it is none. `isBytes`: lines have bytes that are
 * no letters, and each can be written in two ways, of which lines that are heard have one.
 */
export function linePattern(text: string, isBytes: boolean): Template | null {
  const parsed = parseLinePattern(text);
  if (!parsed.ok) return null;
  const { pattern } = parsed;
  return isBytes ? { ...pattern, literals: pattern.literals.map((l) => textOfBytes(bytesOfText(l))) } : pattern;
}

/** What stands in the place of each name, in order; null where the line is another one. */
export function matchLine({ literals, names, bits }: Template, line: string): string[] | null {
  const first = literals[0]!;
  if (!line.startsWith(first)) return null;
  if (names.length === 0) return line === first ? [] : null;
  const found: string[] = [];
  let at = first.length;
  for (let i = 0; i < names.length; i++) {
    const after = literals[i + 1]!;
    const isLast = i === names.length - 1;
    const width = bits[i]!;
    if (width !== 0) {
      const read = numberAt(line, at, width);
      if (!read || !line.startsWith(after, read.end)) return null;
      found.push(String(read.number));
      at = read.end + after.length;
      if (isLast && at !== line.length) return null;
      continue;
    }
    const end = isLast ? line.length - after.length : line.indexOf(after, at);
    if (end < at || (isLast && !line.endsWith(after))) return null;
    const word = line.slice(at, end);
    if (names[i] !== VALUE && (word === "" || word.includes(" "))) return null;
    found.push(names[i] === VALUE ? unquoted(word) : word);
    at = end + after.length;
  }
  return found;
}

function unquoted(text: string): string {
  return text.length >= 2 && text.startsWith('"') && text.endsWith('"') ? text.slice(1, -1) : text;
}

/** A line that the pattern takes, with `word` for every name: to find patterns that take the same lines. */
export function exampleLine(pattern: Template, word: (name: string) => string): string {
  return fillTemplate(pattern, (name, bits) => (bits === 0 ? word(name) : numberText(Number(word(name)), bits)));
}
