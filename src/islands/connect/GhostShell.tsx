/** What is here and used by nobody, as a card of its leaf: what was heard, what it may be, and one button. */
import { X } from "lucide-react";
import { useLayoutEffect } from "react";
import { Button, IconButton, Key } from "../components/controls.tsx";
import { type Option, Select } from "../components/Select.tsx";
import { isTyping } from "../components/typing.ts";

interface Props {
  /** What it calls itself; beside it, what it does. */
  name: string;
  does: string;
  heard: string;
  /** What it may be used as; left out, there is but one way. */
  kinds?: { value: string; options: readonly Option[]; onChange(kind: string): void };
  /** On the button. */
  use?: string;
  /** Of several the one that was heard last: its button is the brass one, and U presses it. */
  isNewest: boolean;
  onUse(): void;
  onAway(): void;
  note?: string;
}

export function GhostShell({ name, does, heard, kinds, use = "Use it", isNewest, onUse, onAway, note }: Props) {
  useLayoutEffect(() => {
    if (!isNewest) return;
    const onKey = (e: KeyboardEvent) => {
      if (e.key.toLowerCase() !== "u" || e.ctrlKey || e.metaKey || e.altKey || e.shiftKey || isTyping(e.target)) return;
      e.preventDefault();
      onUse();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
  return (
    <article
      className="grid gap-2.5 rounded-xl border border-dashed border-brass-500 bg-armed/60 px-3.5 py-3"
      aria-label={`${name} is here`}
      data-ghost={name}
    >
      <div className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h2 className="overflow-hidden text-lead font-semibold text-ellipsis whitespace-nowrap">
            <bdi>{name}</bdi> {does}
          </h2>
          <p className="overflow-hidden text-ellipsis whitespace-nowrap text-ink-300">{heard}</p>
        </div>
        <IconButton label={`Put ${name} away`} onClick={onAway}>
          <X size={15} aria-hidden />
        </IconButton>
      </div>
      <div className="flex items-center gap-2.5">
        {kinds ? (
          <>
            <span className="text-ink-300">Use it as</span>
            <Select
              label={`What ${name} is`}
              value={kinds.value}
              options={kinds.options}
              onChange={kinds.onChange}
              className="h-[32px] min-w-0 flex-1 rounded-lg !bg-velvet-950 px-2.5 font-semibold"
            />
          </>
        ) : (
          <span className="min-w-0 flex-1 text-ink-300">{note}</span>
        )}
        <Button look={isNewest ? "primary" : "plain"} onClick={onUse}>
          {use} {isNewest ? <Key>U</Key> : null}
        </Button>
      </div>
    </article>
  );
}
