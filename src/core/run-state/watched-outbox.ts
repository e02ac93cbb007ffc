/** The way out, watched: what leaves for a surface or a MIDI desk is known to the guard when it comes back (rule 19). */
import { type LoopDetector, wordOfBytes } from "../guard/loop.ts";
import type { Fed, Feeds } from "../mapping/feeds.ts";
import type { Outbox } from "./outbox.ts";

/** Lights and motors are sent several in one go, each of three bytes. */
const SHORT = 3;

/** What of the world is asked here. */
interface Watched {
  readonly surfaces: readonly { readonly loop: LoopDetector }[];
  readonly desks: readonly { readonly loop: LoopDetector | null }[];
  readonly generation: Int32Array;
  readonly now: Float64Array;
  readonly context: { readonly compiled: { readonly feeds: Feeds } };
}

/**
 * What was passed on is known wherever it comes in again: at other inputs on the same cable too. Lights are not: they may
 * well be meant to play there, and are many at once.
 */
function tellFed({ surfaces, desks, generation, now }: Watched, fed: Fed, word: number): void {
  for (const s of fed.surfaces) surfaces[s]!.loop.sent(word, generation[0]!, now[0]!);
  for (const d of fed.desks) desks[d]!.loop?.sent(word, generation[0]!, now[0]!);
}

/** `world` is asked at each call, because it may be another one after a change of the show. */
export function watchedOutbox(outbox: Outbox, world: () => Watched): Outbox {
  return {
    toDesk(desk, bytes, offset, length) {
      const watched = world();
      const { desks, generation, now, context } = watched;
      const { loop } = desks[desk]!;
      if (loop) {
        const word = wordOfBytes(bytes, offset, length);
        // A MIDI desk has no lights: what comes back from it is no press.
        loop.sent(word, Math.max(0, generation[0]!), now[0]!);
        if (generation[0]! >= 0) tellFed(watched, context.compiled.feeds.ofDesk[desk]!, word);
      }
      outbox.toDesk(desk, bytes, offset, length);
    },
    toSurface(surface, bytes, offset, length) {
      const watched = world();
      const { surfaces, generation, now, context } = watched;
      const { loop } = surfaces[surface]!;
      // Running together in one call are only short messages; anything else is one message.
      const isOne = length <= SHORT || bytes[offset] === 0xf0 || length % SHORT !== 0;
      if (isOne) {
        const word = wordOfBytes(bytes, offset, length);
        loop.sent(word, generation[0]!, now[0]!);
        if (generation[0]! >= 0) tellFed(watched, context.compiled.feeds.ofSurface[surface]!, word);
      } else
        for (let at = offset; at < offset + length; at += SHORT)
          loop.sent(wordOfBytes(bytes, at, SHORT), generation[0]!, now[0]!);
      outbox.toSurface(surface, bytes, offset, length);
    },
  };
}
