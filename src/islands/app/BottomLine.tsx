import { hexBytes, parseHexBytes } from "../../core/midi/hex.ts";
import { OUTCOME, type Tone } from "../../core/trace/outcome.ts";
import { becameWords, deviceWords, messageWords } from "../../words/traffic.ts";
import { Key } from "../components/controls.tsx";
import { part } from "../components/part.tsx";
import { StateMark } from "../components/StateMark.tsx";
import type { LiveState } from "../live/apply-changes.ts";
import { liveNames } from "../live/row-names.ts";
import { useLiveEqual, usePage, usePageStore } from "../live/store.ts";
import { eventWords, tellStory } from "./tell-story.ts";

const MendButtons = part(async () => (await import("./MendButtons.tsx")).MendButtons);

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
      className="flex min-w-0 items-center gap-3.5 border-t border-(--hairline) bg-(--footbar) px-4 text-[12.5px] whitespace-nowrap"
      aria-label="Heard last"
    >
      <LastHeard />
      <MendButtons />
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
  readonly id: string;
  readonly device: string;
  /** No control of its surface sends it. */
  readonly isUnknown: boolean;
  readonly heard: string;
  /** Of a surface its bytes; null = the words say them. */
  readonly bytes: string | null;
  readonly sent: readonly { readonly seq: number; readonly text: string }[];
  readonly end: { readonly text: string; readonly tone: Tone };
  readonly answer: { readonly text: string; readonly tone: Tone } | null;
}

function tell(live: LiveState): Told | null {
  const story = tellStory(live.line);
  if (!story) return null;
  const { heard, sent, answer } = story;
  const names = liveNames(live);
  // What was heard under another show, of something that this one has not, is no news.
  if (heard.side !== "browser" && !names.device(heard.device)) return null;
  const isSurface = heard.side === "surface";
  return {
    id: heard.device,
    isUnknown: heard.code === OUTCOME.noControl,
    device: deviceWords(heard, names),
    heard: isSurface ? eventWords(live, heard) : messageWords(heard, names),
    bytes: isSurface ? hexBytes(parseHexBytes(heard.hex) ?? new Uint8Array(), MOST_BYTES) : null,
    sent: sent.map((row) => ({ seq: row.seq, text: `${deviceWords(row, names)}: ${becameWords(row, names).text}` })),
    end: becameWords(heard, names),
    answer: answer ? becameWords(answer, names) : null,
  };
}

function LastHeard() {
  const told = useLiveEqual(tell);
  const adding = usePage((s) => s.adding);
  const isDrawn = told?.isUnknown === true && told.id === adding;
  if (!told) return <span className="text-ink-500">Nothing has been heard yet. Touch a control.</span>;
  return (
    <>
      <bdi className="max-w-[220px] shrink-0 overflow-hidden text-cool text-ellipsis">{told.device}</bdi>
      <span className="min-w-[60px] overflow-hidden text-ellipsis">{told.heard}</span>
      {told.bytes === null ? null : <span className="font-mono text-[11.5px] text-ink-500">{told.bytes}</span>}
      <Dash />
      {told.sent.length > 0 ? (
        told.sent.map((row) => (
          <span key={row.seq} className="min-w-[80px] overflow-hidden text-warm text-ellipsis">
            {row.text}
          </span>
        ))
      ) : (
        <span className={`min-w-[80px] overflow-hidden text-ellipsis ${isDrawn ? TONES.quiet : TONES[told.end.tone]}`}>
          {isDrawn ? "shows what it is" : told.end.text}
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
