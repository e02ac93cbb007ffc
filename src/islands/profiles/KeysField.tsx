import { useState } from "react";
import type { Control } from "../../core/format/surface-profile.ts";
import { keyWord } from "../../core/surface/computer-keys.ts";
import { Button } from "../components/controls.tsx";
import { ClearButton } from "../components/Field.tsx";

interface Props {
  control: Control;
  /** Null = no key. */
  onChange(keys: string[] | null): void;
}

/** Keys that say nothing by themselves, or that the browser needs. */
const NO_KEYS = /^(Shift|Control|Alt|Meta|Tab|Escape|CapsLock)/;

/** The keys of the computer that play a control: asked for by pressing them. */
export function KeysField({ control, onChange }: Props) {
  const wanted = control.behaviour === "relative" ? ["down", "up"] : ["press"];
  /** Keys that were pressed so far; null = it is not listening. */
  const [heard, setHeard] = useState<string[] | null>(null);
  const keys = control.keys ?? [];
  return (
    <>
      {keys.map((code) => (
        <kbd key={code} className="rounded border border-velvet-600 px-1.5 font-mono text-ink-100">
          {keyWord(code)}
        </kbd>
      ))}
      <Button
        size="small"
        aria-pressed={heard !== null}
        onClick={() => setHeard([])}
        onBlur={() => setHeard(null)}
        onKeyDown={(e) => {
          if (heard === null || NO_KEYS.test(e.code) || e.code === "") return;
          e.preventDefault();
          e.stopPropagation();
          if (e.repeat || heard.includes(e.code)) return;
          const next = [...heard, e.code];
          setHeard(next.length < wanted.length ? next : null);
          if (next.length === wanted.length) onChange(next);
        }}
        // A button is pressed when Space comes up.
        onKeyUp={(e) => e.preventDefault()}
      >
        {heard !== null
          ? wanted.length === 1
            ? "press the key …"
            : `press the key for ${wanted[heard.length]} …`
          : keys.length > 0
            ? "Another"
            : wanted.length === 1
              ? "A key plays it"
              : "Two keys turn it"}
      </Button>
      {keys.length > 0 ? <ClearButton label="No key plays it" onClick={() => onChange(null)} /> : null}
    </>
  );
}
