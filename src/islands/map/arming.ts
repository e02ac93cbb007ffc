/** What a touch makes of the function that is armed: edits, and what they come to. */
import type { OneEdit } from "../../core/edit/edit-kinds.ts";
import type { Mapping } from "../../core/format/show.ts";
import { type Armed, bindingsNow, type IfTaken, isGiving, type Made } from "../live/armed.ts";
import type { PageState, Touch } from "../live/store.ts";
import { choiceOf, newAction, newMapping } from "./choice.ts";

export type Given =
  | { readonly kind: "makes"; readonly edits: readonly OneEdit[]; readonly does: string; readonly made: Made }
  /** The control does something already, and it is to be asked what is to become of that. */
  | { readonly kind: "asks" }
  /** There is nothing to give, or nobody to give it to. */
  | { readonly kind: "nothing" };

const NOTHING: Given = { kind: "nothing" };

/** Gives the armed function to a control. `ifTaken`: what becomes of what it does already. */
export function give(state: PageState, armed: Armed, touch: Touch, ifTaken: IfTaken): Given {
  const { live } = state;
  const choice = choiceOf({ ...state, chosen: touch, chosenMapping: null });
  const desk = live.compiled.desks.find((d) => d.id === armed.desk);
  const fn = desk?.functions.get(armed.function)?.fn;
  if (!choice || !desk || !fn || !isGiving(armed)) return NOTHING;
  const fresh = newAction(choice, live, desk.id, desk.profile, fn);
  if (!fresh) return NOTHING;
  const action = { ...fresh, bindings: bindingsNow(armed) };
  const held = choice.mappings.find((m) => m.id === choice.holds);
  const { control } = choice;
  const base = {
    ...touch,
    action: action.id,
    number: armed.counts ? armed.number : null,
  };
  const does = `give ${fn.name}${base.number === null ? "" : ` ${base.number}`} to ${control.name}`;
  if (held && ifTaken === "ask") return { kind: "asks" };
  if (held && ifTaken === "keep")
    return {
      kind: "makes",
      does,
      edits: [{ kind: "add-action", mapping: held.id, action }],
      made: { ...base, mapping: held.id, replaced: [], joined: true },
    };
  const mapping: Mapping = { ...newMapping(choice), actions: [action] };
  const replaced = held ? choice.beside : [];
  return {
    kind: "makes",
    does,
    edits: [
      ...replaced.map((m): OneEdit => ({ kind: "remove-mapping", id: m.id })),
      { kind: "add-mapping", mapping: held ? { ...mapping, layers: held.layers } : mapping },
    ],
    made: { ...base, mapping: mapping.id, replaced, joined: false },
  };
}

/** What takes it back, whatever else was done since; null where it is gone already. */
export function takeBack({ live }: PageState, made: Made): readonly OneEdit[] | null {
  const mapping = live.show.mappings.find((m) => m.id === made.mapping);
  if (!mapping?.actions.some((a) => a.id === made.action)) return null;
  if (made.joined) return [{ kind: "remove-action", mapping: mapping.id, id: made.action }];
  return [
    { kind: "remove-mapping", id: mapping.id },
    ...made.replaced.map((m): OneEdit => ({ kind: "add-mapping", mapping: m })),
  ];
}
