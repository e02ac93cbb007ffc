/** Octets one after the other; past the end there are zeros, and it says so. */
export class Reading {
  isShort = false;
  readonly #bytes: Uint8Array;
  readonly #end: number;
  #at: number;

  constructor(bytes: Uint8Array, at = 0, end = bytes.length) {
    this.#bytes = bytes;
    this.#at = at;
    this.#end = end;
  }

  get left(): number {
    return this.#end - this.#at;
  }

  octet(): number {
    if (this.#at >= this.#end) this.isShort = true;
    return this.isShort ? 0 : this.#bytes[this.#at++]!;
  }

  skip(count: number): void {
    this.#at += count;
    if (this.#at > this.#end) this.isShort = true;
  }

  /** The next octets by themselves. */
  take(count: number): Uint8Array {
    const from = this.#at;
    this.skip(count);
    return this.isShort ? new Uint8Array() : this.#bytes.subarray(from, this.#at);
  }

  list<T>(count: number, read: (first: number, second: number) => T): T[] {
    const list: T[] = [];
    for (let i = 0; i < count && !this.isShort; i++) {
      const first = this.octet();
      list.push(read(first, this.octet()));
    }
    return list;
  }
}
