/** The bytes a real unit of this profile would send: an on-screen surface sends the very same. */

import type { Control } from "../format/surface-profile.ts";
import { controller14Bytes, parameterBytes, programBytes } from "../midi/compound.ts";
import { parseHexBytes } from "../midi/hex.ts";
import { encodeMachineControl } from "../midi/machine-control.ts";
import { encodeShort } from "../midi/message.ts";
import { encodeRelative } from "../midi/relative.ts";
import { COMMAND_DATA, CUE_NAMES, encodeShowControl } from "../midi/show-control.ts";
import { fullFrame, timeCodeAt } from "../midi/time-code.ts";

const NOTHING = new Uint8Array(0);
const MAX_7 = 127;
const MAX_14 = 16_383;
/** What a cue or a machine command is addressed to where the profile leaves it open. */
const ALL_DEVICES = 127;

/** A press with velocity 1..127, or a release. Empty for a control that has no such message. */
export function pressBytes(control: Control, pressed: boolean, velocity = MAX_7): Uint8Array {
  const { sends, behaviour } = control;
  if (behaviour === "one-shot" && !pressed) return NOTHING;
  switch (sends.kind) {
    case "note":
      return pressed
        ? encodeShort({ kind: "note-on", channel: sends.channel, note: sends.number, velocity })
        : encodeShort({ kind: "note-off", channel: sends.channel, note: sends.number, velocity: 64 });
    case "controller":
      return encodeShort({
        kind: "controller",
        channel: sends.channel,
        number: sends.number,
        value: pressed ? velocity : 0,
      });
    case "program":
      return programBytes(sends.channel, sends.number ?? 0);
    case "transport":
      return encodeShort({ kind: sends.message });
    case "show-control":
      return showBytes(sends);
    case "machine-control":
      return encodeMachineControl({ command: sends.command, device: sends.device ?? ALL_DEVICES });
    case "any":
      return sends.of === "note"
        ? encodeShort({
            kind: pressed ? "note-on" : "note-off",
            channel: sends.channels[0],
            note: sends.numbers[0],
            velocity,
          })
        : moveBytes(control, pressed ? 1 : 0);
    default:
      return moveBytes(control, pressed ? 1 : 0);
  }
}

/** A finger that comes to rest on a control, or leaves it. Empty where the control does not feel it. */
export function touchBytes({ touch }: Control, on: boolean): Uint8Array {
  if (!touch) return NOTHING;
  const { channel, number } = touch;
  if (touch.kind === "controller") return encodeShort({ kind: "controller", channel, number, value: on ? MAX_7 : 0 });
  return on
    ? encodeShort({ kind: "note-on", channel, note: number, velocity: MAX_7 })
    : encodeShort({ kind: "note-off", channel, note: number, velocity: 0 });
}

/** A position 0..1, in the resolution the control has. */
export function moveBytes(control: Control, position01: number): Uint8Array {
  const { sends } = control;
  const position = Math.min(1, Math.max(0, position01));
  const value7 = Math.round(position * MAX_7);
  const value14 = Math.round(position * MAX_14);
  switch (sends.kind) {
    case "note":
      return pressBytes(control, position > 0, Math.max(1, value7));
    case "controller":
      return encodeShort({ kind: "controller", channel: sends.channel, number: sends.number, value: value7 });
    case "bend":
      return encodeShort({ kind: "bend", channel: sends.channel, value14 });
    case "controller-14":
      return controller14Bytes(sends.channel, sends.number, value14);
    case "nrpn":
    case "rpn":
      return parameterBytes(sends.kind === "rpn", sends.channel, sends.number, value14);
    case "poly-pressure":
      return encodeShort({ kind: "poly-pressure", channel: sends.channel, note: sends.number, value: value7 });
    case "channel-pressure":
      return encodeShort({ kind: "channel-pressure", channel: sends.channel, value: value7 });
    case "program":
      return programBytes(sends.channel, sends.number ?? value7);
    case "song-position":
      return encodeShort({ kind: "song-position", beats: value14 });
    case "sysex":
      return sysexBytes(sends, value7, value14);
    case "time-code":
      return fullFrame(timeCodeAt("25", Math.floor(position * 24 * 3600 * 25)));
    case "any":
      return sends.of === "program"
        ? programBytes(sends.channels[0], sends.numbers[0])
        : encodeShort({ kind: "controller", channel: sends.channels[0], number: sends.numbers[0], value: value7 });
    case "relative":
    case "clicks":
    case "transport":
    case "show-control":
    case "machine-control":
      return NOTHING; // these stand nowhere
    default:
      return sends satisfies never;
  }
}

/** Steps of an endless control: to the right, or negative to the left. Empty for a control that is none. */
export function turnBytes(control: Control, steps: number): Uint8Array {
  const { sends } = control;
  if (sends.kind === "relative")
    return encodeShort({
      kind: "controller",
      channel: sends.channel,
      number: sends.number,
      value: encodeRelative(sends.encoding, steps),
    });
  if (sends.kind !== "clicks" || steps === 0) return NOTHING;
  const value = steps > 0 ? sends.right : sends.left;
  const click = encodeShort({ kind: "controller", channel: sends.channel, number: sends.number, value });
  return Uint8Array.from({ length: Math.abs(steps) * click.length }, (_, i) => click[i % click.length]!);
}

function sysexBytes(sends: Extract<Control["sends"], { kind: "sysex" }>, value7: number, value14: number): Uint8Array {
  const prefix = parseHexBytes(sends.prefix) ?? NOTHING;
  if (sends.valueAt === undefined) return Uint8Array.of(...prefix, 0xf7);
  const gap = new Array<number>(sends.valueAt).fill(0);
  const value = sends.bits === 14 ? [value14 >> 7, value14 & 127] : [value7];
  return Uint8Array.of(...prefix, ...gap, ...value, 0xf7);
}

/** A command as its desk would say it. Where the profile leaves a name open that the command has to carry, it is 0. */
function showBytes(sends: Extract<Control["sends"], { kind: "show-control" }>): Uint8Array {
  const { command, device = ALL_DEVICES, format = "all" } = sends;
  const takes = COMMAND_DATA[command];
  const names = CUE_NAMES.filter((f) => takes[f]);
  const last = names.findLastIndex((f) => sends[f] !== undefined || takes[f] === "must");
  const said = Object.fromEntries(names.slice(0, last + 1).map((f) => [f, sends[f] ?? "0"]));
  return encodeShowControl({ device, format, command, ...said });
}
