/** The application behind the pages: show, engine and live socket, joined. Astro's pages get it as `locals`. */

import { join } from "node:path";
import type { Patch } from "immer";
import { parseEdit } from "../core/edit/edit-kinds.ts";
import { readShow } from "../core/edit/read.ts";
import { HOUSE } from "../core/format/givens.ts";
import { parseJson } from "../core/format/read-format.ts";
import type { Show } from "../core/format/show.ts";
import type { HoldCommand } from "../core/live/on-hold.ts";
import type { Snapshot } from "../core/live/protocol.ts";
import type { Carried } from "../core/translate/taking-over.ts";
import type { EngineFault, FromEngine } from "../engine/messages.ts";
import { editLabel } from "../words/edits.ts";
import type { Who } from "./access/who.ts";
import { type Backup, Backups, listBackups, makeBackup, showIn } from "./database/backups.ts";
import { ShowStore, type StoreResult } from "./database/show-store.ts";
import type { Storage } from "./database/storage.ts";
import { type Editor, EditsOfOthers } from "./edits-of-others.ts";
import { EditsOnHold } from "./edits-on-hold.ts";
import { EngineLoads } from "./engine-loads.ts";
import { carryOutHold } from "./hold-commands.ts";
import { journalText, RunJournal } from "./journal.ts";
import { Bridges, midiPorts } from "./live/bridges.ts";
import { BrowserDevices } from "./live/browser-devices.ts";
import { FromPages } from "./live/from-pages.ts";
import { type LiveClient, LiveHub } from "./live/hub.ts";
import { Mirror } from "./live/mirror.ts";
import type { Log } from "./log.ts";
import { Announcements } from "./network/announcements.ts";
import { Passwords } from "./passwords.ts";
import { type ProfileLibrary, shippedProfiles } from "./profiles.ts";
import { type Answer, refused, Shows } from "./shows.ts";
import { EngineSupervision, type EngineThread } from "./supervision.ts";
import { TroubleLog } from "./trouble-log.ts";

export interface ApplicationSettings {
  engineFile: URL;
  /** The first engine, where it was made already. */
  engine?: EngineThread;
  firstShow(): Show;
  faults: boolean;
  /** Where is kept what must not be forgotten when the server is killed. */
  journalFile: string;
  /** Where the show that runs is kept while edits are on hold. */
  onHoldFile: string;
  log: Log;
  /** Which build of the program this is, for pages that are older than it. */
  build: string;
}

export class Application {
  readonly hub: LiveHub;
  /** The shows beside the open one, and its versions. */
  readonly shows: Shows;
  readonly #storage: Storage;
  readonly #log: Log;
  #backups: Backups | null = null;
  readonly #store: ShowStore;
  readonly #passwords: Passwords;
  readonly #library: ProfileLibrary;
  readonly #mirror: Mirror;
  readonly #engine: EngineSupervision;
  readonly #devices = new BrowserDevices(() => this.hub.clients);
  readonly #announcements: Announcements;
  readonly #faults: boolean;
  readonly #journal: RunJournal;
  /** What the last run left behind when it was killed, for the first engine of this one. */
  #left: Carried | null;
  readonly #loads = new EngineLoads({
    send: (message) => this.#engine.send(message),
    show: () => this.#running.show,
    revision: () => this.#running.revision,
    passwords: () => this.#passwords.of(this.#running.show),
    profiles: () => ({ surfaces: this.#library.surfaces, desks: this.#library.desks }),
    handOver: () => this.#engine.handOver(),
    isHandingOver: () => this.#engine.isHandingOver,
    begins: (load, show) => {
      this.#announcements.set(show.sessions ?? []);
      this.#mirror.setShow(load, show);
    },
  });
  readonly #others = new EditsOfOthers();
  readonly #onHold: EditsOnHold;
  /** Changes of the show since the server started. */
  #turn = 0;
  /** Number of the show that runs. */
  #shown: number;
  readonly #build: string;
  readonly #troubles: TroubleLog;
  readonly #pages: FromPages;
  readonly #bridges = new Bridges(this.#devices, (message) => this.#engine.send(message));

  private constructor(
    storage: Storage,
    store: ShowStore,
    library: ProfileLibrary,
    passwords: Passwords,
    settings: ApplicationSettings,
  ) {
    this.#storage = storage;
    this.#log = settings.log;
    this.#troubles = new TroubleLog(settings.log);
    this.#store = store;
    this.#shown = store.id;
    this.shows = new Shows(store, library, (result) => this.#changed(result));
    this.#passwords = passwords;
    this.#library = library;
    this.#faults = settings.faults;
    this.#build = settings.build;
    this.#onHold = new EditsOnHold({
      file: settings.onHoldFile,
      profiles: library.profiles,
      nowMs: () => Date.now(),
      handMoves: () => this.#mirror.handMoves,
      isAnythingHeld: () => this.#mirror.isAnythingHeld,
      quiet: () => this.#putIn(),
      notKept: (error) => console.error(`Edits on hold would go in if the server were killed: ${error.message}`),
    });
    this.#onHold.goOn(store.id, store.history.revision, store.show);
    store.allows = (next) => this.#onHold.allows(next);
    this.#left = RunJournal.left(settings.journalFile, { ...store.history, revision: this.#running.revision });
    this.#journal = new RunJournal(
      settings.journalFile,
      () => journalText({ show: store.id, revision: this.#running.revision }, this.#mirror.journal()),
      (error) => console.error(`What is held cannot be written down, should the server be killed: ${error.message}`),
    );
    this.#mirror = new Mirror(
      library.profiles,
      () => this.hub.changed(),
      (slab) => this.#engine.send({ kind: "free-slab", slab }),
    );
    this.#announcements = new Announcements({
      found: (found) => this.#mirror.setFound(found),
      trouble: (reason) =>
        console.error(`Sessions are neither announced nor found by themselves: ${reason}. Addresses work.`),
      renamed: (from, to) => console.error(`“${from}” is taken on this network: the session is announced as “${to}”.`),
    });
    this.#engine = new EngineSupervision(
      settings.engineFile,
      {
        started: (restarts, warmed) => this.#engineStarted(restarts, warmed),
        message: (message) => this.#fromEngine(message),
        warmedWith: () => this.#loads.warm(),
        cannotLoad: (reason) => this.#cannotLoad(reason, false),
        retired: () => this.#mirror.engineRetired(),
        notHandedOver: () => this.#loads.notHandedOver(),
        died: (reason) => {
          this.#mirror.engineDied();
          this.#loads.died();
          // The next one is given the show first.
          setImmediate(() => {
            this.#log.write("error", "engine-died", { reason });
            console.error(`The engine stopped and is started again. ${reason}`);
          });
        },
      },
      settings.engine,
    );
    this.#pages = new FromPages({
      send: (message) => this.#engine.send(message),
      show: () => store.show,
      profiles: library.profiles,
      devices: this.#devices,
    });
    this.hub = new LiveHub({
      message: (client, message) => this.#pages.message(client, message),
      left: (client) => this.#pages.left(client),
      refused: (reason, beginning, length) => this.#mirror.refuse(Date.now(), reason, beginning, length),
      devicesChanged: () => {
        this.#devices.tell();
        this.#bridges.tell(this.#store.show);
      },
      snapshot: ({ who, shows }) => this.snapshot(who, shows),
      areTwoShows: () => this.#onHold.told !== null,
      changes: () => this.#mirror.takeChanges(),
      traffic: this.#mirror.log,
    });
  }

  static async start(storage: Storage, settings: ApplicationSettings): Promise<Application> {
    const library = shippedProfiles();
    const passwords = new Passwords(join(storage.folder, `${storage.name}.passwords.json`), (error) => {
      settings.log.write("error", "passwords-not-read", { reason: error.message });
      console.error(`The passwords of desks cannot be read, and have to be typed anew: ${error.message}`);
    });
    const store = await ShowStore.open(storage, library.profiles, settings.firstShow, passwords);
    const application = new Application(storage, store, library, passwords, settings);
    await application.#engine.start();
    return application;
  }

  /** The backups of the stored show, the newest first. */
  backups(): Backup[] {
    return listBackups(this.#storage.folder, this.#storage.name);
  }

  /** Opens the show of a backup in the place of the present one, as an edit that can be undone; "" = the newest good one. */
  async restore(file: string): Promise<Answer> {
    const { folder } = this.#storage;
    for (const backup of this.backups()) {
      if (file !== "" && backup.file !== file) continue;
      const stored = await showIn(folder, backup.file);
      if (stored) return this.openShow(stored.document);
      if (file !== "") break;
    }
    return refused([{ code: "no-such-backup", path: [] }], {});
  }

  get show(): Show {
    return this.#store.show;
  }

  /** `editor`: which window it is of, and what that had in view; left out, it is meant whatever others did. */
  async edit(data: unknown, editor: Editor | null = null): Promise<Answer> {
    const parsed = parseEdit(data);
    if (!parsed.ok) return refused(parsed.problems, { document: data });
    const { edit } = parsed;
    const meanwhile = editor && this.#others.before(edit, this.#store.id, editor);
    if (meanwhile) return { ok: false, problems: [], meanwhile };
    const { show, id } = this.#store;
    const ends = this.#others.begins(edit, id, editor?.page ?? "", editLabel(edit, show));
    try {
      const answer = this.#changed(await this.#store.edit(edit));
      ends(answer.ok ? this.#turn : null);
      return answer;
    } catch (error) {
      ends(null);
      throw error;
    }
  }

  async undo(): Promise<Answer> {
    return this.#changed(await this.#store.undo());
  }

  async redo(): Promise<Answer> {
    return this.#changed(await this.#store.redo());
  }

  /** Opens a show document in the place of the present one; a document with faults changes nothing. */
  openShow(text: string): Promise<Answer> {
    return this.#read(text, (show) => this.#store.replace(show));
  }

  /** Puts a show document beside the shows that are here, and opens it. */
  addShow(text: string): Promise<Answer> {
    return this.#read(text, (show) => this.#store.begin(show));
  }

  async #read(text: string, work: (show: Show) => Promise<StoreResult>): Promise<Answer> {
    const json = parseJson(text);
    const read = json.ok ? readShow(json.value, this.#library.profiles) : json;
    if (read.ok) return this.#changed(await work(read.value));
    return refused(read.problems, { document: json.ok ? json.value : undefined, profiles: this.#library.profiles });
  }

  /** Breaks the engine, where the server was started for tests of its recovery. */
  breakEngine(how: EngineFault): boolean {
    if (this.#faults) this.#engine.send({ kind: "fail", how });
    return this.#faults;
  }

  /** What is done with edits on hold. */
  hold({ do: command }: HoldCommand): Promise<Answer> {
    return carryOutHold(command, this.#onHold, this.#store, {
      changed: (result) => this.#changed(result),
      putIn: () => this.#putIn(),
      ended: () => this.#holdEnded(),
      tell: () => this.#tellHold(),
    });
  }

  /** The show that runs: the one that is edited, where no edits are on hold. */
  get #running(): { readonly show: Show; readonly revision: number } {
    return this.#onHold.running ?? { show: this.#store.show, revision: this.#store.history.revision };
  }

  /** Everything, for one who may look: of the show that runs, or of the one that is edited. */
  snapshot(who: Who, shows: LiveClient["shows"] = "edited"): Snapshot {
    return {
      kind: "snapshot",
      build: this.#build,
      who: { role: who.role, isHere: who.session === null },
      ...this.#now(shows),
      onHold: this.#onHold.told,
      surfaceProfiles: this.#library.surfaces,
      deskProfiles: this.#library.desks,
    };
  }

  /** A show, and all that is known while it runs. */
  #now(shows: LiveClient["shows"] = "edited") {
    const { history } = this.#store;
    const { show } = shows === "running" ? this.#running : this.#store;
    return {
      show,
      history: { ...history, turn: this.#turn },
      live: this.#mirror.snapshot(),
      withPassword: Object.keys(this.#passwords.of(show)),
    };
  }

  /** Makes a backup now, and from now on. */
  keepBackups(): void {
    const { folder, name } = this.#storage;
    this.#backups = new Backups(
      () => makeBackup(this.#storage.database, folder, name, Date.now()),
      (error) => {
        this.#log.write("error", "backup-failed", { reason: error.message });
        console.error(`No backup could be made: ${error.message}`);
      },
    );
  }

  /** How the program is: the engine, desks and ports by their ids, the show's revision, time and memory. */
  health() {
    const { desks = {}, surfaces = {}, engineRestarts = 0 } = this.#mirror.snapshot();
    return {
      pid: process.pid,
      uptimeS: Math.round(process.uptime()),
      memoryMb: Math.round(process.memoryUsage.rss() / 1e6),
      engine: { isRunning: engineRestarts >= 0, restarts: Math.max(0, engineRestarts) },
      revision: this.#store.history.revision,
      browsers: this.hub.clients.size,
      desks: Object.fromEntries(Object.entries(desks).map(([id, d]) => [id, { health: d.health, port: d.port.state }])),
      surfaces: Object.fromEntries(
        Object.entries(surfaces).map(([id, s]) => [
          id,
          { in: s.inPort.state, out: s.outPort.state, tripped: s.tripped },
        ]),
      ),
    };
  }

  async stop(): Promise<void> {
    this.hub.close();
    this.#onHold.close();
    await this.#announcements.close();
    await this.#engine.stop();
    await this.#journal.close();
    await this.#backups?.stop();
  }

  /** The show makes the engine fail: people are told what runs instead, and how to get out of it. */
  #cannotLoad(reason: string, goesOn: boolean): void {
    const { revision } = this.#running;
    const ran = this.#loads.ranRevision;
    const sentence = [
      `The engine cannot run the show as of revision ${revision} (${reason.slice(0, 120)}).`,
      goesOn ? `The show as of revision ${ran} goes on.` : "It was stopped.",
      ran === null ? "Undo the last change, or open a backup." : `Undo until revision ${ran}, the last that ran.`,
    ].join(" ");
    this.#log.write("error", "engine-cannot-load", { revision, ran, reason });
    console.error(sentence);
    this.hub.broadcast({ kind: "notice", text: sentence });
  }

  #changed(result: StoreResult): Answer {
    if (!result.ok) {
      this.#log.write("warn", "edit-refused", { problems: result.problems });
      return refused(result.problems, { document: result.document, profiles: this.#library.profiles });
    }
    this.#log.write("debug", "edit", { label: result.label, revision: this.#store.history.revision });
    this.#backups?.edited();
    const { id } = this.#store;
    // Of a show that is not open any more nothing is left to go back to.
    if (id !== this.#shown) this.#loads.anotherShow();
    if (!result.isElsewhere) this.#showChanged(result.patches);
    this.#shown = id;
    return { ok: true, label: result.label };
  }

  /** `patches`: what leads from the show before to this one; null = it is another one. */
  #showChanged(patches: readonly Patch[] | null): void {
    this.#turn++;
    this.#onHold.edited(patches);
    const isHeld = this.#onHold.running !== null;
    if (!isHeld) this.#runs(patches);
    const { show, ...rest } = this.#now();
    this.hub.broadcast(
      patches ? { kind: "show-patches", patches: [...patches], ...rest } : { kind: "show", show, ...rest },
      isHeld ? "edited" : undefined,
    );
    if (isHeld) this.#tellHold();
  }

  /** The engine is given the show that is edited. */
  #runs(patches: readonly Patch[] | null): void {
    this.#engine.showChanged();
    this.#loads.changed(patches);
    this.#bridges.tell(this.#store.show);
  }

  /** Edits on hold go in. */
  #putIn(): void {
    if (!this.#onHold.running) return;
    this.#runs(this.#onHold.end());
    this.#holdEnded();
  }

  /** Pages that showed what ran have missed the edits: they are given the whole. */
  #holdEnded(): void {
    this.hub.broadcast({ kind: "show", ...this.#now() }, "running");
    this.#tellHold();
  }

  #tellHold(): void {
    this.hub.broadcast({ kind: "on-hold", onHold: this.#onHold.told });
  }

  #engineStarted(restarts: number, warmed: number): void {
    this.#bridges.forget();
    this.#pages.engineStarted();
    this.#mirror.setEngineRestarts(restarts);
    const carried = this.#mirror.hasEngine ? this.#mirror.carried(this.#running.show) : this.#left;
    this.#loads.started(warmed, carried);
    this.#left = null;
    this.#bridges.tell(this.#store.show);
  }

  #fromEngine(message: FromEngine): void {
    switch (message.kind) {
      case "batch":
        this.#mirror.take(message);
        this.hub.changedWhole();
        this.#troubles.look(message);
        if (message.holding) this.#journal.held();
        else if (message.values[HOUSE] || Object.keys(message.controls).length > 0) this.#journal.moved();
        return;
      case "holding":
        this.#mirror.setHolding(message.holding);
        this.#journal.held();
        return;
      case "midi-out":
        for (const [id, bytes] of message.items) {
          this.#mirror.surfaceOut(id, bytes);
          this.#toDevice(id, bytes);
        }
        return;
      case "recovered":
        this.#mirror.engineRecovered();
        if (this.#loads.recovered()) this.#cannotLoad(message.reason, true);
        this.#log.write("error", "engine-recovered", { reason: message.reason });
        console.error(`The engine failed and goes on from what is known. ${message.reason}`);
        return;
      case "loaded":
        this.#loads.loaded(message.load);
        return;
      case "ready":
      case "warmed":
      case "dying":
      case "stopped":
        return;
      default:
        message satisfies never;
    }
  }

  #toDevice(id: string, bytes: Uint8Array): void {
    const out = midiPorts(this.#store.show).find((p) => p.id === id)?.out;
    if (out?.kind !== "browser-midi") return;
    this.#devices
      .ownerOf(out.device, out.nth)
      ?.send({ kind: "device-midi", name: out.device, nth: out.nth, bytes: [...bytes] });
  }
}
