/** What is done with whole shows: those beside the open one, and the versions that the open one was in. */
import { differences } from "../core/edit/differences.ts";
import type { Problem } from "../core/format/problem.ts";
import { emptyShow, type Show } from "../core/format/show.ts";
import type { ShelfCommand, ShowOnShelf, VersionCommand, VersionList } from "../core/live/shelf.ts";
import { type DifferencesInWords, differencesWords } from "../words/differences.ts";
import { problemAdvice } from "../words/problems.ts";
import type { Whereabouts } from "../words/where.ts";
import type { ShowStore, StoreResult } from "./database/show-store.ts";
import type { ProfileLibrary } from "./profiles.ts";

export type Answer =
  | { ok: true; label: string }
  /** `meanwhile`: what another window did to the same thing; the edit was not carried out. */
  | { ok: false; problems: string[]; meanwhile?: string };

export function refused(problems: readonly Problem[], whereabouts: Whereabouts): Answer {
  return { ok: false, problems: problems.map((p) => problemAdvice(p, whereabouts)) };
}

export class Shows {
  readonly #store: ShowStore;
  readonly #library: ProfileLibrary;
  readonly #changed: (result: StoreResult) => Answer;

  /** `changed` puts what came of it before the engine and the pages. */
  constructor(store: ShowStore, library: ProfileLibrary, changed: (result: StoreResult) => Answer) {
    this.#store = store;
    this.#library = library;
    this.#changed = changed;
  }

  /** All shows that are stored, and how many versions the open one has. */
  async list(): Promise<{ shows: ShowOnShelf[]; versions: number }> {
    return { shows: await this.#store.shows(), versions: await this.#store.countVersions() };
  }

  async carryOut(command: ShelfCommand): Promise<Answer> {
    switch (command.do) {
      case "new":
        return this.#changed(await this.#store.begin(emptyShow(command.name)));
      case "duplicate":
        return this.#changed(await this.#store.begin(this.#store.show));
      case "open":
        return this.#changed(await this.#store.openAnother(command.id));
      case "delete":
        return this.#changed(await this.#store.remove(command.id, () => emptyShow("New show")));
      case "recover":
        return this.#changed(await this.#store.recover(command.id));
      default:
        return command satisfies never;
    }
  }

  /** The versions of the open show before a time in ms, the newest first; null = the newest of all. */
  versions(beforeMs: number | null): Promise<VersionList> {
    return this.#store.versions(beforeMs);
  }

  async version(command: VersionCommand): Promise<Answer> {
    if (command.do === "name") {
      const result = await this.#store.nameVersion(command.name);
      return result.ok ? { ok: true, label: result.label } : refused(result.problems, {});
    }
    const at = await this.#store.showAt(command.version);
    if (!at) return refused([{ code: "no-such-version", path: [] }], {});
    if (!at.read.ok) return refused(at.read.problems, { document: at.document, profiles: this.#library.profiles });
    const show = at.read.value;
    if (command.do === "go-back") return this.#changed(await this.#store.replace(show, `go back to ${at.label}`));
    return this.#changed(await this.#store.begin(show));
  }

  /** What is different between two versions of the open show, in words; null where one of them is not kept. */
  async compare(before: string, after: string): Promise<DifferencesInWords | null> {
    const [from, to] = [await this.#store.showAt(before), await this.#store.showAt(after)];
    if (!from?.read.ok || !to?.read.ok) return null;
    const [was, is] = [from.read.value, to.read.value];
    return differencesWords(
      differences(was, is),
      (surface, control) =>
        this.#controlName(is, surface, control) ?? this.#controlName(was, surface, control) ?? control,
    );
  }

  #controlName(show: Show, surface: string, control: string): string | undefined {
    const placed = show.surfaces.find((s) => s.id === surface);
    const kinds = [...(show.profiles?.surfaces ?? []), ...this.#library.surfaces];
    const own = placed?.controls?.[control]?.name;
    const name = own ?? kinds.find((p) => p.id === placed?.profile)?.controls.find((c) => c.id === control)?.name;
    return placed && name && `${name} of ${placed.name}`;
  }
}
