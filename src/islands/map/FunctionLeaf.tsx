import { Ear, Hand, ListTree, Search } from "lucide-react";
import { type PointerEvent, useMemo, useRef, useState } from "react";
import { functionSummary } from "../../words/mappings.ts";
import { Key } from "../components/controls.tsx";
import { part } from "../components/part.tsx";
import { useActions } from "../live/actions.ts";
import { arm } from "../live/armed.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { toast } from "../live/toast.ts";
import { choiceOf, newAction, newMapping, usesOf } from "./choice.ts";
import { DeskHead, type Listed } from "./DeskHead.tsx";

const DeskListen = part(async () => (await import("./DeskListen.tsx")).DeskListen);
const StartedBy = part(async () => (await import("./StartedBy.tsx")).StartedBy);
const AnyDesk = part(async () => (await import("./AnyDesk.tsx")).AnyDesk);

/** Everything the desks can do, to be searched by name and given to the chosen control. */
export function FunctionLeaf() {
  const compiled = useLive((l) => l.compiled);
  const live = useLive((l) => l.show.mappings);
  const store = usePageStore();
  const [query, setQuery] = useState("");
  const [only, setOnly] = useState("");
  const [hot, setHot] = useState(0);
  const list = useRef<HTMLDivElement>(null);
  const chosen = usePage((s) => s.chosen !== null && s.chosen.control !== "");
  const armed = usePage((s) => (s.armed ? `${s.armed.desk} ${s.armed.function}` : null));
  const listening = usePage((s) => s.listening);
  const startsOpen = usePage((s) => s.startsOpen);
  const drags = usePage((s) => !s.tableOpen); // there it lies on no control
  const armOne = ({ desk, fn, profile }: Listed) =>
    store.setState({
      armed: arm(desk, fn, profile.parameters, profile.page?.parameter),
      learning: false,
      adding: null,
    });
  const give = useGive(armOne);
  // What is typed may be meant for a desk of a kind of one's own.
  const hasOwn = useLive((l) => l.show.desks.some((d) => l.show.profiles?.desks.some((p) => p.id === d.profile)));

  const all = useMemo(
    () =>
      compiled.desks.flatMap((d): Listed[] =>
        d.profile.functions.map((fn) => ({ desk: d.id, deskName: d.desk.name, profile: d.profile, fn })),
      ),
    [compiled.desks],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: uses change with the mappings only
  const uses = useMemo(() => usesOf(store.getState().live), [live]);
  const found = useMemo(
    () => all.filter((x) => (only === "" || x.desk === only) && matches(x, query)),
    [all, only, query],
  );
  const marked = Math.min(hot, found.length - 1);
  const desks = [...new Map(all.map((x) => [x.desk, x.deskName]))];

  const move = (by: number) => {
    const next = Math.min(found.length - 1, Math.max(0, marked + by));
    setHot(next);
    list.current?.querySelectorAll('[role="option"]')[next]?.scrollIntoView({ block: "nearest" });
  };

  return (
    <section className="leaf flex min-h-0 flex-col gap-3 px-4 py-3.5" aria-label="What listens">
      <div className="flex h-9 items-center gap-2 rounded-[9px] border border-velvet-600 bg-velvet-950 px-3 focus-within:border-brass-500">
        <Search size={14} aria-hidden className="text-ink-500" />
        <input
          id="function-search"
          role="combobox"
          aria-expanded={!startsOpen}
          aria-controls={startsOpen ? undefined : "functions"}
          aria-activedescendant={query && !startsOpen && found[marked] ? optionId(found[marked]) : undefined}
          aria-label="What should it do?"
          placeholder="What should it do?"
          className="min-w-0 flex-1 bg-transparent text-ink-100 outline-none placeholder:text-ink-500"
          value={query}
          onChange={(e) => {
            setQuery(e.target.value);
            setHot(0);
          }}
          onKeyDown={(e) => {
            if (startsOpen && e.key !== "Escape") return;
            if (e.key === "ArrowDown") move(1);
            else if (e.key === "ArrowUp") move(-1);
            else if (e.key === "Enter" && found[marked]) {
              void give(found[marked]);
              setQuery("");
              // Also so that the next “/” looks for something else, and is not typed here.
              e.currentTarget.blur();
            } else if (e.key === "Enter") {
              document.querySelector<HTMLButtonElement>("[data-keep]")?.click();
              e.currentTarget.blur();
            } else if (e.key === "Escape") {
              setQuery("");
              e.currentTarget.blur();
            } else return;
            e.preventDefault();
          }}
        />
        <Key>/</Key>
        <button
          type="button"
          aria-pressed={listening}
          aria-label="Listen to the desks"
          title="Listen: move something at a desk, and it is armed for the next touch"
          onClick={() => store.setState({ listening: !listening, armed: null })}
          className="rounded p-1 text-ink-500 hover:text-ink-100 aria-pressed:bg-cool-ground aria-pressed:text-cool"
        >
          <Ear size={15} aria-hidden />
        </button>
        <button
          type="button"
          aria-pressed={startsOpen}
          aria-label="What starts each function"
          title="What starts each function, or that nothing does (F)"
          onClick={() => store.setState({ startsOpen: !startsOpen })}
          className="rounded p-1 text-ink-500 hover:text-ink-100 aria-pressed:bg-cool-ground aria-pressed:text-cool"
        >
          <ListTree size={15} aria-hidden />
        </button>
      </div>
      {listening ? <DeskListen /> : null}
      <DeskChips desks={desks} only={only} onOnly={setOnly} />
      {hasOwn || query.startsWith("/") || (query !== "" && found.length === 0) ? (
        <AnyDesk query={query} only={only} found={found.length} onDone={() => setQuery("")} />
      ) : null}

      {startsOpen ? (
        <StartedBy functions={found} drags={drags} />
      ) : (
        <div
          id="functions"
          role="listbox"
          aria-label="Functions"
          ref={list}
          className="-mr-2 min-h-0 flex-1 overflow-y-auto pr-2"
        >
          {found.map((x, i) => (
            <div key={optionId(x)} role="presentation">
              {i === 0 || found[i - 1]!.desk !== x.desk ? <DeskHead id={x.desk} name={x.deskName} /> : null}
              <Option
                listed={x}
                marked={query !== "" && i === marked}
                chosen={chosen}
                drags={drags}
                armed={armed === `${x.desk} ${x.fn.id}`}
                uses={uses.get(`${x.desk} ${x.fn.id}`) ?? 0}
                onGive={() => void give(x)}
                onArm={() => armOne(x)}
              />
            </div>
          ))}
        </div>
      )}
    </section>
  );
}

/** Of which desk the functions are listed. */
function DeskChips({ desks, only, onOnly }: { desks: [string, string][]; only: string; onOnly(id: string): void }) {
  return (
    <div className="flex flex-wrap gap-2" role="toolbar" aria-label="Desks">
      {[["", "All desks"] as const, ...desks].map(([id, name]) => (
        <button
          key={id}
          type="button"
          aria-pressed={only === id}
          onClick={() => onOnly(id)}
          className="h-[26px] max-w-[170px] overflow-hidden rounded-full bg-velvet-800 px-2.5 text-small text-ellipsis whitespace-nowrap text-ink-300 aria-pressed:bg-velvet-700 aria-pressed:font-semibold aria-pressed:text-ink-100"
        >
          {name}
        </button>
      ))}
    </div>
  );
}

interface OptionProps {
  listed: Listed;
  /** The one that Enter gives. */
  marked: boolean;
  /** A control is chosen that it can be given to. */
  chosen: boolean;
  /** It can be dragged to a control. */
  drags: boolean;
  /** It waits for a touch. */
  armed: boolean;
  /** How many controls do it already. */
  uses: number;
  onGive(): void;
  onArm(): void;
}

/** A press this long, in ms, arms. */
const LONG_MS = 450;
/** One that wanders further than this, in px, is none. */
const STEADY_PX = 6;

function Option({ listed: x, marked, chosen, drags, armed, uses, onGive, onArm }: OptionProps) {
  const press = useRef<{ timer: ReturnType<typeof setTimeout> | null; wasLong: boolean; x: number; y: number }>({
    timer: null,
    wasLong: false,
    x: 0,
    y: 0,
  });
  const end = () => {
    if (press.current.timer) clearTimeout(press.current.timer);
    press.current.timer = null;
  };
  const begin = (e: PointerEvent) => {
    end();
    press.current.x = e.clientX;
    press.current.y = e.clientY;
    press.current.wasLong = false;
    press.current.timer = setTimeout(() => {
      press.current.wasLong = true;
      onArm();
    }, LONG_MS);
  };
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the combobox above handles the keys, as the pattern asks
    <div
      role="option"
      id={optionId(x)}
      tabIndex={-1}
      aria-selected={marked}
      title={
        chosen
          ? `Give this to the chosen control${drags ? ", or drag it to any" : ""}. Pressed long, it is armed, and then given to whatever is touched.`
          : `Arm this: then touch what should do it.${drags ? " Or drag it there." : ""}`
      }
      onPointerDown={begin}
      onPointerMove={(e) => {
        // It is being dragged.
        if (Math.hypot(e.clientX - press.current.x, e.clientY - press.current.y) > STEADY_PX) end();
      }}
      onPointerUp={end}
      onPointerLeave={end}
      onClick={() => {
        if (!press.current.wasLong) onGive();
        press.current.wasLong = false;
      }}
      data-armed={armed}
      data-function={x.fn.id}
      data-desk={x.desk}
      data-words={`${x.deskName} · ${x.fn.name}`}
      className={`group grid cursor-pointer grid-cols-[1fr_auto] gap-x-2 gap-y-px rounded-[7px] px-2.5 py-[7px] select-none hover:bg-velvet-800 ${
        armed ? "bg-armed outline outline-brass-500" : marked ? "bg-velvet-800 outline outline-brass-500" : ""
      }`}
    >
      <span className="overflow-hidden text-ellipsis">{x.fn.name}</span>
      {armed ? (
        <span className="flex items-center gap-1 self-center text-[11.5px] text-brass-300">
          <Hand size={13} aria-hidden /> armed
        </span>
      ) : (
        <span className="self-center text-[11.5px] text-ink-500">{countWords(uses)}</span>
      )}
      <small className="text-[11.5px] text-ink-500">{functionSummary(x.fn, x.profile.parameters)}</small>
    </div>
  );
}

function optionId(x: Listed): string {
  return `fn-${x.desk}-${x.fn.id}`;
}

function countWords(count: number): string {
  return count === 0 ? "nothing yet" : count === 1 ? "1 control" : `${count} controls`;
}

function matches(x: Listed, query: string): boolean {
  const text = [x.deskName, x.fn.name, ...x.fn.words].join(" ").toLowerCase();
  return query
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

/** Gives a function to the chosen control: a new mapping where it has none, else one more action. Without one it is armed. */
function useGive(armOne: (x: Listed) => void): (x: Listed) => Promise<void> {
  const store = usePageStore();
  const actions = useActions();
  return async (x) => {
    const state = store.getState();
    const { many, armed } = state;
    const one = many ? { surface: many.surface, control: many.controls[0]! } : state.chosen;
    const choice = armed ? null : choiceOf({ ...state, chosen: one });
    if (!choice) {
      armOne(x);
      return;
    }
    const action = newAction(choice, store.getState().live, x.desk, x.profile, x.fn);
    if (!action) {
      toast(`${x.fn.name}: the show has nothing yet that it could act on.`, {
        action: { label: "Layers and more", onClick: () => store.setState({ partsOpen: true }) },
      });
      return;
    }
    if (many) {
      store.setState({ series: { desk: x.desk, fn: x.fn.id } });
      return;
    }
    if (choice.shown) {
      await actions.edit({ kind: "add-action", mapping: choice.shown.id, action });
      return;
    }
    const mapping = { ...newMapping(choice), actions: [action] };
    if (await actions.edit({ kind: "add-mapping", mapping })) store.setState({ chosenMapping: mapping.id });
  };
}
