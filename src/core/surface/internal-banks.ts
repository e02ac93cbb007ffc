/**
 * Surfaces with a bank button of their own: the same pads send other channels or numbers in each bank. Every bank
 * makes controls of its own, so that a mapping means one of them and lights go out to the right one.
 */
import type { Control, InternalBank, SurfaceProfile } from "../format/surface-profile.ts";

/** The profile with one control for each banked control and bank. A profile without banks is returned as it is. */
export function expandBanks(profile: SurfaceProfile): SurfaceProfile {
  const banks = profile.banks ?? [];
  if (banks.length === 0) return profile;
  const [first, ...others] = banks as [InternalBank, ...InternalBank[]];
  const controls = profile.controls.map((c) => (c.banked ? { ...c, bank: first.id } : c));
  for (const bank of others)
    for (const control of profile.controls) if (control.banked) controls.push(inBank(control, bank));
  const { banks: _made, ...rest } = profile;
  return { ...rest, controls };
}

function inBank(control: Control, bank: InternalBank): Control {
  const shifted: Control = {
    ...control,
    id: `${control.id}.${bank.id}`,
    name: `${control.name} · ${bank.name}`,
    bank: bank.id,
    sends: shift(control.sends, bank),
  };
  if (control.light) shifted.light = shift(control.light, bank);
  if (control.motor) shifted.motor = shift(control.motor, bank);
  if (control.ring) shifted.ring = shift(control.ring, bank);
  if (control.touch) shifted.touch = shift(control.touch, bank);
  if (control.pressure) shifted.pressure = shift(control.pressure, bank);
  return shifted;
}

function shift<T extends { kind: string }>(message: T, { channels, numbers }: InternalBank): T {
  const moved = { ...message } as T & { channel?: number; number?: number };
  if (moved.channel !== undefined) moved.channel += channels;
  if (moved.number !== undefined) moved.number += numbers;
  return moved;
}
