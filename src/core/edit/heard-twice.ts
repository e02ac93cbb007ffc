/** Two states of a desk profile that hear the same message, told by an example of one that the other takes too. */
import { exampleLine, linePattern, matchLine } from "../desk/line-pattern.ts";
import { wholeName } from "../desk/template.ts";
import { ownNumber, wireText } from "../desk/wire-numbers.ts";
import type { DeskProfile, DeskState, Parameter } from "../format/desk-profile.ts";
import type { Problem } from "../format/problem.ts";

type Heard = NonNullable<DeskState["heard"]>;

interface Hearing {
  readonly id: string;
  readonly index: number;
  readonly heard: Heard;
  readonly pattern: string;
}

export function overlaps(profile: DeskProfile): Problem[] {
  const parameters = new Map(profile.parameters.map((p) => [p.id, p]));
  const isBytes = profile.wire.lineBytes ?? false;
  const all = profile.states.flatMap(({ id, heard }, index): Hearing[] =>
    heard ? [{ id, index, heard, pattern: patternText(heard) }] : [],
  );
  return all.flatMap((x, k): Problem[] => {
    const takesBoth = (a: Heard, b: Heard) =>
      hearsToo(a, b, parameters, isBytes) || hearsToo(b, a, parameters, isBytes);
    const other = all.slice(0, k).find((y) => y.pattern === x.pattern || takesBoth(x.heard, y.heard));
    if (!other) return [];
    const path = ["states", x.index, "heard", fieldOf(x.heard)];
    return [{ code: "heard-twice", path, heard: textOf(x.heard), by: other.id }];
  });
}

/** True where x's example is taken by y. Of lines with other values, only what stands before the value counts. */
function hearsToo(x: Heard, y: Heard, parameters: ReadonlyMap<string, Parameter>, isBytes: boolean): boolean {
  const sample = (name: string) => {
    const p = parameters.get(name);
    return p ? wireText(p, p.from) : "1";
  };
  if ("line" in x && "line" in y) {
    const [a, b] = [x, y].map(({ line }) => linePattern(line, isBytes));
    return !!a && !!b && matchLine(b, exampleLine(a, sample)) !== null;
  }
  if (!("address" in x && "address" in y) || x.argument !== y.argument) return false;
  const theirs = y.address.split("/");
  const ours = x.address.split("/");
  return (
    theirs.length === ours.length &&
    theirs.every((part, k) => {
      const filled = ours[k]!.replaceAll(/\{([^}]*)\}/g, (_, name: string) => sample(name));
      return part === filled || takesNumber(part, filled, parameters);
    })
  );
}

/** True where a part of an address that is one whole name can be this number. */
function takesNumber(part: string, said: string, parameters: ReadonlyMap<string, Parameter>): boolean {
  const p = parameters.get(wholeName(part) ?? "");
  if (!p || !/^-?\d+$/.test(said)) return false;
  const n = ownNumber(p, Number(said));
  return n >= p.from && n <= p.to;
}

/** A pattern with its names left open: the same for two that hear the same. */
function patternText(heard: Heard): string {
  const open = (text: string) => text.replaceAll(/\{[a-z0-9.:-]+\}/g, "{}");
  if ("address" in heard) return `${open(heard.address)} ${heard.argument}`;
  return "line" in heard ? open(heard.line) : open(JSON.stringify({ ...heard, scale: undefined }));
}

/** As people read it. */
function textOf(heard: Heard): string {
  if ("address" in heard) return heard.address;
  return "line" in heard ? heard.line : (heard.bytes ?? `${heard.midi} ${heard.number ?? ""}`.trim());
}

function fieldOf(heard: Heard): string {
  if ("address" in heard) return "address";
  return "line" in heard ? "line" : "midi";
}
