/** The vision desk's own protocol of lines, as documented in PROTOCOL.md. */
import { type Change, type Command, INPUT_COUNT, KEY_COUNT, MIX_COUNT, type VisionDesk } from "./desk.ts";

export type Request =
  | { kind: "command"; command: Command }
  | { kind: "state" }
  /** It asks for one thing, by what stands between "at" and the value in what is told. */
  | { kind: "state-of"; what: string }
  | { kind: "watch" }
  | { kind: "ping"; number: string }
  | { kind: "wrong"; reason: string };

export function readRequest(line: string): Request {
  const [word, ...rest] = line.trim().split(/ +/);
  const numbers = rest.map(Number);
  const [a = Number.NaN, b = Number.NaN] = numbers;
  const takes = (count: number, command: () => Command): Request => {
    if (rest.length !== count) return wrong(`“${word}” takes ${count} numbers`);
    if (numbers.some((n) => !Number.isFinite(n))) return wrong("a number is expected");
    return { kind: "command", command: command() };
  };
  switch (word) {
    case "state":
      return rest.length === 0 ? { kind: word } : { kind: "state-of", what: rest.join(" ") };
    case "watch":
      return rest.length === 0 ? { kind: word } : wrong(`“${word}” stands alone`);
    case "ping":
      return rest.length === 1 ? { kind: "ping", number: rest[0]! } : wrong("“ping” takes one word");
    case "preview":
    case "program":
      return takes(2, () => ({ kind: word, mix: a, input: b }));
    case "cut":
    case "auto":
      return takes(1, () => ({ kind: word, mix: a }));
    case "length":
    case "bar":
      return takes(2, () => ({ kind: word, mix: a, value: b }));
    case "key":
      return takes(2, () => ({ kind: "key", key: a, on: b !== 0 }));
    case "aux":
      return takes(1, () => ({ kind: "aux", input: a }));
    case "audio":
      return takes(2, () => ({ kind: "audio", input: a, value: b }));
    default:
      return wrong("this word is not known");
  }
}

function wrong(reason: string): Request {
  return { kind: "wrong", reason };
}

/** The line that tells a change. */
export function tell(desk: VisionDesk, change: Change): string {
  switch (change.kind) {
    case "preview":
    case "program":
    case "bar":
    case "length":
      return `at ${change.kind} ${change.mix} ${desk.mixes[change.mix - 1]![change.kind]}`;
    case "auto":
      return `at auto ${change.mix} ${desk.mixes[change.mix - 1]!.auto ? 1 : 0}`;
    case "key":
      return `at key ${change.key} ${desk.keys[change.key - 1] ? 1 : 0}`;
    case "aux":
      return `at aux ${desk.aux}`;
    case "audio":
      return `at audio ${change.input} ${desk.audio[change.input - 1]}`;
    case "name":
      return `at name ${change.input} "${desk.inputs[change.input - 1]!.name}"`;
    case "colour":
      return `at colour ${change.input} ${desk.inputs[change.input - 1]!.colour}`;
    case "tally":
      return `at tally ${change.input} ${desk.tally(change.input)}`;
    default:
      return change satisfies never;
  }
}

/** The whole state, as lines: names first, so that what follows can be read. */
export function wholeState(desk: VisionDesk): string[] {
  const changes: Change[] = [];
  const each = (count: number, change: (n: number) => Change[]) => {
    for (let n = 1; n <= count; n++) changes.push(...change(n));
  };
  each(INPUT_COUNT, (input) => [
    { kind: "name", input },
    { kind: "colour", input },
    { kind: "audio", input },
    { kind: "tally", input },
  ]);
  each(MIX_COUNT, (mix) =>
    (["preview", "program", "bar", "auto", "length"] as const).map((kind): Change => ({ kind, mix })),
  );
  each(KEY_COUNT, (key) => [{ kind: "key", key }]);
  changes.push({ kind: "aux" });
  return changes.map((c) => tell(desk, c));
}

/** The line that tells one thing; null where there is none of that name. */
export function oneState(desk: VisionDesk, what: string): string | null {
  return (
    wholeState(desk).find(
      (line) => line.startsWith(`at ${what} `) && !line.slice(`at ${what} `.length).includes(" "),
    ) ?? null
  );
}
