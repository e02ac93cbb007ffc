/** Random and mutated bytes for parsers: the same for the same seed. */

export class Chance {
  #state: number;

  constructor(seed: number) {
    this.#state = seed >>> 0;
  }

  /** A whole number, 0 to `n` - 1 (Mulberry32). */
  upTo(n: number): number {
    this.#state = (this.#state + 0x6d2b79f5) >>> 0;
    let t = this.#state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return Math.floor((((t ^ (t >>> 14)) >>> 0) / 0x1_0000_0000) * n);
  }
}

const MOST_RANDOM = 80;
const MOST_CHANGES = 5;
/** Bytes at which parsers turn. */
const TURNING = [0x00, 0x01, 0x0f, 0x10, 0x7f, 0x80, 0xc0, 0xf0, 0xf7, 0xf8, 0xfe, 0xff];

/** One of the corpus with a few changes, now and then two of them joined, or bytes out of nowhere. */
export function mutated(corpus: readonly Uint8Array[], chance: Chance): Uint8Array {
  if (chance.upTo(8) === 0) return Uint8Array.from({ length: chance.upTo(MOST_RANDOM) }, () => chance.upTo(256));
  let bytes = [...corpus[chance.upTo(corpus.length)]!];
  for (let left = chance.upTo(MOST_CHANGES + 1); left > 0; left--) bytes = changed(bytes, corpus, chance);
  return Uint8Array.from(bytes);
}

function changed(bytes: number[], corpus: readonly Uint8Array[], chance: Chance): number[] {
  const at = chance.upTo(bytes.length + 1);
  switch (chance.upTo(6)) {
    case 0:
      return bytes.map((b, i) => (i === at ? b ^ (1 << chance.upTo(8)) : b));
    case 1:
      return bytes.map((b, i) => (i === at ? TURNING[chance.upTo(TURNING.length)]! : b));
    case 2:
      return bytes.slice(0, at);
    case 3:
      return bytes.toSpliced(at, chance.upTo(8));
    case 4:
      return bytes.toSpliced(at, 0, ...Array.from({ length: chance.upTo(8) }, () => chance.upTo(256)));
    default:
      return [...bytes.slice(0, at), ...corpus[chance.upTo(corpus.length)]!.subarray(chance.upTo(8))];
  }
}
