import { ChevronDown, Pin } from "lucide-react";
import { type FormEvent, Fragment, useEffect, useState } from "react";
import type { VersionEntry, VersionList } from "../../core/live/shelf.ts";
import type { DifferencesInWords } from "../../words/differences.ts";
import { Button } from "../components/controls.tsx";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { clockWords, dayWords, useAsked } from "./shelf.ts";

interface Props {
  /** What was done closes the menu that this stands beside. */
  onDone(): void;
  onCompare(before: VersionEntry): void;
}

const NOW: Omit<VersionEntry, "madeAtMs"> = { key: "now", name: "", label: "Now" };

/** The states that the show was in: rings are what the program kept, squares what somebody named. */
export function VersionsPanel({ onDone, onCompare }: Props) {
  const { answer, again } = useAsked<VersionList>("/api/versions");
  const { versions, hasOlder, askOlder } = useOlder(answer);
  const [chosen, setChosen] = useState("now");
  const savedAtMs = useLive((l) => l.history.savedAtMs);
  // The newest edit is what is there now.
  const rows: VersionEntry[] = [{ ...NOW, madeAtMs: versions[0]?.madeAtMs ?? savedAtMs }, ...versions];
  const nowMs = Date.now();
  return (
    <div className="grid max-h-[480px] grid-rows-[auto_minmax(0,1fr)_auto] gap-1">
      <NameNow onNamed={again} />
      <ul className="grid content-start overflow-y-auto pr-1" aria-label="Versions">
        {rows.map((version, i) => {
          const day = dayWords(version.madeAtMs, nowMs);
          const isFirstOfDay = i === 0 || dayWords(rows[i - 1]!.madeAtMs, nowMs) !== day;
          return (
            <Fragment key={version.key}>
              {isFirstOfDay ? <li className="px-8 pt-2 pb-1 text-small text-ink-500">{day}</li> : null}
              <Row
                version={version}
                isChosen={version.key === chosen}
                onChoose={() => setChosen(version.key)}
                onDone={onDone}
                onCompare={() => onCompare(version)}
              />
            </Fragment>
          );
        })}
      </ul>
      <div className="flex items-center justify-between border-t border-velvet-700 px-2 pt-2 text-small text-ink-500">
        Going back is an edit too: Ctrl Z undoes it.
        {hasOlder ? (
          <Button look="quiet" size="small" onClick={() => void askOlder()}>
            older <ChevronDown size={13} aria-hidden />
          </Button>
        ) : null}
      </div>
    </div>
  );
}

/** The newest versions with the older ones that were asked for. After an edit it begins with the newest again. */
function useOlder(newest: VersionList | null) {
  const [older, setOlder] = useState<(VersionList & { readonly under: VersionList }) | null>(null);
  const more = older?.under === newest ? older : null;
  const versions = [...(newest?.versions ?? []), ...(more?.versions ?? [])];
  const askOlder = async () => {
    if (!newest) return;
    const response = await fetch(`/api/versions?before=${versions.at(-1)?.madeAtMs ?? 0}`).catch(() => null);
    if (!response?.ok) return;
    const page = (await response.json()) as VersionList;
    setOlder({ ...page, versions: [...(more?.versions ?? []), ...page.versions], under: newest });
  };
  return { versions, hasOlder: (more ?? newest)?.hasOlder ?? false, askOlder };
}

interface RowProps {
  version: VersionEntry;
  isChosen: boolean;
  onChoose(): void;
  onDone(): void;
  onCompare(): void;
}

function Row({ version: { key, name, label, madeAtMs }, isChosen, onChoose, onDone, onCompare }: RowProps) {
  const actions = useActions();
  const isNow = key === "now";
  return (
    <li className={`rounded-lg ${isChosen ? "bg-velvet-700" : ""}`}>
      <button
        type="button"
        aria-expanded={isChosen}
        onClick={onChoose}
        onFocus={onChoose}
        className="flex w-full min-h-[30px] items-start gap-3 rounded-lg px-2.5 py-1.5 text-left hover:bg-velvet-800 aria-expanded:hover:bg-velvet-700"
      >
        <i
          aria-hidden
          className={`mt-1 size-2.5 shrink-0 border-2 border-brass-500 ${name ? "rounded-[2px] border-brass-400 bg-brass-400" : "rounded-full"}`}
        />
        <span className="min-w-0 flex-1">
          <span className={`block overflow-hidden text-ellipsis ${name ? "font-semibold" : ""}`}>
            {name || capital(label)}
          </span>
          {name ? <small className="block text-small text-ink-300">{label || "as it began"}</small> : null}
        </span>
        <span className="font-mono text-small text-ink-300">{clockWords(madeAtMs)}</span>
      </button>
      {isChosen && !isNow ? (
        <div className="grid gap-2 pr-2 pb-2.5 pl-8">
          <Differs version={key} />
          <div className="flex flex-wrap gap-1.5">
            <Button
              size="small"
              look="primary"
              onClick={() => void actions.version({ do: "go-back", version: key }).then((done) => done && onDone())}
            >
              Go back to this
            </Button>
            <Button
              size="small"
              onClick={() => void actions.version({ do: "open-beside", version: key }).then((done) => done && onDone())}
            >
              Open as another show
            </Button>
            <Button size="small" onClick={onCompare}>
              Compare
            </Button>
          </div>
        </div>
      ) : null}
    </li>
  );
}

/** What is different from now, in one sentence. Its line is kept free until it is known. */
function Differs({ version }: { version: string }) {
  const { answer } = useAsked<DifferencesInWords>(`/api/versions/differences?before=${version}`);
  return <p className="min-h-[16px] text-small text-ink-300">{answer?.sentence}</p>;
}

/** Gives the present version a name, so that it is kept whatever comes. */
function NameNow({ onNamed }: { onNamed(): void }) {
  const actions = useActions();
  const [isNaming, setNaming] = useState(false);
  const [name, setName] = useState("");
  useEffect(() => {
    if (!isNaming) setName("");
  }, [isNaming]);
  const send = (e: FormEvent) => {
    e.preventDefault();
    const called = name.trim();
    if (called === "") return;
    void actions.version({ do: "name", name: called }).then((done) => {
      if (!done) return;
      setNaming(false);
      onNamed();
    });
  };
  return (
    <div className="flex min-h-[34px] items-center justify-between gap-3 px-2">
      <h2 className="font-semibold">Versions</h2>
      {isNaming ? (
        <form onSubmit={send} className="flex min-w-0 items-center gap-1.5">
          <input
            ref={(field) => field?.focus()}
            aria-label="Name of the present version"
            value={name}
            maxLength={80}
            placeholder="Dress rehearsal"
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => {
              if (e.key !== "Escape") return;
              e.stopPropagation();
              setNaming(false);
            }}
            className="h-[28px] w-[180px] rounded-lg border border-brass-500 bg-velvet-950 px-2 outline-none placeholder:text-ink-600"
          />
          <Button size="small" type="submit">
            Keep
          </Button>
        </form>
      ) : (
        <Button size="small" onClick={() => setNaming(true)}>
          <Pin size={13} aria-hidden /> Name the present one
        </Button>
      )}
    </div>
  );
}

function capital(words: string): string {
  return `${words.slice(0, 1).toUpperCase()}${words.slice(1)}`;
}
