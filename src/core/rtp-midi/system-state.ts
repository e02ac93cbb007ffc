/** The system messages of a stream as one end knows them, and how a journal puts right what was missed (appendix B). */
import type { SysExLog, SystemJournal } from "./system-journal.ts";

const UNKNOWN = -1;
const SYSEX = 0xf0;
const POSITION = 0xf2;
const SONG = 0xf3;
const TUNE = 0xf6;
const CLOCK = 0xf8;
const START = 0xfa;
const CONTINUE = 0xfb;
const STOP = 0xfc;
const RESET = 0xff;
const CLOCKS_A_BEAT = 6;
const MOST_CLOCKS = 0x7_ffff;
/** Up to so many clocks after a start it is made up for with its clocks; later the song is taken up in the middle. */
const FRESH_CLOCKS = 96;
/** SysEx that a journal can tell of: cues and commands, and no dumps. */
const LONGEST_SYSEX = 128;
const MOST_SYSEX = 32;

interface SentSysEx {
  readonly message: Uint8Array;
  readonly sequence: number;
  readonly count: number;
}

export class SystemState {
  #resets = { count: 0, sequence: UNKNOWN };
  #tunes = { count: 0, sequence: UNKNOWN };
  #song = { number: UNKNOWN, sequence: UNKNOWN };
  #isRunning = false;
  #hasBegun = false;
  #clocks = 0;
  #sequencerIn = UNKNOWN;
  #sysExCount = 0;
  #sysEx: SentSysEx[] = [];

  get isBare(): boolean {
    return (
      this.#resets.sequence < 0 &&
      this.#tunes.sequence < 0 &&
      this.#song.sequence < 0 &&
      this.#sequencerIn < 0 &&
      this.#sysEx.length === 0
    );
  }

  hear(message: Uint8Array, sequence: number): void {
    switch (message[0]) {
      case SYSEX:
        this.#sysExCount = (this.#sysExCount + 1) & 0xff;
        if (message.length <= LONGEST_SYSEX) {
          this.#sysEx.push({ message: message.slice(), sequence, count: this.#sysExCount });
          if (this.#sysEx.length > MOST_SYSEX) this.#sysEx.shift();
        }
        return;
      case POSITION:
        this.#clocks = (message[1]! | (message[2]! << 7)) * CLOCKS_A_BEAT;
        this.#sequencerIn = sequence;
        return;
      case SONG:
        this.#song = { number: message[1]!, sequence };
        return;
      case TUNE:
        this.#tunes = { count: (this.#tunes.count + 1) & 0x7f, sequence };
        return;
      case CLOCK:
        if (!this.#isRunning) return;
        // The first clock is where the song stands; each further one is a clock on.
        if (this.#hasBegun) this.#clocks = Math.min(MOST_CLOCKS, this.#clocks + 1);
        this.#hasBegun = true;
        this.#sequencerIn = sequence;
        return;
      case START:
        this.#clocks = 0;
        this.#run(true, sequence);
        return;
      case CONTINUE:
        this.#run(true, sequence);
        return;
      case STOP:
        this.#run(false, sequence);
        return;
      case RESET:
        this.#resets = { count: (this.#resets.count + 1) & 0x7f, sequence };
        return;
      default:
        return;
    }
  }

  #run(isRunning: boolean, sequence: number): void {
    this.#isRunning = isRunning;
    if (isRunning) this.#hasBegun = false;
    this.#sequencerIn = sequence;
  }

  forget(upTo: number): void {
    for (const counted of [this.#resets, this.#tunes, this.#song])
      if (counted.sequence <= upTo) counted.sequence = UNKNOWN;
    if (this.#sequencerIn <= upTo) this.#sequencerIn = UNKNOWN;
    this.#sysEx = this.#sysEx.filter((s) => s.sequence > upTo);
  }

  journal(isOld: (sequence: number) => boolean): SystemJournal {
    const counted = ({ count, sequence }: { count: number; sequence: number }) => ({ isOld: isOld(sequence), count });
    return {
      ...(this.#resets.sequence >= 0 ? { resets: counted(this.#resets) } : {}),
      ...(this.#tunes.sequence >= 0 ? { tunes: counted(this.#tunes) } : {}),
      ...(this.#song.sequence >= 0 ? { song: { isOld: isOld(this.#song.sequence), number: this.#song.number } } : {}),
      ...(this.#sequencerIn >= 0
        ? {
            sequencer: {
              isOld: isOld(this.#sequencerIn),
              isRunning: this.#isRunning,
              hasBegun: this.#hasBegun,
              clocks: this.#clocks,
            },
          }
        : {}),
      sysEx: this.#sysEx.map(({ message, sequence, count }): SysExLog => ({ message, count, isOld: isOld(sequence) })),
    };
  }

  /**
   * Says what this end has missed; `isSince` says whether something heard in a packet belongs to what the journal tells.
   * `isFirst`: nothing was heard before, and so nothing of it was missed: a cue from before that is none any more.
   */
  repair(
    told: SystemJournal,
    isSince: (sequence: number) => boolean,
    isFirst: boolean,
    say: (message: Uint8Array) => void,
  ): void {
    const { resets, tunes, song, sequencer, sysEx = [] } = told;
    if (isFirst) {
      this.#resets.count = resets?.count ?? 0;
      this.#tunes.count = tunes?.count ?? 0;
    }
    if (resets && resets.count !== this.#resets.count) {
      say(Uint8Array.of(RESET));
      this.#resets.count = resets.count; // however often, once does what it does
    }
    if (tunes && tunes.count !== this.#tunes.count) {
      say(Uint8Array.of(TUNE));
      this.#tunes.count = tunes.count;
    }
    if (song && song.number !== this.#song.number) say(Uint8Array.of(SONG, song.number));
    if (!isFirst) {
      const heard = this.#sysEx.filter((s) => isSince(s.sequence)).map((s) => s.message.join());
      for (const { message } of sysEx) {
        const at = heard.indexOf(message.join());
        if (at >= 0) heard.splice(at, 1);
        else say(message);
      }
    }
    if (!sequencer) return;
    if (isFirst) {
      this.#isRunning = sequencer.isRunning;
      this.#hasBegun = sequencer.hasBegun;
      this.#clocks = sequencer.clocks;
    } else this.#repairSequencer(sequencer, say);
  }

  #repairSequencer(told: NonNullable<SystemJournal["sequencer"]>, say: (message: Uint8Array) => void): void {
    const beats = Math.floor(told.clocks / CLOCKS_A_BEAT);
    if (this.#isRunning && !told.isRunning) say(Uint8Array.of(STOP));
    const isBehind = told.clocks < this.#clocks || (this.#hasBegun && !told.hasBegun);
    if (told.isRunning && (!this.#isRunning || isBehind)) {
      const isFresh = told.hasBegun ? told.clocks <= FRESH_CLOCKS : told.clocks === 0;
      if (!isFresh) say(Uint8Array.of(POSITION, beats & 0x7f, beats >> 7));
      say(Uint8Array.of(isFresh ? START : CONTINUE));
    } else if (!told.isRunning && Math.floor(this.#clocks / CLOCKS_A_BEAT) !== beats)
      say(Uint8Array.of(POSITION, beats & 0x7f, beats >> 7));
    // Clocks that were lost are made up for: the other end is as far on as this one.
    for (let n = 0; told.isRunning && n <= FRESH_CLOCKS && this.#lags(told); n++) say(Uint8Array.of(CLOCK));
  }

  #lags({ clocks, hasBegun }: NonNullable<SystemJournal["sequencer"]>): boolean {
    return this.#clocks < clocks || (!this.#hasBegun && hasBegun);
  }
}
