/**
 * What each open page holds of the surfaces that are drawn on screens: the same key cannot be held by two of them, and what
 * a page held when it went away is let go.
 */
import type { SurfaceProfile } from "../../core/format/surface-profile.ts";

const NOTE_OFF = 0x80;
const NOTE_ON = 0x90;
const RELEASE_VELOCITY = 64;

export interface LetGo {
  surface: string;
  bytes: Uint8Array;
}

export class HeldNotes {
  /** Surface, status channel and number -> the page that holds it. */
  readonly #holders = new Map<string, number>();

  /** Whether these bytes of a page may go on; no where another page holds the note they press or let go. */
  admit(page: number, surface: string, profile: SurfaceProfile | undefined, bytes: readonly number[]): boolean {
    const [status = 0, number = 0] = bytes;
    const kind = status & 0xf0;
    if (bytes.length !== 3 || (kind !== NOTE_ON && kind !== NOTE_OFF)) return true;
    const channel = status & 15;
    if (latches(profile, channel + 1, number)) return true; // it stands as it was left, whoever goes away
    const key = `${surface} ${channel} ${number}`;
    const holder = this.#holders.get(key);
    if (holder !== undefined && holder !== page) return false;
    if (isPress(bytes)) this.#holders.set(key, page);
    else this.#holders.delete(key);
    return true;
  }

  /** The page went away: what it held, as releases. */
  leave(page: number): LetGo[] {
    const gone: LetGo[] = [];
    for (const [key, holder] of this.#holders) {
      if (holder !== page) continue;
      this.#holders.delete(key);
      const [surface = "", channel, number] = key.split(" ");
      gone.push({ surface, bytes: Uint8Array.of(NOTE_OFF | Number(channel), Number(number), RELEASE_VELOCITY) });
    }
    return gone;
  }
}

export function isPress([status = 0, , velocity = 0]: readonly number[]): boolean {
  return (status & 0xf0) === NOTE_ON && velocity > 0;
}

function latches(profile: SurfaceProfile | undefined, channel: number, number: number): boolean {
  const control = profile?.controls.find(
    ({ sends }) => sends.kind === "note" && sends.channel === channel && sends.number === number,
  );
  return control?.behaviour === "latches" || control?.behaviour === "latches-both-on";
}
