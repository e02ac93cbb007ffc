/** Edits as data: small named commands on the show, checked by Zod where they come in. */
import { z } from "zod";
import { DeskProfile } from "../format/desk-profile.ts";
import { Id, Name } from "../format/ids.ts";
import { type Problem, problemsOf, type Thing } from "../format/problem.ts";
import { Shape } from "../format/shape.ts";
import {
  Action,
  Bank,
  Bundle,
  Desk,
  Group,
  Layer,
  Mapping,
  NetworkSession,
  OwnWords,
  PortRef,
  Route,
  Show,
  Surface,
  Variable,
  WhenSilent,
} from "../format/show.ts";
import { Control, SurfaceProfile } from "../format/surface-profile.ts";
import { DESK_PROFILE_FORMAT, type Format, SURFACE_PROFILE_FORMAT, upToDate } from "../format/versions.ts";

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
const ControlChanges = z.strictObject(removable(Control.omit({ id: true, bank: true }).shape));
const SurfaceKindChange = z.strictObject(
  removable(
    SurfaceProfile.pick({ name: true, about: true, size: true, lightsItself: true, palettes: true, banks: true }).shape,
  ),
);
const OwnWordsChange = z.strictObject(removable(OwnWords.shape));
export type ActionChange = z.infer<typeof ActionChange>;
export type MappingChange = z.infer<typeof MappingChange>;
export type ShapeChange = z.infer<typeof ShapeChange>;

/** Parts of a show that are put and removed by their id. */
export const PARTS = {
  layers: "layer",
  groups: "group",
  banks: "bank",
  variables: "variable",
  bundles: "bundle",
  routes: "route",
  sessions: "session",
} as const satisfies Record<string, Thing>;
export type PartList = keyof typeof PARTS;

/** Of one part only what changes: two hands at two of its fields do not undo each other. */
function changesOf<L extends PartList, S extends z.ZodRawShape>(list: L, part: z.ZodObject<S>) {
  const { id: _, ...fields } = part.shape;
  return z.strictObject({
    kind: z.literal("change-part"),
    list: z.literal(list),
    id: Id,
    set: z.strictObject(removable(fields)),
  });
}

/** An edit of one thing. */
const OneEdit = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("rename-show"), name: Name }),
  z.strictObject({ kind: z.literal("set-middle-c"), middleC: z.enum(["C3", "C4"]) }),
  z.strictObject({ kind: z.literal("add-surface"), surface: Surface }),
  z.strictObject({ kind: z.literal("rename-surface"), id: Id, name: Name }),
  /** Only the way that changes: two quick choices, or those of two browsers, must not undo each other. */
  z.strictObject({ kind: z.literal("set-surface-ports"), id: Id, in: PortRef.optional(), out: PortRef.optional() }),
  /** One control: those that two hands send to sleep at once do not undo each other. */
  z.strictObject({ kind: z.literal("set-asleep"), id: Id, control: Id, on: z.boolean() }),
  /** Of one control: its name, its note or both; null takes one away. */
  z.strictObject({ kind: z.literal("name-control"), id: Id, control: Id, set: OwnWordsChange }),
  z.strictObject({ kind: z.literal("remove-surface"), id: Id }),
  z.strictObject({ kind: z.literal("add-desk"), desk: Desk }),
  z.strictObject({ kind: z.literal("rename-desk"), id: Id, name: Name }),
  z.strictObject({
    kind: z.literal("set-desk-address"),
    id: Id,
    host: Desk.shape.host,
    port: Desk.shape.port,
    listenPort: Desk.shape.listenPort,
    /** Left out, what its kind has by itself. */
    over: Desk.shape.over,
    login: Desk.shape.login,
  }),
  z.strictObject({ kind: z.literal("set-desk-midi"), id: Id, in: PortRef, out: PortRef }),
  z.strictObject({ kind: z.literal("set-desk-when-silent"), id: Id, whenSilent: WhenSilent }),
  z.strictObject({ kind: z.literal("name-page"), id: Id, page: z.int().min(0).max(65_535), set: OwnWordsChange }),
  z.strictObject({ kind: z.literal("remove-desk"), id: Id }),
  /** Another kind in its place: what each of its controls, or functions, becomes; null = nothing. */
  z.strictObject({ kind: z.literal("replace-surface"), id: Id, profile: Id, becomes: z.record(Id, Id.nullable()) }),
  z.strictObject({ kind: z.literal("replace-desk"), id: Id, profile: Id, becomes: z.record(Id, Id.nullable()) }),
  /** Adds a kind of desk or surface of one's own, or puts it in the place of the one with its id. */
  z.strictObject({ kind: z.literal("put-desk-profile"), profile: DeskProfile }),
  /** To a kind of desk of one's own: what it can do and says, beside what it has. */
  z.strictObject({
    kind: z.literal("add-functions"),
    profile: Id,
    parameters: DeskProfile.shape.parameters,
    states: DeskProfile.shape.states,
    functions: DeskProfile.shape.functions,
  }),
  z.strictObject({ kind: z.literal("remove-desk-profile"), id: Id }),
  z.strictObject({ kind: z.literal("put-surface-profile"), profile: SurfaceProfile }),
  z.strictObject({ kind: z.literal("remove-surface-profile"), id: Id }),
  /** To a kind of surface of one's own: one control, so that what two hands touch at once does not undo each other. */
  z.strictObject({ kind: z.literal("add-control"), profile: Id, control: Control }),
  z.strictObject({ kind: z.literal("change-control"), profile: Id, id: Id, set: ControlChanges }),
  z.strictObject({ kind: z.literal("remove-control"), profile: Id, id: Id }),
  z.strictObject({ kind: z.literal("change-surface-profile"), id: Id, set: SurfaceKindChange }),
  z.strictObject({ kind: z.literal("set-times"), times: Show.shape.settings.shape.times.unwrap() }),
  z.strictObject({ kind: z.literal("set-takeover"), takeover: Show.shape.settings.shape.takeover.unwrap() }),
  z.strictObject({ kind: z.literal("add-layer"), layer: Layer }),
  /** Adds a part, or puts it in the place of the one with its id. */
  z.strictObject({ kind: z.literal("put-layer"), item: Layer }),
  z.strictObject({ kind: z.literal("put-group"), item: Group }),
  z.strictObject({ kind: z.literal("put-bank"), item: Bank }),
  z.strictObject({ kind: z.literal("put-variable"), item: Variable }),
  z.strictObject({ kind: z.literal("put-bundle"), item: Bundle }),
  z.strictObject({ kind: z.literal("put-route"), item: Route }),
  z.strictObject({ kind: z.literal("put-session"), item: NetworkSession }),
  z.discriminatedUnion("list", [
    changesOf("layers", Layer),
    changesOf("groups", Group),
    changesOf("banks", Bank),
    changesOf("variables", Variable),
    changesOf("bundles", Bundle),
    changesOf("routes", Route),
    changesOf("sessions", NetworkSession),
  ]),
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
  /** To its place in the order in which they act: in front of another, by its id; null = to the end. */
  z.strictObject({ kind: z.literal("move-action"), mapping: Id, id: Id, before: Id.nullable() }),
]);
export type OneEdit = z.infer<typeof OneEdit>;

/** Edits that are carried out together or not at all, and undone by one undo. */
export const Edit = z.discriminatedUnion("kind", [
  OneEdit,
  z.strictObject({
    kind: z.literal("together"),
    /** What they come to, as history calls it. */
    does: z.string().min(1).max(120),
    edits: z.array(OneEdit).min(1).max(20_000),
  }),
]);
export type Edit = z.infer<typeof Edit>;

/** Reads an edit as it came in. A profile that it brings may be an older document. */
export function parseEdit(data: unknown): { ok: true; edit: Edit } | { ok: false; problems: Problem[] } {
  const parsed = Edit.safeParse(withNewestProfile(data));
  return parsed.success ? { ok: true, edit: parsed.data } : { ok: false, problems: problemsOf(parsed.error) };
}

const PROFILE_EDITS: Readonly<Record<string, Format>> = {
  "put-desk-profile": DESK_PROFILE_FORMAT,
  "put-surface-profile": SURFACE_PROFILE_FORMAT,
};

function withNewestProfile(data: unknown): unknown {
  const edit = data as { kind?: unknown; profile?: unknown; edits?: unknown } | null;
  if (typeof edit === "object" && edit?.kind === "together" && Array.isArray(edit.edits))
    return { ...edit, edits: edit.edits.map(withNewestProfile) };
  const format = typeof edit === "object" && typeof edit?.kind === "string" ? PROFILE_EDITS[edit.kind] : undefined;
  return format ? { ...edit, profile: upToDate(edit!.profile, format) } : data;
}
