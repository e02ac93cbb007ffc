/** What server and engine say to each other over the worker's message port. */

import type { Health } from "../core/desk/link.ts";
import type { DocumentPatch } from "../core/edit/patched.ts";
import type { DeskProfile } from "../core/format/desk-profile.ts";
import type { Show } from "../core/format/show.ts";
import type { SurfaceProfile } from "../core/format/surface-profile.ts";
import type {
  ComputerMidiLive,
  ControlChange,
  HeldNow,
  PortState,
  SessionLive,
  Stranger,
  ValueChange,
} from "../core/live/protocol.ts";
import type { RowsInSlab } from "../core/trace/row-slabs.ts";
import type { Carried, Holding } from "../core/translate/taking-over.ts";

export type ToEngine =
  | {
      kind: "load";
      show: Show;
      /** Left out while they are what they were: their tables and what is known by them then stay. */
      profiles?: { surfaces: SurfaceProfile[]; desks: DeskProfile[] };
      /** Counts loads, so that what comes back can be told by the show it was made under. */
      load: number;
      /** Of desks that ask who we are, by their ids. */
      passwords: Readonly<Record<string, string>>;
      carried?: Carried;
    }
  /**
   * An edit of the show that was loaded as number `from`: what changed, in the place of the whole. An engine that has
   * another show leaves it alone; the whole one is on its way to it.
   */
  | {
      kind: "patch";
      from: number;
      load: number;
      patches: readonly DocumentPatch[];
      passwords: Readonly<Record<string, string>>;
    }
  /** A spare gets its code and tables ready for this show; it opens nothing and tells nothing. */
  | { kind: "warm"; load: number; show: Show; profiles: { surfaces: SurfaceProfile[]; desks: DeskProfile[] } }
  /** As `load`, of the very show that it was made warm with as number `from`: it has the tables already. */
  | {
      kind: "load-warm";
      from: number;
      load: number;
      passwords: Readonly<Record<string, string>>;
      carried?: Carried;
    }
  /** MIDI from a surface, or from a MIDI desk, whose input is not the engine's own. */
  | { kind: "midi-bytes"; id: string; bytes: Uint8Array; isDrawn?: true }
  /** The bridge to a surface or a MIDI desk that lives in a browser was opened or closed. */
  | { kind: "bridge"; id: string; input: boolean; output: boolean }
  | { kind: "try-desk"; desk: string }
  /** Hands teach, or play. */
  | { kind: "teach"; on: boolean }
  | { kind: "send-once"; to: "desk" | "surface"; id: string; bytes: Uint8Array }
  /** Puts a control that is bypassed back into service. */
  | { kind: "end-bypass"; surface: string; control: string }
  | { kind: "redraw" }
  | { kind: "release-all" }
  /** Closes the way of a surface or a MIDI desk that heard itself. */
  | { kind: "rearm"; id: string }
  /** Nobody wants the rows of this slab any more; it may be written again. */
  | { kind: "free-slab"; slab: number }
  | { kind: "look-for-midi" }
  /** Universes on the network are looked for, or no longer, and anybody is heard at these UDP ports. */
  | { kind: "look"; universes: boolean; ports: readonly number[] }
  /** A peer that asks to join a session on the network is not let in. */
  | { kind: "refuse-peer"; session: string; host: string; port: number }
  /** Breaks the engine on purpose; only tests that show its recovery send this. */
  | { kind: "fail"; how: EngineFault }
  /** Ends, and leaves what is held and its ports to the engine that is ready for another show. */
  | { kind: "retire" }
  | { kind: "stop" };

/** Ways to die: thrown, ended, an endless loop, all memory taken in one turn, and more and more of it. */
export const ENGINE_FAULTS = ["throw", "exit", "loop", "memory", "leak"] as const;
export type EngineFault = (typeof ENGINE_FAULTS)[number];

/** What the server says, with its number: they count from 1. */
export type NumberedMessage = readonly [number: number, message: ToEngine];

export interface DeskReport {
  health: Health;
  sinceMs: number;
  heardAtMs: number;
  roundTripMs: number;
  page: number | null;
  port: PortState;
  in: number;
  out: number;
  dropped: number;
  tripped?: boolean;
}

export interface SurfaceReport {
  inPort: PortState;
  outPort: PortState;
  tripped: boolean;
  in: number;
  out: number;
  dropped: number;
  heardAtMs: number;
}

/** What seldom changes. */
export interface Status {
  /** The layer that is up for everything, and every layer that is up, the lowest first. */
  layer: string;
  layers: string[];
  sessions: Record<string, SessionLive>;
  computerMidi: ComputerMidiLive;
  /** Another list whenever it is another. */
  strangers: readonly Stranger[];
  held: HeldNow[];
  /** Hands teach and do not play. */
  teaches: boolean;
}

/** What changed since the last batch; at most one every 32 ms, unless many rows wait. */
export interface EngineBatch {
  kind: "batch";
  load: number;
  atMs: number;
  /** Where the new rows of traffic lie (core/trace/traffic-ring.ts). */
  rows: RowsInSlab | null;
  /** What the rows had no room for (core/trace/traffic-rests.ts), transferred. */
  rests: ArrayBuffer | null;
  desks: Record<string, DeskReport>;
  surfaces: Record<string, SurfaceReport>;
  values: Record<string, ValueChange[]>;
  controls: Record<string, ControlChange[]>;
  /** Left out while they are what they were. */
  status?: Status;
  holding?: Holding;
}

export type FromEngine =
  | { kind: "ready" }
  | { kind: "loaded"; load: number }
  /** A spare is ready to take over with this show. */
  | { kind: "warmed"; load: number }
  | EngineBatch
  /** What hands hold, told at once. */
  | { kind: "holding"; holding: Holding }
  /** Bytes that went to surfaces, and to MIDI desks whose output is in a browser, in order. */
  | { kind: "midi-out"; items: [id: string, bytes: Uint8Array][] }
  /** It failed, and goes on from what is known. */
  | { kind: "recovered"; reason: string }
  /** It failed, and ends. */
  | { kind: "dying"; reason: string }
  | { kind: "stopped" };
