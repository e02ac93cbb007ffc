/** OSC in words, for the list of traffic. */
import { decodeOsc } from "../core/osc/decode.ts";
import type { OscArgument, OscPacket, OscProblem } from "../core/osc/types.ts";

function describeArgument(arg: OscArgument): string {
  switch (arg.type) {
    case "f":
    case "d":
      return String(Math.round(arg.value * 10_000) / 10_000);
    case "i":
    case "h":
    case "t":
      return String(arg.value);
    case "s":
    case "S":
      return `“${arg.value}”`;
    case "b":
      return `${arg.value.length} bytes`;
    case "c":
    case "r":
      return arg.value;
    case "m":
      return arg.value.join(" ");
    case "[":
      return `[${arg.value.map(describeArgument).join(" ")}]`;
    case "T":
      return "true";
    case "F":
      return "false";
    case "N":
      return "nil";
    case "I":
      return "impulse";
    default:
      return arg satisfies never;
  }
}

function describePacket(packet: OscPacket): string {
  if (packet.kind === "message") return [packet.address, ...packet.args.map(describeArgument)].join(" ");
  const first = packet.elements[0];
  const rest = packet.elements.length - 1;
  if (!first) return "empty bundle";
  return rest > 0 ? `${describePacket(first)} and ${rest} more in a bundle` : describePacket(first);
}

/** One datagram as a short line. `wholeBytes` is its full length where `bytes` is only its beginning. */
export function describeOsc(bytes: Uint8Array, wholeBytes = bytes.length): string {
  if (wholeBytes > bytes.length) return `${firstString(bytes)}, ${wholeBytes} bytes`;
  const result = decodeOsc(bytes);
  return result.ok ? describePacket(result.packet) : `not OSC: ${oscProblemWords(result.problem)}`;
}

function firstString(bytes: Uint8Array): string {
  const end = bytes.indexOf(0);
  return new TextDecoder().decode(bytes.subarray(0, end < 0 ? bytes.length : end));
}

const PROBLEM_WORDS: Record<OscProblem["code"], string> = {
  "osc-empty": "the datagram is empty",
  "osc-too-large": "longer than one datagram can be",
  "osc-not-aligned": "its length is not a multiple of four",
  "osc-bad-address": "it starts neither with “/” nor with “#bundle”",
  "osc-bad-string": "a text has no end",
  "osc-bad-padding": "padding that is not zero",
  "osc-no-type-tags": "the type tags are missing",
  "osc-unknown-type": "an unknown type of argument",
  "osc-truncated": "an argument is cut short",
  "osc-trailing-bytes": "bytes are left over after the last argument",
  "osc-bad-blob": "a blob with a wrong size",
  "osc-bad-bundle": "a bundle with a wrong size",
  "osc-too-deep": "nested too deeply",
  "osc-open-array": "an array that is not closed",
};

export function oscProblemWords(problem: OscProblem): string {
  return `${PROBLEM_WORDS[problem.code]}, at byte ${problem.atByte}`;
}
