/**
 * Who is heard and used by nobody: universes, senders that are no desk of the show, devices of the computer. Whatever comes
 * in, it is a short list, and told at most twice a second.
 */

import { SLOTS } from "../core/dmx/universe.ts";
import { MOST_STRANGER_BYTES, MOST_STRANGER_MESSAGES, type Stranger } from "../core/live/protocol.ts";
import { hexPairs } from "../core/midi/hex.ts";

const MOST = 16;
const TOLD_EVERY_MS = 500;
/** Universes repeat themselves; a sender may speak only now and then. */
const UNIVERSE_SILENT_MS = 12_000;
const SENDER_SILENT_MS = 60_000;
/** A device stays as long as it is plugged in. */
const NEVER_SILENT = Number.POSITIVE_INFINITY;

type Of<K extends Stranger["kind"]> = Extract<Stranger, { kind: K }>;
export type StrangeUniverse = Pick<Of<"universe">, "protocol" | "universe" | "reach" | "port" | "name">;
export type StrangeSender = Pick<Of<"sender">, "carrier" | "host" | "port" | "listenPort">;
export type StrangeDevice = Pick<Of<"computer-device">, "device" | "nth" | "hasOutput">;
export type NotHeard = Omit<Of<"closed">, "kind">;

interface Known {
  readonly silentMs: number;
  heardAtMs: number;
  in: number;
  /** By what tells a message from those of other controls, so that a fader does not fill the list. */
  readonly messages: Map<string, string>;
  /** Of a universe: its levels when it was heard first, and the slots that have moved since. */
  readonly levels: Uint8Array | null;
  readonly moved: Set<number>;
  readonly facts: () => Stranger;
}

export class Strangers {
  readonly #nowMs: () => number;
  readonly #known = new Map<string, Known>();
  readonly #closed = new Map<string, NotHeard>();
  #told: readonly Stranger[] = [];
  #toldAtMs = Number.NEGATIVE_INFINITY;
  #isNew = false;

  constructor(nowMs: () => number) {
    this.#nowMs = nowMs;
  }

  /** `slots`: its levels; null = it is only said that there is one. */
  universe(facts: StrangeUniverse, slots: Uint8Array | null): void {
    const key = `universe ${facts.protocol} ${facts.reach} ${facts.port} ${facts.universe}`;
    const known = this.#heard(key, UNIVERSE_SILENT_MS, slots, (k) => ({
      kind: "universe",
      ...facts,
      slots: [...k.moved].sort((a, b) => a - b),
      in: k.in,
    }));
    const { levels, moved } = known ?? {};
    if (!levels || !moved || !slots) return;
    for (let i = 0; i < slots.length; i++) if (slots[i] !== levels[i]) moved.add(i + 1);
  }

  /** `bytes`: a message; null = it only wants to. */
  sender(facts: StrangeSender, bytes: Uint8Array | null): void {
    const { carrier, host, port, listenPort } = facts;
    const key = `sender ${carrier} ${listenPort} ${host} ${port}`;
    const known = this.#heard(key, SENDER_SILENT_MS, null, (k) => ({
      kind: "sender",
      ...facts,
      heard: [...k.messages.values()],
      in: k.in,
    }));
    // Of OSC the address, of a line its first word.
    if (known && bytes)
      keep(
        known,
        String(
          bytes.subarray(
            0,
            Math.max(
              0,
              bytes.findIndex((b) => b <= 0x20),
            ),
          ),
        ),
        bytes,
      );
  }

  device(facts: StrangeDevice, bytes: Uint8Array, identity: () => string | undefined): void {
    const known = this.#heard(deviceKey(facts), NEVER_SILENT, null, (k) => {
      const id = identity();
      return {
        kind: "computer-device",
        ...facts,
        heard: [...k.messages.values()],
        ...(id === undefined ? {} : { identity: id }),
        in: k.in,
      };
    });
    if (known) keep(known, `${bytes[0]} ${bytes[1]}`, bytes);
  }

  /** Whoever is used now is a stranger no longer. */
  forget(isUsed: (stranger: Stranger) => boolean): void {
    for (const [key, known] of this.#known) if (isUsed(known.facts())) this.#isNew = this.#known.delete(key);
  }

  forgetDevice(facts: Pick<StrangeDevice, "device" | "nth">): void {
    if (this.#known.delete(deviceKey(facts))) this.#isNew = true;
  }

  /** Strangers cannot be heard there; null = they can. */
  closed(what: NotHeard["what"], port: number, trouble: NotHeard["trouble"] | null): void {
    const key = `${what} ${port}`;
    if (trouble) this.#closed.set(key, { what, port, trouble });
    else if (!this.#closed.delete(key)) return;
    this.#isNew = true;
  }

  /** The same list as long as nothing is new. */
  list(): readonly Stranger[] {
    const nowMs = this.#nowMs();
    if (nowMs - this.#toldAtMs < TOLD_EVERY_MS) return this.#told;
    for (const [key, { heardAtMs, silentMs }] of this.#known)
      if (nowMs - heardAtMs > silentMs) this.#isNew = this.#known.delete(key);
    if (!this.#isNew) return this.#told;
    this.#isNew = false;
    this.#toldAtMs = nowMs;
    this.#told = [
      ...[...this.#known.values()].map((k) => k.facts()),
      ...[...this.#closed.values()].map((c) => ({ kind: "closed" as const, ...c })),
    ];
    return this.#told;
  }

  /** Undefined: there are too many to tell. */
  #heard(
    key: string,
    silentMs: number,
    levels: Uint8Array | null,
    facts: (known: Known) => Stranger,
  ): Known | undefined {
    let known = this.#known.get(key);
    if (!known) {
      if (this.#known.size >= MOST) return undefined;
      const made: Known = {
        silentMs,
        heardAtMs: 0,
        in: 0,
        messages: new Map(),
        levels: levels && padded(levels),
        moved: new Set(),
        facts: () => facts(made),
      };
      this.#known.set(key, made);
      known = made;
    }
    known.heardAtMs = this.#nowMs();
    known.in++;
    this.#isNew = true;
    return known;
  }
}

function deviceKey({ device, nth }: Pick<StrangeDevice, "device" | "nth">): string {
  return `device ${nth} ${device}`;
}

function keep({ messages }: Known, key: string, bytes: Uint8Array): void {
  messages.delete(key);
  messages.set(key, hexPairs(bytes.subarray(0, MOST_STRANGER_BYTES)));
  if (messages.size > MOST_STRANGER_MESSAGES) messages.delete(messages.keys().next().value!);
}

/** A universe with all of its slots: what a source does not send is 0. */
function padded(levels: Uint8Array): Uint8Array {
  const all = new Uint8Array(SLOTS);
  all.set(levels.subarray(0, SLOTS));
  return all;
}
