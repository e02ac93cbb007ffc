/** A surface profile as look-up tables: from the bytes a control sends to the control, and back to its light. */

import type { Surface } from "../format/show.ts";
import type { Control, Palette, SurfaceProfile } from "../format/surface-profile.ts";
import { parseHexBytes } from "../midi/hex.ts";
import { type CompiledDisplay, compileDisplay } from "./display.ts";

const CHANNELS = 16;
/** Channel and number in one index, 0..2047. */
const CHANNEL_NUMBERS = CHANNELS * 128;

/** Plain messages that are a control by themselves are read from these tables; everything else by the reader. */
export interface CompiledSurface {
  readonly id: string;
  readonly surface: Surface;
  /** Its controls, and after them those that mappings made for ranges of messages. */
  readonly profile: SurfaceProfile;
  /** Its profile as it was read. */
  readonly kind: SurfaceProfile;
  /** The number of this surface's first control among all controls of the show. */
  readonly firstControl: number;
  /** From (channel - 1) * 128 + number to the control's own index in this surface; -1 = none. */
  readonly noteTo: Int16Array;
  readonly controllerTo: Int16Array;
  /** From channel - 1. */
  readonly bendTo: Int16Array;
  /** Controls for whole ranges of messages, used where no control of its own is mapped. */
  readonly ranges: RangeTables | null;
  readonly special: SpecialControls;
  /** Per control: status byte and number of its light, and its palette; status 0 = no light. */
  readonly lightStatus: Uint8Array;
  readonly lightNumber: Uint8Array;
  readonly lightPalette: readonly (Palette | null)[];
  readonly displays: readonly CompiledDisplay[];
  /** Displays that speak of a control, by its index. */
  readonly displaysOf: ReadonlyMap<number, readonly number[]>;
  readonly init: readonly Uint8Array[];
  readonly teardown: readonly Uint8Array[];
  readonly indexOf: ReadonlyMap<string, number>;
  /** Per control: SPRINGS_BACK and so on. */
  readonly behaviour: Uint8Array;
}

export interface RangeTables {
  readonly note: Int16Array;
  readonly controller: Int16Array;
  readonly program: Int16Array;
}

/** What takes more than one look-up: by kind, the controls with their messages. */
export interface SpecialControls {
  /** By (channel - 1) * 128 + controller number. */
  readonly controllers: ReadonlyMap<number, ControllerRole>;
  /** Touch notes and touch controllers, and pressure, by status nibble and slot; see `specialKey`. */
  readonly touch: ReadonlyMap<number, number>;
  readonly pressure: ReadonlyMap<number, number>;
  /** Parameter numbers by channel: `registered` ? 16384 + number : number. */
  readonly parameters: readonly (ReadonlyMap<number, number> | null)[];
  /** By (channel - 1) * 128 + program, and by channel - 1 for selectors. */
  readonly programs: ReadonlyMap<number, number>;
  readonly selectors: ReadonlyMap<number, number>;
  readonly sysex: readonly SysexRole[];
  /** Status bytes F8..FC and F2 to controls. */
  readonly system: ReadonlyMap<number, number>;
  readonly timeCode: number;
  /** Controls that cues and machine commands fire. */
  readonly standards: readonly number[];
}

/** `valueAt`: where its value stands behind the prefix; -1 = it has none. */
interface SysexRole {
  readonly control: number;
  readonly prefix: Uint8Array;
  readonly valueAt: number;
  readonly bits: 7 | 14;
}

export type ControllerRole =
  | { kind: "msb" | "lsb"; control: number; pair: number }
  | { kind: "relative"; control: number; encoding: "twos-complement" | "sign-bit" | "offset-64" }
  | { kind: "clicks"; control: number; right: number; left: number };

export const SPRINGS_BACK = 0;
export const LATCHES = 1;
export const ABSOLUTE = 2;
export const LATCHES_BOTH_ON = 3;
export const ONE_SHOT = 4;
const RELATIVE = 5;
const BEHAVIOURS: Record<Control["behaviour"], number> = {
  "springs-back": SPRINGS_BACK,
  latches: LATCHES,
  absolute: ABSOLUTE,
  "latches-both-on": LATCHES_BOTH_ON,
  "one-shot": ONE_SHOT,
  relative: RELATIVE,
};

/** In the place of a touch or pressure message: its kind, channel and number. */
export function specialKey(status: number, number: number): number {
  return (status << 7) | number;
}

const TRANSPORT = { clock: 0xf8, start: 0xfa, continue: 0xfb, stop: 0xfc } as const;
const SONG_POSITION = 0xf2;
/** In the table of parameter numbers of a channel, registered ones stand behind the others. */
export const REGISTERED = 16_384;

/** `profile` has the controls of its banks and of ranges too; `kind` is the profile they were made from. */
export function compileSurface(
  surface: Surface,
  profile: SurfaceProfile,
  firstControl: number,
  kind: SurfaceProfile = profile,
): CompiledSurface {
  const inputs = new InputTables();
  profile.controls.forEach((control, i) => {
    inputs.add(control, i);
  });
  const indexOf = new Map(profile.controls.map((c, i) => [c.id, i]));
  const displays = (profile.displays ?? []).map((d) => compileDisplay(d, indexOf.get(d.of)!));
  return {
    id: surface.id,
    surface,
    profile,
    kind,
    firstControl,
    ...inputs.tables(),
    ...lightTables(profile),
    displays,
    displaysOf: byControl(displays),
    init: (profile.init ?? []).map((hex) => parseHexBytes(hex)!),
    teardown: (profile.teardown ?? []).map((hex) => parseHexBytes(hex)!),
    indexOf,
    behaviour: Uint8Array.from(profile.controls, (c) => BEHAVIOURS[c.behaviour]),
  };
}

type SendsOf<K extends Control["sends"]["kind"]> = Extract<Control["sends"], { kind: K }>;

/** Which control each message belongs to, one control after the other. */
class InputTables {
  readonly #noteTo = emptyTable(CHANNEL_NUMBERS);
  readonly #controllerTo = emptyTable(CHANNEL_NUMBERS);
  readonly #bendTo = emptyTable(CHANNELS);
  readonly #controllers = new Map<number, ControllerRole>();
  readonly #touch = new Map<number, number>();
  readonly #pressure = new Map<number, number>();
  readonly #parameters = new Array<Map<number, number> | null>(CHANNELS).fill(null);
  readonly #programs = new Map<number, number>();
  readonly #selectors = new Map<number, number>();
  readonly #system = new Map<number, number>();
  readonly #sysex: SysexRole[] = [];
  readonly #standards: number[] = [];
  #timeCode = -1;
  #pairs = 0;
  #ranges: RangeTables | null = null;

  add(control: Control, i: number): void {
    const { sends, touch, pressure } = control;
    (this.#adders[sends.kind] as (sends: Control["sends"], i: number) => void)(sends, i);
    if (touch) this.#touch.set(specialKey(statusOf(touch.kind, touch.channel), touch.number), i);
    if (pressure) this.#addPressure(pressure, i);
  }

  tables(): Pick<CompiledSurface, "noteTo" | "controllerTo" | "bendTo" | "ranges" | "special"> {
    return {
      noteTo: this.#noteTo,
      controllerTo: this.#controllerTo,
      bendTo: this.#bendTo,
      ranges: this.#ranges,
      special: {
        controllers: this.#controllers,
        touch: this.#touch,
        pressure: this.#pressure,
        parameters: this.#parameters,
        programs: this.#programs,
        selectors: this.#selectors,
        // A longer beginning says more: it is looked at first.
        sysex: this.#sysex.sort((a, b) => b.prefix.length - a.prefix.length),
        system: this.#system,
        timeCode: this.#timeCode,
        standards: this.#standards,
      },
    };
  }

  readonly #adders: { readonly [K in Control["sends"]["kind"]]: (sends: SendsOf<K>, i: number) => void } = {
    note: ({ channel, number }, i) => {
      this.#noteTo[slotOf(channel, number)] = i;
    },
    controller: ({ channel, number }, i) => {
      this.#controllerTo[slotOf(channel, number)] = i;
    },
    bend: ({ channel }, i) => {
      this.#bendTo[channel - 1] = i;
    },
    "controller-14": ({ channel, number }, control) => {
      const pair = this.#pairs++;
      this.#controllers.set(slotOf(channel, number), { kind: "msb", control, pair });
      // MIDI 1.0, "Control Change": the LSB of controller n is controller n + 32.
      this.#controllers.set(slotOf(channel, number + 32), { kind: "lsb", control, pair });
    },
    nrpn: ({ channel, number }, i) => this.#addParameter(channel, number, i),
    rpn: ({ channel, number }, i) => this.#addParameter(channel, REGISTERED + number, i),
    relative: ({ channel, number, encoding }, control) =>
      void this.#controllers.set(slotOf(channel, number), { kind: "relative", control, encoding }),
    clicks: ({ channel, number, right, left }, control) =>
      void this.#controllers.set(slotOf(channel, number), { kind: "clicks", control, right, left }),
    "poly-pressure": (sends, i) => this.#addPressure(sends, i),
    "channel-pressure": (sends, i) => this.#addPressure(sends, i),
    program: ({ channel, number }, i) => {
      if (number === undefined) this.#selectors.set(channel - 1, i);
      else this.#programs.set(slotOf(channel, number), i);
    },
    sysex: ({ prefix, valueAt = -1, bits = 7 }, control) =>
      void this.#sysex.push({ control, prefix: parseHexBytes(prefix) ?? new Uint8Array(0), valueAt, bits }),
    transport: ({ message }, i) => void this.#system.set(TRANSPORT[message], i),
    "song-position": (_, i) => void this.#system.set(SONG_POSITION, i),
    "time-code": (_, i) => {
      this.#timeCode = i;
    },
    "show-control": (_, i) => void this.#standards.push(i),
    "machine-control": (_, i) => void this.#standards.push(i),
    any: (sends, i) => this.#addRange(sends, i),
  };

  #addParameter(channel: number, key: number, i: number): void {
    const own = this.#parameters[channel - 1] ?? new Map<number, number>();
    own.set(key, i);
    this.#parameters[channel - 1] = own;
  }

  #addPressure(message: NonNullable<Control["pressure"]>, i: number): void {
    const channel = message.channel - 1;
    if (message.kind === "poly-pressure") this.#pressure.set(specialKey(0xa0 | channel, message.number), i);
    else this.#pressure.set(specialKey(0xd0 | channel, 0), i);
  }

  #addRange({ of, channels, numbers }: SendsOf<"any">, i: number): void {
    this.#ranges ??= {
      note: emptyTable(CHANNEL_NUMBERS),
      controller: emptyTable(CHANNEL_NUMBERS),
      program: emptyTable(CHANNEL_NUMBERS),
    };
    const table = this.#ranges[of];
    for (let channel = channels[0]; channel <= channels[1]; channel++)
      for (let number = numbers[0]; number <= numbers[1]; number++) {
        // The first of two ranges that overlap wins, as the first of two mappings does.
        if (table[slotOf(channel, number)] === -1) table[slotOf(channel, number)] = i;
      }
  }
}

function emptyTable(length: number): Int16Array {
  return new Int16Array(length).fill(-1);
}

function lightTables({ controls, palettes }: SurfaceProfile) {
  const all = new Map(palettes.map((p) => [p.id, p]));
  return {
    lightStatus: Uint8Array.from(controls, ({ light }) => (light ? statusOf(light.kind, light.channel) : 0)),
    lightNumber: Uint8Array.from(controls, ({ light }) => light?.number ?? 0),
    lightPalette: controls.map(({ light }) => (light ? (all.get(light.palette) ?? null) : null)),
  };
}

function byControl(displays: readonly CompiledDisplay[]): Map<number, number[]> {
  const all = new Map<number, number[]>();
  displays.forEach(({ control }, i) => {
    all.set(control, [...(all.get(control) ?? []), i]);
  });
  return all;
}

export function slotOf(channel: number, number: number): number {
  return (channel - 1) * 128 + number;
}

function statusOf(kind: "note" | "controller", channel: number): number {
  return (kind === "note" ? 0x90 : 0xb0) | (channel - 1);
}
