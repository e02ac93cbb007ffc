/** Addresses and lines with `{name}` in them (RFC 6570, level 1), filled with what the names stand for. */

export interface Template {
  /** Literal text and names in turn: literals[0] names[0] literals[1] … */
  readonly literals: readonly string[];
  readonly names: readonly string[];
}

export type TemplateResult = { ok: true; template: Template } | { ok: false; detail: string };

const NAME = /^[a-z0-9][a-z0-9.-]*$/;

/** Doubled braces stand for one that belongs to the text, as JSON has them. */
export function parseTemplate(text: string): TemplateResult {
  const literals: string[] = [];
  const names: string[] = [];
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
    if (char === "}")
      return { ok: false, detail: `“${text}” has a “}” without a “{” before it; “}}” is one of the text.` };
    const close = text.indexOf("}", at);
    if (close < 0) return { ok: false, detail: `“${text}” has braces that do not pair.` };
    const name = text.slice(at + 1, close);
    if (!NAME.test(name))
      return { ok: false, detail: `“{${name}}” in “${text}” is not a name; “{{” and “}}” are braces of the text.` };
    literals.push(literal);
    literal = "";
    names.push(name);
    at = close;
  }
  literals.push(literal);
  return { ok: true, template: { literals, names } };
}

/** A text that stands in a template as it is. */
export function escapeBraces(text: string): string {
  return text.replaceAll("{", "{{").replaceAll("}", "}}");
}

/** Fills every name from `value`. */
export function fillTemplate(template: Template, value: (name: string) => number | string): string {
  let text = template.literals[0]!;
  for (let i = 0; i < template.names.length; i++) text += `${value(template.names[i]!)}${template.literals[i + 1]!}`;
  return text;
}

/** The name where the whole text is one `{name}`, else null. */
export function wholeName(text: string): string | null {
  const parsed = parseTemplate(text);
  if (!parsed.ok) return null;
  const { literals, names } = parsed.template;
  return names.length === 1 && literals.every((l) => l === "") ? names[0]! : null;
}
