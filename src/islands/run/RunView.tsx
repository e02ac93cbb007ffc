import { useEffect, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { routedWords } from "../../words/mappings.ts";
import { holdWords } from "../../words/on-hold.ts";
import { Button } from "../components/controls.tsx";
import { DeskHealth } from "../components/DeskHealth.tsx";
import { StateMark, seconds } from "../components/StateMark.tsx";
import { useActions } from "../live/actions.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { useLive, useLiveEqual, usePage } from "../live/store.ts";
import { useHasKeys, usePageWords } from "../live/what-is-up.ts";
import { controlView } from "../surface/control-view.ts";
import { SurfaceView } from "../surface/SurfaceView.tsx";

/** Hold this long to leave, in ms: nothing may be changed by accident. */
const UNLOCK_MS = 2000;

/** The show as it runs: darker, larger, quieter. Nothing can be changed here. */
export function RunView({ leave }: { leave(): void }) {
  const actions = useActions();
  const hasKeys = useHasKeys();
  const who = usePage((s) => s.who);
  return (
    <div className="grid h-dvh min-h-[600px] grid-rows-[auto_minmax(0,1fr)_auto] bg-velvet-975">
      <Top />
      <main className="grid min-h-0 grid-cols-[minmax(0,1fr)_340px] gap-[18px] px-[22px] pt-1.5 pb-3.5 max-[1100px]:grid-cols-[minmax(0,1fr)_250px] max-[1100px]:gap-3 max-[1100px]:px-3 max-[760px]:grid-cols-[minmax(0,1fr)] max-[760px]:grid-rows-[minmax(0,1fr)_auto]">
        <Surfaces />
        <Side />
      </main>
      <footer className="flex flex-wrap items-center gap-3 px-[22px] pb-3 max-[1100px]:gap-2 max-[1100px]:px-3 max-[760px]:[&>button]:flex-1 max-[760px]:[&>button]:justify-center">
        <Button size="large" onClick={() => actions.send({ kind: "release-all" })}>
          Release everything held
        </Button>
        <Button size="large" onClick={() => actions.send({ kind: "redraw" })}>
          Draw lights again
        </Button>
        <div className="flex-1 max-[760px]:hidden" />
        <span className="text-small text-ink-500 max-[1100px]:hidden">
          {who.isHere ? "" : `here to ${who.role} · `}
          {hasKeys ? "the computer’s keys play · " : ""}locked · changes are off
        </span>
        <HoldToUnlock onDone={leave} />
      </footer>
    </div>
  );
}

/** One surface at a time, large; the others are one touch away. */
function Surfaces() {
  const surfaces = useLive((l) => l.show.surfaces);
  const [picked, setPicked] = useState("");
  const shown = surfaces.find((s) => s.id === picked) ?? surfaces[0];
  if (!shown) return <p className="m-auto text-ink-500">No surface yet.</p>;
  return (
    <div className="flex min-h-0 flex-col gap-2">
      {surfaces.length > 1 ? (
        <div className="flex gap-2" role="tablist" aria-label="Surfaces">
          {surfaces.map((s) => (
            <button
              key={s.id}
              type="button"
              role="tab"
              aria-selected={s.id === shown.id}
              onClick={() => setPicked(s.id)}
              className="min-h-[44px] max-w-[260px] min-w-0 rounded-lg bg-velvet-900 px-5 text-lead text-ink-500 aria-selected:bg-velvet-700 aria-selected:text-ink-100"
            >
              <bdi className="line-clamp-2">{s.name}</bdi>
            </button>
          ))}
        </div>
      ) : null}
      <SurfaceView surface={shown.id} size="run" chooses={false} />
    </div>
  );
}

/** Here stands what runs; what was edited since waits. */
function OnHold() {
  const edits = usePage((s) => s.onHold?.edits ?? 0);
  return edits > 0 ? <span className="text-care">{holdWords(edits)}</span> : null;
}

function Top() {
  const page = usePageWords();
  const layer = useLive((l) => l.show.layers.find((x) => x.id === l.layer)?.name ?? l.layer);
  const troubles = useLive(
    useShallow((l) =>
      l.show.desks.filter((d) => ["silent", "refusing"].includes(l.desks[d.id]?.health ?? "")).map((d) => d.id),
    ),
  );
  const down = useLive((l) => l.engineRestarts < 0);
  return (
    <header className="flex min-h-[64px] flex-wrap items-center gap-x-7 gap-y-1 px-[22px] max-[1100px]:gap-x-4 max-[1100px]:px-3 max-[760px]:min-h-[52px]">
      <h1 className="text-large font-semibold tracking-tight max-[760px]:text-title">
        {page ? page.words : "No pages"}
      </h1>
      {page ? (
        <span className="text-small text-ink-500 max-[1100px]:hidden">{page.desk} page, follows the desk</span>
      ) : null}
      <span className="text-title font-semibold">
        {layer} <span className="text-small font-normal text-ink-500">layer</span>
      </span>
      <div className="flex-1" />
      <OnHold />
      {down ? (
        <StateMark shape="broken-ring" tone="alert">
          engine starts again
        </StateMark>
      ) : null}
      <HandsTeach />
      {troubles.map((id) => (
        <SilentDesk key={id} id={id} />
      ))}
      <Clock />
    </header>
  );
}

/** Another window has hands teach: nothing of what is done here would leave. */
function HandsTeach() {
  const actions = useActions();
  const teaches = useLive((l) => l.teaches);
  if (!teaches) return null;
  return (
    <span className="flex items-center gap-3 text-lead text-care" role="alert">
      Hands teach: nothing is played
      <Button size="large" look="primary" onClick={() => actions.teach(false)}>
        Let them play
      </Button>
    </span>
  );
}

function SilentDesk({ id }: { id: string }) {
  const name = useLive((l) => l.show.desks.find((d) => d.id === id)?.name);
  return (
    <span className="flex items-center gap-2 text-lead text-alert">
      {name} <DeskHealth id={id} />
    </span>
  );
}

function Clock() {
  const [text, setText] = useState("");
  useEffect(() => {
    const tell = () => setText(new Date().toLocaleTimeString([], { hour12: false }));
    tell();
    const timer = setInterval(tell, 250);
    return () => clearInterval(timer);
  }, []);
  return <span className="min-w-[105px] text-right font-mono text-[22px] font-semibold">{text}</span>;
}

function Side() {
  return (
    <aside className="flex min-h-0 flex-col gap-3 overflow-y-auto max-[760px]:max-h-[24vh]" aria-label="What needs you">
      <Catching />
      <HeldNowBox />
      <Devices />
    </aside>
  );
}

/** Of faders that wait, so many are shown. */
const MOST_CATCHING = 4;

interface ToCatch {
  readonly key: string;
  readonly label: string;
  readonly way: string;
  /** Where it stands and where it has to go, in percent. */
  readonly from: number;
  readonly to: number;
}

function fadersToCatch(live: LiveState): ToCatch[] {
  const waiting = live.compiled.surfaces.flatMap((surface, s) =>
    surface.profile.controls.flatMap((control, c): ToCatch[] => {
      if (control.behaviour !== "absolute") return [];
      const { label, catching, position, target } = controlView(live, s, c);
      if (!catching) return [];
      const percent = (part: number) => Math.round(part * 100);
      return [
        { key: `${surface.id} ${control.id}`, label, way: catching, from: percent(position), to: percent(target) },
      ];
    }),
  );
  return waiting.slice(0, MOST_CATCHING);
}

/** Faders that were moved and do not yet have hold of their level. */
function Catching() {
  const waiting = useLiveEqual(fadersToCatch);
  return waiting.map(({ key, label, way, from, to }) => {
    return (
      <div key={key} className="grid gap-2 rounded-[14px] border border-care-line bg-care-ground px-4 py-3">
        <div className="flex justify-between text-lead">
          <b className="text-care">
            {label}: {way} to catch
          </b>
          <span className="font-mono">
            {from} → {to} %
          </span>
        </div>
        <svg height="14" width="100%" aria-hidden="true">
          <rect y="5" width="100%" height="4" rx="2" fill="#3a2f12" />
          <rect y="5" width={`${from}%`} height="4" rx="2" fill="#f0d36d" />
          <line x1={`${to}%`} x2={`${to}%`} y1="0" y2="14" stroke="#f0d36d" strokeWidth="2" strokeDasharray="3 2" />
        </svg>
      </div>
    );
  });
}

function Box({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section className="grid grid-cols-[minmax(0,1fr)] gap-2 rounded-[14px] bg-[#140c18] px-4 py-3">
      <h2 className="text-small text-ink-500">{title}</h2>
      {children}
    </section>
  );
}

/** What is held, with how long in words, so that it changes once a second. */
function heldRows(live: LiveState): { key: string; label: string; since: string }[] {
  // Of a range, several messages can be held by one control.
  const nth = new Map<string, number>();
  return live.held.map((h) => {
    const own = `${h.surface} ${h.control}`;
    nth.set(own, (nth.get(own) ?? 0) + 1);
    const s = live.compiled.surfaces.findIndex((x) => x.id === h.surface);
    const c = live.compiled.surfaces[s]?.indexOf.get(h.control) ?? -1;
    return {
      key: `${own} ${nth.get(own)}`,
      label: c >= 0 ? controlView(live, s, c).label : routedWords(h.control),
      since: seconds(live.atMs - h.sinceMs),
    };
  });
}

function HeldNowBox() {
  const held = useLiveEqual(heldRows);
  const isLost = usePage((s) => s.lostAtMs !== null);
  return (
    <Box title="held now">
      {held.length === 0 ? <span className="text-lead text-ink-500">{isLost ? "not known" : "nothing"}</span> : null}
      {held.map(({ key, label, since }) => (
        <div key={key} className="flex justify-between text-lead">
          <span>{label}</span>
          <span className="font-mono text-ink-500">{since}</span>
        </div>
      ))}
    </Box>
  );
}

function Devices() {
  const show = useLive((l) => l.show);
  const surfaces = useLive(useShallow((l) => l.show.surfaces.map((s) => l.surfaces[s.id]?.inPort.state)));
  return (
    <Box title="desks and surfaces">
      {show.desks.map((d) => (
        <div key={d.id} className="flex justify-between gap-3 text-lead">
          <bdi className="min-w-0 overflow-hidden text-ellipsis whitespace-nowrap">{d.name}</bdi>
          <DeskHealth id={d.id} />
        </div>
      ))}
      {show.surfaces.map((s, i) => {
        const open = surfaces[i] === "open";
        return (
          <div key={s.id} className="flex justify-between gap-3 text-lead">
            <bdi className="min-w-0 overflow-hidden text-ellipsis whitespace-nowrap">{s.name}</bdi>
            {open ? (
              <StateMark shape="tick" tone="good">
                here
              </StateMark>
            ) : (
              <StateMark shape="broken-ring" tone="care">
                not here
              </StateMark>
            )}
          </div>
        );
      })}
    </Box>
  );
}

function HoldToUnlock({ onDone }: { onDone(): void }) {
  const [holding, setHolding] = useState(false);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const start = () => {
    if (timer.current !== undefined) return;
    setHolding(true);
    timer.current = setTimeout(onDone, UNLOCK_MS);
  };
  const end = () => {
    clearTimeout(timer.current);
    timer.current = undefined;
    setHolding(false);
  };
  useEffect(() => () => clearTimeout(timer.current), []);
  return (
    <button
      type="button"
      className="relative h-11 overflow-hidden rounded-[10px] border border-brass-700 px-5 text-lead font-medium text-brass-300 select-none"
      onPointerDown={start}
      onPointerUp={end}
      onPointerLeave={end}
      onKeyDown={(e) => {
        if ((e.key === " " || e.key === "Enter") && !e.repeat) start();
      }}
      onKeyUp={end}
      onBlur={end}
    >
      <span
        className="absolute inset-y-0 left-0 bg-brass-700 ease-linear"
        style={{ width: holding ? "100%" : 0, transition: holding ? `width ${UNLOCK_MS}ms linear` : "none" }}
      />
      <span className="relative">Hold 2 s to unlock</span>
    </button>
  );
}
