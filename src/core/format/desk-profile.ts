/**
 * A desk profile: a *kind* of desk. Its parameters, the state it keeps, the functions it offers, and how
 * each is said and heard on the wire. Addresses are templates with `{name}` (RFC 6570, level 1).
 */
import { z } from "zod";
import { SHOW_FORMATS, type ShowFormat } from "../midi/show-control.ts";
import { TIME_CODE_RATES } from "../midi/time-code.ts";
import { Id, Name, OscAddress } from "./ids.ts";
import { rule } from "./rules.ts";
import { CarrierName, WireName } from "./table-names.ts";
import { DESK_PROFILE_FORMAT, NEWEST } from "./versions.ts";

/** A thing that is counted at the desk, such as a page or a playback. Both ends of the range are included. */
export const Parameter = z
  .strictObject({
    id: Id,
    name: Name,
    from: z.int(),
    to: z.int(),
    /** Where counting starts on the wire: the number that is said for `from`. Left out, `from` itself. */
    wireFrom: z.int().min(-65_536).max(65_536).optional(),
    /** In texts it is written with at least this many digits. */
    digits: z.int().min(1).max(6).optional(),
    /** The state that holds the names, where the desk reports them. */
    names: Id.optional(),
  })
  .refine((p) => p.from <= p.to, rule("range-not-falling", "to"))
  .refine((p) => p.to - p.from < 4096, rule("range-of-4096", "to"));
export type Parameter = z.infer<typeof Parameter>;

export const Unit = z.enum(["%", "dB", "ms", "s", "bpm", "none"]);
export type Unit = z.infer<typeof Unit>;

/**
 * The range of a number on the wire, both ends included, and the unit people read it in. `law` says how a fader of the
 * desk spreads it over its way: points of travel 0..1 and value between the ends, both rising; left out, evenly.
 */
export const Range = z
  .strictObject({
    from: z.number(),
    to: z.number(),
    unit: Unit,
    law: z
      .array(z.tuple([z.number().gt(0).lt(1), z.number()]))
      .min(1)
      .max(32)
      .optional(),
  })
  .refine((r) => r.from < r.to, rule("range-rising", "to"))
  .refine((r) => !r.law || rises([[0, r.from], ...r.law, [1, r.to]]), rule("law-rising", "law"));
export type Range = z.infer<typeof Range>;

function rises(points: readonly (readonly [number, number])[]): boolean {
  return points.every(([travel, value], i) => i === 0 || (travel > points[i - 1]![0] && value > points[i - 1]![1]));
}

export const StateValue = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("number"), range: Range }),
  /** Counted as a parameter is: `wireFrom` is what is said for `from`. */
  z.strictObject({
    kind: z.literal("whole"),
    from: z.int(),
    to: z.int(),
    wireFrom: z.int().min(-65_536).max(65_536).optional(),
  }),
  z.strictObject({ kind: z.literal("switch") }),
  z.strictObject({ kind: z.literal("text") }),
  z.strictObject({ kind: z.literal("colour") }),
]);
export type StateValue = z.infer<typeof StateValue>;

const Scale = z
  .strictObject({ from: z.number(), to: z.number() })
  .refine((r) => r.from !== r.to, rule("two-numbers", "to"))
  .optional();

/** A text with `{name}` in it, on one line. */
const LineText = z
  .string()
  .min(1)
  .max(400)
  .refine((t) => !/[\r\n]/.test(t), rule("one-line"));

/** A text that an action says, with `{name}`, `{value}` and `{page}` in it. */
export const ActionText = z
  .string()
  .max(200)
  .refine((t) => !/[\r\n]/.test(t), rule("one-line"))
  .refine((t) => !t.includes("\0"), rule("text-without-null"));

/** A line of text. */
const LineTemplate = z.strictObject({ line: LineText });
export type LineTemplate = z.infer<typeof LineTemplate>;

/**
 * How a value comes back. `scale` gives the numbers on the wire for both ends of a state's range, where they are not
 * the range itself.
 */
const HeardOsc = z.strictObject({
  address: OscAddress.max(200),
  argument: z.int().min(0).max(15),
  scale: Scale,
});
/** A line with the state's parameters and `{value}` in it; `{any}` is a word that does not matter. */
export const HeardLine = z.strictObject({ line: LineText, scale: Scale });
export type HeardLine = z.infer<typeof HeardLine>;

/** A number, or a template that is one whole `{name}`. */
const Slot = z.union([
  z.int(),
  z
    .string()
    .max(64)
    .regex(/^\{[a-z0-9][a-z0-9.-]*\}$/, rule("slot")),
]);

export const HEARD_MIDI = [
  "note",
  "controller",
  "program",
  "bend",
  "poly-pressure",
  "channel-pressure",
  "sysex",
] as const;

/**
 * A MIDI message with parameters and `{value}` in the place of its numbers. SysEx is hexadecimal pairs in which `{name}`
 * stands for one byte, `{name:14}` for two, and, at the end, `{name:text}` for all that is left, as ASCII.
 */
export const HeardMidi = z.strictObject({
  midi: z.enum(HEARD_MIDI),
  channel: Slot.optional(),
  number: Slot.optional(),
  value: Slot.optional(),
  bytes: z.string().max(600).optional(),
  scale: Scale,
});
export type HeardMidi = z.infer<typeof HeardMidi>;

/** Something the desk keeps and, where `heard` is given, reports: one value for each set of parameters. */
export const DeskState = z.strictObject({
  id: Id,
  name: Name,
  parameters: z.array(Id).max(3),
  value: StateValue,
  heard: z.union([HeardOsc, HeardLine, HeardMidi]).optional(),
  /** It changes all the time, as a meter does: no news to a person. */
  stream: z.boolean().optional(),
  /** How the desk is asked for this state alone, with the names of its parameters; left out, it is asked for everything. */
  ask: z
    .array(z.lazy((): z.ZodType<MessageTemplate> => MessageTemplate))
    .min(1)
    .max(4)
    .optional(),
  /** The smallest step that the desk keeps of a number: it rounds what it is told to such steps. */
  step: z.number().positive().optional(),
  /** The desk moves towards what it is told by and by, and says so on the way. */
  glides: z.boolean().optional(),
});
export type DeskState = z.infer<typeof DeskState>;

/** An argument: its OSC type, and a constant or a template that is one whole `{name}`. "bool" becomes T or F. */
const MessageArgument = z.strictObject({
  type: z.enum(["i", "f", "s", "bool"]),
  value: z.union([
    z.number(),
    z
      .string()
      .max(200)
      .refine((t) => !t.includes("\0"), rule("text-without-null")),
  ]),
});
export type MessageArgument = z.infer<typeof MessageArgument>;

export const OscTemplate = z.strictObject({
  address: OscAddress.max(200),
  arguments: z.array(MessageArgument).max(16),
});
export type OscTemplate = z.infer<typeof OscTemplate>;

export const MIDI_TEMPLATES = [
  "note-on",
  "note-off",
  "controller",
  "controller-14",
  "nrpn",
  "rpn",
  "program",
  "bend",
  "poly-pressure",
  "channel-pressure",
  "sysex",
  "show-control",
  "machine-control",
  "full-frame",
  "quarter-frames",
  "song-position",
  "song-select",
  "start",
  "continue",
  "stop",
  "clock",
  "tune-request",
  "reset",
] as const;

/** A cue number: digits and points, with `{name}` in them. */
const CueSlot = z.union([
  z.int().min(0),
  z
    .string()
    .max(64)
    .regex(/^([0-9.]|\{[a-z0-9][a-z0-9.-]*\})+$/, rule("cue-slot")),
]);

/**
 * A MIDI message. Which fields it needs follows from its kind; channels count 1..16. SysEx is hexadecimal pairs in
 * which `{name}` stands for one byte and `{name:14}` for two, the upper first.
 */
export const MidiTemplate = z.strictObject({
  midi: z.enum(MIDI_TEMPLATES),
  channel: Slot.optional(),
  number: Slot.optional(),
  value: Slot.optional(),
  bank: Slot.optional(),
  bytes: z.string().max(600).optional(),
  device: Slot.optional(),
  format: z.enum(Object.keys(SHOW_FORMATS) as [ShowFormat, ...ShowFormat[]]).optional(),
  command: z.string().max(40).optional(),
  cue: CueSlot.optional(),
  list: CueSlot.optional(),
  path: CueSlot.optional(),
  /** Of a machine's "locate": the stored point it goes to, in the place of a time. */
  point: Slot.optional(),
  /** A time, where the message has one. Time code may have its `value` in seconds since midnight instead, or `{clock}`. */
  rate: z.enum(TIME_CODE_RATES).optional(),
  hours: Slot.optional(),
  minutes: Slot.optional(),
  seconds: Slot.optional(),
  frames: Slot.optional(),
  /** Of a parameter number: none is named any more at the end. */
  close: z.boolean().optional(),
});
export type MidiTemplate = z.infer<typeof MidiTemplate>;

export const MessageTemplate = z.union([OscTemplate, MidiTemplate, LineTemplate]);
export type MessageTemplate = z.infer<typeof MessageTemplate>;

/**
 * How a function acts: `level` follows a value; `trigger` acts on press; `toggle` turns the desk's own state
 * over on press; `flash` is on while held.
 */
export const Acts = z.enum(["level", "trigger", "toggle", "flash"]);
export type Acts = z.infer<typeof Acts>;

export const DeskFunction = z.strictObject({
  id: Id,
  name: Name,
  /** Other words people search by. */
  words: z.array(z.string().max(40)).max(20),
  parameters: z.array(Id).max(3),
  acts: Acts,
  /** The range of `{value}`; a switch has none and sends 1 and 0. */
  range: Range.optional(),
  /** The state it changes, which is also what a control mapped to it shows. */
  state: Id.optional(),
  colour: Id.optional(),
  label: Id.optional(),
  /** The parameter its state tells the number of: it is on while that is the one it was mapped with. */
  chosen: Id.optional(),
  /** It says a text in the place of `{text}`, on one line: this one where an action has none of its own. */
  text: ActionText.optional(),
  /** Of the house: what the action's target has to be. */
  target: z.enum(["desk", "mapping", "port"]).optional(),
  send: z.array(MessageTemplate).max(8),
  /** What is sent on release or when turned off; left out, it is `send` with value 0. */
  off: z.array(MessageTemplate).min(1).max(8).optional(),
  /** It must not be sent a second time, also where nothing tells that it arrived. Without this, levels and switches are. */
  again: z.literal("never").optional(),
});
export type DeskFunction = z.infer<typeof DeskFunction>;

/** Header fields that go with every request (RFC 9110, section 5), and the longest wait for an answer. */
const HttpWire = z.strictObject({
  headers: z
    .record(
      z.string().regex(/^[A-Za-z0-9-]{1,64}$/, rule("header-name")),
      z
        .string()
        .max(400)
        .regex(/^[ -~]*$/, rule("header-value")),
    )
    .optional(),
  timeoutMs: z.int().min(100).max(30_000).optional(),
});

/** Left out, MQTT 3.1.1. `will`: a line that the broker says for us when we are gone. */
const MqttWire = z.strictObject({ version: z.enum(["3.1.1", "5"]).optional(), will: LineText.optional() });

export const DeskProfile = z.strictObject({
  format: z.literal(DESK_PROFILE_FORMAT),
  version: z.literal(NEWEST[DESK_PROFILE_FORMAT]),
  id: Id,
  name: Name,
  kind: z.enum(["lighting", "vision", "sound", "instrument", "midi", "house"]),
  about: z.string().max(400),
  /** Where the desk listens unless it was changed there, and what to check at the desk when it is silent. */
  wire: z.strictObject({
    kind: WireName,
    port: z.int().min(1).max(65_535),
    /**
     * What ends a line; left out, a line feed. A carriage return before it never belongs to what is heard. None: what
     * comes in one piece is one message.
     */
    lineEnd: z.enum(["lf", "crlf", "cr", "none"]).optional(),
    /** Lines have bytes that are no letters: they stand as hexadecimal after a backslash, “\02PWR1\03”. */
    lineBytes: z.boolean().optional(),
    /** What carries it by itself, where that is not the first that its kind has. */
    over: CarrierName.optional(),
    http: HttpWire.optional(),
    mqtt: MqttWire.optional(),
    checkAtDesk: z.array(z.string().max(200)).max(8),
  }),
  parameters: z.array(Parameter).max(64),
  states: z.array(DeskState).max(256),
  functions: z.array(DeskFunction).max(512),
  /** The page that is up: which state says so, which parameter it counts, and which function sets it. */
  page: z.strictObject({ state: Id, parameter: Id, set: Id.optional() }).optional(),
  /** What is selected: which state says so, and which parameter it counts. */
  selection: z.strictObject({ state: Id, parameter: Id }).optional(),
  subscribe: z
    .strictObject({ send: z.array(MessageTemplate).min(1).max(8), renewMs: z.int().min(200).max(600_000) })
    .optional(),
  query: z.array(MessageTemplate).max(16),
  heartbeat: z
    .strictObject({
      send: z.array(MessageTemplate).min(1).max(4),
      everyMs: z.int().min(100).max(60_000),
      silentAfterMs: z.int().min(200).max(120_000),
      /** The answer; what carries back the number that was sent as `{pulse}` tells one round trip from the next. */
      heard: z.union([HeardOsc, HeardLine, HeardMidi]),
    })
    .optional(),
  /** How a desk that answers each command says that it did it, or why not; answers come in the order of the commands. */
  replies: z.strictObject({ done: LineText, refused: LineText }).optional(),
});
export type DeskProfile = z.infer<typeof DeskProfile>;
