/**
 * A line as an MQTT message: its first word is the topic, the rest what is said there. A line that begins with
 * “retained” is kept by the broker for those who come later.
 */
import type { DeskProfile } from "../format/desk-profile.ts";

export interface TopicMessage {
  readonly topic: string;
  readonly payload: string;
  readonly retain: boolean;
}

const RETAINED = "retained ";
/** Longest topic, in characters: MQTT counts its bytes with sixteen bits. */
const LONGEST_TOPIC = 1024;

/** Null: the line has no topic that could be sent to (MQTT 5, section 4.7: without wildcards). */
export function topicMessageOf(line: string): TopicMessage | null {
  const retain = line.startsWith(RETAINED);
  const text = retain ? line.slice(RETAINED.length) : line;
  const space = text.indexOf(" ");
  const topic = space < 0 ? text : text.slice(0, space);
  if (topic === "" || topic.length > LONGEST_TOPIC || /[+#\0]/.test(topic)) return null;
  return { topic, payload: space < 0 ? "" : text.slice(space + 1), retain };
}

/** What was said at a topic, as a line. */
export function topicLine(topic: string, payload: string): string {
  return payload === "" ? topic : `${topic} ${payload.replace(/[\r\n]+/g, " ")}`;
}

/** The topics that a desk's words come from: those of all lines it may be heard by, a wildcard where a name stands. */
export function topicsOf({ states, heartbeat, replies }: DeskProfile): string[] {
  const heard = [...states.map((s) => s.heard), heartbeat?.heard];
  const lines = heard.flatMap((h) => (h && "line" in h ? [h.line] : []));
  if (replies) lines.push(replies.done, replies.refused);
  const filters = lines.map((line) =>
    line
      .split(" ")[0]!
      .split("/")
      .map((level) => (/[{}+#]/.test(level) ? "+" : level))
      .join("/"),
  );
  return [...new Set(filters)].sort();
}
