/** A message of one's own to a surface or a desk, as the house's "send a message" takes it. */
import { FREE_EXAMPLES, type FreeTarget, parseFreeMessage, TO_SURFACE, toDesk } from "../../core/desk/free-message.ts";
import type { CompiledShow } from "../../core/mapping/compile.ts";

/** What a message to this surface or desk is made of. */
function targetOf({ desks }: Pick<CompiledShow, "desks">, id: string): FreeTarget {
  const desk = desks.find((d) => d.id === id);
  return desk ? toDesk(desk.profile.wire) : TO_SURFACE;
}

/** One to begin with. */
export function firstMessage(compiled: Pick<CompiledShow, "desks">, id: string): string {
  return FREE_EXAMPLES[targetOf(compiled, id).kind];
}

/** The message for another target: as it is, where that takes it, else one to begin with. */
export function messageFor(compiled: Pick<CompiledShow, "desks">, id: string, message: string): string {
  return parseFreeMessage(message, targetOf(compiled, id)).ok ? message : firstMessage(compiled, id);
}
