/** A new show that starts from templates, filled for the surfaces and desks that are here. */
import { useMemo, useState } from "react";
import { inSentence } from "../../../words/mappings.ts";
import { Button, FIELD, Key } from "../../components/controls.tsx";
import { ListDialog } from "../../components/ListDialog.tsx";
import { Select } from "../../components/Select.tsx";
import { useActions } from "../../live/actions.ts";
import { withShow } from "../../live/apply-changes.ts";
import { type PageState, usePageStore } from "../../live/store.ts";
import { bareShow, plansOf, proposed, type TemplateChoice } from "./choices.ts";
import { planTemplate, type TemplateId, type TemplatePart } from "./templates.ts";

const WORDS: Readonly<Record<TemplateId, { name: string; about: string }>> = {
  "pads-and-faders": { name: "Pads and faders", about: "for a lighting desk: pads switch, faders drive" },
  strips: { name: "Strips", about: "for a sound desk: a column for each channel, over all of them" },
  rows: { name: "Rows", about: "for a vision desk: program above, preview below" },
};

export function TemplateDialog({ onClose }: { onClose(): void }) {
  const store = usePageStore();
  const actions = useActions();
  const [name, setName] = useState("New show");
  // As it is when the dialog opens: what is typed into it must not move under the hands.
  const [state] = useState(() => bareState(store.getState()));
  const [choices, setChoices] = useState(() => proposed(state));
  const [isAtIt, setAtIt] = useState(false);
  const plans = useMemo(() => plansOf(state, choices), [state, choices]);
  const { surfaces, desks } = state.live.compiled;
  const edits = choices.flatMap((c, i) => (c.isOn ? (plans[i]?.edits ?? []) : []));
  const mappings = edits.filter((e) => e.kind === "add-mapping").length;
  const set = (i: number, change: Partial<TemplateChoice>) =>
    setChoices(choices.map((c, k) => (k === i ? { ...c, ...change } : c)));
  const begin = async () => {
    if (isAtIt || mappings === 0 || name.trim() === "") return;
    setAtIt(true);
    const isDone = await actions.beginShow(bareShow(state.live.show, name.trim()), "start from templates", edits);
    setAtIt(false);
    if (isDone) onClose();
  };
  return (
    <ListDialog
      title="A new show from templates"
      isWide
      about="It has the surfaces and desks that are here. The show that is open stays as it is, beside it."
      fields={
        <label className="flex items-center gap-3 text-small text-ink-300">
          its name
          <input
            aria-label="Name of the new show"
            value={name}
            maxLength={80}
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => e.key === "Enter" && void begin()}
            className={`${FIELD} flex-1`}
          />
        </label>
      }
      note={mappings === 0 ? "Nothing is chosen." : `${mappings} mappings. One undo takes them back.`}
      apply={
        <Button look="primary" disabled={isAtIt || mappings === 0 || name.trim() === ""} onClick={() => void begin()}>
          Begin the show <Key>Enter</Key>
        </Button>
      }
      onClose={onClose}
    >
      {choices.length === 0 ? (
        <p className="text-ink-300">
          No template fits the surfaces and desks that are here. Add some in Connect: a surface with pads, faders or
          strips, and the desk that it should drive.
        </p>
      ) : (
        <ul className="grid gap-2">
          {choices.map((choice, i) => {
            const { template, surface, desk, isOn } = choice;
            const plan = plans[i] ?? null;
            const fitting = (s: string, d: string) => planTemplate(state, template, s, d) !== null;
            return (
              <li key={template} className="grid gap-2 rounded-[9px] bg-velvet-800 px-3.5 py-2.5">
                <div className="flex flex-wrap items-center gap-2 text-small">
                  <label className="flex min-w-0 flex-1 items-center gap-2.5">
                    <input
                      type="checkbox"
                      checked={isOn}
                      onChange={(e) => set(i, { isOn: e.target.checked })}
                      className="accent-brass-400"
                    />
                    <b className="font-semibold">{WORDS[template].name}</b>
                    <span className="text-ink-500">{WORDS[template].about}</span>
                  </label>
                  <Select
                    label={`Surface of ${WORDS[template].name}`}
                    value={surface}
                    options={surfaces
                      .filter((s) => fitting(s.id, desk))
                      .map((s) => ({ value: s.id, label: s.surface.name }))}
                    onChange={(id) => set(i, { surface: id })}
                  />
                  <Select
                    label={`Desk of ${WORDS[template].name}`}
                    value={desk}
                    options={desks
                      .filter((d) => fitting(surface, d.id))
                      .map((d) => ({ value: d.id, label: d.desk.name }))}
                    onChange={(id) => set(i, { desk: id })}
                  />
                </div>
                {plan ? (
                  <ul className="grid gap-0.5 pl-6 text-small text-ink-300">
                    {plan.parts.map((part) => (
                      <li key={`${part.fn.id} ${part.controls[0]!.id}`}>{partWords(part)}</li>
                    ))}
                  </ul>
                ) : (
                  <p className="pl-6 text-small text-care">Nothing is left for it on this surface.</p>
                )}
              </li>
            );
          })}
        </ul>
      )}
    </ListDialog>
  );
}

/** "Pad 1 to Pad 20: playback on or off, 1 to 20". */
function partWords({ controls, fn, numbers }: TemplatePart): string {
  const [first, last] = [controls[0]!, controls.at(-1)!];
  const which = first === last ? first.name : `${first.name} to ${last.name}`;
  const count =
    numbers === null ? "" : numbers[0] === numbers[1] ? ` ${numbers[0]}` : `, ${numbers[0]} to ${numbers[1]}`;
  return `${which}: ${inSentence(fn.name)}${count}`;
}

/** The page as it would be with nothing mapped. */
function bareState(state: PageState): PageState {
  const { live } = state;
  const bare = bareShow(live.show, live.show.name);
  return { ...state, live: withShow(live, bare, live.history, { atMs: live.atMs, desks: { ...live.desks } }) };
}
