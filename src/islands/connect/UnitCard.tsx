/** What the cards of surfaces and desks have alike: name, health and what can be done with it; and its two ways. */
import { Repeat2, Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import { Activity } from "../components/Activity.tsx";
import { IconButton } from "../components/controls.tsx";
import { EditableName } from "../components/EditableName.tsx";
import { useLive, usePageStore } from "../live/store.ts";

export const CARD = "grid gap-2 rounded-xl bg-velvet-850 px-3.5 py-3 shadow-[inset_0_1px_0_#ffffff0a]";

interface HeadProps {
  /** What it is among units: "surface" or "desk". */
  what: string;
  name: string;
  about: string | undefined;
  health: ReactNode;
  onRename(name: string): void;
  onReplace(): void;
  onRemove(): void;
}

export function CardHead({ what, name, about, health, onRename, onReplace, onRemove }: HeadProps) {
  return (
    <div className="flex items-start gap-3">
      <div className="min-w-0 flex-1">
        <EditableName label={`Name of the ${what}`} name={name} onRename={onRename} />
        <div className="text-small text-ink-500">{about}</div>
      </div>
      {health}
      <IconButton label={`Replace ${name}`} onClick={onReplace}>
        <Repeat2 size={15} aria-hidden />
      </IconButton>
      <IconButton label={`Remove ${name}`} onClick={onRemove}>
        <Trash2 size={14} aria-hidden />
      </IconButton>
    </div>
  );
}

interface WaysProps {
  input: ReactNode;
  output: ReactNode;
  of: "surfaces" | "desks";
  id: string;
}

/** Where its messages come from and go to, and whether any do. */
export function CardWays({ input, output, of, id }: WaysProps) {
  const store = usePageStore();
  // Messages that its ports could not send or read.
  const dropped = useLive((l) => l[of][id]?.dropped ?? 0);
  const count = (way: "in" | "out") => () => store.getState().live[of][id]?.[way] ?? 0;
  return (
    <div className="grid grid-cols-[auto_minmax(0,1fr)_auto] items-center gap-x-2.5 gap-y-1 text-small">
      <span className="text-cool">in</span>
      {input}
      <Activity count={count("in")} way="in" label="in" />
      <span className="text-warm">out</span>
      {output}
      <Activity count={count("out")} way="out" label="out" />
      {dropped > 0 ? (
        <span className="col-span-3 text-care" role="note">
          {dropped === 1
            ? "One message was dropped: it could not be sent or was not valid."
            : `${dropped} messages were dropped: they could not be sent or were not valid.`}
        </span>
      ) : null}
    </div>
  );
}
