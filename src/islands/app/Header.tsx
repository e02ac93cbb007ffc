import { ChevronDown, Hand, Redo2, Search, Undo2, Users } from "lucide-react";
import { Popover } from "radix-ui";
import { useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { BASE_LAYER } from "../../core/format/givens.ts";
import { adviceFor } from "../../core/mapping/advice.ts";
import { Chip, Key } from "../components/controls.tsx";
import { part } from "../components/part.tsx";
import { StateMark } from "../components/StateMark.tsx";
import { useActions } from "../live/actions.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { usePageWords } from "../live/what-is-up.ts";
import { KeysPlay } from "./KeysPlay.tsx";
import { onDemand } from "./on-demand.tsx";
import { PLACE_LIST, type Place } from "./places.ts";

const ShowMenu = onDemand(async () => (await import("./ShowMenu.tsx")).ShowMenu);

/** Head of every place but Run: the show, the places, what is up. */
export function Header({ place }: { place: Place }) {
  return (
    <header className="flex min-w-0 items-stretch gap-5 border-b max-[1179px]:gap-2 border-(--deck-edge) bg-(image:--headbar) px-4 shadow-[0_1px_0_var(--hairline)]">
      <ShowName />
      <nav className="ml-2 flex gap-0.5" aria-label="Places">
        {PLACE_LIST.map((p) => (
          <a
            key={p.id}
            href={`/${p.id}`}
            data-place={p.id}
            aria-current={p.id === place ? "page" : undefined}
            className={`relative flex items-center px-3.5 font-medium max-[1179px]:px-2.5 ${
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
      <div className="flex min-w-0 items-center gap-2.5 max-[1179px]:gap-1.5">
        <HereTo />
        <OnHold />
        <UndoButtons />
        <HandsSwitch />
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
  const store = usePageStore();
  const open = usePage((s) => s.showMenuOpen);
  const setOpen = (on: boolean) => store.setState({ showMenuOpen: on });
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        title="What is done with the show (Alt S)"
        className="my-1 -ml-2 flex items-center gap-2.5 rounded-xl px-2 text-left hover:bg-velvet-850 aria-expanded:bg-velvet-850"
      >
        <img src="/mark.svg" alt="" className="h-[26px] w-[26px]" />
        <span className="max-w-[230px] text-lead max-[1179px]:max-w-[150px] leading-tight font-semibold">
          <span className="flex items-center gap-1.5">
            <bdi className="overflow-hidden text-ellipsis whitespace-nowrap">{name}</bdi>
            <ChevronDown size={13} aria-hidden className="shrink-0 text-ink-500" />
          </span>
          <small className="block overflow-hidden text-tiny font-normal text-ellipsis whitespace-nowrap text-ink-500">
            {connection === "open" && !isLost
              ? `all saved${time} · ${mappings} mappings`
              : "connecting to the server …"}
          </small>
        </span>
      </Popover.Trigger>
      <ShowMenu wanted={open} refuse={() => setOpen(false)} with={{ open, onOpenChange: setOpen }} />
    </Popover.Root>
  );
}

const HoldChip = part(async () => (await import("./HoldChip.tsx")).HoldChip);

/** Edits wait, and what runs is as it was. */
function OnHold() {
  return usePage((s) => s.onHold !== null) ? <HoldChip /> : null;
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

/** Whether what hands do is played, or only teaches which control is meant. */
function HandsSwitch() {
  const actions = useActions();
  const teaches = useLive((l) => l.teaches);
  const mayEdit = usePage((s) => s.who.role === "edit");
  if (!mayEdit && !teaches) return null;
  return (
    <button
      type="button"
      aria-pressed={teaches}
      title={
        teaches
          ? "Hands teach: a touch chooses its control, and nothing leaves for the desks. Let them play. (H)"
          : "Hands play. Let them teach: a touch only chooses its control, and nothing leaves for the desks. (H)"
      }
      onClick={() => actions.teach(!teaches)}
      className="inline-flex h-[26px] items-center gap-1.5 whitespace-nowrap rounded-full bg-velvet-800 px-2.5 text-small text-ink-300 hover:bg-velvet-700 aria-pressed:bg-brass-400 aria-pressed:text-brass-ink"
    >
      <Hand size={14} aria-hidden />
      Hands <b className="font-semibold">{teaches ? "teach" : "play"}</b>
    </button>
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
          <span className="max-w-[120px] overflow-hidden text-ellipsis max-[1179px]:hidden">
            <bdi>{page.desk}</bdi> page{" "}
          </span>
          <b className="max-w-[160px] overflow-hidden text-ellipsis max-[1179px]:max-w-[110px]">{page.words}</b>
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
      title="Layers, bundles, pages, groups, banks, variables, routes and checks"
      onClick={() => store.setState({ partsOpen: true })}
      className="inline-flex h-[26px] min-w-0 items-center gap-1.5 rounded-full bg-velvet-800 px-2.5 text-small whitespace-nowrap text-ink-300 hover:bg-velvet-700"
    >
      <span className="max-[1179px]:hidden">Layer </span>
      <b className="max-w-[140px] overflow-hidden font-semibold text-ellipsis text-ink-100 max-[1179px]:max-w-[90px]">
        {up}
      </b>
      {checks > 0 ? (
        <span className="shrink-0 text-care">· {checks === 1 ? "1 check" : `${checks} checks`}</span>
      ) : null}
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
      className="inline-flex h-[26px] shrink-0 items-center gap-2 rounded-full bg-velvet-800 px-2.5 text-small whitespace-nowrap text-ink-300 hover:bg-velvet-700"
    >
      <Search size={14} aria-hidden className="min-[1180px]:hidden" />
      <span className="max-[1179px]:sr-only">Find anything</span>
      <span className="max-[1179px]:hidden">
        <Key>Ctrl K</Key>
      </span>
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
      className="inline-flex size-[26px] shrink-0 items-center justify-center rounded-full bg-velvet-800 text-ink-300 hover:bg-velvet-700"
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
      className="inline-flex size-[26px] shrink-0 items-center justify-center rounded-full bg-velvet-800 text-small text-ink-300 hover:bg-velvet-700"
    >
      ?
    </button>
  );
}
