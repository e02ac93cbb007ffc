/** Open Sound Control 1.0: packets as data. */

/** OSC 1.0, "OSC Messages": the type tags, with the optional ones that are in wide use. */
export type OscArgument =
  | { type: "i"; value: number }
  | { type: "f"; value: number }
  | { type: "s"; value: string }
  | { type: "b"; value: Uint8Array }
  | { type: "h"; value: bigint }
  /** NTP format: seconds since 1900 in the upper, fractions in the lower 32 bits. */
  | { type: "t"; value: bigint }
  | { type: "d"; value: number }
  | { type: "S"; value: string }
  | { type: "c"; value: string }
  /** RGBA, "#rrggbbaa". */
  | { type: "r"; value: string }
  /** Port, status, data1, data2. */
  | { type: "m"; value: [number, number, number, number] }
  | { type: "T" }
  | { type: "F" }
  | { type: "N" }
  | { type: "I" }
  | { type: "["; value: OscArgument[] };

export interface OscMessage {
  kind: "message";
  address: string;
  args: OscArgument[];
}

export interface OscBundle {
  kind: "bundle";
  timeTag: bigint;
  elements: OscPacket[];
}

export type OscPacket = OscMessage | OscBundle;

/** The time tag that means "at once" (OSC 1.0, "Temporal Semantics and OSC Time Tags"). */
export const IMMEDIATELY = 1n;

/** Why a datagram was refused, and at which byte. */
export interface OscProblem {
  code:
    | "osc-empty"
    | "osc-too-large"
    | "osc-not-aligned"
    | "osc-bad-address"
    | "osc-bad-string"
    | "osc-bad-padding"
    | "osc-no-type-tags"
    | "osc-unknown-type"
    | "osc-truncated"
    | "osc-trailing-bytes"
    | "osc-bad-blob"
    | "osc-bad-bundle"
    | "osc-too-deep"
    | "osc-open-array";
  atByte: number;
}

export type OscResult = { ok: true; packet: OscPacket } | { ok: false; problem: OscProblem };
