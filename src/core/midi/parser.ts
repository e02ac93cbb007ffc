/**
 * An incremental parser for one MIDI 1.0 byte stream.
 *
 * It accepts any bytes in any pieces and never throws. What it cannot use is reported once, with the
 * reason and the number of bytes, and then forgotten: the only thing that grows is the SysEx buffer,
 * and that has a limit.
 *
 * MIDI 1.0 Detailed Specification 4.2, "Data Format" and appendix "Running Status".
 */

/** Why bytes were thrown away. */
export type MidiDropReason =
  | "data-without-status"
  | "unfinished-message"
  | "unfinished-sysex"
  | "sysex-too-long"
  | "undefined-status";

/** Receives what the parser understood. Views passed to `sysex` are valid only during the call. */
export interface MidiSink {
  /** A complete short message. `length` is 1, 2 or 3; unused data bytes are 0. */
  short(status: number, data1: number, data2: number, length: number): void;
  /** A complete System Exclusive message, F0 and F7 included. */
  sysex(bytes: Uint8Array): void;
  /** `byteCount` bytes were dropped. */
  dropped(reason: MidiDropReason, byteCount: number): void;
}

/** Longest SysEx message that is kept, in bytes, unless the port says otherwise. */
export const DEFAULT_MAX_SYSEX_BYTES = 64 * 1024;

const FIRST_SYSEX_BYTES = 256;

/** Number of data bytes after a status byte below F0, by its upper nibble. */
const CHANNEL_DATA_BYTES = [0, 0, 0, 0, 0, 0, 0, 0, 2, 2, 2, 2, 1, 1, 2, 0];
/** Number of data bytes after F0..F7; -1 where the standard defines none. */
const COMMON_DATA_BYTES = [0, 1, 2, 1, -1, -1, 0, 0];

/** Number of data bytes a status byte asks for; -1 where the status is undefined. */
export function dataBytesOf(status: number): number {
  if (status < 0xf0) return CHANNEL_DATA_BYTES[status >> 4]!;
  if (status < 0xf8) return COMMON_DATA_BYTES[status & 7]!;
  return status === 0xf9 || status === 0xfd ? -1 : 0;
}

type ParserState = "idle" | "data" | "sysex" | "sysex-overflow";

export class MidiParser {
  #state: ParserState = "idle";
  /** Status of the message being collected, or the running status between messages; 0 = none. */
  #status = 0;
  #wanted = 0;
  #have = 0;
  #data1 = 0;
  #sysex: Uint8Array = new Uint8Array(FIRST_SYSEX_BYTES);
  #sysexLength = 0;
  readonly #sink: MidiSink;
  readonly #maxSysexBytes: number;

  constructor(sink: MidiSink, maxSysexBytes = DEFAULT_MAX_SYSEX_BYTES) {
    if (maxSysexBytes < 2) throw new RangeError(`maxSysexBytes is ${maxSysexBytes}; at least 2 is needed`);
    this.#sink = sink;
    this.#maxSysexBytes = maxSysexBytes;
  }

  /** Bytes held right now: for tests that show memory stays bounded. */
  get heldBytes(): number {
    return this.#sysex.length;
  }

  feed(bytes: Uint8Array, start = 0, end = bytes.length): void {
    for (let i = start; i < end; i++) {
      const byte = bytes[i]!;
      // Nearly all traffic is whole channel messages with their status byte: taking them in one step, and the rest
      // byte by byte, halves the time of the parser (bench row `core.bare`).
      if (byte >= 0x80 && byte < 0xf0 && this.#have === 0 && (this.#state === "idle" || this.#state === "data")) {
        const wanted = CHANNEL_DATA_BYTES[byte >> 4]!;
        const data1 = i + wanted < end ? bytes[i + 1]! : 0x80;
        const data2 = wanted === 2 && data1 < 0x80 ? bytes[i + 2]! : 0;
        if (data1 < 0x80 && data2 < 0x80) {
          this.#state = "data";
          this.#status = byte;
          this.#wanted = wanted;
          i += wanted;
          this.#sink.short(byte, data1, data2, wanted + 1);
          continue;
        }
      }
      if (byte >= 0xf8) this.#realtime(byte);
      else if (byte >= 0x80) this.#statusByte(byte);
      else this.#dataByte(byte);
    }
  }

  /** Forgets everything unfinished: the port was closed or opened anew. */
  reset(): void {
    this.#abandon();
    this.#status = 0;
    this.#state = "idle";
  }

  // Real-time messages may stand anywhere, even inside SysEx, and change nothing around them.
  #realtime(byte: number): void {
    if (dataBytesOf(byte) < 0) this.#sink.dropped("undefined-status", 1);
    else this.#sink.short(byte, 0, 0, 1);
  }

  #statusByte(byte: number): void {
    if (byte === 0xf7 && (this.#state === "sysex" || this.#state === "sysex-overflow")) {
      this.#endSysex();
      return;
    }
    this.#abandon();
    if (byte === 0xf0) {
      this.#state = "sysex";
      this.#status = 0;
      this.#sysex[0] = byte;
      this.#sysexLength = 1;
      return;
    }
    const wanted = dataBytesOf(byte);
    if (wanted < 0 || byte === 0xf7) {
      this.#status = 0;
      this.#state = "idle";
      this.#sink.dropped("undefined-status", 1);
      return;
    }
    this.#have = 0;
    this.#wanted = wanted;
    if (wanted === 0) {
      this.#status = 0;
      this.#state = "idle";
      this.#sink.short(byte, 0, 0, 1);
      return;
    }
    this.#status = byte;
    this.#state = "data";
  }

  #dataByte(byte: number): void {
    switch (this.#state) {
      case "data":
        this.#have++;
        if (this.#have < this.#wanted) this.#data1 = byte;
        else this.#endShort(byte);
        return;
      case "sysex":
        this.#sysexByte(byte);
        return;
      case "sysex-overflow":
        this.#sysexLength++;
        return;
      case "idle":
        this.#sink.dropped("data-without-status", 1);
        return;
      default:
        this.#state satisfies never;
    }
  }

  #endShort(byte: number): void {
    const status = this.#status;
    this.#have = 0;
    if (status >= 0xf0) {
      // System common messages cancel running status.
      this.#status = 0;
      this.#state = "idle";
    }
    if (this.#wanted === 1) this.#sink.short(status, byte, 0, 2);
    else this.#sink.short(status, this.#data1, byte, 3);
  }

  #sysexByte(byte: number): void {
    // One byte is kept free for the closing F7.
    if (this.#sysexLength + 1 >= this.#maxSysexBytes) {
      this.#state = "sysex-overflow";
      this.#sysexLength++;
      return;
    }
    if (this.#sysexLength + 1 >= this.#sysex.length) {
      const larger = new Uint8Array(Math.min(this.#sysex.length * 2, this.#maxSysexBytes));
      larger.set(this.#sysex);
      this.#sysex = larger;
    }
    this.#sysex[this.#sysexLength++] = byte;
  }

  #endSysex(): void {
    const overflow = this.#state === "sysex-overflow";
    const length = this.#sysexLength + 1;
    this.#state = "idle";
    this.#status = 0;
    if (overflow) this.#sink.dropped("sysex-too-long", length);
    else {
      this.#sysex[this.#sysexLength] = 0xf7;
      this.#sink.sysex(this.#sysex.subarray(0, length));
    }
    this.#releaseSysex();
  }

  #abandon(): void {
    if (this.#state === "sysex") this.#sink.dropped("unfinished-sysex", this.#sysexLength);
    else if (this.#state === "sysex-overflow") this.#sink.dropped("sysex-too-long", this.#sysexLength);
    else if (this.#state === "data" && this.#have > 0) this.#sink.dropped("unfinished-message", this.#have + 1);
    this.#have = 0;
    this.#releaseSysex();
  }

  // A long dump must not pin its buffer until the port closes.
  #releaseSysex(): void {
    this.#sysexLength = 0;
    if (this.#sysex.length > FIRST_SYSEX_BYTES) this.#sysex = new Uint8Array(FIRST_SYSEX_BYTES);
  }
}

/** True where the bytes are one or more MIDI messages and nothing else. */
export function wholeMidi(bytes: Uint8Array): boolean {
  let messages = 0;
  let dropped = 0;
  let inMessages = 0;
  const parser = new MidiParser({
    short: (_s, _a, _b, length) => {
      messages++;
      inMessages += length;
    },
    sysex: (sysex) => {
      messages++;
      inMessages += sysex.length;
    },
    dropped: () => {
      dropped++;
    },
  });
  parser.feed(bytes);
  return messages > 0 && dropped === 0 && inMessages === bytes.length;
}

/**
 * Hands on the messages of a block one by one, for ports that take one at a time: what is said with several, such as a
 * parameter number with its value, is made as one block. `bytes` are whole messages with their status bytes.
 */
export function eachMessage(bytes: Uint8Array, tell: (message: Uint8Array) => void): void {
  const first = bytes[0] ?? 0;
  // Nearly always it is one.
  const isOne =
    first === 0xf0 ? bytes.indexOf(0xf7) === bytes.length - 1 : bytes.length === 1 + Math.max(0, dataBytesOf(first));
  if (isOne) {
    tell(bytes);
    return;
  }
  new MidiParser(
    {
      short: (status, d1, d2, length) => tell(Uint8Array.of(status, d1, d2).subarray(0, length)),
      sysex: (sysex) => tell(sysex.slice()),
      dropped: () => {},
    },
    bytes.length + 2,
  ).feed(bytes);
}
