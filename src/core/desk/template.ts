/** Addresses and lines with `{name}` in them (RFC 6570, level 1), filled with what the names stand for. */
import type { TemplateFault } from "../format/problem.ts";

export interface Template {
  /** Literal text and names in turn: literals[0] names[0] literals[1] … */
  readonly literals: readonly string[];
  readonly names: readonly string[];
  /** For each name: 0 = it stands as text, 8 or 16 = as one byte or two. */
  readonly bits: readonly Bits[];
}

/** How many bits a number takes that stands as bytes and not as text; 0 = it is text. */
export type Bits = 0 | 8 | 16;

export type TemplateResult = { ok: true; template: Template } | { ok: false; fault: TemplateFault };

const NAME = /^([a-z0-9][a-z0-9.-]*)(?::(8|16))?$/;

/** Where `name:8` and `name:16` can stand: in lines. Doubled braces stand for one that belongs to the text, as JSON has them. */
export function parseTemplate(text: string, isLine = false): TemplateResult {
  const literals: string[] = [];
  const names: string[] = [];
  const bits: Bits[] = [];
  let literal = "";
  for (let at = 0; at < text.length; at++) {
    const char = text[at]!;
    if (char !== "{" && char !== "}") {
      literal += char;
      continue;
    }
    if (text[at + 1] === char) {
      literal += char;
      at++;
      continue;
    }
    if (char === "}") return { ok: false, fault: { fault: "closed-not-opened", text } };
    const close = text.indexOf("}", at);
    if (close < 0) return { ok: false, fault: { fault: "braces", text } };
    const name = text.slice(at + 1, close);
    const [, word, form] = NAME.exec(name) ?? [];
    if (word === undefined || (form !== undefined && !isLine))
      return { ok: false, fault: { fault: "not-a-name", name, text } };
    literals.push(literal);
    literal = "";
    names.push(word);
    bits.push(form === undefined ? 0 : form === "8" ? 8 : 16);
    at = close;
  }
  literals.push(literal);
  return { ok: true, template: { literals, names, bits } };
}

/** A text that stands in a template as it is. */
export function escapeBraces(text: string): string {
  return text.replaceAll("{", "{{").replaceAll("}", "}}");
}

/** Fills every name from `value`. */
export function fillTemplate(
  { literals, names, bits }: Template,
  value: (name: string, bits: Bits) => number | string,
): string {
  let text = literals[0]!;
  for (let i = 0; i < names.length; i++) text += `${value(names[i]!, bits[i]!)}${literals[i + 1]!}`;
  return text;
}

/** The part of a template from literal `from` to literal `to`, both included. */
export function templatePart({ literals, names, bits }: Template, from: number, to: number): Template {
  return { literals: literals.slice(from, to + 1), names: names.slice(from, to), bits: bits.slice(from, to) };
}

/** The name where the whole text is one `{name}`, else null. */
export function wholeName(text: string): string | null {
  const parsed = parseTemplate(text);
  if (!parsed.ok) return null;
  const { literals, names } = parsed.template;
  return names.length === 1 && literals.every((l) => l === "") ? names[0]! : null;
}
