/** Several controls are chosen: what is done here is done to all of them, and one undo takes it back. */
import type { OneEdit } from "../../core/edit/edit-kinds.ts";
import { swapEdits } from "../../core/edit/pasting.ts";
import { stripsOf } from "../../core/mapping/strips.ts";
import { Button, Key } from "../components/controls.tsx";
import { useActions } from "../live/actions.ts";
import type { Many } from "../live/many.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { duplicate, toClipboard } from "./copying.ts";
import { ChosenGrip } from "./Grip.tsx";
import { ManyFields } from "./ManyFields.tsx";

export function ManySpine({ many }: { many: Many }) {
  const store = usePageStore();
  const actions = useActions();
  const show = useLive((l) => l.show);
  const teaches = useLive((l) => l.teaches);
  const mappings = show.mappings.filter((m) => m.surface === many.surface && many.controls.includes(m.control));
  const surface = show.surfaces.find((s) => s.id === many.surface);
  const asleep = many.controls.filter((c) => surface?.asleep?.includes(c));
  const off = mappings.filter((m) => !m.on);
  const isMapped = mappings.length > 0;
  const isStrips = useLive((l) => {
    const controls = l.compiled.surfaces.find((s) => s.id === many.surface)?.profile.controls ?? [];
    return stripsOf(controls.filter((c) => many.controls.includes(c.id))) !== null;
  });
  const all = (does: string, edits: OneEdit[]) =>
    void actions.edit({ kind: "together", does: `${does} ${many.controls.length} controls`, edits });
  const switched = (on: boolean) =>
    all(
      on ? "switch on" : "switch off",
      mappings.filter((m) => m.on !== on).map((m) => ({ kind: "change-mapping", id: m.id, set: { on } })),
    );
  const slept = (on: boolean) =>
    all(
      on ? "let sleep" : "wake",
      many.controls
        .filter((c) => asleep.includes(c) !== on)
        .map((control) => ({ kind: "set-asleep", id: many.surface, control, on })),
    );
  const swap = () => {
    const [one, other] = many.controls.map((control) => ({ surface: many.surface, control }));
    const edits = swapEdits(mappings, one!, other!);
    if (edits.length > 0)
      void actions.edit({ kind: "together", does: `swap ${one!.control} and ${other!.control}`, edits });
  };
  return (
    <>
      <div className="-ml-2 flex items-center gap-1">
        {isMapped ? <ChosenGrip words={`${many.controls.length} controls`} /> : null}
        <h1 className="text-head font-semibold text-brass-300">{many.controls.length} controls are chosen</h1>
      </div>
      <p className="text-ink-300">
        Say on the right what they should do: the number counts on from one to the next, and you see every line before
        anything is done.
      </p>
      <ul className="grid gap-1 text-small text-ink-500">
        <li>
          {isMapped
            ? `${mappings.length} mappings, ${off.length} switched off, ${asleep.length} asleep`
            : "None of them does anything yet."}
        </li>
        <li>Ctrl and a click takes one more, or one less; Shift and a click all up to it; Ctrl A all alike.</li>
        <li>
          {teaches ? "Hands teach: each touch joins them." : "Let hands teach, with H, and each touch joins them."}
        </li>
      </ul>
      <div className="flex flex-wrap gap-2">
        <Button disabled={off.length === mappings.length} onClick={() => switched(false)}>
          Switch off
        </Button>
        <Button disabled={off.length === 0} onClick={() => switched(true)}>
          Switch on
        </Button>
        <Button disabled={asleep.length === many.controls.length} onClick={() => slept(true)}>
          Let sleep
        </Button>
        <Button disabled={asleep.length === 0} onClick={() => slept(false)}>
          Wake
        </Button>
        <Button disabled={!isMapped} onClick={() => void toClipboard(store)}>
          Copy <Key>Ctrl C</Key>
        </Button>
        <Button disabled={!isMapped} onClick={() => duplicate(store)}>
          Duplicate <Key>Ctrl D</Key>
        </Button>
        {isStrips ? <Button onClick={() => store.setState({ strips: true })}>Make strips of them …</Button> : null}
        {many.controls.length === 2 ? (
          <Button disabled={!isMapped} onClick={swap}>
            Swap the two
          </Button>
        ) : null}
      </div>
      {isMapped ? (
        <div className="flex flex-wrap gap-2" role="toolbar" aria-label="All their mappings">
          <ManyFields mappings={mappings} />
        </div>
      ) : null}
      <div className="flex-1" />
      <div className="flex items-center gap-2 border-t border-velvet-700 pt-2.5">
        <Button look="quiet" onClick={() => store.setState({ many: null })}>
          Choose one again <Key>Esc</Key>
        </Button>
        <span className="flex-1" />
        <Button
          look="quiet"
          disabled={!isMapped}
          onClick={() =>
            all(
              "unmap",
              mappings.map((m) => ({ kind: "remove-mapping", id: m.id })),
            )
          }
        >
          Unmap all
        </Button>
      </div>
    </>
  );
}
