/** What the cards of surfaces and desks have alike: name, health and what can be done with it; and its two ways. */
import type { ReactNode } from "react";
import { Activity } from "../components/Activity.tsx";
import { EditableName } from "../components/EditableName.tsx";
import { type MenuChoice, type MenuEntry, MoreMenu } from "../components/Menu.tsx";
import { useLive, usePageStore } from "../live/store.ts";

export const CARD =
  "grid grid-cols-[minmax(0,1fr)] gap-2 rounded-xl bg-velvet-850 px-3.5 py-3 shadow-[inset_0_1px_0_var(--lip)]";

interface HeadProps {
  /** What it is among units: "surface" or "desk". */
  what: string;
  name: string;
  about: string | undefined;
  health: ReactNode;
  /** What more can be done with it, before it is replaced or removed. */
  more?: readonly MenuEntry[];
  choice?: MenuChoice | undefined;
  onRename(name: string): void;
  onReplace(): void;
  onRemove(): void;
}

export function CardHead({ what, name, about, health, more = [], choice, onRename, onReplace, onRemove }: HeadProps) {
  return (
    <div className="flex items-start gap-2.5">
      <div className="min-w-0 flex-1">
        <EditableName label={`Name of the ${what}`} name={name} onRename={onRename} />
        <div className="overflow-hidden text-small text-ellipsis whitespace-nowrap text-ink-500" title={about}>
          {about}
        </div>
      </div>
      {health}
      <MoreMenu
        label={`More of ${name}`}
        entries={[
          ...more,
          { words: "Replace it …", act: onReplace },
          { words: "Remove it", isGrave: true, act: onRemove },
        ]}
        choice={choice}
      />
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
    <div className="grid grid-cols-[auto_minmax(0,1fr)_auto_auto_minmax(0,1fr)_auto] items-start gap-x-2 gap-y-1 text-small [&>span]:self-center">
      <span className="text-cool">in</span>
      {input}
      <Activity count={count("in")} way="in" label="in" />
      <span className="pl-1 text-warm">out</span>
      {output}
      <Activity count={count("out")} way="out" label="out" />
      {dropped > 0 ? (
        <span className="col-span-6 text-care" role="note">
          {dropped === 1
            ? "One message was dropped: it could not be sent or was not valid."
            : `${dropped} messages were dropped: they could not be sent or were not valid.`}
        </span>
      ) : null}
    </div>
  );
}
