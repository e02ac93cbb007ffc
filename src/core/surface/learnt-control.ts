/** From what Learn found to a control of a profile: its name, its kind, and a free spot on the board. */
import type { Box, Control, ControlMessage, SurfaceProfile } from "../format/surface-profile.ts";
import type { LearnCandidate } from "./learn.ts";

const KINDS: Record<LearnCandidate["kind"], Control["kind"]> = {
  pad: "pad",
  button: "button",
  fader: "fader",
  encoder: "knob",
  program: "button",
  sysex: "button",
  transport: "button",
};
const NAMES: Record<Control["kind"], string> = {
  pad: "Pad",
  button: "Button",
  key: "Key",
  fader: "Fader",
  knob: "Knob",
};
/** Size of a new control, in units of a pad. */
const SIZES: Record<Control["kind"], readonly [width: number, height: number]> = {
  pad: [1, 1],
  button: [1, 1],
  key: [1, 3],
  fader: [1, 3],
  knob: [1, 1],
};

/** The control of the profile that sends this already, whatever it is taken for. */
export function sameControl(
  { controls }: Pick<SurfaceProfile, "controls">,
  sends: ControlMessage,
): Control | undefined {
  return controls.find((c) => sameMessage(c.sends, sends));
}

/** An encoder and a fader on one controller are the same to find; of SysEx, what begins the same. */
function sameMessage(a: ControlMessage, b: ControlMessage): boolean {
  if (a.kind === "sysex" && b.kind === "sysex") {
    const [x, y] = [plainHex(a.prefix), plainHex(b.prefix)];
    return x.startsWith(y) || y.startsWith(x);
  }
  return where(a) === where(b);
}

function plainHex(text: string): string {
  return text.replace(/\s+/g, "").toUpperCase();
}

function where(sends: ControlMessage): string {
  if (sends.kind === "any") return JSON.stringify(sends);
  const { channel, number } = sends as { channel?: number; number?: number };
  const kind = ["relative", "clicks", "controller-14"].includes(sends.kind) ? "controller" : sends.kind;
  return `${kind} ${channel ?? ""} ${number ?? ""}`;
}

/** A new control for what was found. */
export function learntControl(profile: SurfaceProfile, found: LearnCandidate): Control {
  const kind = KINDS[found.kind];
  const lit = found.sends.kind === "note" && profile.palettes[0] ? profile.palettes[0].id : null;
  return {
    ...nextName(kind, profile.controls),
    kind,
    behaviour: found.behaviour,
    box: freeBox(profile, SIZES[kind]),
    sends: found.sends,
    ...(lit && found.sends.kind === "note"
      ? { light: { kind: "note", channel: found.sends.channel, number: found.sends.number, palette: lit } }
      : {}),
  };
}

/** The next free number of its kind. */
export function nextName(kind: Control["kind"], controls: readonly Control[]): Pick<Control, "id" | "name"> {
  const taken = new Set(controls.map((c) => c.id));
  let n = controls.filter((c) => c.kind === kind).length + 1;
  while (taken.has(`${kind}-${n}`)) n++;
  return { id: `${kind}-${n}`, name: `${NAMES[kind]} ${n}` };
}

/** The first box, row by row, where nothing lies yet; below everything where the board is full. */
export function freeBox(profile: SurfaceProfile, [width, height]: readonly [number, number]): Box {
  const { size, controls } = profile;
  for (let y = 0; y + height <= size.height; y++)
    for (let x = 0; x + width <= size.width; x++) {
      const box = { x, y, width, height };
      if (!controls.some((c) => overlap(c.box, box))) return box;
    }
  const bottom = Math.max(0, ...controls.map((c) => c.box.y + c.box.height));
  return { x: 0, y: bottom, width, height };
}

/** True where two boxes share some room. */
export function overlap(a: Box, b: Box): boolean {
  return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

/** The profile with a board that holds all of its controls. */
export function grown(profile: SurfaceProfile): SurfaceProfile {
  const width = Math.max(profile.size.width, ...profile.controls.map((c) => c.box.x + c.box.width));
  const height = Math.max(profile.size.height, ...profile.controls.map((c) => c.box.y + c.box.height));
  return { ...profile, size: { width, height } };
}
