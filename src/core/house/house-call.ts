/** One call of a house function, as data that no later edit can bend. */
export interface HouseCall {
  readonly fn: string;
  /** Its parameters' numbers, in order. */
  readonly numbers: readonly number[];
  readonly value: number;
  readonly target: string;
  /** Bytes of a message of one's own. */
  readonly bytes: Uint8Array | null;
  readonly mapping: string;
  readonly action: string;
}
