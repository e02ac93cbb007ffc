/**
 * The addresses of a desk as a tree by their parts, so that a pattern is tried part by part and not on every address.
 * The work of one datagram is bounded: what costs more than it may is given up, and said (rule 19).
 */
import { type AddressPattern, isAddressPattern, matchesAddress, readAddressPattern } from "./address-pattern.ts";

interface Node<T> {
  readonly children: Map<string, Node<T>>;
  leaf: T | undefined;
}

/**
 * Work that one datagram may make by its patterns: a step for each character of an address that a part of a pattern is
 * tried on, and `VALUE_STEPS` for each address that fits. Measured, this is less than 2 ms.
 */
export const STEPS_A_DATAGRAM = 20_000;
const VALUE_STEPS = 40;
/** Steps for each character of a pattern that is read. */
const READ_STEPS = 12;

/** What is left of a datagram's work. */
export class PatternBudget {
  #left = STEPS_A_DATAGRAM;

  /** A new datagram. */
  begin(): void {
    this.#left = STEPS_A_DATAGRAM;
  }

  /** Takes some steps; false = there are none left. */
  take(steps: number): boolean {
    this.#left -= steps;
    return this.#left >= 0;
  }

  get isSpent(): boolean {
    return this.#left < 0;
  }
}

export class AddressTree<T> {
  readonly #root: Node<T> = { children: new Map(), leaf: undefined };

  constructor(addresses: ReadonlyMap<string, T>) {
    for (const [address, leaf] of addresses) {
      let node = this.#root;
      for (const part of address.split("/").slice(1)) {
        let next = node.children.get(part);
        if (!next) {
          next = { children: new Map(), leaf: undefined };
          node.children.set(part, next);
        }
        node = next;
      }
      node.leaf = leaf;
    }
  }

  /**
   * Everything whose address fits a pattern, in the order of the addresses. Null where the pattern is none. Where the
   * budget is spent, what was found until then.
   */
  find(text: string, budget: PatternBudget): T[] | null {
    if (!budget.take(text.length * READ_STEPS)) return [];
    const parts = partsOf(text);
    if (!parts) return null;
    const found: T[] = [];
    this.#walk(this.#root, parts, 0, found, budget);
    return found;
  }

  #walk(
    node: Node<T>,
    parts: readonly (string | AddressPattern)[],
    at: number,
    found: T[],
    budget: PatternBudget,
  ): void {
    if (budget.isSpent) return;
    const part = parts[at];
    if (part === undefined) {
      if (node.leaf !== undefined && budget.take(VALUE_STEPS)) found.push(node.leaf);
      return;
    }
    if (typeof part === "string") {
      const next = node.children.get(part);
      if (next && budget.take(1)) this.#walk(next, parts, at + 1, found, budget);
      return;
    }
    for (const [name, next] of node.children) {
      if (!budget.take(part.length * (name.length + 1))) return;
      if (isAny(part) || matchesAddress(part, name)) this.#walk(next, parts, at + 1, found, budget);
    }
  }
}

/** A star alone, which fits every part. */
function isAny(part: AddressPattern): boolean {
  return part.length === 1 && part[0]!.kind === "any";
}

/** The parts between the slashes, those without a sign of a pattern as they are; null where one of them is no pattern. */
function partsOf(text: string): (string | AddressPattern)[] | null {
  if (!text.startsWith("/") || readAddressPattern(text) === null) return null; // too long, or not closed
  const parts: (string | AddressPattern)[] = [];
  for (const part of text.slice(1).split("/")) {
    if (!isAddressPattern(part)) {
      parts.push(part);
      continue;
    }
    const pattern = readAddressPattern(part); // nothing of a pattern stands for a slash, so none lies inside of a bracket
    if (!pattern) return null;
    parts.push(pattern);
  }
  return parts;
}
