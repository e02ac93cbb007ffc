/** The messages of a desk's function for given numbers, for what no prepared message stands ready for. */
import type { CompiledFunction } from "./compile-desk.ts";
import { encodeMessage } from "./message-template.ts";
import { saysFor } from "./wire-numbers.ts";

/**
 * `numbers` in the order of the function's parameters; `clockS` is the time of day in seconds, `text` what a function that
 * takes one says.
 */
export function functionBytes(
  fn: CompiledFunction,
  numbers: readonly number[],
  value: number,
  clockS: number,
  text = "",
): Uint8Array[] {
  const says = saysFor(fn.parameters, numbers, value, clockS, text);
  const { send, off, acts } = fn.fn;
  const messages = value <= 0 && off && off.length > 0 && acts !== "level" ? off : send;
  return messages.map((message) => encodeMessage(message, says));
}
