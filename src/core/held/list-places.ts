/** Where mappings that step through a list of sets stand in it, by their ids. */
export class ListPlaces {
  readonly #places = new Map<string, number>();
  #changes = 0;

  /** Grows with each step. */
  get changes(): number {
    return this.#changes;
  }

  /** The set that fired last; undefined = none yet. */
  get(mapping: string): number | undefined {
    return this.#places.get(mapping);
  }

  set(mapping: string, place: number): void {
    this.#places.set(mapping, place);
    this.#changes++;
  }

  list(): [mapping: string, place: number][] {
    return [...this.#places];
  }
}
