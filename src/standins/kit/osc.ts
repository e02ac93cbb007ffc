/** What stand-ins that speak OSC read and write in the same way. */
import { decodeOsc } from "../../core/osc/decode.ts";
import { encodeOsc } from "../../core/osc/encode.ts";
import { IMMEDIATELY, type OscArgument, type OscMessage, type OscPacket } from "../../core/osc/types.ts";

/** Messages in one bundle: about 1,400 bytes, which fits one Ethernet frame. */
const MESSAGES_A_BUNDLE = 24;

/** The messages of a datagram, or null where it is not OSC. */
export function readMessages(bytes: Uint8Array): OscMessage[] | null {
  const result = decodeOsc(bytes);
  return result.ok ? messagesOf(result.packet) : null;
}

function messagesOf(packet: OscPacket): OscMessage[] {
  return packet.kind === "message" ? [packet] : packet.elements.flatMap(messagesOf);
}

/** A number, also where it is said as a truth; null for everything else. */
export function numberOf(argument: OscArgument | undefined): number | null {
  if (argument?.type === "i" || argument?.type === "f") return argument.value;
  if (argument?.type === "T") return 1;
  if (argument?.type === "F") return 0;
  return null;
}

/** Messages as datagrams of bundles. */
export function inBundles(messages: readonly OscMessage[]): Uint8Array[] {
  const datagrams: Uint8Array[] = [];
  for (let i = 0; i < messages.length; i += MESSAGES_A_BUNDLE)
    datagrams.push(
      encodeOsc({ kind: "bundle", timeTag: IMMEDIATELY, elements: messages.slice(i, i + MESSAGES_A_BUNDLE) }),
    );
  return datagrams;
}
