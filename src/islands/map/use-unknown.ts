/** What desks of one's own kinds said lately that no state of theirs hears: it may become a function. */
import { useEffect, useMemo, useState } from "react";
import { exampleOf, type HeardExample, shapeKey } from "../../core/desk/listen.ts";
import { isKnown } from "../../core/desk/typed.ts";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import { parseHexBytes } from "../../core/midi/hex.ts";
import { useActions } from "../live/actions.ts";
import { EntryReader } from "../live/entry-reader.ts";

/** What was heard longer ago than this is no offer any more, in ms. */
const LATELY_MS = 30_000;
/** Examples of one shape that are kept, and shapes that are shown. */
const EXAMPLES = 16;
const SHOWN = 4;

export interface UnknownMessage {
  readonly key: string;
  readonly desk: string;
  readonly examples: readonly HeardExample[];
  readonly atMs: number;
}

/** By desk id the profiles whose desks are listened to; they are the show's own. */
export function useUnknown(desks: ReadonlyMap<string, DeskProfile>): readonly UnknownMessage[] {
  const { watchTraffic } = useActions();
  const [heard, setHeard] = useState<ReadonlyMap<string, UnknownMessage>>(new Map());
  const ids = [...desks.keys()].join(" ");
  const kinds = [...desks.values()].map((p) => p.wire.kind).join(" ");
  useEffect(() => {
    if (ids === "") return;
    const reader = new EntryReader();
    const wires = kinds.split(" ");
    const wireOf = new Map(ids.split(" ").map((id, i) => [id, wires[i] as DeskProfile["wire"]["kind"]]));
    return watchTraffic((frame) => {
      const fresh = reader.read(frame).flatMap((row) => {
        const wire = row.out || row.side !== "desk" ? undefined : wireOf.get(row.device);
        const bytes = wire && parseHexBytes(row.hex);
        const example = bytes && row.length === bytes.length ? exampleOf(bytes, wire) : null;
        return example ? [{ desk: row.device, example }] : [];
      });
      if (fresh.length === 0) return;
      const atMs = Date.now();
      setHeard((before) => {
        const all = new Map([...before].filter(([, m]) => atMs - m.atMs < LATELY_MS));
        for (const { desk, example } of fresh) {
          const key = `${desk} ${shapeKey(example)}`;
          const examples = [...(all.get(key)?.examples ?? []), example].slice(-EXAMPLES);
          all.delete(key);
          all.set(key, { key, desk, examples, atMs });
        }
        return all;
      });
    }, false);
  }, [watchTraffic, ids, kinds]);
  return useMemo(
    () =>
      [...heard.values()]
        .filter((m) => {
          const profile = desks.get(m.desk);
          return profile !== undefined && !isKnown(profile, m.examples[0]!);
        })
        .slice(-SHOWN)
        .reverse(),
    [heard, desks],
  );
}
