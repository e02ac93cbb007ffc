/** What a scene of faults says of itself: one line each, with its figure and what was wanted. */
export interface Result {
  readonly scene: string;
  readonly figure: string;
  readonly wanted: string;
  readonly ok: boolean;
}

export interface Scene {
  readonly name: string;
  /** Short enough for `npm test`. */
  readonly isShort: boolean;
  /** How long it may take, in ms. */
  readonly limitMs: number;
  run(): Promise<Result[]>;
}
