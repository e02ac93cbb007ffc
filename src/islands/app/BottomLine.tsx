import { hexBytes, parseHexBytes } from "../../core/midi/hex.ts";
import type { Tone } from "../../core/trace/outcome.ts";
import { becameWords, deviceWords, messageWords } from "../../words/traffic.ts";
import { Key } from "../components/controls.tsx";
import { StateMark } from "../components/StateMark.tsx";
import type { LiveState } from "../live/apply-changes.ts";
import { liveNames } from "../live/row-names.ts";
import { useLiveEqual, usePage, usePageStore } from "../live/store.ts";
import { almost, eventWords, tellStory } from "./tell-story.ts";

const TONES: Record<Tone, string> = {
  good: "text-warm",
  care: "text-care",
  alert: "text-alert",
  quiet: "text-ink-500",
};

/** Bytes that are shown of a message. */
const MOST_BYTES = 8;

/** What was heard last, and what became of it: heard, bytes, done, answered. */
export function BottomLine() {
  const store = usePageStore();
  const open = usePage((s) => s.trafficOpen);
  return (
    <section
      className="flex min-w-0 items-center gap-3.5 border-t border-[#d8b06626] bg-[#170f1c] px-4 text-[12.5px] whitespace-nowrap"
      aria-label="Heard last"
    >
      <LastHeard />
      <div className="flex-1" />
      <button
        type="button"
        aria-expanded={open}
        onClick={() => store.setState({ trafficOpen: !open })}
        className="flex items-center gap-1.5 text-ink-500 hover:text-ink-100"
      >
        {open ? "Close traffic" : "All traffic"} <Key>`</Key>
      </button>
    </section>
  );
}

/** The story in words, which stay the same while only levels move. */
interface Told {
  readonly device: string;
  readonly heard: string;
  /** Of a surface its bytes; null = the words say them. */
  readonly bytes: string | null;
  readonly sent: readonly { readonly seq: number; readonly text: string }[];
  readonly end: { readonly text: string; readonly tone: Tone };
  /** A mapping that nearly took it. */
  readonly near: string | null;
  readonly answer: { readonly text: string; readonly tone: Tone } | null;
}

function tell(live: LiveState): Told | null {
  const story = tellStory(live.line);
  if (!story) return null;
  const { heard, sent, answer } = story;
  const names = liveNames(live);
  const isSurface = heard.side === "surface";
  return {
    device: deviceWords(heard, names),
    heard: isSurface ? eventWords(live, heard) : messageWords(heard, names),
    bytes: isSurface ? hexBytes(parseHexBytes(heard.hex) ?? new Uint8Array(), MOST_BYTES) : null,
    sent: sent.map((row) => ({ seq: row.seq, text: `${deviceWords(row, names)}: ${becameWords(row, names).text}` })),
    end: becameWords(heard, names),
    near: sent.length > 0 ? null : almost(live, heard),
    answer: answer ? becameWords(answer, names) : null,
  };
}

function LastHeard() {
  const told = useLiveEqual(tell);
  if (!told) return <span className="text-ink-500">Nothing has been heard yet. Touch a control.</span>;
  return (
    <>
      <span className="text-cool">{told.device}</span>
      <span className="overflow-hidden text-ellipsis">{told.heard}</span>
      {told.bytes === null ? null : <span className="font-mono text-[11.5px] text-ink-500">{told.bytes}</span>}
      <Dash />
      {told.sent.length > 0 ? (
        told.sent.map((row) => (
          <span key={row.seq} className="text-warm">
            {row.text}
          </span>
        ))
      ) : (
        <span className={TONES[told.end.tone]}>
          {told.end.text}
          {told.near === null ? null : <span className="text-ink-300"> · almost {told.near}</span>}
        </span>
      )}
      {told.answer === null ? null : (
        <>
          <Dash />
          {told.answer.tone === "good" ? (
            <StateMark shape="tick" tone="good">
              {told.answer.text}
            </StateMark>
          ) : (
            <StateMark shape="struck-ring" tone={told.answer.tone}>
              {told.answer.text}
            </StateMark>
          )}
        </>
      )}
    </>
  );
}

function Dash() {
  return <span className="text-ink-600">—</span>;
}
