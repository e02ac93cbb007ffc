/**
 * What copied mappings become on other controls: which of them go where, their numbers moved on, and what of them is
 * taken. The one who asks gives the new ids. Nothing is changed here: what comes out are edits.
 */
import type { DeskFunction, Parameter } from "../format/desk-profile.ts";
import { gesturesOf } from "../format/gestures.ts";
import type { MappingsDocument } from "../format/mappings-document.ts";
import type { Shape } from "../format/shape.ts";
import type { Action, Mapping, Show } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import type { OneEdit, ShapeChange } from "./edit-kinds.ts";

/** What of the copied mappings is put in: all of them, their actions beside those that are there, lights, or shapes. */
export type PasteWhat = "mappings" | "actions" | "lights" | "shapes";

/** What becomes of what a control does already, where whole mappings are put in. */
export type PasteAnswer = "keep" | "replace" | "leave";

/** As copied, or somewhere else: null = as copied, an empty list = every layer. */
export interface PasteScope {
  readonly layers: readonly string[] | null;
  /** null = as copied; 0 = every page. */
  readonly page: number | null;
}

export interface PasteWish {
  readonly what: PasteWhat;
  /** The counted number of each function is so much higher at the first round of controls, twice as much at the second. */
  readonly moveOn: number;
  readonly scope: PasteScope;
}

/** What of the show decides about it. */
export interface PasteInto {
  readonly show: Show;
  /** The function of a desk, with its parameters; undefined where there is none. */
  functionOf(
    desk: string,
    id: string,
  ): { readonly fn: DeskFunction; readonly parameters: readonly Parameter[] } | undefined;
  /** The desk of this show that is of this kind. */
  deskOfKind(profile: string): string | undefined;
  hasControl(surface: string, control: string): boolean;
  /** The desk whose pages mappings hold on. */
  readonly pageDesk: string | undefined;
  newId(prefix: string): string;
}

export interface PasteTarget {
  readonly surface: string;
  readonly control: Control;
  /** What it does already, wherever that holds. */
  readonly has: readonly Mapping[];
}

/** What keeps a mapping from being put in as it was copied. */
export type PasteTrouble =
  | { readonly kind: "no-function"; readonly desk: string; readonly function: string }
  | { readonly kind: "out-of-range"; readonly parameter: Parameter; readonly number: number }
  | { readonly kind: "nothing-copied" };

export interface PasteLine {
  readonly target: PasteTarget;
  /** The control that it was copied from. */
  readonly from: { readonly surface: string; readonly control: string };
  /** As they were copied, and as they would stand on the target. */
  readonly copied: readonly Mapping[];
  readonly mappings: readonly Mapping[];
  /** Those of the target that say the same gesture at the same place. */
  readonly taken: readonly Mapping[];
  readonly trouble: PasteTrouble | null;
}

/** Each target with what it is given: the controls that were copied in their order, again from the first after the last. */
export function pasteLines(
  document: MappingsDocument,
  targets: readonly PasteTarget[],
  wish: PasteWish,
  into: PasteInto,
): PasteLine[] {
  return targets.map((target, i) => {
    const from = document.controls[i % document.controls.length]!;
    const round = Math.floor(i / document.controls.length) + 1;
    const copied = document.mappings.filter((m) => m.surface === from.surface && m.control === from.control);
    let trouble: PasteTrouble | null = copied.length === 0 ? { kind: "nothing-copied" } : null;
    const mappings = copied.map((m) => {
      const made = placed(document, m, target, wish, round, into);
      trouble ??= made.trouble;
      return made.mapping;
    });
    const taken = wish.what === "mappings" ? target.has.filter((h) => mappings.some((m) => sameGesture(h, m))) : [];
    return { target, from, copied, mappings, taken, trouble };
  });
}

function placed(
  document: MappingsDocument,
  copied: Mapping,
  { surface, control }: PasteTarget,
  { moveOn, scope }: PasteWish,
  round: number,
  into: PasteInto,
): { mapping: Mapping; trouble: PasteTrouble | null } {
  const { show, newId, pageDesk } = into;
  let trouble: PasteTrouble | null = null;
  const gestures = gesturesOf(control);
  const actions = copied.actions.map((action): Action => {
    const moved = moveNumber(
      { ...action, id: newId("a"), desk: deskHere(document, action.desk, into) },
      moveOn * round,
      into,
    );
    trouble ??= moved.trouble;
    return moved.action;
  });
  const known = copied.layers.filter((l) => show.layers.some((x) => x.id === l));
  const { whileHeld, pages, message, bundle, ...rest } = copied;
  const page =
    scope.page === null ? pages : scope.page === 0 ? undefined : pageDesk && { desk: pageDesk, in: [scope.page] };
  const pageHere = page && show.desks.some((d) => d.id === page.desk) ? page : undefined;
  const canBeHeld =
    whileHeld?.surface === surface && whileHeld.control !== control.id && into.hasControl(surface, whileHeld.control);
  const mapping: Mapping = {
    ...rest,
    id: newId("m"),
    surface,
    control: control.id,
    gesture: gestures.includes(copied.gesture) ? copied.gesture : gestures[0]!,
    layers: scope.layers === null ? known : [...scope.layers],
    takeover: control.behaviour === "absolute" ? copied.takeover : "jump",
    ...(pageHere ? { pages: pageHere } : {}),
    ...(bundle !== undefined && show.bundles?.some((b) => b.id === bundle) ? { bundle } : {}),
    // Another control of its own surface is another one on another surface.
    ...(whileHeld && canBeHeld ? { whileHeld } : {}),
    actions,
  };
  return { mapping, trouble };
}

/** The desk with its id, or this show's own of its kind. */
function deskHere(document: MappingsDocument, id: string, { deskOfKind, show }: PasteInto): string {
  const kind = document.desks.find((d) => d.id === id)?.profile;
  if (kind === undefined || show.desks.some((d) => d.id === id && d.profile === kind)) return id;
  return deskOfKind(kind) ?? id;
}

/** Moves the counted number of an action on: the last that is fixed. */
function moveNumber(
  action: Action,
  by: number,
  { functionOf }: PasteInto,
): { action: Action; trouble: PasteTrouble | null } {
  const found = functionOf(action.desk, action.function);
  if (!found) return { action, trouble: { kind: "no-function", desk: action.desk, function: action.function } };
  const parameter = found.parameters.findLast((p) => action.bindings[p.id]?.from === "fixed");
  const binding = parameter && action.bindings[parameter.id];
  if (!parameter || binding?.from !== "fixed" || by === 0) return { action, trouble: null };
  const number = binding.value + by;
  const moved = {
    ...action,
    bindings: { ...action.bindings, [parameter.id]: { from: "fixed" as const, value: number } },
  };
  const isOut = number < parameter.from || number > parameter.to;
  return { action: moved, trouble: isOut ? { kind: "out-of-range", parameter, number } : null };
}

/** Whether two would be one clash: the same gesture, on a layer and a page that both hold on. */
function sameGesture(a: Mapping, b: Mapping): boolean {
  const meets = <T>(x: readonly T[], y: readonly T[]) =>
    x.length === 0 || y.length === 0 ? x.length === y.length : x.some((v) => y.includes(v));
  return a.gesture === b.gesture && meets(a.layers, b.layers) && meets(a.pages?.in ?? [], b.pages?.in ?? []);
}

/**
 * The edits that these lines come to. `answers`: by control, for what is taken; `cut`: the mappings that go from where
 * they were, by their ids. Only what is put in goes; it keeps its id, so that what speaks of it still does.
 */
export function pasteEdits(
  lines: readonly PasteLine[],
  what: PasteWhat,
  answers: Readonly<Record<string, PasteAnswer>>,
  { functionOf, newId, show }: PasteInto,
  cut: readonly string[] = [],
): OneEdit[] {
  const done = lines.filter((line) => !line.trouble);
  if (what === "mappings")
    return wholeEdits(done, answers, new Set(cut.filter((id) => show.mappings.some((m) => m.id === id))));
  return done.flatMap(({ target, mappings }): OneEdit[] => {
    switch (what) {
      case "actions":
        return mappings.flatMap((m): OneEdit[] => {
          const beside = target.has.find((h) => sameGesture(h, m)) ?? target.has.find((h) => h.gesture === m.gesture);
          if (!beside) return [{ kind: "add-mapping", mapping: m }];
          return m.actions.map((action) => ({
            kind: "add-action",
            mapping: beside.id,
            action: { ...action, id: newId("a") },
          }));
        });
      case "lights": {
        const [first] = mappings;
        return first
          ? target.has.map((m): OneEdit => ({ kind: "change-mapping", id: m.id, set: { look: first.look } }))
          : [];
      }
      case "shapes": {
        const isLevel = (a: Action) => functionOf(a.desk, a.function)?.fn.acts === "level";
        const shape = mappings.flatMap((m) => m.actions.filter(isLevel))[0]?.shape;
        if (!shape) return [];
        return target.has.flatMap((m) =>
          m.actions.filter(isLevel).map(
            (a): OneEdit => ({
              kind: "change-action",
              mapping: m.id,
              id: a.id,
              set: { shape: instead(a.shape, shape) },
            }),
          ),
        );
      }
      default:
        return what satisfies never;
    }
  });
}

/** Whole mappings: what is taken goes as was answered, and what was cut goes from where it was, each once. */
function wholeEdits(
  lines: readonly PasteLine[],
  answers: Readonly<Record<string, PasteAnswer>>,
  cut: Set<string>,
): OneEdit[] {
  const gone = new Set<string>();
  const come: OneEdit[] = [];
  for (const { target, copied, mappings, taken } of lines) {
    const answer = taken.length > 0 ? (answers[target.control.id] ?? "replace") : "keep";
    if (answer === "leave") continue;
    if (answer === "replace") for (const m of taken) gone.add(m.id);
    mappings.forEach((mapping, i) => {
      const was = copied[i]!.id;
      const moves = cut.delete(was); // at further controls it is another one
      if (moves) gone.add(was);
      come.push({ kind: "add-mapping", mapping: moves ? { ...mapping, id: was } : mapping });
    });
  }
  return [...[...gone].map((id): OneEdit => ({ kind: "remove-mapping", id })), ...come];
}

/** One shape in the place of another: what only the old one has is taken away. */
function instead(old: Shape, shape: Shape): ShapeChange {
  const gone = Object.keys(old).filter((key) => !Object.hasOwn(shape, key));
  return { ...Object.fromEntries(gone.map((key) => [key, null])), ...shape };
}

/** Two controls take each other's mappings: everything stays as it is but where it stands. */
export function swapEdits(
  mappings: readonly Mapping[],
  one: { readonly surface: string; readonly control: string },
  other: { readonly surface: string; readonly control: string },
): OneEdit[] {
  const isOf = (m: Mapping, at: typeof one) => m.surface === at.surface && m.control === at.control;
  return mappings.flatMap((m): OneEdit[] => {
    const to = isOf(m, one) ? other : isOf(m, other) ? one : null;
    return to ? [{ kind: "change-mapping", id: m.id, set: { surface: to.surface, control: to.control } }] : [];
  });
}
