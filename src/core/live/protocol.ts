/**
 * What goes over the live socket between server and browsers. The server checks every message of a browser against
 * this. A page comes from the same server as what it is told, so it checks that both are of the same build, and the
 * tests hold what the server tells against this.
 * Times are wall-clock milliseconds; bytes are arrays of 0..255.
 */
import { z } from "zod";
import { DeskProfile } from "../format/desk-profile.ts";
import { Id } from "../format/ids.ts";
import { ROLES } from "../format/roles.ts";
import { PeerAddress, Show } from "../format/show.ts";
import { SurfaceProfile } from "../format/surface-profile.ts";
import { TrafficEntry } from "../trace/traffic-entry.ts";
import { OnHold } from "./on-hold.ts";
import { PortTrouble } from "./port-trouble.ts";

/** Longest message a browser may send, in bytes. */
export const MAX_CLIENT_MESSAGE_BYTES = 128 * 1024;
/** Batches a second towards a browser. */
export const BATCHES_PER_S = 30;

/** Messages that are kept of a stranger, and the longest of them that is, in bytes. */
export const MOST_STRANGER_MESSAGES = 16;
export const MOST_STRANGER_BYTES = 256;
/** UDP ports that one page may have listened to for strangers. */
export const MOST_LISTENED = 4;

const Bytes = z.array(z.int().min(0).max(255)).min(1).max(65_536);

/** A MIDI device of a browser: its name, and which of several with that name. */
export const Device = z.strictObject({
  name: z.string().min(1).max(200),
  nth: z.int().min(1).max(64),
  input: z.boolean(),
  output: z.boolean(),
});
export type Device = z.infer<typeof Device>;

/** A device of any open browser; `here`: it is reached through the browser that is told so. */
export const BrowserDevice = Device.extend({ here: z.boolean() });
export type BrowserDevice = z.infer<typeof BrowserDevice>;

export const ClientMessage = z.discriminatedUnion("kind", [
  /** Bytes from a surface drawn on this browser's screen. */
  z.strictObject({ kind: z.literal("screen-midi"), surface: Id, bytes: Bytes }),
  /** Bytes from a MIDI device of this browser. */
  z.strictObject({ kind: z.literal("device-midi"), name: Device.shape.name, nth: Device.shape.nth, bytes: Bytes }),
  /** The MIDI devices this browser has now. */
  z.strictObject({ kind: z.literal("devices"), devices: z.array(Device).max(128) }),
  /** Rows of traffic as binary messages (traffic-frame.ts); with `history` those before it too. */
  z.strictObject({ kind: z.literal("watch-traffic"), on: z.boolean(), history: z.boolean() }),
  /** Which show this page shows: the one that runs, or the one that is edited. They differ while edits are on hold. */
  z.strictObject({ kind: z.literal("shows"), show: z.enum(["running", "edited"]) }),
  z.strictObject({ kind: z.literal("try-desk"), desk: Id }),
  /** Hands are to teach as long as this page says so and is there; with `on` false, as far as this page is concerned, to play. */
  z.strictObject({ kind: z.literal("teach"), on: z.boolean() }),
  /** Hands are to play, whoever had them teach. */
  z.strictObject({ kind: z.literal("play") }),
  /** Bytes to try: one message to a desk, or MIDI to a surface. */
  z.strictObject({ kind: z.literal("send-once"), to: z.enum(["desk", "surface"]), id: Id, bytes: Bytes.max(4096) }),
  /** A control that is bypassed is put back into service, with all of its groups. */
  z.strictObject({ kind: z.literal("end-bypass"), surface: Id, control: Id }),
  z.strictObject({ kind: z.literal("redraw") }),
  z.strictObject({ kind: z.literal("release-all") }),
  z.strictObject({ kind: z.literal("rearm"), id: Id }),
  /** Somebody wants to know which MIDI devices the computer has that the program runs on. */
  z.strictObject({ kind: z.literal("look-for-midi") }),
  /** As long as this page says so and is there: universes on the network are looked for, and anybody is heard at these UDP ports. */
  z.strictObject({
    kind: z.literal("look"),
    universes: z.boolean(),
    ports: z.array(z.int().min(1).max(65_535)).max(MOST_LISTENED),
  }),
  /** A peer that asks to join a session is not let in. */
  z.strictObject({ kind: z.literal("refuse-peer"), session: Id, ...PeerAddress.shape }),
]);
export type ClientMessage = z.infer<typeof ClientMessage>;

export const PortState = z.strictObject({
  state: z.enum(["open", "waiting", "failed"]),
  trouble: PortTrouble.optional(),
});
export type PortState = z.infer<typeof PortState>;

export const DeskLive = z.strictObject({
  health: z.enum(["waiting", "answering", "silent", "refusing", "inside"]),
  sinceMs: z.number(),
  heardAtMs: z.number(),
  roundTripMs: z.number(),
  page: z.number().nullable(),
  port: PortState,
  in: z.number(),
  out: z.number(),
  /** Messages that its ports could not send, or that came in and were not valid. */
  dropped: z.number(),
  /** True where a MIDI desk heard itself, and its way is open. */
  tripped: z.boolean().optional(),
});
export type DeskLive = z.infer<typeof DeskLive>;

/**
 * Values of a desk by index: the value (null = not known), 0 unknown 1 assumed 2 reported, 1 where unconfirmed, and, where
 * the desk said anything of it, when it did so last as of this change, in ms.
 */
export const ValueChange = z.tuple([
  z.int(),
  z.union([z.number(), z.string()]).nullable(),
  z.int(),
  z.int(),
  z.int().optional(),
]);
export type ValueChange = z.infer<typeof ValueChange>;

/**
 * A control: its index, position and target 0..1 (-1 = none), caught, pressed, and when hands were at it last, in ms by the
 * engine's clock (-1 = never).
 */
export const ControlChange = z.tuple([z.int(), z.number(), z.number(), z.int(), z.int(), z.number().optional()]);
export type ControlChange = z.infer<typeof ControlChange>;

export const SurfaceLive = z.strictObject({
  inPort: PortState,
  outPort: PortState,
  tripped: z.boolean(),
  in: z.number(),
  out: z.number(),
  /** Messages that its ports could not send, or that came in and were not valid. */
  dropped: z.number(),
  heardAtMs: z.number(),
});
export type SurfaceLive = z.infer<typeof SurfaceLive>;

const PEER_STATES = [
  "inviting",
  "asking",
  "accepted",
  "connected",
  "refused",
  "ended",
  "silent",
  /** The name of its computer leads nowhere. */
  "unknown",
] as const;

/** The other end of a MIDI session: times in ms, one way; -1 = not known. */
export const PeerLive = z.strictObject({
  host: z.string(),
  port: z.int(),
  name: z.string(),
  state: z.enum(PEER_STATES),
  isOurs: z.boolean(),
  latencyMs: z.number(),
  offsetMs: z.number(),
  in: z.number(),
  out: z.number(),
  lost: z.number(),
  repaired: z.number(),
  /** It does not say what has arrived, so that only what was sent in the last two seconds is put right for it. */
  isUnanswered: z.boolean(),
});
export type PeerLive = z.infer<typeof PeerLive>;

export const SessionLive = z.strictObject({ port: PortState, peers: z.array(PeerLive) });
export type SessionLive = z.infer<typeof SessionLive>;

/** MIDI of the computer that the program runs on; none: it is out of reach, for the reason in `detail`. */
export const ComputerMidiLive = z.strictObject({
  state: z.enum(["not-looked", "open", "none"]),
  detail: z.string(),
  inputs: z.array(z.string()),
  outputs: z.array(z.string()),
  hasVirtual: z.boolean(),
});
export type ComputerMidiLive = z.infer<typeof ComputerMidiLive>;

/** A session of somebody else that was found on the network. */
export const FoundPeer = z.strictObject({ name: z.string(), ...PeerAddress.shape });
export type FoundPeer = z.infer<typeof FoundPeer>;

/** Messages of a stranger, in hexadecimal, the newest last. */
const HeardHex = z.array(z.string().max(2 * MOST_STRANGER_BYTES)).max(MOST_STRANGER_MESSAGES);

/** Who was heard a short while ago and is used by nobody; `in`: how many messages came. */
export const Stranger = z.discriminatedUnion("kind", [
  /** A universe on the network; `slots`: those that moved, counted from 1. */
  z.strictObject({
    kind: z.literal("universe"),
    protocol: z.enum(["sacn", "art-net"]),
    universe: z.int(),
    /** Where it was heard: of the network, or of this computer only; and at another port than the standard's. */
    reach: z.enum(["network", "this-computer"]),
    port: z.int().optional(),
    /** Its source as it calls itself, or its address. */
    name: z.string(),
    slots: z.array(z.int().min(1).max(512)).max(512),
    in: z.int(),
  }),
  /** Somebody who is no desk of the show, at a port that listens. */
  z.strictObject({
    kind: z.literal("sender"),
    carrier: z.enum(["udp", "tcp-server"]),
    ...PeerAddress.shape,
    listenPort: z.int(),
    heard: HeardHex,
    in: z.int(),
  }),
  /** A MIDI device of the computer that the program runs on. */
  z.strictObject({
    kind: z.literal("computer-device"),
    device: z.string(),
    nth: z.int(),
    hasOutput: z.boolean(),
    heard: HeardHex,
    /** What it answered to an identity request. */
    identity: z.string().optional(),
    in: z.int(),
  }),
  /** Strangers cannot be heard here: a port is not to be had. */
  z.strictObject({
    kind: z.literal("closed"),
    what: z.enum(["sacn", "art-net", "udp"]),
    port: z.int(),
    trouble: PortTrouble,
  }),
]);
export type Stranger = z.infer<typeof Stranger>;

export const HeldNow = z.strictObject({ surface: z.string(), control: z.string(), sinceMs: z.number() });
export type HeldNow = z.infer<typeof HeldNow>;

/** The part of the live state that a batch may bring; what is left out has not changed. */
export const LiveChanges = z.strictObject({
  atMs: z.number(),
  /** The layer that is up for everything, and all that are up, the lowest first. */
  layer: z.string().optional(),
  layers: z.array(z.string()).optional(),
  desks: z.record(z.string(), DeskLive).optional(),
  surfaces: z.record(z.string(), SurfaceLive).optional(),
  sessions: z.record(z.string(), SessionLive).optional(),
  found: z.array(FoundPeer).optional(),
  computerMidi: ComputerMidiLive.optional(),
  strangers: z.array(Stranger).optional(),
  values: z.record(z.string(), z.array(ValueChange)).optional(),
  controls: z.record(z.string(), z.array(ControlChange)).optional(),
  /** Short MIDI messages that went out to each surface, newest last. */
  lights: z.record(z.string(), z.array(z.tuple([z.int(), z.int(), z.int()]))).optional(),
  /** Texts on displays that changed, by the display's index in its profile. */
  texts: z.record(z.string(), z.array(z.tuple([z.int(), z.string()]))).optional(),
  held: z.array(HeldNow).optional(),
  /** Hands teach and do not play. */
  teaches: z.boolean().optional(),
  /** Newest rows for the bottom line. */
  line: z.array(TrafficEntry).optional(),
  /** Messages of browsers that were refused since the server started. */
  refused: z.int().optional(),
  /** Times the engine was restarted since the server started; -1 while it is down. */
  engineRestarts: z.int().optional(),
});
export type LiveChanges = z.infer<typeof LiveChanges>;

/** As it is stored. */
const StoredHistory = z.strictObject({
  /** Number of the show among those that are stored. */
  show: z.int(),
  revision: z.int(),
  savedAtMs: z.number(),
  undo: z.string().nullable(),
  redo: z.string().nullable(),
});
export type StoredHistory = z.infer<typeof StoredHistory>;
export const History = StoredHistory.extend({
  /** Changes since the server started. It only grows, while an undo takes the revision back. */
  turn: z.int(),
});
export type History = z.infer<typeof History>;

export const ServerMessage = z.discriminatedUnion("kind", [
  z.strictObject({
    kind: z.literal("snapshot"),
    /** The build of the program that says it. */
    build: z.string(),
    /** What this page may do, and whether it is on the computer that the program runs on. */
    who: z.strictObject({ role: z.enum(ROLES), isHere: z.boolean() }),
    show: Show,
    history: History,
    surfaceProfiles: z.array(SurfaceProfile),
    deskProfiles: z.array(DeskProfile),
    live: LiveChanges,
    /** Desks whose password is known; the passwords themselves are told to nobody. */
    withPassword: z.array(Id),
    onHold: OnHold.nullable(),
  }),
  z.strictObject({ kind: z.literal("batch"), live: LiveChanges }),
  /** Another show, or one of which too much has changed. */
  z.strictObject({
    kind: z.literal("show"),
    show: Show,
    history: History,
    live: LiveChanges,
    withPassword: z.array(Id),
  }),
  /** The show was edited: what leads to it from the one of the turn before. */
  z.strictObject({
    kind: z.literal("show-patches"),
    patches: z.array(
      z.strictObject({
        op: z.enum(["add", "replace", "remove"]),
        path: z.array(z.union([z.string(), z.number()])),
        value: z.unknown().optional(),
      }),
    ),
    history: History,
    live: LiveChanges,
    withPassword: z.array(Id),
  }),
  /** Edits are held, were put in or thrown away. */
  z.strictObject({ kind: z.literal("on-hold"), onHold: OnHold.nullable() }),
  /** Bytes for a MIDI device of this browser. */
  z.strictObject({ kind: z.literal("device-midi"), name: z.string(), nth: z.int(), bytes: Bytes }),
  /** The MIDI devices of all open browsers, each once. */
  z.strictObject({ kind: z.literal("browser-devices"), devices: z.array(BrowserDevice) }),
  /** A sentence for whoever sits at this page. */
  z.strictObject({ kind: z.literal("notice"), text: z.string().max(400) }),
  /** Somebody let hands play: this page has them teach no more. */
  z.strictObject({ kind: z.literal("play") }),
  /** Nothing is new, and the server is there. */
  z.strictObject({ kind: z.literal("beat") }),
  /** A message of this browser was not understood; nothing was done. */
  z.strictObject({ kind: z.literal("refused"), reason: z.string() }),
]);
export type ServerMessage = z.infer<typeof ServerMessage>;
export type Snapshot = Extract<ServerMessage, { kind: "snapshot" }>;
