/** A surface whose controls are added to its kind as they are touched: what was heard, what is made of it, what is asked. */
import type { OneEdit } from "../../core/edit/edit-kinds.ts";
import type { Control, SurfaceProfile } from "../../core/format/surface-profile.ts";
import { parseHexBytes } from "../../core/midi/hex.ts";
import type { HeardMessage } from "../../core/surface/learn.ts";
import { nextName, sameControl } from "../../core/surface/learnt-control.ts";
import { restOfRow, taughtControl, tidied } from "../../core/teach/board.ts";
import { pressures, touchNotes } from "../../core/teach/fingers.ts";
import type { Restless } from "../../core/teach/restless.ts";
import { type BankGuess, bankGuess, type RowOffer, rowOffer } from "../../core/teach/rows.ts";
import { RESTED_MS, type Shown, Teacher } from "../../core/teach/teacher.ts";
import type { PageActions } from "../live/actions.ts";
import { EntryReader } from "../live/entry-reader.ts";
import type { PageStore } from "../live/store.ts";

/** How often what was heard is judged while there is something new, in ms. */
const JUDGE_EVERY_MS = 120;
/** What was heard is judged once more after this, in ms: what latches is known by its silence. */
const ONCE_MORE_MS = 1600;
/** The newest messages are remembered for what fingers do beside a control's own message. */
const MOST_MESSAGES = 600;

export interface Teaching {
  /** What was heard of each control that was touched, by its id. */
  readonly shown: ReadonlyMap<string, Shown>;
  /** The control that was touched last. */
  readonly newest: string | null;
  /** Heard, but not enough of it to say what it is. */
  readonly unsure: readonly Shown[];
  /** Moves by itself, and is left out. */
  readonly restless: readonly Restless[];
  readonly row: RowOffer | null;
  readonly bank: BankGuess | null;
}

const NOTHING: Teaching = { shown: new Map(), newest: null, unsure: [], restless: [], row: null, bank: null };

export class TaughtSurface {
  readonly #store: PageStore;
  readonly #actions: PageActions;
  readonly #surface: string;
  readonly #teacher = new Teacher();
  readonly #watchers = new Set<() => void>();
  #history: HeardMessage[] = [];
  #now: Teaching = NOTHING;
  /** Added, but not told by the server yet. */
  readonly #made = new Map<string, Control>();
  /** What somebody has said of a control stands, whatever is heard. */
  readonly #said = new Set<string>();
  readonly #refused = new Set<string>();
  /** Controls in the order in which they came. */
  #order: string[] = [];
  #timer: ReturnType<typeof setTimeout> | null = null;
  #later: ReturnType<typeof setTimeout> | null = null;
  /** The engine's clock at the newest message, and this page's own then, in ms. */
  #clock = { atMs: 0, hereMs: 0 };
  /** When the control that was chosen last was touched. */
  #chosenAtMs = -1;
  #work: Promise<void> = Promise.resolve();

  constructor(store: PageStore, actions: PageActions, surface: string) {
    this.#store = store;
    this.#actions = actions;
    this.#surface = surface;
  }

  /** Starts listening; answers how to stop. */
  listen(): () => void {
    const reader = new EntryReader();
    const stop = this.#actions.watchTraffic((frame) => {
      let isNew = false;
      for (const row of reader.read(frame)) {
        if (row.out || row.side !== "surface" || row.device !== this.#surface) continue;
        const bytes = parseHexBytes(row.hex);
        if (!bytes || bytes.length === 0) continue;
        isNew = true;
        this.#hear({ source: row.device, atMs: row.atMs, bytes });
      }
      if (isNew) this.#judgeSoon();
    }, false);
    return () => {
      stop();
      if (this.#timer) clearTimeout(this.#timer);
      if (this.#later) clearTimeout(this.#later);
    };
  }

  watch = (told: () => void): (() => void) => {
    this.#watchers.add(told);
    return () => this.#watchers.delete(told);
  };
  now = (): Teaching => this.#now;

  /** Somebody says what a control is. */
  say(control: string, set: Extract<OneEdit, { kind: "change-control" }>["set"]): void {
    this.#said.add(control);
    const made = this.#made.get(control);
    if (made) this.#made.set(control, { ...made, ...(set as Partial<Control>) });
    this.#inTurn((profile) => this.#edit({ kind: "change-control", profile: profile.id, id: control, set }));
  }

  /** Takes a control off again; it does not come back by being touched. */
  takeOff(control: string): void {
    const key = this.#now.shown.get(control)?.key;
    if (key) this.#refused.add(key);
    this.#inTurn(async (profile) => {
      if (!(await this.#edit({ kind: "remove-control", profile: profile.id, id: control }))) return;
      this.#made.delete(control);
      this.#order = this.#order.filter((id) => id !== control);
      this.#tell({ newest: this.#order.at(-1) ?? null, row: null, bank: null });
    });
  }

  /** It moves by itself, and is wanted all the same. */
  allow({ sends }: Restless): void {
    this.#teacher.allow(`${this.#surface} ${JSON.stringify(sends)}`);
    this.#judgeSoon();
  }

  addRow({ like, rest }: RowOffer): void {
    this.#tell({ row: null });
    this.#inTurn(async (profile) => {
      const made = restOfRow(profile, like.at(-1)!, rest);
      const edits = made.map((control): OneEdit => ({ kind: "add-control", profile: profile.id, control }));
      const does = `add ${made[0]!.name} to ${made.at(-1)!.name}`;
      if (await this.#actions.edit({ kind: "together", does, edits })) for (const c of made) this.#made.set(c.id, c);
    });
  }

  /** No: they will be touched. */
  noRow(): void {
    this.#tell({ row: null });
  }

  /** The newest controls are older ones in another bank of the surface. */
  isBank({ shift, pairs }: BankGuess): void {
    this.#tell({ bank: null });
    this.#inTurn(async (profile) => {
      const second = new Set(pairs.map((p) => p.now));
      const banks = profile.banks ?? [{ id: "a", name: "A", channels: 0, numbers: 0 }];
      const id = String.fromCharCode("a".charCodeAt(0) + banks.length);
      const edits: OneEdit[] = [
        ...[...second].map((control): OneEdit => ({ kind: "remove-control", profile: profile.id, id: control })),
        {
          kind: "change-surface-profile",
          id: profile.id,
          set: { banks: [...banks, { id, name: id.toUpperCase(), ...shift }] },
        },
        ...profile.controls
          .filter(
            (c) =>
              !second.has(c.id) && !c.banked && c.kind === profile.controls.find((x) => x.id === pairs[0]!.first)?.kind,
          )
          .map((c): OneEdit => ({ kind: "change-control", profile: profile.id, id: c.id, set: { banked: true } })),
      ];
      if (!(await this.#actions.edit({ kind: "together", does: `add bank ${id.toUpperCase()}`, edits }))) return;
      for (const control of second) this.#made.delete(control);
      this.#order = this.#order.filter((c) => !second.has(c));
      this.#tell({ newest: this.#order.at(-1) ?? null });
    });
  }

  noBank(): void {
    this.#tell({ bank: null });
  }

  /** It is done: rows where nothing lies are taken out. */
  async done(): Promise<void> {
    await this.#work;
    const profile = this.#profile();
    const tidy = profile && tidied(profile.controls);
    if (!profile || !tidy) return;
    const height = Math.max(1, ...tidy.map((c) => c.box.y + c.box.height));
    const edits: OneEdit[] = tidy.flatMap((c, i): OneEdit[] =>
      c.box.y === profile.controls[i]!.box.y
        ? []
        : [{ kind: "change-control", profile: profile.id, id: c.id, set: { box: c.box } }],
    );
    edits.push({ kind: "change-surface-profile", id: profile.id, set: { size: { ...profile.size, height } } });
    await this.#actions.edit({ kind: "together", does: `lay out ${profile.name}`, edits });
  }

  /** The kind as it is by now, with what the server has not told yet. */
  #profile(): SurfaceProfile | null {
    const { show } = this.#store.getState().live;
    const surface = show.surfaces.find((s) => s.id === this.#surface);
    const profile = show.profiles?.surfaces.find((p) => p.id === surface?.profile);
    if (!profile) return null;
    for (const { id } of profile.controls) this.#made.delete(id);
    return { ...profile, controls: [...profile.controls, ...this.#made.values()] };
  }

  #hear(message: HeardMessage): void {
    this.#teacher.hear(message);
    this.#history.push(message);
    if (this.#history.length > MOST_MESSAGES) this.#history = this.#history.slice(-MOST_MESSAGES);
    this.#clock = { atMs: message.atMs, hereMs: performance.now() };
  }

  #judgeSoon(): void {
    this.#timer ??= setTimeout(() => {
      this.#timer = null;
      this.#inTurn((profile) => this.#judge(profile));
      if (this.#later) clearTimeout(this.#later);
      // What a hand has done is known once it rests, and what latches when nothing came for long.
      this.#later = setTimeout(() => {
        this.#inTurn((profile) => this.#judge(profile));
        this.#later = setTimeout(() => this.#inTurn((profile) => this.#judge(profile)), ONCE_MORE_MS);
      }, RESTED_MS);
    }, JUDGE_EVERY_MS);
  }

  async #judge(first: SurfaceProfile): Promise<void> {
    const nowMs = this.#clock.atMs + performance.now() - this.#clock.hereMs;
    const { shown, restless } = this.#teacher.judge(nowMs);
    const byControl = new Map(this.#now.shown);
    const touches = touchNotes(first.controls, this.#history);
    const isTouch = (s: Shown) =>
      [...touches.values()].some(
        (t) => s.found.sends.kind === "note" && JSON.stringify(t) === JSON.stringify(s.found.sends),
      );
    let newest = this.#now.newest;
    let isNew = false;
    let touchedAtMs = -1;
    for (const one of shown) {
      if (!one.isReady || this.#refused.has(one.key) || isTouch(one)) continue;
      const profile = this.#profile();
      if (!profile) return;
      const known = sameControl(profile, one.found.sends);
      const control = known ?? (await this.#add(profile, one));
      if (!control) continue;
      if (!known) {
        isNew = true;
        this.#order = [...this.#order.filter((id) => id !== control.id), control.id];
      } else await this.#revise(profile, known, one);
      byControl.set(control.id, one);
      if (one.evidence.lastMs >= touchedAtMs) {
        touchedAtMs = one.evidence.lastMs;
        newest = control.id;
      }
    }
    await this.#fingers(touches);
    const profile = this.#profile();
    if (!profile) return;
    const inOrder = this.#order.flatMap((id) => profile.controls.find((c) => c.id === id) ?? []);
    const unsure = shown.filter((s) => !s.isReady && !sameControl(profile, s.found.sends) && !isTouch(s));
    this.#tell({
      shown: byControl,
      newest,
      unsure,
      restless,
      ...(isNew ? { row: rowOffer(inOrder), bank: bankGuess(inOrder) } : {}),
    });
    // Whoever looks at another one goes on looking at it until something is touched again.
    if (newest === null || touchedAtMs <= this.#chosenAtMs) return;
    this.#chosenAtMs = touchedAtMs;
    this.#actions.choose(this.#surface, newest);
  }

  async #add(profile: SurfaceProfile, { found, behaviour }: Shown): Promise<Control | null> {
    const control = taughtControl(profile, found, behaviour);
    if (!(await this.#edit({ kind: "add-control", profile: profile.id, control }))) return null;
    this.#made.set(control.id, control);
    return control;
  }

  /** More was heard of a control that was added here: what is known better by now is said better. */
  async #revise(profile: SurfaceProfile, known: Control, { found, behaviour }: Shown): Promise<void> {
    if (this.#said.has(known.id) || !this.#order.includes(known.id)) return;
    const better = taughtControl(
      { ...profile, controls: profile.controls.filter((c) => c !== known) },
      found,
      behaviour,
    );
    const isSame = JSON.stringify(better.sends) === JSON.stringify(known.sends) && better.behaviour === known.behaviour;
    if (isSame) return;
    const isKind = better.kind === known.kind;
    const set = {
      sends: better.sends,
      behaviour: better.behaviour,
      light: better.light ?? null,
      ...(isKind ? {} : { kind: better.kind, name: nextName(better.kind, profile.controls).name, box: better.box }),
    };
    if (!(await this.#edit({ kind: "change-control", profile: profile.id, id: known.id, set }))) return;
    const made = this.#made.get(known.id);
    if (made) this.#made.set(known.id, { ...made, ...better, id: known.id });
  }

  /** Touch and pressure belong to controls that are there. */
  async #fingers(touches: ReturnType<typeof touchNotes>): Promise<void> {
    const profile = this.#profile();
    if (!profile) return;
    const edits: OneEdit[] = [];
    for (const [id, touch] of touches)
      if (!profile.controls.find((c) => c.id === id)?.touch)
        edits.push({ kind: "change-control", profile: profile.id, id, set: { touch } });
    for (const [id, pressure] of pressures(profile.controls, this.#history))
      if (!profile.controls.find((c) => c.id === id)?.pressure)
        edits.push({ kind: "change-control", profile: profile.id, id, set: { pressure } });
    for (const edit of edits) if (!this.#made.has((edit as { id: string }).id)) await this.#edit(edit);
  }

  #edit(edit: OneEdit): Promise<boolean> {
    return this.#actions.edit(edit);
  }

  #inTurn(work: (profile: SurfaceProfile) => Promise<unknown>): void {
    this.#work = this.#work.then(async () => {
      const profile = this.#profile();
      if (profile) await work(profile);
    });
  }

  #tell(news: Partial<Teaching>): void {
    this.#now = { ...this.#now, ...news };
    for (const told of [...this.#watchers]) told();
  }
}
