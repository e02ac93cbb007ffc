/** The stand-in lighting desk as a plain machine: commands in, changes out. No sockets, no clock. */
import { CUES, PAGE_NAMES, PLAYBACKS } from "./scenario.ts";

export const PAGES = 9;
export const PLAYBACKS_A_PAGE = 20;

export interface Playback {
  name: string;
  colour: string;
  /** 0..1 */
  level: number;
  on: boolean;
  flash: boolean;
}

export type Command =
  | { kind: "level"; page: number; playback: number; value: number }
  | { kind: "on"; page: number; playback: number; value: boolean }
  | { kind: "go"; page: number; playback: number }
  | { kind: "flash"; page: number; playback: number; value: boolean }
  | { kind: "cue-go" }
  | { kind: "cue-back" }
  | { kind: "grand"; value: number }
  | { kind: "blackout"; value: boolean }
  | { kind: "page"; value: number }
  | { kind: "page-step"; value: number }
  /** Everything as it was when the desk was switched on. */
  | { kind: "reset" };

/** One value that changed, by its address below `/now`. */
export type Change =
  | { kind: "playback"; page: number; playback: number; field: keyof Playback }
  | { kind: "page" }
  | { kind: "page-name"; page: number }
  | { kind: "grand" }
  | { kind: "blackout" }
  | { kind: "cue" };

export class LightingDesk {
  pages: Playback[][] = [];
  readonly pageNames = [...PAGE_NAMES];
  pageUp = 1;
  grand = 1;
  blackout = false;
  cue = 1;

  constructor() {
    this.#reset();
  }

  #reset(): Change[] {
    this.pageUp = 1;
    this.grand = 1;
    this.blackout = false;
    this.cue = 1;
    this.pages = Array.from({ length: PAGES }, (_, p) =>
      Array.from({ length: PLAYBACKS_A_PAGE }, (_, i) => {
        const [name, colour] = PLAYBACKS[p]?.[i] ?? ["", "#8a8091"];
        return { name, colour, level: 0, on: false, flash: false };
      }),
    );
    const playbacks = this.pages.flatMap((list, p) =>
      list.flatMap((_, i) =>
        (["level", "on", "flash"] as const).map(
          (field): Change => ({ kind: "playback", page: p + 1, playback: i + 1, field }),
        ),
      ),
    );
    return [{ kind: "page" }, { kind: "grand" }, { kind: "blackout" }, { kind: "cue" }, ...playbacks];
  }

  get cueName(): string {
    return CUES[this.cue - 1] ?? "";
  }

  /** Carries out a command; what is out of range is refused with null. */
  act(command: Command): Change[] | null {
    switch (command.kind) {
      case "grand":
        if (!unit(command.value)) return null;
        this.grand = command.value;
        return [{ kind: "grand" }];
      case "blackout":
        this.blackout = command.value;
        return [{ kind: "blackout" }];
      case "cue-go":
        return this.#toCue(this.cue + 1);
      case "cue-back":
        return this.#toCue(this.cue - 1);
      case "reset":
        return this.#reset();
      case "page":
        return this.#toPage(command.value);
      case "page-step":
        return this.#toPage(Math.min(PAGES, Math.max(1, this.pageUp + command.value)));
      default:
        return this.#playback(command);
    }
  }

  #playback(command: Extract<Command, { page: number }>): Change[] | null {
    const { page, playback } = command;
    const target = this.pages[page - 1]?.[playback - 1];
    if (!target) return null;
    const changed = (...fields: (keyof Playback)[]): Change[] =>
      fields.map((field) => ({ kind: "playback", page, playback, field }));
    switch (command.kind) {
      case "level":
        if (!unit(command.value)) return null;
        target.level = command.value;
        return changed("level");
      case "on":
        target.on = command.value;
        return changed("on");
      case "flash":
        target.flash = command.value;
        return changed("flash");
      case "go": {
        const fromDark = target.level === 0;
        target.on = true;
        if (fromDark) target.level = 1;
        return changed("on", ...(fromDark ? (["level"] as const) : []));
      }
      default:
        return command satisfies never;
    }
  }

  #toCue(cue: number): Change[] {
    this.cue = Math.min(CUES.length, Math.max(1, cue));
    return [{ kind: "cue" }];
  }

  #toPage(page: number): Change[] | null {
    if (!Number.isInteger(page) || page < 1 || page > PAGES) return null;
    this.pageUp = page;
    return [{ kind: "page" }];
  }
}

function unit(value: number): boolean {
  return value >= 0 && value <= 1;
}
