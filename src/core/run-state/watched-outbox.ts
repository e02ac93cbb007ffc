/** The way out, watched: what leaves for a surface or a MIDI desk is known to the guard when it comes back (rule 19). */
import { type LoopDetector, wordOfBytes } from "../guard/loop.ts";
import type { Outbox } from "./outbox.ts";

/** Lights and motors are sent several in one go, each of three bytes. */
const SHORT = 3;

/** What of the world is asked here. */
interface Watched {
  readonly surfaces: readonly { readonly loop: LoopDetector }[];
  readonly desks: readonly { readonly loop: LoopDetector | null }[];
  readonly generation: Int32Array;
  readonly now: Float64Array;
}

/** `world` is asked at each call, because it may be another one after a change of the show. */
export function watchedOutbox(outbox: Outbox, world: () => Watched): Outbox {
  return {
    toDesk(desk, bytes, offset, length) {
      const { desks, generation, now } = world();
      // A MIDI desk has no lights: what comes back from it is no press.
      desks[desk]!.loop?.sent(wordOfBytes(bytes, offset, length), Math.max(0, generation[0]!), now[0]!);
      outbox.toDesk(desk, bytes, offset, length);
    },
    toSurface(surface, bytes, offset, length) {
      const { surfaces, generation, now } = world();
      const { loop } = surfaces[surface]!;
      // Running together in one call are only short messages; anything else is one message.
      const isOne = length <= SHORT || bytes[offset] === 0xf0 || length % SHORT !== 0;
      if (isOne) loop.sent(wordOfBytes(bytes, offset, length), generation[0]!, now[0]!);
      else
        for (let at = offset; at < offset + length; at += SHORT)
          loop.sent(wordOfBytes(bytes, at, SHORT), generation[0]!, now[0]!);
      outbox.toSurface(surface, bytes, offset, length);
    },
  };
}
