/**
 * The shows in the database, each one document with the revisions that led to it, and the one that is open. An edit is
 * applied, checked and stored in one transaction, one after the other; only then is it told to anybody.
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
import type { Read } from "../../core/format/read-format.ts";
import type { Show } from "../../core/format/show.ts";
import { showJson } from "../../core/format/show-json.ts";
import type { StoredHistory } from "../../core/live/protocol.ts";
import type { ShowOnShelf, VersionList } from "../../core/live/shelf.ts";
import { editLabel } from "../../words/edits.ts";
import type { Passwords } from "../passwords.ts";
import { defineModels, type Models, type ShowRow } from "./models.ts";
import { isOlder, type OpenShow, readHistory, readStored, UnreadableShow } from "./open-show.ts";
import { forgetDeleted, freeName, listShows, openedShows } from "./shelf.ts";
import { isStorageError, type Storage, storageFault } from "./storage.ts";
import { countVersions, documentOf, type Limits, listVersions, thinOut, zipped } from "./versions.ts";

/** So many edits may come before the history is thinned out again. */
const THINNED_EVERY = 200;

/** `document`: what the places of the problems lead into. */
export type StoreResult =
  /**
   * `patches`: what leads from the show before to this one, where that is less than the whole. `isElsewhere`: the open show
   * is as it was, with its history.
   */
  | { ok: true; label: string; patches: readonly Patch[] | null; isElsewhere?: true }
  | { ok: false; problems: Problem[]; document?: unknown };

export class ShowStore {
  readonly #storage: Storage;
  #models: Models;
  readonly #profiles: Profiles;
  readonly #passwords: Pick<Passwords, "takenFrom">;
  #open!: OpenShow;
  #saves = 0;
  /** Whether the open show may become this one, or another show altogether (null); what is wrong with it, if not. */
  allows: (next: Show | null) => Problem[] = () => [];
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
    await forgetDeleted(store.#models, Date.now());
    const [newest] = await openedShows(store.#models);
    const row = newest ?? (await store.#create(first(), Date.now(), null));
    const read = await readStored(store.#models, row, profiles, passwords);
    if (!read.ok) throw new UnreadableShow(read.problems, read.document, profiles);
    store.#open = read.value;
    return store;
  }

  get show(): Show {
    return this.#open.show;
  }

  /** Number of the open show among those that are stored. */
  get id(): number {
    return this.#open.row.id;
  }

  get history(): StoredHistory {
    return this.#open.history;
  }

  edit(typed: Edit): Promise<StoreResult> {
    return this.#inTurn(async () => {
      const checked = applyEdit(this.#open.show, typed, this.#profiles);
      if (!checked.ok) return { ok: false, problems: checked.problems, document: checked.refused };
      const problems = this.allows(checked.show);
      if (problems.length > 0) return { ok: false, problems };
      // It is one that holds: only now is something kept of it.
      const edit = this.#passwords.takenFrom(typed);
      const result = edit === typed ? checked : applyEdit(this.#open.show, edit, this.#profiles);
      if (!result.ok) return { ok: false, problems: result.problems, document: result.refused };
      const label = editLabel(edit, this.#open.show);
      const { patches, inverse } =
        this.#open.document === this.#open.show
          ? result
          : { patches: whole(result.show), inverse: whole(this.#open.document) };
      await this.#save(result.show, result.show, async (transaction) => {
        await this.#leaveUndone(transaction);
        await this.#record(label, edit, patches, inverse, transaction);
        return this.#open.row.revision + 1;
      });
      return { ok: true, label, patches: result.patches };
    });
  }

  /** Replaces the whole show, as an edit like any other: it can be undone. */
  replace(given: Show, label = `open ${given.name}`): Promise<StoreResult> {
    return this.#inTurn(async () => {
      const problems = this.allows(given);
      if (problems.length > 0) return { ok: false, problems };
      const show = this.#passwords.takenFrom(given);
      await this.#save(show, show, async (transaction) => {
        await this.#leaveUndone(transaction);
        await this.#record(label, { kind: "open-show" }, whole(show), whole(this.#open.document), transaction);
        return this.#open.row.revision + 1;
      });
      return { ok: true, label, patches: null };
    });
  }

  /** Opens another show; the one before stays among the shows as it is, with its own history. */
  openAnother(id: number): Promise<StoreResult> {
    return this.#onShelf(async () => {
      const row = await this.#models.shows.findOne({ where: { id, deletedAtMs: null } });
      return row ? this.#change(row, {}) : NO_SUCH_SHOW;
    });
  }

  /** Puts a show beside the others, under a name that none of them has, and opens it. */
  begin(given: Show): Promise<StoreResult> {
    return this.#onShelf(() => this.#begin(given, NOTHING_MORE));
  }

  /**
   * Deletes a show; it can be recovered for a while. Where it is the open one, the one that was open before it is opened,
   * of those that can be read, or else an empty one.
   */
  remove(id: number, empty: () => Show): Promise<StoreResult> {
    return this.#onShelf(async () => {
      const row = await this.#models.shows.findOne({ where: { id, deletedAtMs: null } });
      if (!row) return NO_SUCH_SHOW;
      const mark = async (transaction: Transaction | null) => {
        await row.update({ deletedAtMs: Date.now() }, { transaction });
      };
      const label = "delete the show";
      if (id !== this.#open.row.id) {
        await mark(null);
        return { ok: true, label, patches: null, isElsewhere: true };
      }
      for (const next of (await openedShows(this.#models)).filter((r) => r.id !== id)) {
        const result = await this.#change(next, {}, mark);
        if (result.ok) return { ...result, label };
      }
      const result = await this.#begin(empty(), mark);
      return result.ok ? { ...result, label } : result;
    });
  }

  /** Brings a deleted show back and opens it. */
  recover(id: number): Promise<StoreResult> {
    return this.#onShelf(async () => {
      const row = await this.#models.shows.findOne({ where: { id, deletedAtMs: { [Op.ne]: null } } });
      return row ? this.#change(row, { deletedAtMs: null }) : NO_SUCH_SHOW;
    });
  }

  shows(): Promise<ShowOnShelf[]> {
    return listShows(this.#storage.database, this.#open.row.id);
  }

  versions(beforeMs: number | null): Promise<VersionList> {
    return listVersions(this.#models, this.#open.row, beforeMs);
  }

  countVersions(): Promise<number> {
    return countVersions(this.#models, this.#open.row);
  }

  /** Keeps the present state under a name. */
  nameVersion(name: string): Promise<StoreResult> {
    return this.#onShelf(async () => {
      const { id, revision } = this.#open.row;
      const edit = await this.#models.revisions.findOne({
        where: { showId: id, number: revision, left: false },
        attributes: ["id", "label"],
      });
      await this.#models.versions.create({
        showId: id,
        revisionId: edit?.id ?? 0,
        name,
        label: edit?.label ?? "",
        document: await zipped(this.#open.document),
        madeAtMs: Date.now(),
      });
      return { ok: true, label: `keep ${name}`, patches: [], isElsewhere: true };
    });
  }

  /** The show as it was in a state, and what that state is called; null = there is none. */
  async showAt(key: string): Promise<{ read: Read<Show>; document: object; label: string } | null> {
    const found = await documentOf(this.#models, this.#open.row, this.#open.document, key);
    return found && { ...found, read: readShow(found.document, this.#profiles) };
  }

  /** Thins out the history, in turn with the edits; `limits` for tests. */
  thinOut(limits?: Limits): Promise<StoreResult> {
    return this.#inTurn(async () => {
      await thinOut(this.#models, this.#open.row, this.#open.document, Date.now(), limits);
      return { ok: true, label: "", patches: [], isElsewhere: true };
    });
  }

  /** `also` is done in the same transaction: on the disk are both, or neither. */
  async #begin(given: Show, also: Also): Promise<StoreResult> {
    const problems = this.allows(null);
    if (problems.length > 0) return { ok: false, problems };
    const taken = this.#passwords.takenFrom(given);
    const show = { ...taken, name: freeName(taken.name, await this.shows()) };
    const openedAtMs = await this.#nextOpening();
    const row = await this.#storage.database.transaction(async (transaction) => {
      await also(transaction);
      return this.#create(show, openedAtMs, transaction);
    });
    this.#open = { row, show, document: show, history: await readHistory(this.#models, row) };
    return { ok: true, label: `open ${show.name}`, patches: null };
  }

  #create(show: Show, openedAtMs: number, transaction: Transaction | null): Promise<ShowRow> {
    const document = JSON.stringify(show);
    return this.#models.shows.create({ document, revision: 0, savedAtMs: Date.now(), openedAtMs }, { transaction });
  }

  /** Makes another show the open one, on the disk first. One that cannot be read leaves everything as it is. */
  async #change(row: ShowRow, set: { deletedAtMs?: null }, also: Also = NOTHING_MORE): Promise<StoreResult> {
    const problems = this.allows(null);
    if (problems.length > 0) return { ok: false, problems };
    const read = await readStored(this.#models, row, this.#profiles, this.#passwords);
    if (!read.ok) return read;
    const openedAtMs = await this.#nextOpening();
    await this.#storage.database.transaction(async (transaction) => {
      await also(transaction);
      await row.update({ ...set, openedAtMs }, { transaction });
    });
    this.#open = read.value;
    return { ok: true, label: `open ${read.value.show.name}`, patches: null };
  }

  /** Later than all others, also where the clock was set back. */
  async #nextOpening(): Promise<number> {
    const newest = Number((await this.#models.shows.max("openedAtMs")) ?? 0);
    return Math.max(Date.now(), newest + 1);
  }

  /** Takes back the newest edit. */
  undo(): Promise<StoreResult> {
    return this.#inTurn(() => this.#step(this.#open.row.revision, "inverse", this.#open.row.revision - 1));
  }

  redo(): Promise<StoreResult> {
    return this.#inTurn(() => this.#step(this.#open.row.revision + 1, "patches", this.#open.row.revision + 1));
  }

  async #step(number: number, which: "patches" | "inverse", to: number): Promise<StoreResult> {
    const revision = await this.#models.revisions.findOne({
      where: { showId: this.#open.row.id, number, left: false },
    });
    if (!revision)
      return { ok: false, problems: [{ code: which === "inverse" ? "nothing-to-undo" : "nothing-to-redo", path: [] }] };
    const { label } = revision;
    const steps = JSON.parse(revision[which]) as Patch[];
    const stepped = this.#stepped(steps);
    if (!stepped) return { ok: false, problems: [{ code: "step-does-not-fit", path: [], label }] };
    const problems = this.allows(stepped.show);
    if (problems.length > 0) return { ok: false, problems };
    // A document of an older version is not the show that runs, and its steps do not lead from it.
    const fits =
      this.#open.document === this.#open.show && stepped.document === stepped.show && steps[0]?.path.length !== 0;
    await this.#save(stepped.show, stepped.document, () => Promise.resolve(to));
    return { ok: true, label, patches: fits ? steps : null };
  }

  /** The document after a step of the history, and the show it is; null where that is none. */
  #stepped(patches: Patch[]): { document: object; show: Show } | null {
    let document: unknown;
    try {
      document = applyStoredPatches(this.#open.document, patches);
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
    const document = stored === show ? showJson(show) : JSON.stringify(stored);
    if (this.#storage.isGone) await this.#writeAnew();
    const { row } = this.#open;
    let { revision } = row;
    await this.#storage.database.transaction(async (transaction) => {
      revision = await prepare(transaction);
      // It stands on the revision that runs, or it would undo what somebody else has stored.
      const where = { id: row.id, revision: row.revision };
      const [changed] = await this.#models.shows.update({ document, revision, savedAtMs }, { where, transaction });
      if (changed !== 1) throw new ChangedElsewhere();
    });
    row.set({ document, revision, savedAtMs });
    // It is stored: that its neighbours in the history cannot be read now must not look as if it were not.
    const history = await readHistory(this.#models, row).catch(() => ({
      show: row.id,
      revision,
      savedAtMs,
      undo: null,
      redo: null,
    }));
    this.#open = { row, show, document: stored, history };
    if (++this.#saves % THINNED_EVERY === 0) await thinOut(this.#models, row, stored, savedAtMs).catch(() => {}); // it is tried again with later edits
  }

  /**
   * The folder was away and is back, or is another one: the show that runs is written anew, as it is. What led to it was
   * in the file that is gone.
   */
  async #writeAnew(): Promise<void> {
    await this.#storage.reopen();
    this.#models = defineModels(this.#storage.database);
    const document = JSON.stringify(this.#open.document);
    const { revision } = this.#open.row;
    const stored = await this.#models.shows.findOne({ where: { document, revision, deletedAtMs: null } });
    // Where it is the very file, its show is there; in another file it stands beside what is in it.
    const row =
      stored ??
      (await this.#models.shows.create({ document, revision, savedAtMs: Date.now(), openedAtMs: Date.now() }));
    this.#open = { ...this.#open, row };
  }

  async #leaveUndone(transaction: Transaction): Promise<void> {
    const { id, revision } = this.#open.row;
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
        showId: this.#open.row.id,
        number: this.#open.row.revision + 1,
        label,
        edit: JSON.stringify(edit),
        patches: JSON.stringify(patches),
        inverse: JSON.stringify(inverse),
        madeAtMs: Date.now(),
      },
      { transaction },
    );
  }

  /** What is done with whole shows, in turn with the edits, in a file that is there. */
  #onShelf(work: () => Promise<StoreResult>): Promise<StoreResult> {
    return this.#inTurn(async () => {
      if (this.#storage.isGone) await this.#writeAnew();
      return work();
    });
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
    const copy = this.#storage.keepCopy(`${JSON.stringify(this.#open.show, null, 2)}\n`);
    return { ok: false, problems: [{ code: "not-saved", path: [], reason, copy }] };
  }
}

/** A step of the history that puts a whole document into the place of the one before. */
function whole(document: object): Patch[] {
  return [{ op: "replace", path: [], value: document }];
}

type Also = (transaction: Transaction) => Promise<void>;
const NOTHING_MORE: Also = () => Promise.resolve();

const NO_SUCH_SHOW: StoreResult = { ok: false, problems: [{ code: "no-such-show", path: [] }] };

const NO_PASSWORDS: Pick<Passwords, "takenFrom"> = { takenFrom: (value) => value };

class ChangedElsewhere extends Error {}
