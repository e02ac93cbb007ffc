/** The server says something to every browser at least this often, in ms. */
export const BEAT_EVERY_MS = 1000;
