/**
 * Edits of several windows at once. Who edits says which revision was in view; where another window has changed the same
 * thing since, the second is told, and says whether it is meant all the same.
 */
import type { Edit } from "../core/edit/edit-kinds.ts";
import { areOfOneThing, type Path, touchedBy } from "../core/edit/touched.ts";

/** Who edits: a page by a word of its own, and the revision that it had in view. */
export interface Editor {
  readonly page: string;
  readonly seen: number;
}

interface Done {
  readonly show: number;
  readonly revision: number;
  readonly page: string;
  readonly label: string;
  readonly touched: readonly Path[];
}

/** A page that is further behind than this many edits has lost its server, and says so. */
const MOST = 200;

export class EditsOfOthers {
  #done: readonly Done[] = [];

  /** What another window did to the same thing since; null = nothing. */
  before(edit: Edit, show: number, { page, seen }: Editor): string | null {
    const since = this.#done.filter((d) => d.show === show && d.revision > seen && d.page !== page);
    if (since.length === 0) return null;
    const touched = touchedBy(edit);
    return since.findLast((d) => areOfOneThing(touched, d.touched))?.label ?? null;
  }

  did(edit: Edit, show: number, revision: number, page: string, label: string): void {
    this.#done = [...this.#done, { show, revision, page, label, touched: touchedBy(edit) }].slice(-MOST);
  }
}
