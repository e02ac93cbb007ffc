import { useLayoutEffect } from "react";
import { Button, Key } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { StateMark } from "../components/StateMark.tsx";
import { type Sheet, TabSheet } from "../components/TabSheet.tsx";
import { exportProfile } from "../documents/files.ts";
import { useActions } from "../live/actions.ts";
import { usePageStore } from "../live/store.ts";

interface Props {
  side: "desk" | "surface";
  profile: { id: string; name: string };
  /** Who uses it, by name. */
  users: readonly string[];
  problems: readonly string[];
  onRename(name: string): void;
  tabs: readonly Sheet[];
}

/** The sheet on which a profile is edited: its name, its parts as tabs, and whether what is seen is what runs. */
export function EditorFrame({ side, profile, users, problems, onRename, tabs }: Props) {
  const store = usePageStore();
  const actions = useActions();
  const close = () => store.setState({ editing: null });
  useLayoutEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.key === "Escape" && !e.defaultPrevented && document.activeElement?.tagName !== "INPUT")
        store.setState({ editing: null });
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [store]);
  return (
    <section
      aria-label={`Profile of ${profile.name}`}
      className="leaf absolute inset-x-0 top-[52px] bottom-10 z-20 grid grid-rows-[auto_minmax(0,1fr)_auto]"
    >
      <header className="flex items-center gap-3 px-5 pt-4 pb-2">
        <DraftField
          label="Name of the profile"
          value={profile.name}
          maxLength={80}
          className="!h-[32px] w-[280px] !text-title font-semibold"
          accepts={(t) => t !== ""}
          onCommit={onRename}
        />
        <span className="text-small text-ink-500">
          {users.length > 0 ? `is ${users.join(", ")}: changes run at once` : `no ${side} of this kind in the show yet`}
        </span>
        <div className="flex-1" />
        <Button onClick={() => exportProfile(side, profile)}>Export</Button>
        <Button
          disabled={users.length > 0}
          onClick={() => {
            void actions
              .edit({ kind: side === "desk" ? "remove-desk-profile" : "remove-surface-profile", id: profile.id })
              .then((done) => done && close());
          }}
        >
          Remove
        </Button>
        <Button look="quiet" onClick={close}>
          Close <Key>Esc</Key>
        </Button>
      </header>
      <TabSheet label="Parts of the profile" sheets={tabs} />
      <div className="border-t border-velvet-700 px-5 py-2 text-small" role="status">
        {problems.length === 0 ? (
          <StateMark shape="tick" tone="good">
            complete: what you see is what runs
          </StateMark>
        ) : (
          <span className="text-care">
            Not in use yet, the show runs with it as it was: {problems.slice(0, 3).join(" ")}
            {problems.length > 3 ? ` And ${problems.length - 3} more.` : ""}
          </span>
        )}
      </div>
    </section>
  );
}
