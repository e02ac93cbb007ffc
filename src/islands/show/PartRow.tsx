import { Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import type { PartList } from "../../core/edit/edit-kinds.ts";
import { Button } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { useActions } from "../live/actions.ts";

/** What a list is for, its rows, and the button that adds one. */
export function PartSection({
  about,
  add,
  onAdd,
  children,
}: {
  about: string;
  add: string;
  /** Left out where nothing can be added yet. */
  onAdd?: (() => void) | undefined;
  children: ReactNode;
}) {
  return (
    <div className="grid gap-2.5">
      <p className="text-small text-ink-500">{about}</p>
      {children}
      <Button size="small" className="justify-self-start" disabled={!onAdd} onClick={onAdd}>
        {add}
      </Button>
    </div>
  );
}

interface RowProps {
  list: PartList;
  id: string;
  name: string;
  onRename(name: string): void;
  removable?: boolean;
  children?: ReactNode;
}

/** One part: its name, its fields, and how to remove it. */
export function PartRow({ list, id, name, onRename, removable = true, children }: RowProps) {
  const actions = useActions();
  return (
    <div
      className="flex flex-wrap items-center gap-x-3 gap-y-1.5 rounded-[9px] bg-velvet-800 px-3 py-2 text-small text-ink-500"
      data-part={id}
    >
      <DraftField
        label={`Name of ${name}`}
        value={name}
        maxLength={80}
        className="w-[150px] font-semibold"
        accepts={(text) => text !== ""}
        onCommit={onRename}
      />
      {children}
      <span className="flex-1" />
      {removable ? (
        <button
          type="button"
          aria-label={`Remove ${name}`}
          onClick={() => void actions.edit({ kind: "remove-part", list, id })}
          className="rounded p-1 hover:bg-velvet-700 hover:text-ink-100"
        >
          <Trash2 size={13} aria-hidden />
        </button>
      ) : null}
    </div>
  );
}
