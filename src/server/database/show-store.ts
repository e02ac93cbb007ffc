/**
 * The show in the database: one document, and the revisions that led to it. An edit is applied, checked and
 * stored in one transaction, one after the other; only then is it told to anybody.
 *
 * A document of an older version stays as it was stored until the first edit, so that the older steps of its history
 * still fit it; the running show is that document brought up to date. The first edit stores the whole new document, and
 * its undo the whole old one. So every step is applied to the version it was recorded in, and what comes out is read
 * like any other document.
 */
import type { Patch } from "immer";
import { Op, type Transaction } from "sequelize";
import type { Edit } from "../../core/edit/edit-kinds.ts";
import { applyEdit, applyStoredPatches } from "../../core/edit/edits.ts";
import { readShow } from "../../core/edit/read.ts";
import type { Problem } from "../../core/format/problem.ts";
import type { Profiles } from "../../core/format/profiles.ts";
import type { Show } from "../../core/format/show.ts";
import type { History } from "../../core/live/protocol.ts";
import { editLabel } from "../../words/edits.ts";
import type { Passwords } from "../passwords.ts";
import { defineModels, type Models, type ShowRow } from "./models.ts";
import { isStorageError, type Storage, storageFault } from "./storage.ts";

/** `document`: what the places of the problems lead into. */
export type StoreResult =
  /** `patches`: what leads from the show before to this one, where that is less than the whole. */
  | { ok: true; label: string; patches: readonly Patch[] | null }
  | { ok: false; problems: Problem[]; document?: unknown };

export class ShowStore {
  readonly #storage: Storage;
  #models: Models;
  readonly #profiles: Profiles;
  readonly #passwords: Pick<Passwords, "takenFrom">;
  #row!: ShowRow;
  /** As it is stored: the show itself, or an older version of it. */
  #document!: object;
  #show!: Show;
  #history!: History;
  #queue: Promise<unknown> = Promise.resolve();

  private constructor(storage: Storage, profiles: Profiles, passwords: Pick<Passwords, "takenFrom">) {
    this.#storage = storage;
    this.#passwords = passwords;
    this.#models = defineModels(storage.database);
    this.#profiles = profiles;
  }

  /** Opens the stored show, or starts with `first` where there is none. */
  static async open(
    storage: Storage,
    profiles: Profiles,
    first: () => Show,
    passwords: Pick<Passwords, "takenFrom"> = NO_PASSWORDS,
  ): Promise<ShowStore> {
    const store = new ShowStore(storage, profiles, passwords);
    const { shows } = store.#models;
    const row =
      (await shows.findOne({ order: [["id", "ASC"]] })) ??
      (await shows.create({ document: JSON.stringify(first()), revision: 0, savedAtMs: Date.now() }));
    const document = JSON.parse(row.document) as object;
    const read = readShow(document, profiles);
    if (!read.ok) throw new UnreadableShow(read.problems, document, profiles);
    store.#row = row;
    store.#show = passwords.takenFrom(read.value);
    // What was stored with passwords in it is stored without them by the next edit, and counts as older until then.
    const isAsStored = store.#show === read.value && !isOlder(document, read.value);
    store.#document = isAsStored ? store.#show : passwords.takenFrom(document);
    store.#history = await store.#readHistory();
    return store;
  }

  get show(): Show {
    return this.#show;
  }

  get history(): History {
    return this.#history;
  }

  edit(typed: Edit): Promise<StoreResult> {
    return this.#inTurn(async () => {
      const checked = applyEdit(this.#show, typed, this.#profiles);
      if (!checked.ok) return { ok: false, problems: checked.problems, document: checked.refused };
      // It is one that holds: only now is something kept of it.
      const edit = this.#passwords.takenFrom(typed);
      const result = edit === typed ? checked : applyEdit(this.#show, edit, this.#profiles);
      if (!result.ok) return { ok: false, problems: result.problems, document: result.refused };
      const label = editLabel(edit, this.#show);
      const { patches, inverse } =
        this.#document === this.#show ? result : { patches: whole(result.show), inverse: whole(this.#document) };
      await this.#save(result.show, result.show, async (transaction) => {
        await this.#leaveUndone(transaction);
        await this.#record(label, edit, patches, inverse, transaction);
        return this.#row.revision + 1;
      });
      return { ok: true, label, patches: result.patches };
    });
  }

  /** Replaces the whole show, as an edit like any other: it can be undone. */
  replace(given: Show): Promise<StoreResult> {
    return this.#inTurn(async () => {
      const show = this.#passwords.takenFrom(given);
      const label = `open ${show.name}`;
      await this.#save(show, show, async (transaction) => {
        await this.#leaveUndone(transaction);
        await this.#record(label, { kind: "open-show" }, whole(show), whole(this.#document), transaction);
        return this.#row.revision + 1;
      });
      return { ok: true, label, patches: null };
    });
  }

  /** Takes back the newest edit. */
  undo(): Promise<StoreResult> {
    return this.#inTurn(() => this.#step(this.#row.revision, "inverse", this.#row.revision - 1));
  }

  redo(): Promise<StoreResult> {
    return this.#inTurn(() => this.#step(this.#row.revision + 1, "patches", this.#row.revision + 1));
  }

  async #step(number: number, which: "patches" | "inverse", to: number): Promise<StoreResult> {
    const revision = await this.#models.revisions.findOne({ where: { showId: this.#row.id, number, left: false } });
    if (!revision)
      return { ok: false, problems: [{ code: which === "inverse" ? "nothing-to-undo" : "nothing-to-redo", path: [] }] };
    const { label } = revision;
    const steps = JSON.parse(revision[which]) as Patch[];
    const stepped = this.#stepped(steps);
    if (!stepped) return { ok: false, problems: [{ code: "step-does-not-fit", path: [], label }] };
    // A document of an older version is not the show that runs, and its steps do not lead from it.
    const fits = this.#document === this.#show && stepped.document === stepped.show && steps[0]?.path.length !== 0;
    await this.#save(stepped.show, stepped.document, () => Promise.resolve(to));
    return { ok: true, label, patches: fits ? steps : null };
  }

  /** The document after a step of the history, and the show it is; null where that is none. */
  #stepped(patches: Patch[]): { document: object; show: Show } | null {
    let document: unknown;
    try {
      document = applyStoredPatches(this.#document, patches);
    } catch {
      return null; // a path that is no longer there
    }
    const read = readShow(document, this.#profiles);
    if (!read.ok) return null;
    const show = this.#passwords.takenFrom(read.value);
    return { show, document: isOlder(document, read.value) ? (document as object) : show };
  }

  async #save(show: Show, stored: object, prepare: (transaction: Transaction) => Promise<number>): Promise<void> {
    const savedAtMs = Date.now();
    const document = JSON.stringify(stored);
    if (this.#storage.isGone) await this.#writeAnew();
    let revision = this.#row.revision;
    await this.#storage.database.transaction(async (transaction) => {
      revision = await prepare(transaction);
      // It stands on the revision that runs, or it would undo what somebody else has stored.
      const where = { id: this.#row.id, revision: this.#row.revision };
      const [changed] = await this.#models.shows.update({ document, revision, savedAtMs }, { where, transaction });
      if (changed !== 1) throw new ChangedElsewhere();
    });
    this.#row.set({ document, revision, savedAtMs });
    this.#show = show;
    this.#document = stored;
    // It is stored: that its neighbours in the history cannot be read now must not look as if it were not.
    this.#history = await this.#readHistory().catch(() => ({ revision, savedAtMs, undo: null, redo: null }));
  }

  /**
   * The folder was away and is back, or is another one: the show that runs is written anew, as it is. What led to it was
   * in the file that is gone.
   */
  async #writeAnew(): Promise<void> {
    await this.#storage.reopen();
    this.#models = defineModels(this.#storage.database);
    const document = JSON.stringify(this.#document);
    const { revision } = this.#row;
    const stored = await this.#models.shows.findOne({ order: [["id", "ASC"]] });
    if (stored?.document === document && stored.revision === revision) {
      this.#row = stored; // the very file is back
      return;
    }
    await this.#models.shows.destroy({ where: {} });
    this.#row = await this.#models.shows.create({ document, revision, savedAtMs: Date.now() });
  }

  async #leaveUndone(transaction: Transaction): Promise<void> {
    const { id, revision } = this.#row;
    await this.#models.revisions.update(
      { left: true },
      { where: { showId: id, left: false, number: { [Op.gt]: revision } }, transaction },
    );
  }

  async #record(
    label: string,
    edit: object,
    patches: Patch[],
    inverse: Patch[],
    transaction: Transaction,
  ): Promise<void> {
    await this.#models.revisions.create(
      {
        showId: this.#row.id,
        number: this.#row.revision + 1,
        label,
        edit: JSON.stringify(edit),
        patches: JSON.stringify(patches),
        inverse: JSON.stringify(inverse),
        madeAtMs: Date.now(),
      },
      { transaction },
    );
  }

  async #readHistory(): Promise<History> {
    const { revision, savedAtMs, id } = this.#row;
    const find = (number: number) =>
      this.#models.revisions.findOne({ where: { showId: id, number, left: false }, attributes: ["label"] });
    const [undo, redo] = [await find(revision), await find(revision + 1)];
    return { revision, savedAtMs, undo: undo?.label ?? null, redo: redo?.label ?? null };
  }

  /** Edits of several browsers at once are carried out one after the other. */
  #inTurn(work: () => Promise<StoreResult>): Promise<StoreResult> {
    const result = this.#queue.then(work).catch((error: unknown) => this.#notStored(error));
    this.#queue = result.catch(() => undefined);
    return result;
  }

  /** Nothing was changed, neither here nor in what runs. */
  #notStored(error: unknown): StoreResult {
    if (error instanceof ChangedElsewhere) return { ok: false, problems: [{ code: "changed-elsewhere", path: [] }] };
    if (!isStorageError(error) && !this.#storage.isGone) throw error;
    const reason = this.#storage.isGone ? "gone" : storageFault(error, this.#storage.folder);
    const copy = this.#storage.keepCopy(`${JSON.stringify(this.#show, null, 2)}\n`);
    return { ok: false, problems: [{ code: "not-saved", path: [], reason, copy }] };
  }
}

/** A step of the history that puts a whole document into the place of the one before. */
function whole(document: object): Patch[] {
  return [{ op: "replace", path: [], value: document }];
}

function isOlder(document: unknown, show: Show): boolean {
  return (document as { version?: unknown }).version !== show.version;
}

const NO_PASSWORDS: Pick<Passwords, "takenFrom"> = { takenFrom: (value) => value };

class ChangedElsewhere extends Error {}

export class UnreadableShow extends Error {
  readonly problems: readonly Problem[];
  readonly document: unknown;
  readonly profiles: Profiles;
  constructor(problems: readonly Problem[], document: unknown, profiles: Profiles) {
    super("The stored show cannot be read.");
    this.problems = problems;
    this.document = document;
    this.profiles = profiles;
  }
}
