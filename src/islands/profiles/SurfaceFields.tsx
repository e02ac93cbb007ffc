import { freeId } from "../../core/format/free-id.ts";
import type { InternalBank, SurfaceProfile } from "../../core/format/surface-profile.ts";
import { Button, Switch } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton, Field } from "../components/Field.tsx";
import { ListField } from "../components/ListField.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { AboutRow } from "./AboutRow.tsx";
import { FIELDS } from "./desk-editor-props.ts";
import { withItem } from "./profile-draft.ts";
import type { SurfaceEditorProps } from "./surface-editor-props.ts";

/** What holds for a surface as a whole: its board, what makes it ready, its own lights and banks. */
export function SurfaceFields({ profile, change }: SurfaceEditorProps) {
  const { size } = profile;
  const lines = (key: "init" | "teardown", list: string[]) => {
    const { [key]: _old, ...rest } = profile;
    change(list.length === 0 ? rest : { ...profile, [key]: list });
  };
  return (
    <div className={FIELDS}>
      <AboutRow about={profile.about} onCommit={(about) => change({ ...profile, about })} />
      <Field label="the board">
        <NumberField
          label="Width of the board"
          value={size.width}
          min={1}
          max={128}
          onCommit={(width) => change({ ...profile, size: { ...size, width } })}
        />
        by
        <NumberField
          label="Height of the board"
          value={size.height}
          min={1}
          max={128}
          onCommit={(height) => change({ ...profile, size: { ...size, height } })}
        />
        pads
      </Field>
      <Field label="its own lights">
        <Switch
          label="it lights its own presses and is not told them again"
          checked={profile.lightsItself}
          onChange={(lightsItself) => change({ ...profile, lightsItself })}
        />
      </Field>
      <Field label="sent when it opens">
        <ListField
          label="Messages that make it ready, separated by semicolons"
          placeholder="F0 7D 01 F7; …"
          value={profile.init ?? []}
          by=";"
          className="w-full font-mono !text-[12px]"
          onCommit={(t) => lines("init", t)}
        />
      </Field>
      <Field label="and when it closes">
        <ListField
          label="Messages when it is left, separated by semicolons"
          value={profile.teardown ?? []}
          by=";"
          className="w-full font-mono !text-[12px]"
          onCommit={(t) => lines("teardown", t)}
        />
      </Field>
      <Banks profile={profile} change={change} />
    </div>
  );
}

/** A button of the surface itself that shifts what its controls send. */
function Banks({ profile, change }: Pick<SurfaceEditorProps, "profile" | "change">) {
  const banks = profile.banks ?? [];
  const putBanks = (next: InternalBank[]) => {
    const { banks: _old, ...rest } = profile;
    const controls = next.length > 0 ? rest.controls : rest.controls.map(({ banked: _banked, ...c }) => c);
    change((next.length === 0 ? { ...rest, controls } : { ...profile, banks: next }) as SurfaceProfile);
  };
  return (
    <>
      <span className="self-start pt-1">its own bank button</span>
      <div className="grid gap-1.5">
        {banks.length === 0 ? <span>It has none: every control sends the same at all times.</span> : null}
        {banks.map((b, i) => (
          <span key={b.id} className="flex flex-wrap items-center gap-1.5">
            <DraftField
              label={`Name of the bank ${b.id}`}
              value={b.name}
              className="w-[120px]"
              accepts={(t) => t !== ""}
              onCommit={(name) => putBanks(withItem(banks, i, { ...b, name }))}
            />
            {i === 0 ? (
              "as the controls are written"
            ) : (
              <>
                shifts channels by
                <NumberField
                  label={`Channels of ${b.name}`}
                  value={b.channels}
                  min={-15}
                  max={15}
                  onCommit={(channels) => putBanks(withItem(banks, i, { ...b, channels }))}
                />
                numbers by
                <NumberField
                  label={`Numbers of ${b.name}`}
                  value={b.numbers}
                  min={-127}
                  max={127}
                  onCommit={(numbers) => putBanks(withItem(banks, i, { ...b, numbers }))}
                />
              </>
            )}
            <ClearButton label={`Remove the bank ${b.name}`} onClick={() => putBanks(withItem(banks, i, null))} />
          </span>
        ))}
        <Button
          size="small"
          className="justify-self-start"
          onClick={() => {
            const bank = (n: number, channels: number): InternalBank => ({
              id: freeId(`bank-${n}`, banks),
              name: `Bank ${n}`,
              channels,
              numbers: 0,
            });
            putBanks(banks.length === 0 ? [bank(1, 0), bank(2, 1)] : [...banks, bank(banks.length + 1, banks.length)]);
          }}
        >
          {banks.length === 0 ? "It has one" : "One more bank"}
        </Button>
      </div>
    </>
  );
}
