import { Redo2, Undo2, Users } from "lucide-react";
import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { BASE_LAYER } from "../../core/format/givens.ts";
import { adviceFor } from "../../core/mapping/advice.ts";
import { Chip, Key } from "../components/controls.tsx";
import { StateMark } from "../components/StateMark.tsx";
import { useActions } from "../live/actions.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { usePageWords } from "../live/what-is-up.ts";
import { KeysPlay } from "./KeysPlay.tsx";
import { PLACE_LIST, type Place } from "./places.ts";

/** Head of every place but Run: the show, the places, what is up. */
export function Header({ place }: { place: Place }) {
  return (
    <header className="flex min-w-0 items-stretch gap-5 border-b border-black/60 bg-linear-to-b from-[#1d1323] to-[#170f1c] px-4 shadow-[0_1px_0_#d8b06622]">
      <ShowName />
      <nav className="ml-2 flex gap-0.5" aria-label="Places">
        {PLACE_LIST.map((p) => (
          <a
            key={p.id}
            href={`/${p.id}`}
            data-place={p.id}
            aria-current={p.id === place ? "page" : undefined}
            className={`relative flex items-center px-3.5 font-medium ${
              p.id === place
                ? "text-ink-100 after:absolute after:inset-x-3 after:-bottom-px after:h-[3px] after:rounded-t after:bg-brass-400"
                : "text-ink-300 hover:text-ink-100"
            }`}
          >
            {p.name}
          </a>
        ))}
      </nav>
      <div className="flex-1" />
      <div className="flex items-center gap-2.5">
        <HereTo />
        <UndoButtons />
        <WhatIsUp />
        <Palette />
        <LetIn />
        <Help />
      </div>
    </header>
  );
}

function ShowName() {
  const name = useLive((l) => l.show.name);
  const mappings = useLive((l) => l.show.mappings.length);
  const savedAtMs = useLive((l) => l.history.savedAtMs);
  const connection = usePage((s) => s.connection);
  const isLost = usePage((s) => s.lostAtMs !== null);
  // Server and browser may live in different time zones; the clock is drawn only in the browser.
  const hydrated = usePage((s) => s.connection === "open");
  const time = hydrated
    ? ` · ${new Date(savedAtMs).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false })}`
    : "";
  return (
    <div className="flex items-center gap-2.5">
      <img src="/mark.svg" alt="" className="h-[26px] w-[26px]" />
      <div className="text-lead leading-tight font-semibold">
        {name}
        <small className="block text-tiny font-normal text-ink-500">
          {connection === "open" && !isLost ? `all saved${time} · ${mappings} mappings` : "connecting to the server …"}
        </small>
      </div>
    </div>
  );
}

/** What somebody from elsewhere came in to do, and the way out. Whoever sits at the computer itself needs neither. */
function HereTo() {
  const { role, isHere } = usePage((s) => s.who);
  if (isHere) return null;
  const leave = async () => {
    await fetch("/api/leave", { method: "POST" }).catch(() => {});
    location.assign("/enter");
  };
  return (
    <Chip className={role === "edit" ? "" : "bg-care-ground"}>
      here to <b>{role}</b>
      <button type="button" className="text-brass-300 hover:underline" onClick={() => void leave()}>
        Leave
      </button>
    </Chip>
  );
}

function UndoButtons() {
  const { undo, redo } = useLive(useShallow((l) => ({ undo: l.history.undo, redo: l.history.redo })));
  const actions = useActions();
  const look =
    "rounded-md p-1.5 text-ink-300 enabled:hover:bg-velvet-800 disabled:cursor-default disabled:text-velvet-600";
  return (
    <div className="flex">
      <button
        type="button"
        className={look}
        disabled={undo === null}
        title={undo ? `Undo: ${undo} (Ctrl Z)` : "Nothing to undo"}
        aria-label="Undo"
        onClick={() => void actions.undo()}
      >
        <Undo2 size={16} aria-hidden />
      </button>
      <button
        type="button"
        className={look}
        disabled={redo === null}
        title={redo ? `Redo: ${redo} (Ctrl Shift Z)` : "Nothing to redo"}
        aria-label="Redo"
        onClick={() => void actions.redo()}
      >
        <Redo2 size={16} aria-hidden />
      </button>
    </div>
  );
}

function WhatIsUp() {
  const page = usePageWords();
  const down = useLive((l) => l.engineRestarts < 0);
  return (
    <>
      {down ? (
        <Chip className="bg-alert-ground">
          <StateMark shape="broken-ring" tone="alert">
            engine starts again
          </StateMark>
        </Chip>
      ) : null}
      {page ? (
        <Chip>
          {page.desk} page <b>{page.words}</b>
        </Chip>
      ) : null}
      <KeysPlay />
      <Layers />
    </>
  );
}

/** The layers that are up; it opens what mappings stand on, and says whether the checks have something to say. */
function Layers() {
  const store = usePageStore();
  const up = useLive((l) => {
    const ids = l.layers.length > 0 ? l.layers : [BASE_LAYER];
    return ids.map((id) => l.show.layers.find((x) => x.id === id)?.name ?? id).join(" + ");
  });
  const compiled = useLive((l) => l.compiled);
  const checks = useMemo(() => adviceFor(compiled).filter((a) => a.severity !== "note").length, [compiled]);
  return (
    <button
      type="button"
      title="Layers, groups, banks, variables, routes and checks"
      onClick={() => store.setState({ partsOpen: true })}
      className="inline-flex h-[26px] items-center gap-1.5 rounded-full bg-velvet-800 px-2.5 text-small text-ink-300 hover:bg-velvet-700"
    >
      Layer <b className="font-semibold text-ink-100">{up}</b>
      {checks > 0 ? <span className="text-care">· {checks === 1 ? "1 check" : `${checks} checks`}</span> : null}
      <Key>G</Key>
    </button>
  );
}

function Palette() {
  const store = usePageStore();
  return (
    <button
      type="button"
      onClick={() => store.setState({ paletteOpen: true })}
      className="inline-flex h-[26px] items-center gap-2 rounded-full bg-velvet-800 px-2.5 text-small text-ink-300 hover:bg-velvet-700"
    >
      Find anything <Key>Ctrl K</Key>
    </button>
  );
}

function LetIn() {
  const store = usePageStore();
  const mayEdit = usePage((s) => s.who.role === "edit");
  if (!mayEdit) return null;
  return (
    <button
      type="button"
      aria-label="Who is let in"
      title="Who is let in from other devices"
      onClick={() => store.setState({ accessOpen: true })}
      className="inline-flex size-[26px] items-center justify-center rounded-full bg-velvet-800 text-ink-300 hover:bg-velvet-700"
    >
      <Users size={14} aria-hidden />
    </button>
  );
}

function Help() {
  const store = usePageStore();
  return (
    <button
      type="button"
      aria-label="Keys and notices"
      title="Keys and notices (?)"
      onClick={() => store.setState({ helpOpen: true })}
      className="inline-flex size-[26px] items-center justify-center rounded-full bg-velvet-800 text-small text-ink-300 hover:bg-velvet-700"
    >
      ?
    </button>
  );
}
