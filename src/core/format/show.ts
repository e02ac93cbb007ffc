/** The show: everything that is saved together, as one versioned document. */

import { z } from "zod";
import { ActionText, DeskProfile } from "./desk-profile.ts";
import { BASE_LAYER } from "./givens.ts";
import { Colour, Id, Name } from "./ids.ts";
import { rule } from "./rules.ts";
import { Binding, ControlRef, Shape } from "./shape.ts";
import { AnyMessage, SurfaceProfile } from "./surface-profile.ts";
import { CarrierName, GestureName } from "./table-names.ts";
import { NEWEST, SHOW_FORMAT } from "./versions.ts";

/** Where bytes go in or out. */
export const PortRef = z.discriminatedUnion("kind", [
  /** A surface drawn on the screen, whose bytes come and go over the live socket. */
  z.strictObject({ kind: z.literal("screen") }),
  /** A MIDI device of a browser, by its name and which of several with that name. */
  z.strictObject({ kind: z.literal("browser-midi"), device: z.string().min(1).max(200), nth: z.int().min(1).max(64) }),
  /** One MIDI message a datagram: in listens on the port, out sends to it. */
  z.strictObject({ kind: z.literal("midi-udp"), host: z.string().min(1).max(200), port: z.int().min(1).max(65_535) }),
  /** A cable inside this program, by its name: what goes out to it comes in for all who listen to it. */
  z.strictObject({ kind: z.literal("cable"), name: Name }),
  /** A MIDI session on the network, by its id: what goes out to it goes to every peer, in comes what any peer sends. */
  z.strictObject({ kind: z.literal("network-midi"), session: Id }),
  /** A MIDI device of the computer that the program runs on; or a virtual port of its system, by the name it is given. */
  z.strictObject({
    kind: z.literal("computer-midi"),
    device: z.string().min(1).max(200),
    nth: z.int().min(1).max(64),
    virtual: z.boolean().optional(),
  }),
  /** Part of a DMX universe, from the slot `first` on; in only. Switches go on at a level, and off below another. */
  z
    .strictObject({
      kind: z.literal("dmx"),
      protocol: z.enum(["sacn", "art-net"]),
      universe: z.int().min(0).max(63_999),
      first: z.int().min(1).max(512),
      reach: z.enum(["this-computer", "network"]),
      /** Left out, the port of the protocol. */
      port: z.int().min(1).max(65_535).optional(),
      on: z.int().min(1).max(255),
      off: z.int().min(1).max(255),
    })
    .refine((d) => d.off <= d.on, rule("dmx-off-above-on", "off"))
    .refine((d) => (d.protocol === "sacn" ? d.universe >= 1 : d.universe <= 32_767), rule("dmx-universe", "universe")),
  z.strictObject({ kind: z.literal("none") }),
]);
export type PortRef = z.infer<typeof PortRef>;

const Note = z.string().trim().min(1).max(400);
/** What people call something, and what they want to remember of it. */
export const OwnWords = z.strictObject({ name: Name.optional(), note: Note.optional() });
export type OwnWords = z.infer<typeof OwnWords>;

export const Surface = z.strictObject({
  id: Id,
  name: Name,
  profile: Id,
  in: PortRef,
  out: PortRef,
  /** Controls that sleep: they stay mapped, do nothing, and are told nothing. */
  asleep: z.array(Id).min(1).max(1024).optional(),
  /** Names and notes of its controls, in the place of those that its kind has for them. */
  controls: z.record(Id, OwnWords).optional(),
});
export type Surface = z.infer<typeof Surface>;

/**
 * What becomes of commands while a desk does not answer. Keep: of each level the newest is sent when it answers again.
 * Drop: they are thrown away. Send: they are sent as always. Old presses are never sent later, and what is held is
 * always let go.
 */
export const WhenSilent = z.enum(["keep", "drop", "send"]);
export type WhenSilent = z.infer<typeof WhenSilent>;
export const DEFAULT_WHEN_SILENT: WhenSilent = "keep";

/**
 * Who we are to a broker or a host that asks. No colon in the user (RFC 7617). A password only comes in: it is taken out
 * before the show is stored or shown to anybody, and kept apart.
 */
export const Login = z.strictObject({
  user: z
    .string()
    .min(1)
    .max(100)
    .regex(/^[^:\p{Cc}]*$/u, rule("login-user")),
  password: z
    .string()
    .max(200)
    .regex(/^\P{Cc}*$/u, rule("login-password"))
    .optional(),
});
export type Login = z.infer<typeof Login>;

export const Desk = z.strictObject({
  id: Id,
  name: Name,
  profile: Id,
  host: z.string().min(1).max(200),
  port: z.int().min(1).max(65_535),
  /** Where we listen for its answers. */
  listenPort: z.int().min(1).max(65_535),
  /** Of a desk that is driven by MIDI: where its messages go, and where its own come from. */
  midi: z.strictObject({ in: PortRef, out: PortRef }).optional(),
  whenSilent: WhenSilent.optional(),
  /** What carries its messages, where that is not what its kind has by itself. */
  over: CarrierName.optional(),
  login: Login.optional(),
  /** Names and notes of its pages, by their number. */
  pages: z.record(z.string().regex(/^\d{1,5}$/), OwnWords).optional(),
});
export type Desk = z.infer<typeof Desk>;

export const Layer = z.strictObject({
  id: Id,
  name: Name,
  /** The group of controls it changes; left out, it covers every surface. */
  group: Id.optional(),
  /** Colour of the controls that enter it. */
  colour: Colour.optional(),
  note: Note.optional(),
});
export type Layer = z.infer<typeof Layer>;

/** Controls of one surface under one name: for layers that change only some of them, and for bypass. */
export const Group = z.strictObject({ id: Id, name: Name, surface: Id, controls: z.array(Id).min(1).max(1024) });
export type Group = z.infer<typeof Group>;

/** Mappings under one name, that are switched off and on together. Each names the bundle that it is in. */
export const Bundle = z.strictObject({ id: Id, name: Name, on: z.boolean(), note: Note.optional() });
export type Bundle = z.infer<typeof Bundle>;

/** A window of strips on a desk: eight faders that reach all channels, eight at a time. */
export const Bank = z
  .strictObject({
    id: Id,
    name: Name,
    /** Number of the desk's strip at strip 1 when the bank stands at its start. */
    first: z.int().min(0).max(65_535),
    /** The highest number it reaches. */
    last: z.int().min(0).max(65_535),
    /** Strips it shows at once. */
    size: z.int().min(1).max(128),
  })
  .refine((b) => b.last >= b.first + b.size - 1, rule("bank-room", "last"));
export type Bank = z.infer<typeof Bank>;

/** A number with a name that mappings set, step and read. */
export const Variable = z
  .strictObject({ id: Id, name: Name, from: z.number(), to: z.number(), start: z.number(), wraps: z.boolean() })
  .refine((v) => v.from < v.to, rule("range-rising", "to"))
  .refine((v) => v.start >= v.from && v.start <= v.to, rule("start-inside", "start"));
export type Variable = z.infer<typeof Variable>;

export const Action = z.strictObject({
  id: Id,
  on: z.boolean(),
  desk: Id,
  function: Id,
  bindings: z.record(Id, Binding),
  shape: Shape,
  /** Which of a mapping's sets it belongs to, counted from 1; left out, the first. */
  set: z.int().min(1).max(64).optional(),
  delayMs: z.int().min(0).max(600_000).optional(),
  /** What a function of the house acts on: the id of a desk or of a mapping. */
  target: Id.optional(),
  /** Of the house's "send a message": MIDI as hexadecimal pairs, or an OSC address with arguments. */
  message: z.string().max(600).optional(),
  /** Of a function that takes a text: what it says, with `{name}`, `{value}` and `{page}` in it; left out, its own. */
  text: ActionText.optional(),
});
export type Action = z.infer<typeof Action>;

export const Look = z.strictObject({
  /** Left out, the desk's own colour. */
  colour: Colour.optional(),
});

export const Takeover = z.enum(["jump", "catch", "converge"]);
export type Takeover = z.infer<typeof Takeover>;

const Times = z.strictObject({
  holdMs: z.int().min(50).max(10_000).optional(),
  doubleMs: z.int().min(50).max(2000).optional(),
});

/** Only while a state of a desk lies in this range, both ends included. A switch is 0 or 1. */
export const Condition = z
  .strictObject({
    desk: Id,
    state: Id,
    parameters: z.record(Id, z.int()).optional(),
    from: z.number(),
    to: z.number(),
  })
  .refine((c) => c.from <= c.to, rule("range-not-falling", "to"));
export type Condition = z.infer<typeof Condition>;

/**
 * Which of a mapping's sets of actions fires: all of them; one after the other, again from the first after the last;
 * one after the other and then no further; or any.
 */
export const Order = z.enum(["all", "in-turn", "in-turn-stop", "random"]);
export type Order = z.infer<typeof Order>;

export const Mapping = z.strictObject({
  id: Id,
  name: z.string().trim().max(80),
  note: z.string().max(400),
  on: z.boolean(),
  surface: Id,
  /** A control of the surface's profile; with `message` a name of its own. */
  control: Id,
  /** Not one control but every message in a range. */
  message: AnyMessage.optional(),
  gesture: GestureName,
  times: Times.optional(),
  /** Only while this other control is held. */
  whileHeld: ControlRef.optional(),
  /** Empty: every layer. */
  layers: z.array(Id).max(32),
  /** Left out: every page. */
  pages: z.strictObject({ desk: Id, in: z.array(z.int()).min(1).max(64) }).optional(),
  when: z.array(Condition).min(1).max(4).optional(),
  takeover: Takeover,
  look: Look,
  order: Order.optional(),
  /** It is on only where its bundle is too. */
  bundle: Id.optional(),
  /** Of several mappings with the same word here, one is on: the others are switched off. */
  radio: Id.optional(),
  actions: z.array(Action).max(16),
});
export type Mapping = z.infer<typeof Mapping>;

export const ROUTE_KINDS = [
  "note",
  "controller",
  "program",
  "bend",
  "pressure",
  "sysex",
  "clock",
  "time-code",
  /** Tune request, active sensing and system reset. */
  "system",
] as const;

/** Passes MIDI from one port to another, as it is. The way back is a route of its own. */
export const Route = z.strictObject({
  id: Id,
  name: Name,
  on: z.boolean(),
  /** The id of a surface or of a MIDI desk. */
  from: Id,
  to: Id,
  /** Everything, or only what no mapping took. */
  pass: z.enum(["all", "unmapped"]),
  /** Left out: every kind. */
  kinds: z.array(z.enum(ROUTE_KINDS)).min(1).max(ROUTE_KINDS.length).optional(),
  /** What comes on a channel leaves on another; a channel that is not named is left as it is. */
  channels: z
    .array(z.strictObject({ from: z.int().min(1).max(16), to: z.int().min(1).max(16) }))
    .max(16)
    .optional(),
});
export type Route = z.infer<typeof Route>;

/** The other end of a MIDI session, by the first of its two ports. */
export const PeerAddress = z.strictObject({
  host: z.string().min(1).max(200),
  port: z.int().min(1).max(65_534),
});
export type PeerAddress = z.infer<typeof PeerAddress>;

/** A MIDI session on the network (RTP-MIDI), by which this program is reached and reaches others. */
export const NetworkSession = z.strictObject({
  id: Id,
  /** As others see it. */
  name: Name,
  /** The first of its two ports; the second is the next one. */
  port: z.int().min(1024).max(65_534),
  /** Who can reach it at all. */
  reach: z.enum(["this-computer", "network"]),
  /** Who may join without being invited: everybody, whom somebody says yes to, or only those on the list. */
  admission: z.enum(["everyone", "ask", "listed"]),
  /** Names of those that may join. */
  allowed: z.array(Name).max(64),
  /** Those that are invited, again and again until they are there. */
  invites: z.array(PeerAddress).max(32),
  /** Whether others find it by itself (mDNS). */
  announced: z.boolean(),
});
export type NetworkSession = z.infer<typeof NetworkSession>;

export const Show = z.strictObject({
  format: z.literal(SHOW_FORMAT),
  version: z.literal(NEWEST[SHOW_FORMAT]),
  name: Name,
  settings: z.strictObject({
    middleC: z.enum(["C3", "C4"]),
    /** Left out: hold 400 ms, double 250 ms. */
    times: Times.optional(),
    /** How new mappings of these kinds of controls take over; left out, catch. */
    takeover: z.strictObject({ fader: Takeover.optional(), knob: Takeover.optional() }).optional(),
  }),
  surfaces: z.array(Surface).max(64),
  desks: z.array(Desk).max(64),
  layers: z.array(Layer).min(1).max(32),
  mappings: z.array(Mapping).max(20_000),
  groups: z.array(Group).max(64).optional(),
  banks: z.array(Bank).max(16).optional(),
  variables: z.array(Variable).max(64).optional(),
  bundles: z.array(Bundle).max(64).optional(),
  routes: z.array(Route).max(64).optional(),
  sessions: z.array(NetworkSession).max(16).optional(),
  /** Kinds of surfaces and desks of one's own, beside those that ship; they travel with the show. */
  profiles: z
    .strictObject({ surfaces: z.array(SurfaceProfile).max(64), desks: z.array(DeskProfile).max(64) })
    .optional(),
});
export type Show = z.infer<typeof Show>;

export function emptyShow(name: string): Show {
  return {
    format: SHOW_FORMAT,
    version: NEWEST[SHOW_FORMAT],
    name,
    settings: { middleC: "C3" },
    surfaces: [],
    desks: [],
    layers: [{ id: BASE_LAYER, name: "Base" }],
    mappings: [],
  };
}
