/** The stand-in vision desk as a plain machine: commands in, changes out. No sockets, no clock. */
import { AT_START, INPUTS } from "./scenario.ts";

export const INPUT_COUNT = 8;
export const MIX_COUNT = 2;
export const KEY_COUNT = 4;
/** The transition bar at its other end. */
export const BAR_END = 1000;
const LONGEST_FRAMES = 250;
/** Audio levels in dB; the lowest is silence. */
const AUDIO = { from: -90, to: 10 } as const;

export interface Mix {
  preview: number;
  program: number;
  /** 0..1000. */
  bar: number;
  /** Where the bar stood when nothing was under way: it starts from either end. */
  restsAt: 0 | 1000;
  /** Frames of an auto transition. */
  length: number;
  auto: boolean;
}

export type Command =
  | { kind: "preview" | "program"; mix: number; input: number }
  | { kind: "cut" | "auto"; mix: number }
  | { kind: "length" | "bar"; mix: number; value: number }
  | { kind: "key"; key: number; on: boolean }
  | { kind: "aux"; input: number }
  | { kind: "audio"; input: number; value: number };

/** Something to be told, by its word and its number. */
export type Change =
  | { kind: "preview" | "program" | "bar" | "auto" | "length"; mix: number }
  | { kind: "key"; key: number }
  | { kind: "aux" }
  | { kind: "audio" | "name" | "colour" | "tally"; input: number };

export type Result = { ok: true; changes: Change[] } | { ok: false; reason: string };

export class VisionDesk {
  mixes: Mix[] = [];
  keys: boolean[] = [];
  aux = 1;
  audio: number[] = [];
  readonly inputs = INPUTS;

  constructor() {
    this.reset();
  }

  reset(): void {
    this.mixes = AT_START.map(({ preview, program }) => ({
      preview,
      program,
      bar: 0,
      restsAt: 0,
      length: 25,
      auto: false,
    }));
    this.keys = new Array<boolean>(KEY_COUNT).fill(false);
    this.aux = 1;
    this.audio = this.inputs.map(() => AUDIO.from);
  }

  /** 2 on air, 1 on preview, 0 neither; on air counts first. An input in a transition is on air from both sides. */
  tally(input: number): 0 | 1 | 2 {
    const onAir = this.mixes.some((m) => m.program === input || (this.#moves(m) && m.preview === input));
    return onAir ? 2 : this.mixes.some((m) => m.preview === input) ? 1 : 0;
  }

  act(command: Command): Result {
    const before = this.#tallies();
    const result = this.#act(command);
    if (result.ok) result.changes.push(...this.#tallyChanges(before));
    return result;
  }

  /** One frame of what runs by itself. */
  frame(): Change[] {
    const before = this.#tallies();
    const changes = this.mixes.flatMap((m, i) => {
      if (!m.auto) return [];
      const way = m.restsAt === 0 ? 1 : -1;
      const next = m.bar + (way * BAR_END) / m.length;
      return this.#barTo(m, i + 1, Math.min(BAR_END, Math.max(0, Math.round(next))));
    });
    return [...changes, ...this.#tallyChanges(before)];
  }

  get isMoving(): boolean {
    return this.mixes.some((m) => m.auto);
  }

  #act(command: Command): Result {
    switch (command.kind) {
      case "preview":
      case "program":
      case "cut":
      case "auto":
      case "length":
      case "bar":
        return this.#mix(command);
      case "key":
        if (!within(command.key, KEY_COUNT)) return no("there is no such keyer");
        this.keys[command.key - 1] = command.on;
        return yes({ kind: "key", key: command.key });
      case "aux":
        if (!within(command.input, INPUT_COUNT)) return no("there is no such input");
        this.aux = command.input;
        return yes({ kind: "aux" });
      case "audio":
        if (!within(command.input, INPUT_COUNT)) return no("there is no such input");
        if (!(command.value >= AUDIO.from && command.value <= AUDIO.to)) return no("the level is out of range");
        this.audio[command.input - 1] = command.value;
        return yes({ kind: "audio", input: command.input });
      default:
        return command satisfies never;
    }
  }

  #mix(command: Extract<Command, { mix: number }>): Result {
    const { kind, mix } = command;
    const m = this.mixes[mix - 1];
    if (!m) return no("there is no such mix bus");
    switch (kind) {
      case "preview":
      case "program":
        if (!within(command.input, INPUT_COUNT)) return no("there is no such input");
        m[kind] = command.input;
        return yes({ kind, mix });
      case "cut":
        [m.preview, m.program] = [m.program, m.preview];
        return yes({ kind: "preview", mix }, { kind: "program", mix });
      case "auto":
        if (m.auto) return no("a transition is running");
        m.auto = true;
        return yes({ kind: "auto", mix });
      case "length":
        if (!(command.value >= 1 && command.value <= LONGEST_FRAMES)) return no("the length is out of range");
        m.length = Math.round(command.value);
        return yes({ kind: "length", mix });
      case "bar":
        if (!(command.value >= 0 && command.value <= BAR_END)) return no("the bar ends at 0 and 1000");
        m.auto = false;
        return yes(...this.#barTo(m, mix, Math.round(command.value)), { kind: "auto", mix });
      default:
        return command satisfies never;
    }
  }

  /** At its other end the transition is done: the two change places, and the bar starts from there. */
  #barTo(m: Mix, mix: number, bar: number): Change[] {
    m.bar = bar;
    const changes: Change[] = [{ kind: "bar", mix }];
    if (bar !== BAR_END - m.restsAt) return changes;
    m.restsAt = bar === 0 ? 0 : BAR_END;
    [m.preview, m.program] = [m.program, m.preview];
    changes.push({ kind: "preview", mix }, { kind: "program", mix });
    if (m.auto) {
      m.auto = false;
      changes.push({ kind: "auto", mix });
    }
    return changes;
  }

  #moves(m: Mix): boolean {
    return m.bar !== m.restsAt;
  }

  #tallies(): number[] {
    return this.inputs.map((_, i) => this.tally(i + 1));
  }

  #tallyChanges(before: readonly number[]): Change[] {
    return before.flatMap((t, i): Change[] => (t === this.tally(i + 1) ? [] : [{ kind: "tally", input: i + 1 }]));
  }
}

function within(n: number, count: number): boolean {
  return Number.isInteger(n) && n >= 1 && n <= count;
}
function yes(...changes: Change[]): Result {
  return { ok: true, changes };
}
function no(reason: string): Result {
  return { ok: false, reason };
}
