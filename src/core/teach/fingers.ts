/** What belongs to a control beside its own message: the touch of a fader, and the pressure on a pad. */
import type { Control } from "../format/surface-profile.ts";
import type { HeardMessage } from "../surface/learn.ts";
import { ValueReader } from "./evidence.ts";

/** A finger that rests on a fader moves it at least so often. */
const FEWEST_MOVES = 3;

type Note = { readonly kind: "note"; readonly channel: number; readonly number: number };

/** The notes that only say that a finger is on a fader, by the id of that fader. */
export function touchNotes(controls: readonly Control[], history: readonly HeardMessage[]): ReadonlyMap<string, Note> {
  const faders = controls.filter((c) => c.behaviour === "absolute");
  const readers = faders.map((c) => new ValueReader(c.sends));
  /** By note: how often each fader moved while it was down, for each time it was. */
  const times = new Map<string, { note: Note; spans: Map<string, number>[]; isDown: boolean }>();
  for (const { bytes } of history) {
    const [status = 0, number = 0, velocity = 0] = bytes;
    const kind = status & 0xf0;
    if (kind === 0x90 || kind === 0x80) {
      const note: Note = { kind: "note", channel: (status & 15) + 1, number };
      const key = `${note.channel} ${number}`;
      const own = times.get(key) ?? { note, spans: [], isDown: false };
      own.isDown = kind === 0x90 && velocity > 0;
      if (own.isDown) own.spans.push(new Map());
      times.set(key, own);
      continue;
    }
    readers.forEach((reader, i) => {
      if (reader.read(bytes) === null) return;
      for (const { isDown, spans } of times.values()) {
        const span = spans.at(-1);
        if (isDown && span) span.set(faders[i]!.id, (span.get(faders[i]!.id) ?? 0) + 1);
      }
    });
  }
  const found = new Map<string, Note>();
  for (const { note, spans } of times.values()) {
    const faderOf = spans.map((s) => (s.size === 1 ? [...s][0]! : null));
    const [first] = faderOf;
    if (first && faderOf.every((f) => f?.[0] === first[0] && f[1] >= FEWEST_MOVES)) found.set(first[0], note);
  }
  return found;
}

/** The pressure that pads send while they are held, by the id of the pad (MIDI 1.0, "Aftertouch"). */
export function pressures(
  controls: readonly Control[],
  history: readonly HeardMessage[],
): ReadonlyMap<string, NonNullable<Control["pressure"]>> {
  const found = new Map<string, NonNullable<Control["pressure"]>>();
  const padOf = (channel: number, number: number) =>
    controls.find((c) => c.sends.kind === "note" && c.sends.channel === channel && c.sends.number === number);
  const down: { channel: number; number: number }[] = [];
  for (const { bytes } of history) {
    const [status = 0, d1 = 0, d2 = 0] = bytes;
    const channel = (status & 15) + 1;
    switch (status & 0xf0) {
      case 0x90:
      case 0x80: {
        const at = down.findIndex((n) => n.channel === channel && n.number === d1);
        if (at >= 0) down.splice(at, 1);
        if ((status & 0xf0) === 0x90 && d2 > 0) down.push({ channel, number: d1 });
        break;
      }
      case 0xa0: {
        const pad = padOf(channel, d1);
        if (pad) found.set(pad.id, { kind: "poly-pressure", channel, number: d1 });
        break;
      }
      case 0xd0: {
        const last = down.findLast((n) => n.channel === channel);
        const pad = last && padOf(channel, last.number);
        if (pad) found.set(pad.id, { kind: "channel-pressure", channel });
        break;
      }
      default:
    }
  }
  return found;
}
