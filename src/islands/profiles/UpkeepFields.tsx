import type { DeskProfile } from "../../core/format/desk-profile.ts";
import { Button } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton, Field } from "../components/Field.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { Select } from "../components/Select.tsx";
import { CARD, type DeskEditorProps, FIELDS } from "./desk-editor-props.ts";
import { FRESH } from "./fresh-messages.ts";
import { MessageFields } from "./MessageFields.tsx";

const NONE = "none";
const MONO = "font-mono !text-[12px]";

type Optional = "subscribe" | "heartbeat" | "replies" | "page" | "selection";

interface PartProps extends Pick<DeskEditorProps, "profile" | "change"> {
  /** The profile with one part left out. */
  without(key: Optional): DeskProfile;
}

/** How a desk is asked: for everything at once, for news, and whether it is there; and where it says page and selection. */
export function UpkeepFields({ profile, change }: DeskEditorProps) {
  const { wire } = profile;
  const without = (key: Optional): DeskProfile => {
    const { [key]: _old, ...rest } = profile;
    return rest;
  };
  const parts: PartProps = { profile, change, without };
  return (
    <div className="grid max-w-[860px] gap-3">
      <div className={CARD}>
        <b className="text-ink-300">Ask for everything once</b>
        <MessageFields
          label="Query"
          wire={wire.kind}
          messages={profile.query}
          onChange={(query) => change({ ...profile, query })}
        />
      </div>
      <div className={CARD}>
        <b className="text-ink-300">Subscribe to changes</b>
        <Subscription {...parts} />
      </div>
      <div className={CARD}>
        <b className="text-ink-300">Check that it is there</b>
        {profile.heartbeat ? (
          <Heartbeat profile={profile} change={change} onRemove={() => change(without("heartbeat"))} />
        ) : (
          <Button
            size="small"
            className="justify-self-start"
            onClick={() =>
              change({ ...profile, heartbeat: { everyMs: 1000, silentAfterMs: 2500, ...FRESH[wire.kind].heartbeat } })
            }
          >
            Ask it from time to time
          </Button>
        )}
      </div>
      {wire.kind === "lines" ? (
        <div className={CARD}>
          <b className="text-ink-300">How it answers each line</b>
          <Replies {...parts} />
        </div>
      ) : null}
      <div className={FIELDS}>
        <StateField {...parts} tells="page" />
        <StateField {...parts} tells="selection" />
      </div>
    </div>
  );
}

/** In which state the desk says what page is up, or what is selected. */
function StateField({ profile, change, without, tells }: PartProps & { tells: "page" | "selection" }) {
  const told = profile[tells];
  const wholes = profile.states.filter((s) => s.value.kind === "whole" && s.parameters.length === 0);
  return (
    <Field label={tells === "page" ? "the page that is up" : "what is selected"}>
      <Select
        label={`State that says ${tells}`}
        value={told?.state ?? NONE}
        options={[{ value: NONE, label: "not told" }, ...wholes.map((s) => ({ value: s.id, label: s.name }))]}
        onChange={(state) =>
          change(
            state === NONE || profile.parameters.length === 0
              ? without(tells)
              : { ...profile, [tells]: { state, parameter: told?.parameter ?? profile.parameters[0]!.id } },
          )
        }
      />
      {told ? (
        <>
          counts
          <Select
            label={`Parameter of ${tells}`}
            value={told.parameter}
            options={profile.parameters.map((p) => ({ value: p.id, label: p.name }))}
            onChange={(parameter) => change({ ...profile, [tells]: { ...told, parameter } })}
          />
        </>
      ) : null}
    </Field>
  );
}

function Subscription({ profile, change, without }: PartProps) {
  const { wire, subscribe } = profile;
  return subscribe ? (
    <>
      <MessageFields
        label="Subscription"
        wire={wire.kind}
        messages={subscribe.send}
        onChange={(send) =>
          change(send.length === 0 ? without("subscribe") : { ...profile, subscribe: { ...subscribe, send } })
        }
      />
      <span className="flex items-center gap-1.5">
        asked again every
        <NumberField
          label="Subscription renewed every, in ms"
          value={subscribe.renewMs}
          min={200}
          max={600_000}
          onCommit={(renewMs) => change({ ...profile, subscribe: { ...subscribe, renewMs } })}
        />
        ms
      </span>
    </>
  ) : (
    <Button
      size="small"
      className="justify-self-start"
      onClick={() => change({ ...profile, subscribe: { send: [FRESH[wire.kind].message], renewMs: 5000 } })}
    >
      It has to be asked
    </Button>
  );
}

function Replies({ profile, change, without }: PartProps) {
  const { replies } = profile;
  return replies ? (
    <span className="flex flex-wrap items-center gap-2">
      done
      <DraftField
        label="Answer when it was done"
        value={replies.done}
        className={`${MONO} w-[150px]`}
        onCommit={(done) => change({ ...profile, replies: { ...replies, done } })}
      />
      refused
      <DraftField
        label="Answer when it was refused"
        value={replies.refused}
        className={`${MONO} w-[150px]`}
        onCommit={(refused) => change({ ...profile, replies: { ...replies, refused } })}
      />
      <ClearButton label="It does not answer" onClick={() => change(without("replies"))} />
    </span>
  ) : (
    <Button
      size="small"
      className="justify-self-start"
      onClick={() => change({ ...profile, replies: { done: "ok", refused: "no {any}" } })}
    >
      It answers each one
    </Button>
  );
}

function Heartbeat({ profile, change, onRemove }: Pick<DeskEditorProps, "profile" | "change"> & { onRemove(): void }) {
  const beat = profile.heartbeat!;
  const set = (next: Partial<typeof beat>) => change({ ...profile, heartbeat: { ...beat, ...next } });
  const { heard } = beat;
  return (
    <>
      <MessageFields
        label="Heartbeat"
        wire={profile.wire.kind}
        messages={beat.send}
        onChange={(send) => (send.length === 0 ? onRemove() : set({ send }))}
      />
      <span className="flex flex-wrap items-center gap-2">
        answered by
        {"address" in heard ? (
          <>
            <DraftField
              label="Address of the answer"
              value={heard.address}
              className={`${MONO} w-[220px]`}
              onCommit={(address) => set({ heard: { ...heard, address } })}
            />
            argument
            <NumberField
              label="Argument of the answer"
              value={heard.argument + 1}
              min={1}
              max={16}
              onCommit={(n) => set({ heard: { ...heard, argument: n - 1 } })}
            />
          </>
        ) : "line" in heard ? (
          <DraftField
            label="Line of the answer"
            value={heard.line}
            className={`${MONO} w-[260px]`}
            onCommit={(line) => set({ heard: { line } })}
          />
        ) : (
          <DraftField
            label="SysEx of the answer"
            value={heard.bytes ?? ""}
            className={`${MONO} w-[420px]`}
            onCommit={(bytes) => set({ heard: { midi: "sysex", bytes } })}
          />
        )}
      </span>
      <span className="flex items-center gap-1.5">
        every
        <NumberField
          label="Heartbeat every, in ms"
          value={beat.everyMs}
          min={100}
          max={60_000}
          onCommit={(everyMs) => set({ everyMs })}
        />
        ms, silent after
        <NumberField
          label="Silent after, in ms"
          value={beat.silentAfterMs}
          min={200}
          max={120_000}
          onCommit={(silentAfterMs) => set({ silentAfterMs })}
        />
        ms
      </span>
    </>
  );
}
