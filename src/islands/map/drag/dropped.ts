/** What something that is dragged becomes where it is let go: in words while it hangs there, and as edits. Pure but for new ids. */
import type { OneEdit } from "../../../core/edit/edit-kinds.ts";
import { pasteEdits, pasteLines } from "../../../core/edit/pasting.ts";
import { mappingsDocument } from "../../../core/format/write-mappings.ts";
import { inSentence } from "../../../words/mappings.ts";
import type { PageState, Touch } from "../../live/store.ts";
import { choiceOf, newAction, newMapping } from "../choice.ts";
import { copiedOf, pasteInto, targetsOf } from "../copying.ts";
import { numbersWords } from "../table/table-rows.ts";

export type Dragged =
  | { readonly kind: "function"; readonly desk: string; readonly fn: string }
  /** What the chosen controls do. */
  | { readonly kind: "chosen" }
  | { readonly kind: "action"; readonly mapping: string; readonly action: string };

export type Place =
  | ({ readonly kind: "control" } & Touch)
  /** In front of an action of a mapping; null = behind the last. */
  | { readonly kind: "order"; readonly mapping: string; readonly before: string | null };

export type Dropped =
  | { readonly kind: "edits"; readonly says: string; readonly does: string; readonly edits: readonly OneEdit[] }
  /** Many are chosen: it is shown line by line before anything is done. */
  | { readonly kind: "series"; readonly says: string; readonly desk: string; readonly fn: string };

/** null = it can't be let go there. `isMoved`: it goes from where it was. */
export function dropped(state: PageState, dragged: Dragged, place: Place, isMoved: boolean): Dropped | null {
  if (place.kind === "order")
    return dragged.kind === "action" ? inOrder(state, dragged.mapping, dragged.action, place) : null;
  switch (dragged.kind) {
    case "function":
      return given(state, dragged.desk, dragged.fn, place);
    case "chosen":
      return copied(state, place, isMoved);
    case "action":
      return actionOn(state, dragged.mapping, dragged.action, place, isMoved);
    default:
      return dragged satisfies never;
  }
}

function given(state: PageState, desk: string, id: string, { surface, control }: Touch): Dropped | null {
  const { live, many } = state;
  const on = live.compiled.desks.find((d) => d.id === desk);
  const fn = on?.functions.get(id);
  const choice = choiceOf({ ...state, chosen: { surface, control }, chosenMapping: null });
  const action = on && fn && choice && newAction(choice, live, desk, on.profile, fn.fn);
  if (!action) return null;
  if (many?.surface === surface && many.controls.includes(control))
    return { kind: "series", says: `${fn.fn.name}, for all ${many.controls.length}`, desk, fn: id };
  const held = choice.mappings.find((m) => m.id === choice.holds);
  const fixed = fn.parameters.filter((p) => action.bindings[p.id]?.from === "fixed");
  const words = `${fn.fn.name} ${numbersWords(live, action, fixed)}`.trim();
  return {
    kind: "edits",
    says: held ? `${words}, beside what it does` : words,
    does: `give ${inSentence(fn.fn.name)} to ${choice.control.name}`,
    edits: held
      ? [{ kind: "add-action", mapping: held.id, action }]
      : [{ kind: "add-mapping", mapping: { ...newMapping(choice), actions: [action] } }],
  };
}

function copied(state: PageState, { surface, control }: Touch, isMoved: boolean): Dropped | null {
  const from = copiedOf(state);
  if (!from || from.controls.some((c) => c.surface === surface && c.control === control)) return null;
  const into = pasteInto(state);
  const targets = targetsOf({ ...state, many: null, chosen: { surface, control } }, from.controls.length);
  if (targets.length < from.controls.length) return null;
  const wish = { what: "mappings", moveOn: 0, scope: { layers: null, page: null } } as const;
  const lines = pasteLines(mappingsDocument(from), targets, wish, into);
  const edits = pasteEdits(lines, "mappings", {}, into, isMoved ? from.mappings.map((m) => m.id) : []);
  if (edits.length === 0) return null;
  const name = targets[0]!.control.name;
  const where = targets.length === 1 ? name : `${name} and ${targets.length - 1} more`;
  const taken = lines.some((l) => l.taken.length > 0);
  return {
    kind: "edits",
    says: `${isMoved ? "Move" : "Copy"} to ${where}${taken ? ", in the place of what is there" : ""}`,
    does: `${isMoved ? "move" : "copy"} ${from.mappings.length === 1 ? "1 mapping" : `${from.mappings.length} mappings`} to ${where}`,
    edits,
  };
}

function actionOn(
  state: PageState,
  mapping: string,
  id: string,
  { surface, control }: Touch,
  isMoved: boolean,
): Dropped | null {
  const from = state.live.show.mappings.find((m) => m.id === mapping);
  const action = from?.actions.find((a) => a.id === id);
  const choice = choiceOf({ ...state, chosen: { surface, control }, chosenMapping: null });
  if (!from || !action || !choice || (from.surface === surface && from.control === control)) return null;
  const fn = state.live.compiled.desks.find((d) => d.id === action.desk)?.functions.get(action.function);
  const held = choice.mappings.find((m) => m.id === choice.holds);
  // Another mapping's sets are not this one's.
  const { set: _set, ...rest } = action;
  const copy = { ...rest, id: pasteInto(state).newId("a") };
  const says = `${isMoved ? "Move" : "Copy"} ${fn ? inSentence(fn.fn.name) : "the action"} to ${choice.control.name}`;
  return {
    kind: "edits",
    says: held ? `${says}, beside what it does` : says,
    does: inSentence(says),
    edits: [
      held
        ? { kind: "add-action", mapping: held.id, action: copy }
        : { kind: "add-mapping", mapping: { ...newMapping(choice), actions: [copy] } },
      ...(isMoved ? [{ kind: "remove-action", mapping, id } as const] : []),
    ],
  };
}

function inOrder(
  { live }: PageState,
  mapping: string,
  id: string,
  place: Extract<Place, { kind: "order" }>,
): Dropped | null {
  const actions = live.show.mappings.find((m) => m.id === mapping)?.actions ?? [];
  const at = actions.findIndex((a) => a.id === id);
  const next = actions[at + 1]?.id ?? null;
  if (place.mapping !== mapping || at < 0 || place.before === id || place.before === next) return null;
  return {
    kind: "edits",
    says: place.before === null ? "To the end" : "Before this one",
    does: "put actions in another order",
    edits: [{ kind: "move-action", mapping, id, before: place.before }],
  };
}
