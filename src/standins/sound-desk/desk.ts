/** The stand-in sound desk as a plain machine: commands in, changes out. No sockets, no clock. */
import { BUSES, CHANNELS, SCENE_LEVELS, SCENES } from "./scenario.ts";

export const CHANNEL_COUNT = 32;
export const BUS_COUNT = 12;
export const SCENE_COUNT = 20;
const LAYER_COUNT = 4;
/** Levels in dB; the lowest is silence. */
export const LEVEL = { from: -90, to: 10 } as const;

export interface Channel {
  level: number;
  mute: boolean;
  solo: boolean;
  /** -1 left to 1 right. */
  pan: number;
  gate: boolean;
  limiter: boolean;
  sends: number[];
}

export type Switch = "mute" | "solo" | "gate" | "limiter";
export type Command =
  | { kind: "level" | "pan"; channel: number; value: number }
  | { kind: Switch; channel: number; on: boolean }
  | { kind: "send"; channel: number; bus: number; value: number }
  | { kind: "bus"; bus: number; value: number }
  | { kind: "select"; channel: number }
  | { kind: "layer"; layer: number }
  | { kind: "scene"; scene: number };

export type Change =
  | { kind: "level" | "pan" | Switch | "name" | "colour"; channel: number }
  | { kind: "send"; channel: number; bus: number }
  | { kind: "bus" | "bus-name"; bus: number }
  | { kind: "selected" | "layer" | "scene" }
  | { kind: "scene-name"; scene: number };

export class SoundDesk {
  channels: Channel[] = [];
  buses: number[] = [];
  selected = 1;
  layer = 1;
  scene = 1;
  readonly names = CHANNELS;
  readonly busNames = BUSES;

  constructor() {
    this.reset();
  }

  reset(): void {
    this.channels = Array.from({ length: CHANNEL_COUNT }, () => ({
      level: LEVEL.from,
      mute: false,
      solo: false,
      pan: 0,
      gate: false,
      limiter: false,
      sends: new Array<number>(BUS_COUNT).fill(LEVEL.from),
    }));
    this.buses = new Array<number>(BUS_COUNT).fill(0);
    this.selected = 1;
    this.layer = 1;
    this.scene = 1;
  }

  sceneName(scene: number): string {
    return SCENES[scene - 1] ?? "";
  }

  /** Carries out a command; what is out of range is refused with null. */
  act(command: Command): Change[] | null {
    switch (command.kind) {
      case "select":
        if (!within(command.channel, CHANNEL_COUNT)) return null;
        this.selected = command.channel;
        return [{ kind: "selected" }];
      case "layer":
        if (!within(command.layer, LAYER_COUNT)) return null;
        this.layer = command.layer;
        return [{ kind: "layer" }];
      case "scene":
        return within(command.scene, SCENE_COUNT) ? this.#recall(command.scene) : null;
      case "bus":
        if (!within(command.bus, BUS_COUNT) || !isLevel(command.value)) return null;
        this.buses[command.bus - 1] = command.value;
        return [{ kind: "bus", bus: command.bus }];
      default:
        return this.#channel(command);
    }
  }

  #channel(command: Extract<Command, { channel: number }>): Change[] | null {
    const { channel } = command;
    const c = this.channels[channel - 1];
    if (!c) return null;
    switch (command.kind) {
      case "level":
        if (!isLevel(command.value)) return null;
        c.level = command.value;
        return [{ kind: "level", channel }];
      case "pan":
        if (!(command.value >= -1 && command.value <= 1)) return null;
        c.pan = command.value;
        return [{ kind: "pan", channel }];
      case "send":
        if (!within(command.bus, BUS_COUNT) || !isLevel(command.value)) return null;
        c.sends[command.bus - 1] = command.value;
        return [{ kind: "send", channel, bus: command.bus }];
      case "mute":
      case "solo":
      case "gate":
      case "limiter":
        c[command.kind] = command.on;
        return [{ kind: command.kind, channel }];
      default:
        return null;
    }
  }

  #recall(scene: number): Change[] {
    this.scene = scene;
    const changes: Change[] = [{ kind: "scene" }];
    for (const [channel, level] of Object.entries(SCENE_LEVELS[scene] ?? {})) {
      this.channels[Number(channel) - 1]!.level = level;
      changes.push({ kind: "level", channel: Number(channel) });
    }
    return changes;
  }

  /**
   * What the meter of a channel shows at a time, in dB. Everybody plays all the time, each in a rhythm of their own, so
   * that meters move as soon as a fader is up.
   */
  meter(channel: number, atMs: number): number {
    const c = this.channels[channel - 1]!;
    if (c.mute || c.level <= LEVEL.from) return LEVEL.from;
    const beat = Math.sin(atMs / (190 + channel * 37)) + Math.sin(atMs / (470 + channel * 53));
    return Math.max(LEVEL.from, Math.round((c.level - 14 + 6 * beat) * 10) / 10);
  }
}

function within(n: number, count: number): boolean {
  return Number.isInteger(n) && n >= 1 && n <= count;
}
function isLevel(value: number): boolean {
  return value >= LEVEL.from && value <= LEVEL.to;
}
