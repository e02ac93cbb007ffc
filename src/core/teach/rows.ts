/** What follows from several controls that were touched: the rest of their row, or the same ones in another bank. */
import type { Control, ControlMessage, InternalBank } from "../format/surface-profile.ts";

/** So many that go up evenly are a row. */
const ROW = 3;
/** Rows end at a multiple of so many. */
const FADERS_A_ROW = 8;
const PADS_A_ROW = 16;
/** So many that are the same but for one shift may be a bank. */
const BANK = 2;
/** Fewer controls than this have no banks. */
const FEWEST_FOR_BANKS = 4;

type Numbered = Extract<ControlMessage, { channel: number; number: number }>;

function numbered(sends: ControlMessage): Numbered | null {
  return "channel" in sends && "number" in sends && typeof sends.number === "number" ? (sends as Numbered) : null;
}

export interface RowOffer {
  /** The three that were touched last, in their order. */
  readonly like: readonly Control[];
  /** What the others of the row would send. */
  readonly rest: readonly ControlMessage[];
}

/** The rest of the row that the newest three controls begin; null = they do not go up evenly, or the row is whole. */
export function rowOffer(controls: readonly Control[]): RowOffer | null {
  const like = controls.slice(-ROW);
  const sends = like.map((c) => numbered(c.sends));
  const [a, b, c] = sends;
  if (like.length < ROW || !a || !b || !c) return null;
  const step = b.number - a.number;
  const isEven = c.number - b.number === step && step > 0 && step <= PADS_A_ROW;
  const isAlike = like.every((x) => x.kind === like[0]!.kind && x.behaviour === like[0]!.behaviour);
  const isOneKind = sends.every((s) => s!.kind === a.kind && s!.channel === a.channel);
  if (!isEven || !isAlike || !isOneKind) return null;
  const many = like[0]!.kind === "fader" || like[0]!.kind === "knob" ? FADERS_A_ROW : PADS_A_ROW;
  const most = a.kind === "controller-14" ? 31 : a.kind === "controller" || a.kind === "relative" ? 119 : 127;
  const taken = new Set(controls.map((x) => JSON.stringify(x.sends)));
  const rest: ControlMessage[] = [];
  for (let k = ROW; k < many; k++) {
    const next = { ...a, number: a.number + k * step } as ControlMessage;
    if (a.number + k * step > most) break;
    if (taken.has(JSON.stringify(next))) return rest.length > 0 ? { like, rest } : null;
    rest.push(next);
  }
  return rest.length > 0 ? { like, rest } : null;
}

export type Shift = Pick<InternalBank, "channels" | "numbers">;

export interface BankGuess {
  readonly shift: Shift;
  /** The new controls, and those they would be in the first bank. */
  readonly pairs: readonly { readonly now: string; readonly first: string }[];
}

/**
 * Whether the newest controls may be older ones in another bank of the surface: the same kind of message, all with one
 * shift that leads past every number there is, or to another channel. Null = nothing speaks for it.
 */
export function bankGuess(controls: readonly Control[]): BankGuess | null {
  const fresh = controls.slice(-BANK);
  const known = controls.slice(0, -BANK).filter((c) => numbered(c.sends));
  if (fresh.length < BANK || known.length < FEWEST_FOR_BANKS) return null;
  const [first] = fresh;
  for (const other of known) {
    const shift = shiftOf(other, first!);
    if (!shift || !isBank(shift, known, first!)) continue;
    const pairs = fresh.flatMap((now) => {
      const from = known.find((k) => {
        const s = shiftOf(k, now);
        return s?.channels === shift.channels && s.numbers === shift.numbers;
      });
      return from ? [{ now: now.id, first: from.id }] : [];
    });
    if (pairs.length === BANK && pairs[0]!.first !== pairs[1]!.first) return { shift, pairs };
  }
  return null;
}

function shiftOf(from: Control, to: Control): Shift | null {
  const a = numbered(from.sends);
  const b = numbered(to.sends);
  if (!a || !b || a.kind !== b.kind || from.kind !== to.kind) return null;
  return { channels: b.channel - a.channel, numbers: b.number - a.number };
}

/** Another channel and the same number; or as many numbers further as the known ones of that kind take up. */
function isBank({ channels, numbers }: Shift, known: readonly Control[], like: Control): boolean {
  if (channels !== 0) return numbers === 0;
  const kind = numbered(like.sends)!.kind;
  const own = known.flatMap((c) => {
    const s = numbered(c.sends);
    return s && s.kind === kind && c.kind === like.kind ? [s.number] : [];
  });
  const block = Math.max(...own) - Math.min(...own) + 1;
  // In blocks as surfaces have them: of 8 pads the next 8 may be a bank, of 5 they are more pads.
  return own.length >= FEWEST_FOR_BANKS && block % FEWEST_FOR_BANKS === 0 && own.length === block && numbers === block;
}
