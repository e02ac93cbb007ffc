/** Messages of multicast DNS as bytes. What cannot be read is none. */
import { type Answer, AUTHORITATIVE_ANSWER, decode, encode, type Packet, type RecordType } from "dns-packet";
import { escapeLabel, type MdnsRecord, type Message, SERVICE } from "../../core/mdns/messages.ts";

/** The codec knows no points within labels: they travel as this, and are put right in the bytes. */
const POINT = "\u0001";
/** A datagram of multicast DNS is at most so long (RFC 6762, 17); and more records than this in one is no message. */
const LONGEST_BYTES = 9000;
const MOST_RECORDS = 512;

export function readMessage(bytes: Uint8Array): Message | null {
  if (bytes.length > LONGEST_BYTES) return null;
  try {
    const packet = decode(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
    const { questions = [], answers = [], authorities = [], additionals = [] } = packet;
    if (questions.length + answers.length + authorities.length + additionals.length > MOST_RECORDS) return null;
    return {
      isResponse: packet.type === "response",
      id: packet.id ?? 0,
      questions: questions.map((q) => ({ name: toName(q.name), type: q.type })),
      answers: answers.flatMap(toRecord),
      authorities: authorities.flatMap(toRecord),
      additionals: additionals.flatMap(toRecord),
    };
  } catch {
    return null;
  }
}

export function writeMessage(message: Message): Uint8Array {
  const packet: Packet = {
    type: message.isResponse ? "response" : "query",
    id: message.id ?? 0,
    flags: message.isResponse ? AUTHORITATIVE_ANSWER : 0,
    questions: message.questions.map((q) => ({ name: fromName(q.name), type: q.type as RecordType, class: "IN" })),
    answers: message.answers.map(fromRecord),
    authorities: message.authorities.map(fromRecord),
    additionals: message.additionals.map(fromRecord),
  };
  const bytes = encode(packet);
  putPoints(bytes, message);
  return bytes;
}

/** An instance may have points in its first label; every other name is labels of letters and digits. */
function toName(text: string): string {
  const suffix = `.${SERVICE}`;
  if (!text.toLowerCase().endsWith(suffix)) return text;
  const label = text.slice(0, -suffix.length);
  return label === "" ? text : `${escapeLabel(label)}${text.slice(-suffix.length)}`;
}

/** A backslash stands before what it escapes, itself among that: “\\.” is a backslash at the end of a label (RFC 1035, 5.1). */
function fromName(name: string): string {
  return name.replaceAll(/\\(.)/gsu, (_, escaped: string) => (escaped === "." ? POINT : escaped));
}

function toRecord(answer: Answer): MdnsRecord[] {
  if (!("name" in answer) || answer.type === "OPT") return [];
  const { name, ttl = 0, flush = false } = answer as { name: string; ttl?: number; flush?: boolean };
  const head = { name: toName(name), ttl, isUnique: flush };
  switch (answer.type) {
    case "PTR":
      return [{ ...head, type: "PTR", data: toName(answer.data) }];
    case "SRV":
      return [{ ...head, type: "SRV", data: { port: answer.data.port, target: answer.data.target } }];
    case "A":
      return [{ ...head, type: "A", data: answer.data }];
    case "TXT": {
      const texts = [answer.data]
        .flat()
        .map(String)
        .filter((t) => t !== "");
      return [{ ...head, type: "TXT", data: texts }];
    }
    default:
      return [{ ...head, type: "other", data: answer.type }];
  }
}

function fromRecord(record: MdnsRecord): Answer {
  const head = { name: fromName(record.name), ttl: record.ttl, class: "IN" as const, flush: record.isUnique };
  switch (record.type) {
    case "PTR":
      return { ...head, type: "PTR", data: fromName(record.data) };
    case "SRV":
      return { ...head, type: "SRV", data: { priority: 0, weight: 0, ...record.data } };
    case "A":
      return { ...head, type: "A", data: record.data };
    case "TXT":
      return { ...head, type: "TXT", data: record.data.length > 0 ? [...record.data] : [""] };
    case "NSEC":
      return {
        ...head,
        type: "NSEC",
        data: { nextDomain: fromName(record.name), rrtypes: [...record.data.types] },
      } as unknown as Answer;
    default:
      throw new TypeError(`a record of the kind “${record.data}” is not written`);
  }
}

/** In every place where a label with a point in it stands, the point. */
function putPoints(bytes: Buffer, message: Message): void {
  const records = [...message.answers, ...message.authorities, ...message.additionals];
  const names = [...message.questions, ...records].map((r) => r.name);
  for (const r of records) if (r.type === "PTR") names.push(r.data);
  for (const name of new Set(names)) {
    if (!name.endsWith(`.${SERVICE}`)) continue;
    const label = Buffer.from(fromName(name.slice(0, -SERVICE.length - 1)));
    if (!label.includes(POINT)) continue;
    // With the lengths of both labels: a single letter may stand anywhere.
    const next = Buffer.from(SERVICE.split(".")[0]!);
    const encoded = Buffer.concat([Buffer.of(label.length), label, Buffer.of(next.length), next]);
    for (let at = bytes.indexOf(encoded); at >= 0; at = bytes.indexOf(encoded, at + 1))
      for (let i = 0; i < label.length; i++) if (label[i] === 1) bytes[at + 1 + i] = 0x2e;
  }
}
