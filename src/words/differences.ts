/** What is different between two versions of a show, in words. */
import type { Difference } from "../core/edit/differences.ts";
import { ENGLISH_FAULTS } from "./english-faults.ts";

/** Lines of one comparison; a show may differ in more. */
export const MOST_LINES = 500;

export interface DifferencesInWords {
  /** "9 mappings and one light differ" */
  readonly sentence: string;
  readonly lines: readonly string[];
}

const FIELDS: Readonly<Record<string, string>> = {
  look: "light",
  on: "on or off",
  pages: "pages",
  when: "conditions",
  whileHeld: "what has to be held",
  in: "port in",
  out: "port out",
  listenPort: "port in",
  host: "address",
  port: "port",
  over: "carrier",
  whenSilent: "what it is sent while it is silent",
  middleC: "what note 60 is called",
  asleep: "which controls sleep",
};

/** `controlName`: what the kind of a surface calls a control. */
export function differencesWords(
  all: readonly Difference[],
  controlName: (surface: string, control: string) => string,
): DifferencesInWords {
  if (all.length === 0) return { sentence: "Nothing differs.", lines: [] };
  const counts = new Map<string, number>();
  for (const difference of all) {
    const word = counted(difference);
    counts.set(word, (counts.get(word) ?? 0) + 1);
  }
  const parts = [...counts].map(([word, n]) => (n === 1 ? `one ${word}` : `${n} ${plural(word)}`));
  const list = parts.length > 1 ? `${parts.slice(0, -1).join(", ")} and ${parts.at(-1)}` : parts[0]!;
  const sentence = `${list[0]!.toUpperCase()}${list.slice(1)} ${all.length === 1 ? "differs" : "differ"}.`;
  const lines = all.slice(0, MOST_LINES).map((d) => line(d, controlName));
  if (all.length > MOST_LINES) lines.push(`and ${all.length - MOST_LINES} more`);
  return { sentence, lines };
}

/** What it counts as. Of a mapping of which only the light differs, that is the light. */
function counted({ what, fields, how }: Difference): string {
  if (what === "mapping" && how === "changed" && fields.every((f) => f === "look")) return "light";
  return what === "show" ? "setting" : ENGLISH_FAULTS.things[what];
}

function plural(word: string): string {
  if (word.startsWith("kind of ")) return word.replace("kind", "kinds");
  return word.endsWith("y") ? `${word.slice(0, -1)}ies` : `${word}s`;
}

function line(difference: Difference, controlName: (surface: string, control: string) => string): string {
  const { how, what, name, at, fields } = difference;
  const called = at ? [controlName(at.surface, at.control), name].filter((part) => part !== "").join(", ") : name;
  const thing =
    what === "show" ? "The show" : what === "mapping" ? called : `${capital(ENGLISH_FAULTS.things[what])} ${name}`;
  if (how !== "changed") return `${thing}: ${how}`;
  return `${thing}: ${fields.map((f) => FIELDS[f] ?? f).join(", ")}`;
}

function capital(word: string): string {
  return `${word[0]!.toUpperCase()}${word.slice(1)}`;
}
