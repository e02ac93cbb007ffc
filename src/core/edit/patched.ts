/**
 * A document with the patches of an edit (immer's: add, replace, remove along a path). Only what lies on a path is made
 * anew; everything else stays the same object, so that who knew the old document can tell what has changed by identity.
 */

export interface DocumentPatch {
  readonly op: "add" | "replace" | "remove";
  readonly path: readonly (string | number)[];
  readonly value?: unknown;
}

type Node = Record<string | number, unknown>;

/** Throws where a path leads nowhere: the patches are of another document. */
export function patched<T extends object>(document: T, patches: readonly DocumentPatch[]): T {
  /** What was made anew already, and may be written. */
  const own = new Set<unknown>();
  const copied = (value: unknown): Node => {
    if (typeof value !== "object" || value === null) throw new Error("a patch leads nowhere");
    if (own.has(value)) return value as Node;
    const copy = (Array.isArray(value) ? value.slice() : { ...value }) as Node;
    own.add(copy);
    return copy;
  };
  let root: unknown = document;
  for (const { op, path, value } of patches) {
    if (path.length === 0) {
      if (op !== "replace") throw new Error("a whole document is only replaced");
      root = value;
      continue;
    }
    root = copied(root);
    let node = root as Node;
    for (const key of path.slice(0, -1)) {
      const child = copied(node[key]);
      node[key] = child;
      node = child;
    }
    change(node, op, path.at(-1)!, value);
  }
  return root as T;
}

function change(node: Node, op: DocumentPatch["op"], key: string | number, value: unknown): void {
  if (!Array.isArray(node)) {
    if (op === "remove") delete node[key];
    else node[key] = value;
    return;
  }
  if (key === "length") node.length = Number(value);
  else if (op === "add") node.splice(key === "-" ? node.length : Number(key), 0, value);
  else if (op === "remove") node.splice(Number(key), 1);
  else node[Number(key)] = value;
}
