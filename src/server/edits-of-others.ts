/**
 * Edits of several windows at once. Who edits says which change was the newest in view; where another window has changed the same
 * thing since, the second is told, and says whether it is meant all the same.
 */
import type { Edit } from "../core/edit/edit-kinds.ts";
import { areOfOneThing, type Path, touchedBy } from "../core/edit/touched.ts";

/** Who edits: a page by a word of its own, and how many changes it had in view. */
export interface Editor {
  readonly page: string;
  readonly seen: number;
}

interface Done {
  readonly show: number;
  readonly page: string;
  readonly label: string;
  readonly touched: readonly Path[];
  /** null = it is on its way to the disk, and nobody has it in view. */
  turn: number | null;
}

/** A page that is further behind than this many edits has lost its server, and says so. */
const MOST = 200;
/** So much may what they wrote come to, or edits of thousands would fill the memory. The oldest are forgotten first. */
const MOST_PATHS = 100_000;

export class EditsOfOthers {
  #done: readonly Done[] = [];

  /** What another window did to the same thing since; null = nothing. */
  before(edit: Edit, show: number, { page, seen }: Editor): string | null {
    const since = this.#done.filter((d) => d.show === show && (d.turn ?? seen + 1) > seen && d.page !== page);
    if (since.length === 0) return null;
    const touched = touchedBy(edit);
    return since.findLast((d) => areOfOneThing(touched, d.touched))?.label ?? null;
  }

  /** An edit begins; `page` is "" for a program. What is returned is told which change it was, null = it was refused. */
  begins(edit: Edit, show: number, page: string, label: string): (turn: number | null) => void {
    const done: Done = { show, page, label, touched: touchedBy(edit), turn: null };
    this.#done = [...this.#done, done].slice(-MOST);
    let paths = this.#done.reduce((sum, d) => sum + d.touched.length, 0);
    this.#done = this.#done.filter((d) => {
      const isKept = paths <= MOST_PATHS;
      if (!isKept) paths -= d.touched.length;
      return isKept;
    });
    return (turn) => {
      done.turn = turn;
      if (turn === null) this.#done = this.#done.filter((d) => d !== done);
    };
  }
}
