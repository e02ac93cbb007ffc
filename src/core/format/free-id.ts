/** An id that nothing in the list has: the wanted one, “new” where none is wanted, or either with a number behind it. */
export function freeId(wanted: string, taken: readonly { readonly id: string }[]): string {
  const base = wanted === "" ? "new" : wanted;
  let id = base;
  for (let n = 2; taken.some((t) => t.id === id); n++) id = `${base}-${n}`;
  return id;
}
