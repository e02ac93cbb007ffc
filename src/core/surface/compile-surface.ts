/** A surface profile as look-up tables: from the bytes a control sends to the control, and back to its light. */

import { parseHexBytes } from "../midi/words.ts";
import type { Surface } from "../show/show.ts";
import type { Control, Palette, SurfaceProfile } from "../show/surface-profile.ts";
import { type CompiledDisplay, compileDisplay } from "./display.ts";

/** Channel and number in one index, 0..2047. */
export const CHANNEL_NUMBERS = 16 * 128;

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
  readonly sysex: readonly { control: number; prefix: Uint8Array; valueAt: number; bits: 7 | 14 }[];
  /** Status bytes F8..FC and F2 to controls. */
  readonly system: ReadonlyMap<number, number>;
  readonly timeCode: number;
  /** Controls that cues and machine commands fire. */
  readonly standards: readonly number[];
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
export const RELATIVE = 5;
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
  const noteTo = new Int16Array(CHANNEL_NUMBERS).fill(-1);
  const controllerTo = new Int16Array(CHANNEL_NUMBERS).fill(-1);
  const bendTo = new Int16Array(16).fill(-1);
  const count = profile.controls.length;
  const lightStatus = new Uint8Array(count);
  const lightNumber = new Uint8Array(count);
  const lightPalette: (Palette | null)[] = new Array<Palette | null>(count).fill(null);
  const palettes = new Map(profile.palettes.map((p) => [p.id, p]));
  const indexOf = new Map<string, number>();
  const controllers = new Map<number, ControllerRole>();
  const touch = new Map<number, number>();
  const pressure = new Map<number, number>();
  const parameters: (Map<number, number> | null)[] = new Array<Map<number, number> | null>(16).fill(null);
  const programs = new Map<number, number>();
  const selectors = new Map<number, number>();
  const system = new Map<number, number>();
  const sysex: { control: number; prefix: Uint8Array; valueAt: number; bits: 7 | 14 }[] = [];
  const standards: number[] = [];
  let timeCode = -1;
  let pairs = 0;
  let ranges: RangeTables | null = null;

  profile.controls.forEach((control, i) => {
    indexOf.set(control.id, i);
    place(control, i);
    if (control.touch)
      touch.set(specialKey(statusOf(control.touch.kind, control.touch.channel), control.touch.number), i);
    if (control.pressure) {
      const { pressure: p } = control;
      if (p.kind === "poly-pressure") pressure.set(specialKey(0xa0 | (p.channel - 1), p.number), i);
      else pressure.set(specialKey(0xd0 | (p.channel - 1), 0), i);
    }
    if (!control.light) return;
    lightStatus[i] = statusOf(control.light.kind, control.light.channel);
    lightNumber[i] = control.light.number;
    lightPalette[i] = palettes.get(control.light.palette) ?? null;
  });

  function place(control: Control, i: number): void {
    const { sends } = control;
    switch (sends.kind) {
      case "note":
        noteTo[slotOf(sends.channel, sends.number)] = i;
        return;
      case "controller":
        controllerTo[slotOf(sends.channel, sends.number)] = i;
        return;
      case "bend":
        bendTo[sends.channel - 1] = i;
        return;
      case "controller-14": {
        const pair = pairs++;
        controllers.set(slotOf(sends.channel, sends.number), { kind: "msb", control: i, pair });
        controllers.set(slotOf(sends.channel, sends.number + 32), { kind: "lsb", control: i, pair });
        return;
      }
      case "nrpn":
      case "rpn": {
        const own = parameters[sends.channel - 1] ?? new Map<number, number>();
        own.set(sends.kind === "rpn" ? REGISTERED + sends.number : sends.number, i);
        parameters[sends.channel - 1] = own;
        return;
      }
      case "relative":
        controllers.set(slotOf(sends.channel, sends.number), {
          kind: "relative",
          control: i,
          encoding: sends.encoding,
        });
        return;
      case "clicks":
        controllers.set(slotOf(sends.channel, sends.number), {
          kind: "clicks",
          control: i,
          right: sends.right,
          left: sends.left,
        });
        return;
      case "poly-pressure":
        pressure.set(specialKey(0xa0 | (sends.channel - 1), sends.number), i);
        return;
      case "channel-pressure":
        pressure.set(specialKey(0xd0 | (sends.channel - 1), 0), i);
        return;
      case "program":
        if (sends.number === undefined) selectors.set(sends.channel - 1, i);
        else programs.set(slotOf(sends.channel, sends.number), i);
        return;
      case "sysex":
        sysex.push({
          control: i,
          prefix: parseHexBytes(sends.prefix) ?? new Uint8Array(0),
          valueAt: sends.valueAt ?? -1,
          bits: sends.bits ?? 7,
        });
        return;
      case "transport":
        system.set(TRANSPORT[sends.message], i);
        return;
      case "song-position":
        system.set(SONG_POSITION, i);
        return;
      case "time-code":
        timeCode = i;
        return;
      case "show-control":
      case "machine-control":
        standards.push(i);
        return;
      case "any": {
        ranges ??= {
          note: new Int16Array(CHANNEL_NUMBERS).fill(-1),
          controller: new Int16Array(CHANNEL_NUMBERS).fill(-1),
          program: new Int16Array(CHANNEL_NUMBERS).fill(-1),
        };
        const table = ranges[sends.of];
        for (let channel = sends.channels[0]; channel <= sends.channels[1]; channel++)
          for (let number = sends.numbers[0]; number <= sends.numbers[1]; number++) {
            // The first of two ranges that overlap wins, as the first of two mappings does.
            if (table[slotOf(channel, number)] === -1) table[slotOf(channel, number)] = i;
          }
        return;
      }
      default:
        sends satisfies never;
    }
  }

  const displays = (profile.displays ?? []).map((d) => compileDisplay(d, indexOf.get(d.of)!));
  const displaysOf = new Map<number, number[]>();
  displays.forEach(({ control }, i) => {
    displaysOf.set(control, [...(displaysOf.get(control) ?? []), i]);
  });
  // A longer beginning says more: it is looked at first.
  sysex.sort((a, b) => b.prefix.length - a.prefix.length);
  return {
    id: surface.id,
    surface,
    profile,
    kind,
    firstControl,
    noteTo,
    controllerTo,
    bendTo,
    ranges,
    special: { controllers, touch, pressure, parameters, programs, selectors, sysex, system, timeCode, standards },
    lightStatus,
    lightNumber,
    lightPalette,
    displays,
    displaysOf,
    init: (profile.init ?? []).map((hex) => parseHexBytes(hex)!),
    teardown: (profile.teardown ?? []).map((hex) => parseHexBytes(hex)!),
    indexOf,
    behaviour: Uint8Array.from(profile.controls, (c) => BEHAVIOURS[c.behaviour]),
  };
}

export function slotOf(channel: number, number: number): number {
  return (channel - 1) * 128 + number;
}

function statusOf(kind: "note" | "controller", channel: number): number {
  return (kind === "note" ? 0x90 : 0xb0) | (channel - 1);
}
