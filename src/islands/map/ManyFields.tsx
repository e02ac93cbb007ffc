/** What can be changed of many mappings at once; each is one edit, and one undo takes it back. */
import { Popover } from "radix-ui";
import { type ReactNode, useState } from "react";
import type { OneEdit } from "../../core/edit/edit-kinds.ts";
import { gesturesOfAll, setOnAll, takeOverAll } from "../../core/edit/many-edits.ts";
import type { Mapping } from "../../core/format/show.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import { DEFAULT_COLOUR } from "../../core/surface/look.ts";
import { ENGLISH } from "../../words/english.ts";
import { TAKEOVER_WORDS } from "../../words/mappings.ts";
import { Button } from "../components/controls.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { optionsOf, Select } from "../components/Select.tsx";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { BundleChoice } from "./BundleChoice.tsx";
import { ScopeTicks } from "./ScopeChips.tsx";

const TAKEOVERS = optionsOf(TAKEOVER_WORDS);

export function useAllEdit(count: number) {
  const actions = useActions();
  return (does: string, edits: readonly OneEdit[]) => {
    if (edits.length > 0) void actions.edit({ kind: "together", does: `${does} ${count} mappings`, edits: [...edits] });
  };
}

export function ManyFields({ mappings }: { mappings: readonly Mapping[] }) {
  const compiled = useLive((l) => l.compiled);
  const all = useAllEdit(mappings.length);
  const controlOf = (m: Mapping): Control | undefined => {
    const surface = compiled.surfaces.find((s) => s.id === m.surface);
    return surface?.profile.controls[surface.indexOf.get(m.control) ?? -1];
  };
  const controls = mappings.flatMap((m) => controlOf(m) ?? []);
  const gestures = gesturesOfAll(controls);
  const absolute = mappings.filter((m) => controlOf(m)?.behaviour === "absolute");
  const [first] = mappings;
  if (!first) return null;
  return (
    <>
      <Panel name="Holds…">
        <p className="mb-2 text-small text-ink-500">Where all {mappings.length} hold, as the first does now:</p>
        <ScopeTicks scope={first} onChange={(set) => all("change where hold", setOnAll(mappings, set))} />
      </Panel>
      {gestures.length > 1 ? (
        <Select
          label="Gesture of all"
          value={same(mappings.map((m) => m.gesture))}
          placeholder="Gesture…"
          options={gestures.map((g) => ({ value: g, label: ENGLISH.gestures[g] }))}
          onChange={(gesture) => all("change the gesture of", setOnAll(mappings, { gesture }))}
          className="h-[30px] px-2.5"
        />
      ) : null}
      {absolute.length > 0 ? (
        <Select
          label="Takeover of all"
          value={same(absolute.map((m) => m.takeover))}
          placeholder="Takeover…"
          options={TAKEOVERS}
          onChange={(takeover) => all("change the takeover of", takeOverAll(absolute, takeover, controlOf))}
          className="h-[30px] px-2.5"
        />
      ) : null}
      <BundleChoice
        label="Bundle of all"
        value={same(mappings.map((m) => m.bundle ?? ""))}
        onBundle={(bundle, first) => all("change the bundle of", [...first, ...setOnAll(mappings, { bundle })])}
        className="h-[30px] px-2.5"
      />
      <Panel name="Light…">
        <ManyLight mappings={mappings} />
      </Panel>
      <Panel name="Shape…">
        <ManyShape mappings={mappings} />
      </Panel>
    </>
  );
}

/** One colour for all their lights, or each the desk's. */
function ManyLight({ mappings }: { mappings: readonly Mapping[] }) {
  const all = useAllEdit(mappings.length);
  const [colour, setColour] = useState(mappings[0]?.look.colour ?? DEFAULT_COLOUR);
  return (
    <div className="flex flex-wrap items-center gap-3 text-small">
      <label className="flex items-center gap-2">
        colour
        <input
          type="color"
          aria-label="Colour of all their lights"
          value={colour}
          onChange={(e) => setColour(e.target.value)}
          className="h-[22px] w-[34px] rounded border border-velvet-600 bg-transparent p-0"
        />
      </label>
      <Button size="small" onClick={() => all("colour", setOnAll(mappings, { look: { colour } }))}>
        Give it to all
      </Button>
      <Button size="small" onClick={() => all("give the desk’s colour to", setOnAll(mappings, { look: {} }))}>
        Take the desk’s
      </Button>
    </div>
  );
}

/** The travel and the turn of all levels. */
function ManyShape({ mappings }: { mappings: readonly Mapping[] }) {
  const compiled = useLive((l) => l.compiled);
  const all = useAllEdit(mappings.length);
  const levels = mappings.flatMap((m) =>
    m.actions
      .filter((a) => compiled.desks.find((d) => d.id === a.desk)?.functions.get(a.function)?.fn.acts === "level")
      .map((action) => ({ mapping: m.id, action })),
  );
  const [first] = levels;
  if (!first) return <p className="text-small text-ink-500">None of them drives a level.</p>;
  const { input, invert } = first.action.shape;
  const shape = (set: Extract<OneEdit, { kind: "change-action" }>["set"]["shape"]) =>
    all(
      "change the shape of",
      levels.map(
        ({ mapping, action }): OneEdit => ({ kind: "change-action", mapping, id: action.id, set: { shape: set } }),
      ),
    );
  return (
    <div className="grid gap-2 text-small">
      <span className="flex items-center gap-2 text-ink-500">
        travel
        <NumberField
          label="Travel of all from"
          value={input[0] * 100}
          min={0}
          max={Math.max(0, input[1] * 100 - 1)}
          onCommit={(v) => shape({ input: [v / 100, input[1]] })}
        />
        to
        <NumberField
          label="Travel of all to"
          value={input[1] * 100}
          min={Math.min(100, input[0] * 100 + 1)}
          max={100}
          onCommit={(v) => shape({ input: [input[0], v / 100] })}
        />
        %
      </span>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={invert === true}
          onChange={(e) => shape({ invert: e.target.checked })}
          className="accent-brass-400"
        />
        inverted
      </label>
    </div>
  );
}

/** What all of them have; none where they differ. */
function same(values: readonly string[]): string {
  return new Set(values).size === 1 ? values[0]! : "";
}

function Panel({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button>{name}</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={6}
          className="z-50 w-[300px] rounded-xl border border-velvet-600 bg-velvet-850 p-3.5 shadow-2xl"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
