/** Which numbers a control's message carries: what an action can take from it (rule 10). */
import type { ControlMessage } from "../format/surface-profile.ts";
import type { MessagePart } from "../midi/message-parts.ts";

const VOICE = ["channel", "number", "value"] as const;

export const PARTS_OF: Record<ControlMessage["kind"], readonly MessagePart[]> = {
  note: VOICE,
  controller: VOICE,
  "controller-14": VOICE,
  nrpn: VOICE,
  rpn: VOICE,
  relative: VOICE,
  clicks: VOICE,
  "poly-pressure": VOICE,
  any: VOICE,
  bend: ["channel", "value"],
  "channel-pressure": ["channel", "value"],
  program: ["channel", "number", "bank"],
  sysex: ["value"],
  transport: [],
  "song-position": ["value"],
  "time-code": [],
  "show-control": ["cue", "cue-before", "cue-after", "list", "path", "device", "command", "number", "value"],
  "machine-control": ["device", "command", "number"],
};
