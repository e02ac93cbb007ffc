import type { Role } from "../../core/format/roles.ts";

/** Somebody who may do something. */
export interface Who {
  readonly role: Role;
  /** The session by which they came in; null = they sit at this computer. */
  readonly session: string | null;
}

export const AT_THIS_COMPUTER: Who = { role: "edit", session: null };
