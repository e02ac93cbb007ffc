/**
 * The show in the database: one document, and the revisions that led to it. An edit is applied, checked and
 * stored in one transaction, one after the other; only then is it told to anybody.
 */
import type { Patch } from "immer";
import { Op, type Sequelize, type Transaction } from "sequelize";
import type { History } from "../../core/live/protocol.ts";
import type { Profiles } from "../../core/show/check.ts";
import type { Edit } from "../../core/show/edit-kinds.ts";
import { applyEdit, applyShowPatches } from "../../core/show/edits.ts";
import type { Problem } from "../../core/show/problem.ts";
import { readShow } from "../../core/show/read.ts";
import type { Show } from "../../core/show/show.ts";
import { defineModels, type Models, type ShowRow } from "./models.ts";

export type StoreResult = { ok: true; label: string } | { ok: false; problems: Problem[] };

export class ShowStore {
  readonly #database: Sequelize;
  readonly #models: Models;
  readonly #profiles: Profiles;
  #row!: ShowRow;
  #show!: Show;
  #history!: History;
  #queue: Promise<unknown> = Promise.resolve();

  private constructor(database: Sequelize, profiles: Profiles) {
    this.#database = database;
    this.#models = defineModels(database);
    this.#profiles = profiles;
  }

  /** Opens the stored show, or starts with `first` where there is none. */
  static async open(database: Sequelize, profiles: Profiles, first: () => Show): Promise<ShowStore> {
    const store = new ShowStore(database, profiles);
    const { shows } = store.#models;
    const row =
      (await shows.findOne({ order: [["id", "ASC"]] })) ??
      (await shows.create({ document: JSON.stringify(first()), revision: 0, savedAtMs: Date.now() }));
    const read = readShow(JSON.parse(row.document), profiles);
    if (!read.ok) throw new UnreadableShow(read.problems);
    store.#row = row;
    store.#show = read.value;
    store.#history = await store.#readHistory();
    return store;
  }

  get show(): Show {
    return this.#show;
  }

  get history(): History {
    return this.#history;
  }

  edit(edit: Edit): Promise<StoreResult> {
    return this.#inTurn(async () => {
      const result = applyEdit(this.#show, edit, this.#profiles);
      if (!result.ok) return result;
      await this.#save(result.show, async (transaction) => {
        await this.#leaveUndone(transaction);
        await this.#record(result.label, edit, result.patches, result.inverse, transaction);
        return this.#row.revision + 1;
      });
      return { ok: true, label: result.label };
    });
  }

  /** Replaces the whole show, as an edit like any other: it can be undone. */
  replace(show: Show): Promise<StoreResult> {
    return this.#inTurn(async () => {
      const label = `open ${show.name}`;
      const patches: Patch[] = [{ op: "replace", path: [], value: show }];
      const inverse: Patch[] = [{ op: "replace", path: [], value: this.#show }];
      await this.#save(show, async (transaction) => {
        await this.#leaveUndone(transaction);
        await this.#record(label, { kind: "open-show" }, patches, inverse, transaction);
        return this.#row.revision + 1;
      });
      return { ok: true, label };
    });
  }

  /** Takes back the newest edit; null where there is none. */
  undo(): Promise<string | null> {
    return this.#inTurn(() => this.#step(this.#row.revision, "inverse", this.#row.revision - 1));
  }

  redo(): Promise<string | null> {
    return this.#inTurn(() => this.#step(this.#row.revision + 1, "patches", this.#row.revision + 1));
  }

  async #step(number: number, which: "patches" | "inverse", to: number): Promise<string | null> {
    const revision = await this.#models.revisions.findOne({ where: { showId: this.#row.id, number, left: false } });
    if (!revision) return null;
    const show = applyShowPatches(this.#show, JSON.parse(revision[which]) as Patch[]);
    await this.#save(show, () => Promise.resolve(to));
    return revision.label;
  }

  async #save(show: Show, prepare: (transaction: Transaction) => Promise<number>): Promise<void> {
    const savedAtMs = Date.now();
    const document = JSON.stringify(show);
    let revision = this.#row.revision;
    await this.#database.transaction(async (transaction) => {
      revision = await prepare(transaction);
      await this.#models.shows.update({ document, revision, savedAtMs }, { where: { id: this.#row.id }, transaction });
    });
    this.#row.set({ document, revision, savedAtMs });
    this.#show = show;
    this.#history = await this.#readHistory();
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
  #inTurn<T>(work: () => Promise<T>): Promise<T> {
    const result = this.#queue.then(work);
    this.#queue = result.catch(() => undefined);
    return result;
  }
}

export class UnreadableShow extends Error {
  readonly problems: readonly Problem[];
  constructor(problems: readonly Problem[]) {
    super("The stored show cannot be read.");
    this.problems = problems;
  }
}
