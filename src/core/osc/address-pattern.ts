/**
 * Address patterns: OSC 1.0, "OSC Message Dispatching and Pattern Matching". `?` stands for one character, `*` for any
 * number of them, `[abc]`, `[a-d]` and `[!a-d]` for one of a set or one that is not, `{go,stop}` for one of the words. None
 * of them stands for a `/`. No regular expressions: the work is at most the product of the lengths of pattern and address
 * for each `{}`, whatever somebody sends.
 */

type Part =
  | { kind: "char"; char: string }
  | { kind: "one" }
  | { kind: "any" }
  | { kind: "set"; not: boolean; ranges: readonly (readonly [from: string, to: string])[] }
  | { kind: "words"; words: readonly string[] };

export type AddressPattern = readonly Part[];

/** Characters of a pattern, beyond which it is none: it is tried on every address a desk has. */
const MOST_CHARS = 256;
const SPECIAL = "?*[{";

/** True where an address is a pattern and names no address by itself. */
export function isAddressPattern(address: string): boolean {
  for (const char of address) if (SPECIAL.includes(char)) return true;
  return false;
}

/** Null where a bracket or brace is not closed, or it is too long. */
export function readAddressPattern(text: string): AddressPattern | null {
  if (text.length > MOST_CHARS) return null;
  const parts: Part[] = [];
  for (let at = 0; at < text.length; ) {
    const char = text[at]!;
    if (char === "[" || char === "{") {
      const end = text.indexOf(char === "[" ? "]" : "}", at + 1);
      if (end < 0) return null;
      const inside = text.slice(at + 1, end);
      parts.push(char === "[" ? readSet(inside) : { kind: "words", words: inside.split(",") });
      at = end + 1;
      continue;
    }
    // Two stars are one.
    if (char !== "*") parts.push(char === "?" ? { kind: "one" } : { kind: "char", char });
    else if (parts.at(-1)?.kind !== "any") parts.push({ kind: "any" });
    at++;
  }
  return parts;
}

function readSet(inside: string): Part {
  const not = inside.startsWith("!");
  const chars = not ? inside.slice(1) : inside;
  const ranges: [string, string][] = [];
  for (let i = 0; i < chars.length; i++) {
    const from = chars[i]!;
    // A minus at the end stands for itself.
    if (chars[i + 1] === "-" && i + 2 < chars.length) {
      ranges.push([from, chars[i + 2]!]);
      i += 2;
    } else ranges.push([from, from]);
  }
  return { kind: "set", not, ranges };
}

export function matchesAddress(pattern: AddressPattern, address: string): boolean {
  // All places of the address that the parts so far can have led to: no part is tried twice at one place.
  let places = new Set([0]);
  for (const part of pattern) {
    const next = new Set<number>();
    for (const at of places) for (const to of ends(part, address, at)) next.add(to);
    if (next.size === 0) return false;
    places = next;
  }
  return places.has(address.length);
}

/** Where a part that begins at `at` can end. */
function ends(part: Part, address: string, at: number): number[] {
  const char = address[at];
  switch (part.kind) {
    case "char":
      return char === part.char ? [at + 1] : [];
    case "one":
      return char !== undefined && char !== "/" ? [at + 1] : [];
    case "any": {
      const all = [at];
      for (let to = at; to < address.length && address[to] !== "/"; to++) all.push(to + 1);
      return all;
    }
    case "set": {
      if (char === undefined || char === "/") return [];
      const isIn = part.ranges.some(([from, to]) => (from <= char && char <= to) || (to <= char && char <= from));
      return isIn !== part.not ? [at + 1] : [];
    }
    case "words":
      return part.words.filter((word) => address.startsWith(word, at)).map((word) => at + word.length);
    default:
      return part satisfies never;
  }
}
