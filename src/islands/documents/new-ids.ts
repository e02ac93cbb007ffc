/** Ids for mappings and actions made on this page. */
export function newId(prefix: string): string {
  const bytes = crypto.getRandomValues(new Uint8Array(6));
  return `${prefix}-${Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("")}`;
}

/** A name as an id: small letters, digits, dots and dashes. */
export function idFrom(name: string): string {
  return name
    .trim()
    .toLowerCase()
    .replaceAll(/[^a-z0-9.-]+/g, "-");
}
