/**
 * Messages of multicast DNS as data (RFC 6762), as far as services are announced and found with them (RFC 6763). Names stand
 * in presentation form: labels with points between, and a point within a label as "\."; they are compared without regard to
 * upper and lower case.
 */

export interface Question {
  readonly name: string;
  readonly type: string;
}

export type RecordData =
  | { readonly type: "PTR"; readonly data: string }
  | { readonly type: "SRV"; readonly data: { readonly port: number; readonly target: string } }
  | { readonly type: "TXT"; readonly data: readonly string[] }
  | { readonly type: "A"; readonly data: string }
  /** What a name has records of, and of nothing else (section 6.1). */
  | { readonly type: "NSEC"; readonly data: { readonly types: readonly string[] } }
  | { readonly type: "other"; readonly data: string };

export type MdnsRecord = RecordData & {
  readonly name: string;
  /** In seconds; 0 = it is gone. */
  readonly ttl: number;
  /** Only one may have this name: what was known of it before is over (section 10.2). */
  readonly isUnique: boolean;
};

export interface Message {
  readonly isResponse: boolean;
  /** Echoed to those that ask as ordinary resolvers do (section 6.7). */
  readonly id?: number;
  readonly questions: readonly Question[];
  readonly answers: readonly MdnsRecord[];
  /** Of a probe: what the names are to be (section 8.2). */
  readonly authorities: readonly MdnsRecord[];
  readonly additionals: readonly MdnsRecord[];
}

/** The registered type of service of MIDI sessions. */
export const SERVICE = "_apple-midi._udp.local";
/** Under this name every type of service is found (RFC 6763, 9). */
export const ALL_SERVICES = "_services._dns-sd._udp.local";
const LONGEST_LABEL = 63;

/** The name of an instance of the service, of a label with any letters. */
export function instanceName(label: string): string {
  return `${escapeLabel(label)}.${SERVICE}`;
}

/** The label of an instance; null where the name is none of the service. */
export function instanceLabel(name: string): string | null {
  const suffix = `.${SERVICE}`;
  if (!sameName(name.slice(-suffix.length), suffix) || name.length <= suffix.length) return null;
  return unescapeLabel(name.slice(0, -suffix.length));
}

export function escapeLabel(label: string): string {
  return label.replaceAll("\\", "\\\\").replaceAll(".", "\\.");
}

export function unescapeLabel(label: string): string {
  return label.replaceAll(/\\(.)/g, "$1");
}

export function sameName(a: string, b: string): boolean {
  return a.toLowerCase() === b.toLowerCase();
}

/** A label with a number behind it, within the 63 bytes that a label may have (RFC 6763, 4.1.1 and appendix D). */
export function numbered(label: string, nth: number, how: "words" | "host"): string {
  const suffix = nth < 2 ? "" : how === "words" ? ` (${nth})` : `-${nth}`;
  // A name is one line, whatever was typed.
  return cut(label.replaceAll(/[\p{Cc}\u2028\u2029]/gu, " "), LONGEST_LABEL - suffix.length) + suffix;
}

/** At most so many bytes of UTF-8, and whole letters. */
function cut(text: string, most: number): string {
  let kept = "";
  for (const letter of text) {
    if (new TextEncoder().encode(kept + letter).length > most) break;
    kept += letter;
  }
  return kept;
}
