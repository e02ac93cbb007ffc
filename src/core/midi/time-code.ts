/**
 * MIDI Time Code: quarter frames while it runs, full frames when it jumps.
 * MIDI Time Code, RP-004/008, "Quarter Frame Messages" and "Full Message".
 */

export const TIME_CODE_RATES = ["24", "25", "30-drop", "30"] as const;
export type TimeCodeRate = (typeof TIME_CODE_RATES)[number];

/** A point in time as it is written: hours 0..23, minutes and seconds 0..59, frames below the rate. */
export interface TimeCode {
  readonly rate: TimeCodeRate;
  readonly hours: number;
  readonly minutes: number;
  readonly seconds: number;
  readonly frames: number;
}

/** Frames a second as they are counted; drop-frame counts 30 and leaves out numbers. */
function nominalRate(rate: TimeCodeRate): number {
  return rate === "24" ? 24 : rate === "25" ? 25 : 30;
}

/** Frame numbers that drop-frame leaves out at the start of each minute that is no multiple of ten. */
const DROPPED = 2;
const FRAMES_PER_10_MIN = 10 * 60 * 30 - 9 * DROPPED;
const FRAMES_PER_MIN = 60 * 30 - DROPPED;

/** Frames since 00:00:00:00. */
export function frameCount(t: TimeCode): number {
  const minutes = t.hours * 60 + t.minutes;
  const counted = (minutes * 60 + t.seconds) * nominalRate(t.rate) + t.frames;
  return t.rate === "30-drop" ? counted - DROPPED * (minutes - Math.floor(minutes / 10)) : counted;
}

/** Frames in 24 hours: where the count starts again. */
export function framesADay(rate: TimeCodeRate): number {
  return rate === "30-drop" ? 24 * 6 * FRAMES_PER_10_MIN : 24 * 3600 * nominalRate(rate);
}

/** The time code of a frame count; it wraps at 24 hours, in both directions. */
export function timeCodeAt(rate: TimeCodeRate, count: number): TimeCode {
  const day = framesADay(rate);
  let frame = ((Math.floor(count) % day) + day) % day;
  if (rate === "30-drop") {
    const tens = Math.floor(frame / FRAMES_PER_10_MIN);
    const rest = frame % FRAMES_PER_10_MIN;
    // The first minute of ten has all its numbers; each of the other nine lacks two.
    const minutes = rest < 1800 ? 0 : 1 + Math.floor((rest - 1800) / FRAMES_PER_MIN);
    frame += DROPPED * (tens * 9 + minutes);
  }
  const fps = nominalRate(rate);
  const seconds = Math.floor(frame / fps);
  return {
    rate,
    hours: Math.floor(seconds / 3600),
    minutes: Math.floor(seconds / 60) % 60,
    seconds: seconds % 60,
    frames: frame % fps,
  };
}

const SECONDS_A_DAY = 86_400;

/**
 * The time code of a clock at so many seconds since midnight: it names that second at every rate, and drop-frame takes the
 * next number where it leaves one out. It wraps at 24 hours.
 */
export function timeCodeOfSeconds(rate: TimeCodeRate, seconds: number): TimeCode {
  const inDay = Number.isFinite(seconds) ? ((seconds % SECONDS_A_DAY) + SECONDS_A_DAY) % SECONDS_A_DAY : 0;
  const whole = Math.floor(inDay);
  const frames = Math.floor((inDay - whole) * nominalRate(rate) + 1e-6); // a time made of frames comes back as they were
  const time = {
    rate,
    hours: Math.floor(whole / 3600),
    minutes: Math.floor(whole / 60) % 60,
    seconds: whole % 60,
    frames: Math.min(frames, nominalRate(rate) - 1),
  };
  return isTime(time) ? time : { ...time, frames: DROPPED };
}

/** "01:02:03:04", with a semicolon before the frames where frames are dropped. */
export function timeCodeWords(t: TimeCode): string {
  const two = (n: number) => String(n).padStart(2, "0");
  return `${two(t.hours)}:${two(t.minutes)}:${two(t.seconds)}${t.rate === "30-drop" ? ";" : ":"}${two(t.frames)}`;
}

/** The four bytes of a time in full messages and MMC: the rate stands in the upper bits of the hours. */
export function timeCodeBytes(t: TimeCode): [number, number, number, number] {
  return [(TIME_CODE_RATES.indexOf(t.rate) << 5) | t.hours, t.minutes, t.seconds, t.frames];
}

/** Reads those four bytes; null where they are no time. */
export function readTimeCodeBytes(bytes: ArrayLike<number>, at: number): TimeCode | null {
  const time = {
    rate: TIME_CODE_RATES[(bytes[at]! >> 5) & 3]!,
    hours: bytes[at]! & 31,
    minutes: bytes[at + 1]!,
    seconds: bytes[at + 2]!,
    frames: bytes[at + 3]!,
  };
  return isTime(time) ? time : null;
}

/** The full message for device 0..127 (127 = all). */
export function fullFrame(t: TimeCode, device = 127): Uint8Array {
  return Uint8Array.of(0xf0, 0x7f, device, 0x01, 0x01, ...timeCodeBytes(t), 0xf7);
}

/** "malformed" where it names no time; null where it is no full message. */
export function readFullFrame(sysex: Uint8Array): TimeCode | "malformed" | null {
  if (sysex.length < 6 || sysex[1] !== 0x7f || sysex[3] !== 0x01 || sysex[4] !== 0x01) return null;
  return (sysex.length === 10 && readTimeCodeBytes(sysex, 5)) || "malformed";
}

/** Pieces of one time. */
export const QUARTER_FRAMES = 8;

/** The value 0..15 of quarter-frame piece 0..7. */
export function quarterFrameValue(t: TimeCode, piece: number): number {
  const fields = [t.frames, t.seconds, t.minutes, t.hours | (TIME_CODE_RATES.indexOf(t.rate) << 5)];
  const field = fields[piece >> 1]!;
  return piece & 1 ? field >> 4 : field & 15;
}

export interface TimeCodePosition {
  readonly rate: TimeCodeRate;
  /** Quarter frames since 00:00:00:00: the eight pieces of one time spread over two frames. */
  readonly quarters: number;
  readonly direction: 1 | -1;
}

/** Puts quarter frames together. The first position is known after eight pieces in a row, in either direction. */
export class TimeCodeReader {
  readonly #values = new Uint8Array(8);
  #last = -1;
  #inARow = 0;
  #direction: 1 | -1 = 1;
  #base = -1;
  #rate: TimeCodeRate = "25";

  /** Piece 0..7 with value 0..15. Answers where the time code is now, or null while that is not known. */
  quarter(piece: number, value: number): TimeCodePosition | null {
    const step = this.#last < 0 ? 0 : (piece - this.#last + 8) % 8;
    const direction = step === 1 ? 1 : step === 7 ? -1 : 0;
    if (direction === 0 || (this.#inARow > 1 && direction !== this.#direction)) {
      // A jump, or the first piece at all: what was gathered belongs to another time.
      this.#inARow = 1;
      this.#base = -1;
    } else {
      this.#direction = direction;
      this.#inARow++;
    }
    this.#last = piece;
    this.#values[piece] = value;
    const whole = this.#direction > 0 ? piece === 7 : piece === 0;
    if (whole && this.#inARow >= 8) this.#read();
    if (this.#base < 0) return null;
    return { rate: this.#rate, quarters: this.#quarters(piece), direction: this.#direction };
  }

  /** A full message: the time code stands there, and quarter frames begin anew. */
  full(t: TimeCode): TimeCodePosition {
    this.#inARow = 0;
    this.#last = -1;
    this.#base = -1;
    return { rate: t.rate, quarters: frameCount(t) * 4, direction: 1 };
  }

  #read(): void {
    const v = this.#values;
    const byte = (low: number) => v[low]! | (v[low + 1]! << 4);
    const hours = byte(6);
    const time: TimeCode = {
      rate: TIME_CODE_RATES[(hours >> 5) & 3]!,
      hours: hours & 31,
      minutes: byte(4),
      seconds: byte(2),
      frames: byte(0) & 31,
    };
    this.#rate = time.rate;
    this.#base = isTime(time) ? frameCount(time) : -1;
  }

  // Piece 0 stands at the frame it names, piece 7 seven quarters later; the next eight follow two frames on.
  #quarters(piece: number): number {
    const complete = this.#direction > 0 ? piece === 7 : piece === 0;
    const base = this.#base * 4 + piece;
    if (complete) return base;
    return this.#direction > 0 ? base + 8 : base - 8;
  }
}

/** True where there is such a time; drop-frame leaves out the first two numbers of most minutes. */
export function isTime(t: TimeCode): boolean {
  if (t.rate === "30-drop" && t.frames < DROPPED && t.seconds === 0 && t.minutes % 10 !== 0) return false;
  return t.hours < 24 && t.minutes < 60 && t.seconds < 60 && t.frames < nominalRate(t.rate);
}
