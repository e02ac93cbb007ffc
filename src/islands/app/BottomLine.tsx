import { useMemo } from "react";
import type { TrafficEntry } from "../../core/live/protocol.ts";
import { nearMisses, nearMissWords } from "../../core/mapping/near-miss.ts";
import { hexBytes, parseHexBytes } from "../../core/midi/words.ts";
import { OUTCOME } from "../../core/trace/outcome.ts";
import type { Tone } from "../../core/trace/words.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { Key } from "../parts/controls.tsx";
import { StateMark } from "../parts/Health.tsx";
import { mappingLabel } from "../surface/control-view.ts";
import { became, deviceName, eventWords, readsAs } from "../traffic/row-words.ts";

const TONES: Record<Tone, string> = {
  done: "text-warm",
  care: "text-care",
  alert: "text-alert",
  quiet: "text-ink-500",
};

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

function LastHeard() {
  const line = useLive((l) => l.line);
  const live = usePage((s) => s.live);
  const story = useMemo(() => tellStory(line), [line]);
  if (!story) return <span className="text-ink-500">Nothing has been heard yet. Touch a control.</span>;
  const { heard, sent, answer } = story;
  const bytes = hexBytes(parseHexBytes(heard.hex) ?? new Uint8Array(), 8);
  const end = became(live, heard);
  return (
    <>
      <span className="text-cool">{deviceName(live, heard)}</span>
      {heard.side === "surface" ? (
        <>
          <span>{eventWords(live, heard)}</span>
          <span className="font-mono text-[11.5px] text-ink-500">{bytes}</span>
        </>
      ) : (
        <span className="overflow-hidden text-ellipsis">{readsAs(live, heard)}</span>
      )}
      <Dash />
      {sent.length > 0 ? (
        sent.map((row) => (
          <span key={row.seq} className="text-warm">
            {deviceName(live, row)}: {became(live, row).text}
          </span>
        ))
      ) : (
        <span className={TONES[end.tone]}>
          {end.text}
          <Almost live={live} heard={heard} />
        </span>
      )}
      {answer ? (
        <>
          <Dash />
          <StateMark shape="tick" tone="good">
            {became(live, answer).text}
          </StateMark>
        </>
      ) : null}
    </>
  );
}

/** For a message that no mapping took: the mapping that differs in one thing only, and in which. */
function Almost({ live, heard }: { live: LiveState; heard: TrafficEntry }) {
  const { context, show } = live;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is near depends on the show and what holds, not on every value
  const miss = useMemo(() => almost(live, heard), [context, show, heard]);
  return miss ? <span className="text-ink-300"> · almost {miss}</span> : null;
}

const UNMAPPED = new Set<number>([
  OUTCOME.noControl,
  OUTCOME.noMapping,
  OUTCOME.notHere,
  OUTCOME.mappingOff,
  OUTCOME.conditionFalse,
  OUTCOME.bypassed,
]);

const MESSAGE_DIFFERS = new Set(["channel", "number", "kind"]);

export function almost(live: LiveState, heard: TrafficEntry): string | null {
  const surface = live.compiled.surfaces.findIndex((s) => s.id === heard.device);
  const bytes = parseHexBytes(heard.hex);
  if (!UNMAPPED.has(heard.code) || surface < 0 || !bytes) return null;
  const misses = nearMisses(live.context, surface, bytes, () => heard.code === OUTCOME.bypassed);
  // A control that is simply free has neighbours; only a message of no control may have meant one of them.
  const miss = misses.find((m) => heard.code === OUTCOME.noControl || !MESSAGE_DIFFERS.has(m.differs));
  const m = miss ? live.show.mappings.findIndex((x) => x.id === miss.mapping) : -1;
  return miss && m >= 0 ? `${mappingLabel(live, m)}: ${nearMissWords(miss)}` : null;
}

function Dash() {
  return <span className="text-ink-600">—</span>;
}

interface Story {
  heard: TrafficEntry;
  sent: TrafficEntry[];
  answer: TrafficEntry | undefined;
}

/** The newest message in, what it caused, and the answer to that. */
export function tellStory(line: readonly TrafficEntry[]): Story | null {
  const fromHands = line.findLast((r) => !r.out && r.side === "surface");
  const fromDesk = line.findLast((r) => !r.out && r.side === "desk" && r.cause === 0);
  const heard = !fromHands || (fromDesk && fromDesk.atMs > fromHands.atMs + 1500) ? (fromDesk ?? fromHands) : fromHands;
  if (!heard) return null;
  const sent = line.filter((r) => r.out && r.side === "desk" && r.cause === heard.seq).slice(-3);
  const answer = line.findLast((r) => !r.out && sent.some((s) => s.seq === r.cause));
  return { heard, sent, answer };
}
