/** What the server is told about 30 times a second: what is new, and of what seldom changes only that it did. */
import { layerStack } from "../core/gesture/layers.ts";
import { SlabWriter } from "../core/trace/row-slabs.ts";
import type { Translator } from "../core/translate/translator.ts";
import type { HoldingNews } from "./holding-news.ts";
import type { EngineBatch, Status } from "./messages.ts";
import type { MidiPorts } from "./ports/midi-ports.ts";
import { deskReports, type OpenPort, surfaceReports } from "./reports.ts";

/** The ports that batches report of. */
export interface ReportedPorts {
  readonly inputs: ReadonlyMap<string, OpenPort>;
  readonly outputs: ReadonlyMap<string, OpenPort>;
  readonly desks: ReadonlyMap<string, OpenPort>;
  readonly midi: Pick<MidiPorts, "sessions" | "computerMidi">;
  readonly strangers: { list(): Status["strangers"] };
}

export class Batches {
  readonly #ports: ReportedPorts;
  readonly #holding: HoldingNews;
  readonly #slabs = new SlabWriter();
  #strangers: Status["strangers"] = [];
  /** What was told last of the status, and of desks and surfaces where nothing else was told with it. */
  #status = "";
  #reports = "";

  constructor(ports: ReportedPorts, holding: HoldingNews) {
    this.#ports = ports;
    this.#holding = holding;
  }

  /** The next one tells everything: there is another show. */
  tellAll(): void {
    this.#status = this.#reports = "";
  }

  /** The server wants the rows of this slab no more. */
  free(slab: number): void {
    this.#slabs.free(slab);
  }

  /** Null = nothing is other than it was told. */
  next(translator: Translator, load: number, atMs: number): EngineBatch | null {
    const { world } = translator;
    const { inputs, outputs, desks: deskPorts } = this.#ports;
    const { desks, values, changed: valuesChanged } = deskReports(world, deskPorts, inputs, atMs);
    const { surfaces, controls, changed: controlsChanged } = surfaceReports(world, inputs, outputs);
    const holding = this.#holding.take(world);
    const rows = this.#slabs.write(world.ring);
    const rests = world.ring.takeRests();
    const status = this.#statusOf(translator);
    // Strangers are another list where they are other ones; theirs may be a long text.
    const statusText = JSON.stringify({ ...status, strangers: undefined });
    const statusChanged = statusText !== this.#status || status.strangers !== this.#strangers;
    // What has news of its own goes out without a look at the reports; the next quiet batch then goes out once more.
    const news = rows !== null || valuesChanged || controlsChanged || statusChanged || holding !== undefined;
    const reports = news ? "" : JSON.stringify([desks, surfaces]);
    if (!news && reports === this.#reports) return null;
    this.#status = statusText;
    this.#strangers = status.strangers;
    this.#reports = reports;
    const batch: EngineBatch = { kind: "batch", load, atMs, rows, rests, desks, surfaces, values, controls };
    if (statusChanged) batch.status = status;
    if (holding) batch.holding = holding;
    return batch;
  }

  #statusOf({ world, layer }: Translator): Status {
    const { sessions, computerMidi } = this.#ports.midi;
    const held = world.held.list().filter((h) => h.releases.length > 0);
    return {
      layer: world.context.compiled.show.layers[layer]!.id,
      layers: layerStack(world.layers),
      sessions,
      computerMidi,
      strangers: this.#ports.strangers.list(),
      teaches: world.teaches,
      held: held.map(({ surface, control, sinceMs }) => ({ surface, control, sinceMs })),
    };
  }
}
