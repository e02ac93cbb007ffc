import { freeId } from "../../core/format/free-id.ts";
import type { Display } from "../../core/format/surface-profile.ts";
import { compileDisplay, displayBytes } from "../../core/surface/display.ts";
import { Button } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton } from "../components/Field.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { Select } from "../components/Select.tsx";
import { useActions } from "../live/actions.ts";
import { CARD } from "./desk-editor-props.ts";
import { withItem } from "./profile-draft.ts";
import type { SurfaceEditorProps } from "./surface-editor-props.ts";

/** Texts of a surface: what each speaks of, and the SysEx that writes it. */
export function DisplayRows({ profile, change, users }: SurfaceEditorProps) {
  const actions = useActions();
  const displays = profile.displays ?? [];
  const put = (next: Display[]) => {
    const { displays: _old, ...rest } = profile;
    change(next.length === 0 ? rest : { ...profile, displays: next });
  };
  const surface = users[0];
  return (
    <div className="grid max-w-[980px] gap-2">
      <p className="text-small text-ink-500">
        A text is sent as SysEx with {"{text}"} in the place of its letters, filled up with spaces to its length.
      </p>
      {displays.map((d, i) => (
        <div key={d.id} className={`${CARD} flex flex-wrap items-center gap-2`} data-display-row={d.id}>
          <Select
            label={`What the text ${d.id} shows`}
            value={d.shows}
            options={[
              { value: "name", label: "the name" },
              { value: "value", label: "the value" },
            ]}
            onChange={(shows) => put(withItem(displays, i, { ...d, shows }))}
          />
          of
          <Select
            label={`Control of the text ${d.id}`}
            value={d.of}
            options={profile.controls.map((c) => ({ value: c.id, label: c.name }))}
            onChange={(of) => put(withItem(displays, i, { ...d, of }))}
          />
          <NumberField
            label={`Letters of the text ${d.id}`}
            value={d.length}
            min={1}
            max={64}
            onCommit={(length) => put(withItem(displays, i, { ...d, length }))}
          />
          letters
          <DraftField
            label={`SysEx of the text ${d.id}`}
            value={d.bytes}
            className="min-w-[280px] flex-1 font-mono !text-[12px]"
            accepts={(t) => t.includes("{text}")}
            onCommit={(bytes) => put(withItem(displays, i, { ...d, bytes }))}
          />
          {surface ? (
            <Button
              size="small"
              look="quiet"
              onClick={() => {
                const bytes = displayBytes(compileDisplay(d, 0), "Slack Water");
                actions.send({ kind: "send-once", to: "surface", id: surface.id, bytes: [...bytes] });
              }}
            >
              write “Slack Water”
            </Button>
          ) : null}
          <ClearButton label={`Remove the text ${d.id}`} onClick={() => put(withItem(displays, i, null))} />
        </div>
      ))}
      <Button
        size="small"
        className="justify-self-start"
        disabled={profile.controls.length === 0}
        onClick={() => {
          const of = profile.controls[0]!;
          const box = { x: of.box.x, y: of.box.y, width: of.box.width, height: 0.4 };
          const id = freeId("text", displays);
          put([
            ...displays,
            {
              id,
              name: `Text ${displays.length + 1}`,
              box,
              of: of.id,
              shows: "name",
              length: 8,
              bytes: "F0 7D 01 {text} F7",
            },
          ]);
        }}
      >
        Add a text
      </Button>
    </div>
  );
}
