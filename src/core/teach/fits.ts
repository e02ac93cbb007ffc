/** Which kinds of surfaces what was heard may come from: by whose controls the messages are. */
import type { Control, ControlMessage, SurfaceProfile } from "../format/surface-profile.ts";
import { isParameterController } from "../midi/controllers.ts";
import { hexBytes } from "../midi/hex.ts";
import type { HeardMessage } from "../surface/learn.ts";

export interface Fit {
  readonly profile: string;
  /** 0..1: how much of what was heard its controls send. */
  readonly share: number;
}

/** Kinds of which at least one control was heard, the best first; of those that fit alike, the one with fewer controls. */
export function fits(profiles: readonly SurfaceProfile[], heard: readonly HeardMessage[]): Fit[] {
  const size = new Map(profiles.map((p) => [p.id, p.controls.length]));
  return profiles
    .map((profile) => ({ profile: profile.id, share: shareOf(profile, heard) }))
    .filter((f) => f.share > 0)
    .sort((a, b) => b.share - a.share || size.get(a.profile)! - size.get(b.profile)!);
}

function shareOf(profile: SurfaceProfile, heard: readonly HeardMessage[]): number {
  // Each message once: a fader that was moved for long says no more than one that was nudged.
  const kinds = new Map(heard.map(({ bytes }) => [keyOf(bytes), bytes]));
  if (kinds.size === 0) return 0;
  const own = [...kinds.values()].filter((bytes) => profile.controls.some((c) => isOf(profile, c, bytes)));
  return own.length / kinds.size;
}

function keyOf(bytes: Uint8Array): string {
  const [status = 0, d1 = 0] = bytes;
  if (status >= 0xf0) return hexBytes(bytes.subarray(0, 6));
  const kind = (status & 0xf0) === 0x80 ? 0x90 : status & 0xf0;
  return `${kind | (status & 15)} ${kind === 0xe0 || kind === 0xd0 ? "" : d1}`;
}

function isOf({ banks }: SurfaceProfile, control: Control, bytes: Uint8Array): boolean {
  const shifts = control.banked && banks ? banks : [{ channels: 0, numbers: 0 }];
  const own: ControlMessage[] = [control.sends];
  if (control.touch) own.push(control.touch);
  if (control.pressure) own.push(control.pressure);
  return shifts.some(({ channels, numbers }) => own.some((sends) => sendsIt(sends, bytes, channels, numbers)));
}

function sendsIt(sends: ControlMessage, bytes: Uint8Array, channels: number, numbers: number): boolean {
  const [status = 0, d1 = 0] = bytes;
  const kind = (status & 0xf0) === 0x80 ? 0x90 : status & 0xf0;
  const channel = (status & 15) + 1;
  if ("channel" in sends && sends.channel + channels !== channel) return false;
  const number = "number" in sends && sends.number !== undefined ? sends.number + numbers : -1;
  switch (sends.kind) {
    case "note":
      return kind === 0x90 && d1 === number;
    case "controller":
    case "relative":
    case "clicks":
      return kind === 0xb0 && d1 === number;
    case "controller-14":
      return kind === 0xb0 && (d1 === number || d1 === number + 32);
    case "nrpn":
    case "rpn":
      return kind === 0xb0 && isParameterController(d1);
    case "bend":
      return kind === 0xe0;
    case "program":
      return kind === 0xc0 && (number < 0 || d1 === number);
    case "poly-pressure":
      return kind === 0xa0 && d1 === number;
    case "channel-pressure":
      return kind === 0xd0;
    case "any": {
      const of = { note: 0x90, controller: 0xb0, program: 0xc0 }[sends.of];
      return kind === of && within(channel, sends.channels) && within(d1, sends.numbers);
    }
    case "sysex":
      return status === 0xf0 && plain(hexBytes(bytes)).startsWith(plain(sends.prefix));
    case "transport":
      return status === { clock: 0xf8, start: 0xfa, continue: 0xfb, stop: 0xfc }[sends.message];
    default:
      return false;
  }
}

function within(n: number, [from, to]: readonly [number, number]): boolean {
  return from <= n && n <= to;
}

function plain(hex: string): string {
  return hex.replaceAll(" ", "").toUpperCase();
}
