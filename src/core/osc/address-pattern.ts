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
export const MOST_PATTERN_CHARS = 256;
const SPECIAL = "?*[{";

/** True where an address is a pattern and names no address by itself. */
export function isAddressPattern(address: string): boolean {
  for (const char of address) if (SPECIAL.includes(char)) return true;
  return false;
}

/** Null where a bracket or brace is not closed, or it is too long. */
export function readAddressPattern(text: string): AddressPattern | null {
  if (text.length > MOST_PATTERN_CHARS) return null;
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
  // 1 wherever in the address the parts so far can end: no part is tried twice at one index.
  let ends = new Uint8Array(address.length + 1);
  let next = new Uint8Array(address.length + 1);
  ends[0] = 1;
  for (const part of pattern) {
    next.fill(0);
    step(part, address, ends, next);
    [ends, next] = [next, ends];
  }
  return ends[address.length] === 1;
}

/** Marks in `next` where a part can end that begins where one is marked in `ends`. */
function step(part: Part, address: string, ends: Uint8Array, next: Uint8Array): void {
  let isGoingOn = false; // a star that has begun
  for (let at = 0; at <= address.length; at++) {
    if (part.kind === "any") {
      isGoingOn = isGoingOn || ends[at] === 1;
      if (isGoingOn) next[at] = 1;
      if (address[at] === "/") isGoingOn = false;
    } else if (ends[at] === 0) continue;
    else if (part.kind === "words") {
      for (const word of part.words) if (address.startsWith(word, at)) next[at + word.length] = 1;
    } else if (at < address.length && isOne(part, address[at]!)) next[at + 1] = 1;
  }
}

function isOne(part: Exclude<Part, { kind: "any" | "words" }>, char: string): boolean {
  switch (part.kind) {
    case "char":
      return char === part.char;
    case "one":
      return char !== "/";
    case "set":
      return (
        char !== "/" && part.ranges.some(([a, b]) => (a <= char && char <= b) || (b <= char && char <= a)) !== part.not
      );
    default:
      return part satisfies never;
  }
}
