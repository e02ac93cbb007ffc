/** The messages of a desk's function for given numbers, made at once: for what is not bound to any control. */
import type { CompiledFunction } from "../desk/compile-desk.ts";
import { encodeMidiTemplate } from "../desk/midi-template.ts";
import { fillTemplate, parseTemplate, wholeName } from "../desk/template.ts";
import { encodeOsc } from "../osc/encode.ts";
import type { OscArgument } from "../osc/types.ts";
import type { OscTemplate } from "../show/desk-profile.ts";

/** `numbers` in the order of the function's parameters. */
export function functionBytes(fn: CompiledFunction, numbers: readonly number[], value: number): Uint8Array[] {
  const number = (name: string) => (name === "value" ? value : (numbers[fn.fn.parameters.indexOf(name)] ?? 0));
  return fn.fn.send.map((message) => {
    if ("midi" in message) {
      const { bytes, lowerAt, upperAt } = encodeMidiTemplate(message, number);
      if (lowerAt >= 0) bytes[lowerAt] = Math.round(value) & 127;
      if (upperAt >= 0) bytes[upperAt] = Math.round(value) >> 7;
      return bytes;
    }
    const parsed = parseTemplate(message.address);
    const address = parsed.ok ? fillTemplate(parsed.template, number) : message.address;
    return encodeOsc({ kind: "message", address, args: message.arguments.map((a) => argument(a, number)) });
  });
}

function argument(a: OscTemplate["arguments"][number], number: (name: string) => number): OscArgument {
  if (a.type === "s") return { type: "s", value: String(a.value) };
  const name = typeof a.value === "string" ? wholeName(a.value) : null;
  const value = typeof a.value === "number" ? a.value : number(name ?? "");
  return a.type === "bool" ? { type: value > 0 ? "T" : "F" } : { type: a.type, value };
}
