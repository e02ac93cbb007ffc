import { useState } from "react";

/** A name that is changed where it stands: a click or Enter opens it, Enter takes it, Escape leaves it. */
export function EditableName({ label, name, onRename }: { label: string; name: string; onRename(name: string): void }) {
  const [draft, setDraft] = useState<string | null>(null);
  if (draft === null)
    return (
      <button
        type="button"
        title="Rename"
        onClick={() => setDraft(name)}
        className="block max-w-full overflow-hidden text-left text-ellipsis whitespace-nowrap text-lead font-semibold"
      >
        {name}
      </button>
    );
  const take = () => {
    setDraft(null);
    if (draft.trim() !== "" && draft.trim() !== name) onRename(draft.trim());
  };
  return (
    <input
      aria-label={label}
      // biome-ignore lint/a11y/noAutofocus: the field stands where the name was clicked
      autoFocus
      value={draft}
      maxLength={80}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === "Enter") take();
        if (e.key === "Escape") setDraft(null);
      }}
      className="w-full rounded border border-brass-500 bg-velvet-950 px-1.5 text-lead font-semibold outline-none"
    />
  );
}
