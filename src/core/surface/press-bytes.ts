/** The bytes a real unit of this profile would send: an on-screen surface sends the very same. */
import type { Control } from "../show/surface-profile.ts";

/** A press with velocity 1..127, or a release. Only for controls that send notes or controllers. */
export function pressBytes(control: Control, pressed: boolean, velocity = 127): Uint8Array {
  const sends = control.sends;
  const channel = sends.channel - 1;
  switch (sends.kind) {
    case "note":
      return Uint8Array.of((pressed ? 0x90 : 0x80) | channel, sends.number, pressed ? velocity : 64);
    case "controller":
      return Uint8Array.of(0xb0 | channel, sends.number, pressed ? velocity : 0);
    case "bend":
      return moveBytes(control, pressed ? 1 : 0);
    default:
      return sends satisfies never;
  }
}

/** A position 0..1, in the resolution the control has. */
export function moveBytes(control: Control, position01: number): Uint8Array {
  const sends = control.sends;
  const channel = sends.channel - 1;
  const clamped = Math.min(1, Math.max(0, position01));
  switch (sends.kind) {
    case "note":
      return pressBytes(control, clamped > 0, Math.max(1, Math.round(clamped * 127)));
    case "controller":
      return Uint8Array.of(0xb0 | channel, sends.number, Math.round(clamped * 127));
    case "bend": {
      const value14 = Math.round(clamped * 16_383);
      return Uint8Array.of(0xe0 | channel, value14 & 127, value14 >> 7);
    }
    default:
      return sends satisfies never;
  }
}
