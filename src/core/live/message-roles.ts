/** What somebody may say over the live socket. Pages load this without the whole protocol. */
import type { Role } from "../format/roles.ts";
import type { ClientMessage } from "./protocol.ts";

/** What each message of a page needs: whatever reaches a desk is played or tried, and nobody plays who only looks. */
export const MESSAGE_ROLES: Readonly<Record<ClientMessage["kind"], Role>> = {
  "screen-midi": "run",
  "device-midi": "run",
  devices: "run",
  "watch-traffic": "look",
  shows: "look",
  "try-desk": "run",
  "send-once": "edit",
  teach: "edit",
  play: "run",
  "end-bypass": "run",
  redraw: "run",
  "release-all": "run",
  rearm: "run",
  "look-for-midi": "edit",
  look: "edit",
  "refuse-peer": "edit",
};

/** A socket is closed with this where the session it belongs to is over (RFC 6455, section 7.4.2: 4000 and above are ours). */
export const SESSION_ENDED = 4401;
