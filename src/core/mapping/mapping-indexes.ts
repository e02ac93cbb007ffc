import type { Mapping } from "../format/show.ts";

/** Where each mapping stands, by its id. It is made at the first question: most edits come and go without one. */
export class MappingIndexes {
  readonly #mappings: readonly Mapping[];
  #of: Map<string, number> | null = null;

  constructor(mappings: readonly Mapping[]) {
    this.#mappings = mappings;
  }

  get(id: string): number | undefined {
    this.#of ??= new Map(this.#mappings.map((m, i) => [m.id, i]));
    return this.#of.get(id);
  }
}
