/**
 * Edits: small named commands on the show. Each is data, checked by Zod, applied by a pure function, and
 * answered with patches there and back, from which undo, redo and history follow.
 */
import { applyPatches, enablePatches, type Patch, produceWithPatches } from "immer";
import { z } from "zod";
import { checkShow, type Profiles } from "./check.ts";
import { Id, Name } from "./ids.ts";
import { type Problem, problemsOf } from "./problem.ts";
import { Shape } from "./shape.ts";
import { Action, Bank, Desk, Group, Layer, Mapping, PortRef, Route, Show, Surface, Variable } from "./show.ts";

enablePatches();

/** Every optional field of a schema may be null, which takes it away again. */
type Removable<S extends z.ZodRawShape> = {
  [K in keyof S]: S[K] extends z.ZodOptional<infer T> ? z.ZodOptional<z.ZodNullable<T>> : z.ZodOptional<S[K]>;
};
function removable<S extends z.ZodRawShape>(shape: S): Removable<S> {
  return Object.fromEntries(
    Object.entries(shape).map(([key, schema]) => [
      key,
      schema instanceof z.ZodOptional
        ? (schema.unwrap() as z.ZodType).nullable().optional()
        : (schema as z.ZodType).optional(),
    ]),
  ) as unknown as Removable<S>;
}

const MappingChange = z.strictObject(removable(Mapping.omit({ id: true, actions: true }).shape));
/** Only what changes: two quick edits of one shape, or of two browsers, must not undo each other. */
const ShapeChange = z.strictObject(removable(Shape.shape));
const ActionChange = z.strictObject(removable(Action.omit({ id: true, shape: true }).shape)).extend({
  shape: ShapeChange.optional(),
});
export type ActionChange = z.infer<typeof ActionChange>;
export type MappingChange = z.infer<typeof MappingChange>;
export type ShapeChange = z.infer<typeof ShapeChange>;

/** Parts of a show that are put and removed by their id. */
const PARTS = { layers: "layer", groups: "group", banks: "bank", variables: "variable", routes: "route" } as const;
export type PartList = keyof typeof PARTS;

export const Edit = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("rename-show"), name: Name }),
  z.strictObject({ kind: z.literal("set-middle-c"), middleC: z.enum(["C3", "C4"]) }),
  z.strictObject({ kind: z.literal("add-surface"), surface: Surface }),
  z.strictObject({ kind: z.literal("rename-surface"), id: Id, name: Name }),
  z.strictObject({ kind: z.literal("set-surface-ports"), id: Id, in: PortRef, out: PortRef }),
  z.strictObject({ kind: z.literal("remove-surface"), id: Id }),
  z.strictObject({ kind: z.literal("add-desk"), desk: Desk }),
  z.strictObject({ kind: z.literal("rename-desk"), id: Id, name: Name }),
  z.strictObject({
    kind: z.literal("set-desk-address"),
    id: Id,
    host: Desk.shape.host,
    port: Desk.shape.port,
    listenPort: Desk.shape.listenPort,
  }),
  z.strictObject({ kind: z.literal("set-desk-midi"), id: Id, in: PortRef, out: PortRef }),
  z.strictObject({ kind: z.literal("remove-desk"), id: Id }),
  z.strictObject({ kind: z.literal("set-times"), times: Show.shape.settings.shape.times.unwrap() }),
  z.strictObject({ kind: z.literal("set-takeover"), takeover: Show.shape.settings.shape.takeover.unwrap() }),
  z.strictObject({ kind: z.literal("add-layer"), layer: Layer }),
  /** Adds a part, or puts it in the place of the one with its id. */
  z.strictObject({ kind: z.literal("put-layer"), item: Layer }),
  z.strictObject({ kind: z.literal("put-group"), item: Group }),
  z.strictObject({ kind: z.literal("put-bank"), item: Bank }),
  z.strictObject({ kind: z.literal("put-variable"), item: Variable }),
  z.strictObject({ kind: z.literal("put-route"), item: Route }),
  z.strictObject({
    kind: z.literal("remove-part"),
    list: z.enum(Object.keys(PARTS) as [PartList, ...PartList[]]),
    id: Id,
  }),
  z.strictObject({ kind: z.literal("add-mapping"), mapping: Mapping }),
  z.strictObject({ kind: z.literal("change-mapping"), id: Id, set: MappingChange }),
  z.strictObject({ kind: z.literal("remove-mapping"), id: Id }),
  z.strictObject({ kind: z.literal("add-action"), mapping: Id, action: Action }),
  z.strictObject({ kind: z.literal("change-action"), mapping: Id, id: Id, set: ActionChange }),
  z.strictObject({ kind: z.literal("remove-action"), mapping: Id, id: Id }),
]);
export type Edit = z.infer<typeof Edit>;

export type EditResult =
  | { ok: true; show: Show; label: string; patches: Patch[]; inverse: Patch[] }
  | { ok: false; problems: Problem[] };

export function parseEdit(data: unknown): { ok: true; edit: Edit } | { ok: false; problems: Problem[] } {
  const parsed = Edit.safeParse(data);
  return parsed.success ? { ok: true, edit: parsed.data } : { ok: false, problems: problemsOf(parsed.error) };
}

/** Applies one edit. A show that would not be valid afterwards is refused, and nothing has changed. */
export function applyEdit(show: Show, edit: Edit, profiles: Profiles): EditResult {
  const missing = missingTarget(show, edit);
  if (missing) return { ok: false, problems: [missing] };
  const [next, patches, inverse] = produceWithPatches(show, (draft) => change(draft, edit));
  const problems = checkShow(next, profiles).map((p) => inUse(p, edit));
  return problems.length > 0
    ? { ok: false, problems }
    : { ok: true, show: next, label: editLabel(edit, show), patches, inverse };
}

/** Applies patches that `applyEdit` gave, for undo and redo. */
export function applyShowPatches(show: Show, patches: Patch[]): Show {
  return applyPatches(show, patches);
}

function change(draft: Show, edit: Edit): void {
  switch (edit.kind) {
    case "rename-show":
      draft.name = edit.name;
      return;
    case "set-middle-c":
      draft.settings.middleC = edit.middleC;
      return;
    case "add-surface":
      draft.surfaces.push(edit.surface);
      return;
    case "rename-surface":
      byId(draft.surfaces, edit.id).name = edit.name;
      return;
    case "set-surface-ports":
      Object.assign(byId(draft.surfaces, edit.id), { in: edit.in, out: edit.out });
      return;
    case "remove-surface":
      drop(draft.surfaces, edit.id);
      return;
    case "add-desk":
      draft.desks.push(edit.desk);
      return;
    case "rename-desk":
      byId(draft.desks, edit.id).name = edit.name;
      return;
    case "set-desk-address":
      Object.assign(byId(draft.desks, edit.id), { host: edit.host, port: edit.port, listenPort: edit.listenPort });
      return;
    case "set-desk-midi":
      byId(draft.desks, edit.id).midi = { in: edit.in, out: edit.out };
      return;
    case "remove-desk":
      drop(draft.desks, edit.id);
      return;
    case "add-layer":
      draft.layers.push(edit.layer);
      return;
    case "set-times":
      draft.settings.times = edit.times;
      return;
    case "set-takeover":
      draft.settings.takeover = edit.takeover;
      return;
    case "put-layer":
      put(draft.layers, edit.item);
      return;
    case "put-group":
      draft.groups ??= [];
      put(draft.groups, edit.item);
      return;
    case "put-bank":
      draft.banks ??= [];
      put(draft.banks, edit.item);
      return;
    case "put-variable":
      draft.variables ??= [];
      put(draft.variables, edit.item);
      return;
    case "put-route":
      draft.routes ??= [];
      put(draft.routes, edit.item);
      return;
    case "remove-part":
      drop((draft[edit.list] ?? []) as { id: string }[], edit.id);
      return;
    case "add-mapping":
      draft.mappings.push(edit.mapping);
      return;
    case "change-mapping":
      assign(byId(draft.mappings, edit.id), edit.set);
      return;
    case "remove-mapping":
      drop(draft.mappings, edit.id);
      return;
    case "add-action":
      byId(draft.mappings, edit.mapping).actions.push(edit.action);
      return;
    case "change-action":
      changeAction(byId(byId(draft.mappings, edit.mapping).actions, edit.id), edit.set);
      return;
    case "remove-action":
      drop(byId(draft.mappings, edit.mapping).actions, edit.id);
      return;
    default:
      edit satisfies never;
  }
}

function changeAction(action: Action, { shape, bindings, ...set }: ActionChange): void {
  // Another function has other parameters; with the same, the bindings that are given join those that stand.
  if (bindings) action.bindings = set.function === undefined ? { ...action.bindings, ...bindings } : bindings;
  assign(action, set);
  if (shape) assign(action.shape, shape);
}

/** Takes over what is given; null takes the field away. */
function assign(target: object, set: object): void {
  for (const [key, value] of Object.entries(set)) {
    if (value === null) delete (target as Record<string, unknown>)[key];
    else if (value !== undefined) (target as Record<string, unknown>)[key] = value;
  }
}

function put<T extends { id: string }>(list: T[], item: T): void {
  const at = list.findIndex((x) => x.id === item.id);
  if (at < 0) list.push(item);
  else list[at] = item;
}

/** What history, undo and the notice after an edit call it. */
export function editLabel(edit: Edit, show: Show): string {
  const surface = (id: string) => show.surfaces.find((s) => s.id === id)?.name ?? id;
  const desk = (id: string) => show.desks.find((d) => d.id === id)?.name ?? id;
  const mapping = (id: string) => {
    const m = show.mappings.find((x) => x.id === id);
    return m ? m.name || m.control : id;
  };
  switch (edit.kind) {
    case "rename-show":
      return `name the show ${edit.name}`;
    case "set-middle-c":
      return `call note 60 ${edit.middleC}`;
    case "add-surface":
      return `add ${edit.surface.name}`;
    case "rename-surface":
      return `rename ${surface(edit.id)}`;
    case "set-surface-ports":
      return `change the ports of ${surface(edit.id)}`;
    case "remove-surface":
      return `remove ${surface(edit.id)}`;
    case "add-desk":
      return `add ${edit.desk.name}`;
    case "rename-desk":
      return `rename ${desk(edit.id)}`;
    case "set-desk-address":
      return `change the address of ${desk(edit.id)}`;
    case "set-desk-midi":
      return `change the ports of ${desk(edit.id)}`;
    case "remove-desk":
      return `remove ${desk(edit.id)}`;
    case "add-layer":
      return `add the layer ${edit.layer.name}`;
    case "set-times":
      return "change the times of hold and double tap";
    case "set-takeover":
      return "change how new mappings take over";
    case "put-layer":
    case "put-group":
    case "put-bank":
    case "put-variable":
    case "put-route": {
      const list: readonly { id: string }[] = show[`${edit.kind.slice(4)}s` as PartList] ?? [];
      return `${list.some((x) => x.id === edit.item.id) ? "change" : "add"} ${edit.item.name}`;
    }
    case "remove-part":
      return `remove ${show[edit.list]?.find((x) => x.id === edit.id)?.name ?? edit.id}`;
    case "add-mapping":
      return `map ${edit.mapping.control}`;
    case "change-mapping":
      return `change ${mapping(edit.id)}`;
    case "remove-mapping":
      return `unmap ${mapping(edit.id)}`;
    case "add-action":
      return `add an action to ${mapping(edit.mapping)}`;
    case "change-action":
      return `change an action of ${mapping(edit.mapping)}`;
    case "remove-action":
      return `remove an action of ${mapping(edit.mapping)}`;
    default:
      return edit satisfies never;
  }
}

function missingTarget(show: Show, edit: Edit): Problem | null {
  const missing = (what: string, id: string): Problem => ({ code: "unknown-id", path: [what], what, id });
  switch (edit.kind) {
    case "rename-surface":
    case "set-surface-ports":
    case "remove-surface":
      return show.surfaces.some((s) => s.id === edit.id) ? null : missing("surface", edit.id);
    case "rename-desk":
    case "set-desk-address":
    case "set-desk-midi":
    case "remove-desk":
      return show.desks.some((d) => d.id === edit.id) ? null : missing("desk", edit.id);
    case "remove-part": {
      const list: readonly { id: string }[] = show[edit.list] ?? [];
      return list.some((x) => x.id === edit.id) ? null : missing(PARTS[edit.list], edit.id);
    }
    case "change-mapping":
    case "remove-mapping":
      return show.mappings.some((m) => m.id === edit.id) ? null : missing("mapping", edit.id);
    case "add-action":
      return show.mappings.some((m) => m.id === edit.mapping) ? null : missing("mapping", edit.mapping);
    case "change-action":
    case "remove-action": {
      const mapping = show.mappings.find((m) => m.id === edit.mapping);
      if (!mapping) return missing("mapping", edit.mapping);
      return mapping.actions.some((a) => a.id === edit.id) ? null : missing("action", edit.id);
    }
    default:
      return null;
  }
}

// Removing something that mappings stand on is told from the side of what was to be removed.
function inUse(problem: Problem, edit: Edit): Problem {
  const removed =
    edit.kind === "remove-surface"
      ? "surface"
      : edit.kind === "remove-desk"
        ? "desk"
        : edit.kind === "remove-mapping"
          ? "mapping"
          : edit.kind === "remove-part"
            ? PARTS[edit.list]
            : null;
  if (
    !removed ||
    problem.code !== "unknown-id" ||
    (problem.what !== removed && problem.what !== `surface or ${removed}`)
  )
    return problem;
  const by = USERS[String(problem.path[0])] ?? "a mapping";
  return { code: "in-use", path: problem.path, what: removed, id: problem.id, by };
}

const USERS: Record<string, string> = { layers: "a layer", groups: "a group", routes: "a route" };

function byId<T extends { id: string }>(list: T[], id: string): T {
  return list.find((item) => item.id === id)!;
}

function drop<T extends { id: string }>(list: T[], id: string): void {
  list.splice(
    list.findIndex((item) => item.id === id),
    1,
  );
}
