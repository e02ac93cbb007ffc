/** Who may come in from elsewhere, how, and who is in: what somebody with the role “edit” is told of it. */
import type { Role } from "../format/roles.ts";

/** A device that was let in. Times are wall-clock milliseconds. */
export interface LetIn {
  readonly id: string;
  readonly role: Role;
  readonly device: string;
  readonly address: string;
  readonly madeAtMs: number;
  readonly seenAtMs: number;
  /** It is the one that asks. */
  readonly isOwn: boolean;
}

export interface AccessState {
  /** Addresses by which others reach this computer; empty = only itself does. */
  readonly waysIn: readonly string[];
  /** What goes over the network is encrypted. */
  readonly isSecure: boolean;
  /** Roles that have a passcode. */
  readonly passcodes: readonly Role[];
  readonly sessions: readonly LetIn[];
}
