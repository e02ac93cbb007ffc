/** The fields that cells become while they are changed. */
import { X } from "lucide-react";
import { type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from "react";
import type { MappingChange } from "../../../core/edit/edit-kinds.ts";
import { gesturesOf } from "../../../core/format/gestures.ts";
import type { Mapping } from "../../../core/format/show.ts";
import { DEFAULT_COLOUR } from "../../../core/surface/look.ts";
import { ENGLISH } from "../../../words/english.ts";
import { TAKEOVER_WORDS } from "../../../words/mappings.ts";
import { DraftField } from "../../components/DraftField.tsx";
import { useActions } from "../../live/actions.ts";
import { ScopeTicks } from "../ScopeChips.tsx";
import type { ColumnId } from "./columns.ts";
import { NumbersField } from "./NumbersField.tsx";
import type { TableRow } from "./table-rows.ts";

/** The field of a cell; null where it has none. */
export function editorOf(row: TableRow, column: ColumnId, onDone: (move?: number) => void): ReactNode {
  const { mapping, action, about } = row;
  if (!mapping) return null;
  switch (column) {
    case "name":
      return <NameField mapping={mapping} onDone={onDone} />;
    case "gesture":
      return about ? (
        <ListField
          label={`Gesture of ${row.controlName}`}
          value={mapping.gesture}
          options={gesturesOf(about).map((g) => [g, ENGLISH.gestures[g]] as const)}
          mapping={mapping}
          setOf={(gesture) => ({ gesture: gesture as Mapping["gesture"] })}
          onDone={onDone}
        />
      ) : null;
    case "takeover":
      return about?.behaviour === "absolute" ? (
        <ListField
          label={`Takeover of ${row.controlName}`}
          value={mapping.takeover}
          options={Object.entries(TAKEOVER_WORDS)}
          mapping={mapping}
          setOf={(takeover) => ({ takeover: takeover as Mapping["takeover"] })}
          onDone={onDone}
        />
      ) : null;
    case "holds":
      return <HoldsField mapping={mapping} onDone={onDone} />;
    case "light":
      return <LightField mapping={mapping} onDone={onDone} />;
    case "numbers":
      return action ? <NumbersField mapping={mapping} action={action} onDone={onDone} /> : null;
    default:
      return null;
  }
}

/** The keys that end the change of a cell. */
function endKeys(done: (move?: number) => void) {
  return (e: KeyboardEvent) => {
    if (e.key === "Escape") done();
    else if (e.key === "Tab") done(e.shiftKey ? -1 : 1);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
}

function NameField({ mapping, onDone }: { mapping: Mapping; onDone(move?: number): void }) {
  const actions = useActions();
  const field = useRef<HTMLDivElement>(null);
  useEffect(() => field.current?.querySelector("input")?.focus(), []);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: only the keys of the field inside are heard
    <div ref={field} onKeyDown={endKeys(onDone)} onBlur={() => onDone()} className="w-full">
      <DraftField
        label="Name of the mapping"
        className="w-full"
        maxLength={80}
        value={mapping.name}
        onCommit={(name) => void actions.edit({ kind: "change-mapping", id: mapping.id, set: { name } })}
      />
    </div>
  );
}

interface ListProps {
  label: string;
  value: string;
  options: readonly (readonly [value: string, words: string])[];
  mapping: Mapping;
  setOf(value: string): MappingChange;
  onDone(move?: number): void;
}

/** One of a few: arrows choose, Enter takes. */
function ListField({ label, value, options, mapping, setOf, onDone }: ListProps) {
  const actions = useActions();
  const [draft, setDraft] = useState(value);
  const field = useRef<HTMLSelectElement>(null);
  useEffect(() => field.current?.focus(), []);
  const take = (move?: number) => {
    if (draft !== value) void actions.edit({ kind: "change-mapping", id: mapping.id, set: setOf(draft) });
    onDone(move);
  };
  return (
    <select
      ref={field}
      aria-label={label}
      value={draft}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={() => take()}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Escape") onDone();
        else if (e.key === "Enter") take();
        else if (e.key === "Tab") take(e.shiftKey ? -1 : 1);
        else return;
        e.preventDefault();
      }}
      className="h-[24px] w-full rounded-md border border-brass-500 bg-velvet-950 px-1 text-ink-100"
    >
      {options.map(([id, words]) => (
        <option key={id} value={id}>
          {words}
        </option>
      ))}
    </select>
  );
}

/** A panel below the cell; it goes when the pointer or the focus is elsewhere. */
function Below({ children, onDone }: { children: ReactNode; onDone(move?: number): void }) {
  const panel = useRef<HTMLDivElement>(null);
  useEffect(() => panel.current?.querySelector<HTMLElement>("input,button")?.focus(), []);
  useEffect(() => {
    const away = (e: PointerEvent) => {
      if (!panel.current?.contains(e.target as Node)) onDone();
    };
    window.addEventListener("pointerdown", away, true);
    return () => window.removeEventListener("pointerdown", away, true);
  }, [onDone]);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: only the keys of the fields inside are heard
    <div
      ref={panel}
      onKeyDown={(e) => {
        if (e.key === "Tab") return; // from field to field within it
        if (e.key === "Enter") onDone();
        else endKeys(onDone)(e);
      }}
      className="absolute top-full left-0 z-20 w-[300px] rounded-xl border border-brass-500 bg-velvet-850 p-3 whitespace-normal shadow-2xl"
    >
      {children}
    </div>
  );
}

function HoldsField({ mapping, onDone }: { mapping: Mapping; onDone(move?: number): void }) {
  const actions = useActions();
  return (
    <Below onDone={onDone}>
      <ScopeTicks
        scope={mapping}
        onChange={(set) => void actions.edit({ kind: "change-mapping", id: mapping.id, set })}
      />
    </Below>
  );
}

function LightField({ mapping, onDone }: { mapping: Mapping; onDone(move?: number): void }) {
  const actions = useActions();
  const set = (look: Mapping["look"]) => void actions.edit({ kind: "change-mapping", id: mapping.id, set: { look } });
  return (
    <Below onDone={onDone}>
      <span className="flex items-center gap-3 text-small">
        <label className="flex items-center gap-2">
          colour
          <input
            type="color"
            aria-label="Colour of the light"
            value={mapping.look.colour ?? DEFAULT_COLOUR}
            onChange={(e) => set({ colour: e.target.value })}
            className="h-[20px] w-[30px] rounded border border-velvet-600 bg-transparent p-0"
          />
        </label>
        {mapping.look.colour ? (
          <button type="button" onClick={() => set({})} className="inline-flex items-center gap-1 hover:text-ink-100">
            <X size={11} aria-hidden /> take the desk’s
          </button>
        ) : (
          <span className="text-ink-500">the desk’s own</span>
        )}
      </span>
    </Below>
  );
}
