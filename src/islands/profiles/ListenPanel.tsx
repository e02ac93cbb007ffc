import { useEffect, useMemo, useState } from "react";
import {
  exampleOf,
  functionFrom,
  type HeardExample,
  newParameters,
  shapeKey,
  stateFrom,
  suggestMarks,
} from "../../core/desk/listen.ts";
import { freeId } from "../../core/format/free-id.ts";
import { parseHexBytes } from "../../core/midi/hex.ts";
import { Button } from "../components/controls.tsx";
import { idFrom } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { EntryReader } from "../live/entry-reader.ts";
import { CARD, type DeskEditorProps } from "./desk-editor-props.ts";

/** Examples of one shape that are kept; newer ones take the place of older. */
const EXAMPLES = 24;

/** What the desk says while it is listened to: pick a message, mark what varies, and it becomes part of the profile. */
export function ListenPanel({ profile, change, users }: DeskEditorProps) {
  const { watchTraffic } = useActions();
  const [heard, setHeard] = useState<ReadonlyMap<string, readonly HeardExample[]>>(new Map());
  const ids = users.map((d) => d.id).join(" ");
  const { kind } = profile.wire;
  useEffect(() => {
    const reader = new EntryReader();
    const mine = new Set(ids.split(" "));
    return watchTraffic((frame) => {
      const examples = reader.read(frame).flatMap((row) => {
        if (row.out || row.side !== "desk" || !mine.has(row.device)) return [];
        const bytes = parseHexBytes(row.hex);
        return (bytes && row.length === bytes.length && exampleOf(bytes, kind)) || [];
      });
      if (examples.length === 0) return;
      setHeard((before) => {
        const all = new Map(before);
        for (const example of examples) {
          const key = shapeKey(example);
          const list = [...(all.get(key) ?? []), example].slice(-EXAMPLES);
          all.delete(key); // the newest stands last
          all.set(key, list);
        }
        return all;
      });
    }, false);
  }, [watchTraffic, ids, kind]);
  const shapes = [...heard].reverse();
  const [picked, setPicked] = useState<string | null>(null);
  const examples = shapes.find(([key]) => key === picked)?.[1];
  if (users.length === 0)
    return (
      <p className="text-small text-ink-300">
        Nothing can be heard yet: add a desk of this kind in Connect, with its address. Then move something at the desk.
      </p>
    );
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-5">
      <div className="grid content-start gap-1.5">
        <p className="text-small text-ink-500">Move something at the desk. The newest stands on top.</p>
        {shapes.length === 0 ? <p className="text-ink-300">Nothing has been heard yet.</p> : null}
        {shapes.map(([key, list]) => (
          <button
            key={key}
            type="button"
            aria-current={key === picked}
            onClick={() => setPicked(key)}
            className="flex items-baseline gap-2 rounded-md bg-velvet-850 px-2.5 py-1.5 text-left font-mono text-small text-cool hover:bg-velvet-800 aria-[current=true]:bg-velvet-700"
          >
            <span className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap">
              {wordsOf(list.at(-1)!)}
            </span>
            <span className="text-tiny text-ink-500">
              {list.length === EXAMPLES ? `${EXAMPLES} or more` : list.length}
            </span>
          </button>
        ))}
      </div>
      {examples ? (
        <Marking key={picked} examples={examples} profile={profile} change={change} users={users} />
      ) : (
        <p className="text-small text-ink-500">Pick a message: its parts appear here.</p>
      )}
    </div>
  );
}

function wordsOf({ wire, parts, values, midi }: HeardExample): string {
  const list = values.map((v) => v.text).join(" ");
  if (wire === "osc") return `/${parts.map((p) => p.text).join("/")} ${list}`;
  if (wire === "line") return [...parts.map((p) => p.text), list].join(" ");
  return `${midi} ${parts.map((p) => p.text).join(" ")} ${list}`;
}

function Marking({ examples, profile, change }: DeskEditorProps & { examples: readonly HeardExample[] }) {
  const suggested = useMemo(() => suggestMarks(examples), [examples]);
  const [own, setOwn] = useState<(string | null)[] | null>(null);
  const [argument, setArgument] = useState(0);
  const marks = own ?? suggested;
  const example = examples.at(-1)!;
  const name = nameOf(example);
  const withParameters = () => ({
    ...profile,
    parameters: [...profile.parameters, ...newParameters(examples, marks, profile)],
  });
  const asState = () => {
    const base = withParameters();
    const id = freeId(idFrom(name), base.states);
    change({ ...base, states: [...base.states, stateFrom(examples, marks, argument, id, name)] });
  };
  const asFunction = () => {
    const base = withParameters();
    const id = freeId(idFrom(name), base.functions);
    const made = functionFrom(examples, marks, argument, id, name);
    const same = base.states.find((s) => s.name === name && s.parameters.join() === made.parameters.join());
    const shows = same && ["number", "switch"].includes(same.value.kind) ? { state: same.id } : {};
    change({ ...base, functions: [...base.functions, { ...made, ...shows }] });
  };
  const toggle = (i: number) => {
    const part = example.parts[i]!;
    const fallback = suggestMarks([example])[i] ?? `part-${i + 1}`;
    setOwn(marks.map((m, k) => (k !== i ? m : m === null && part.text !== "" ? fallback : null)));
  };
  return (
    <div className={`${CARD} content-start`} data-marking>
      <span>Press the parts that vary; the others stay as they are.</span>
      <div className="flex flex-wrap items-center gap-1">
        {example.parts.map((p, i) => (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: parts are told by their place
            key={i}
            type="button"
            aria-pressed={marks[i] !== null}
            onClick={() => toggle(i)}
            className="rounded-md bg-velvet-800 px-2 py-1 font-mono text-ink-100 aria-pressed:bg-cool/25 aria-pressed:text-cool"
          >
            {marks[i] ? `{${marks[i]}} = ${p.text}` : p.text}
          </button>
        ))}
        {example.values.map((v, k) => (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: values are told by their place
            key={k}
            type="button"
            aria-pressed={argument === k}
            onClick={() => setArgument(k)}
            className="rounded-md border border-velvet-600 px-2 py-1 font-mono text-ink-300 aria-pressed:border-warm aria-pressed:text-warm"
          >
            {v.text}
          </button>
        ))}
      </div>
      <span>
        {examples.length === 1 ? "One message so far" : `${examples.length} messages`};{" "}
        {example.values.length > 1
          ? "the value is the one in the warm frame."
          : "what stands in the frame is the value."}
      </span>
      <div className="flex gap-2 pt-1">
        <Button size="small" look="primary" onClick={asState}>
          It tells this
        </Button>
        <Button size="small" onClick={asFunction}>
          It also understands this
        </Button>
      </div>
    </div>
  );
}

/** The words of a message that are no numbers, as a name. */
function nameOf({ parts, midi }: HeardExample): string {
  const words = parts.filter((p) => !p.counts && p.text !== "" && midi === undefined).map((p) => p.text);
  return words.slice(-2).join(" ") || midi || "value";
}
