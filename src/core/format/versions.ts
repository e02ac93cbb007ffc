/**
 * How documents grow old. Each format has a version and numbered steps from each to the next, run on the raw document
 * before it is checked. A step that was released is never changed (CONTRIBUTING.md says what "released" means);
 * examples/old has a document of each version.
 *
 * A step meets documents as they come from disks and people: it changes what it knows and leaves everything else as it
 * is, so that the check afterwards finds the fault. It never throws.
 */

export const SHOW_FORMAT = "velvet-hinge/show";
export const DESK_PROFILE_FORMAT = "velvet-hinge/desk-profile";
export const SURFACE_PROFILE_FORMAT = "velvet-hinge/surface-profile";
export const TAKE_FORMAT = "velvet-hinge/take";
export const MAPPINGS_FORMAT = "velvet-hinge/mappings";

export const ALL_FORMATS = [
  SHOW_FORMAT,
  DESK_PROFILE_FORMAT,
  SURFACE_PROFILE_FORMAT,
  TAKE_FORMAT,
  MAPPINGS_FORMAT,
] as const;
export type Format = (typeof ALL_FORMATS)[number];

type Raw = Readonly<Record<string, unknown>>;
/** From version n to n + 1; the version itself is counted up by `upToDate`. */
type Step = (document: Raw) => Raw;

/** Version 1 told the wire together with what usually carried it, also where something else did. */
const TRUE_WIRES: ReadonlyMap<unknown, string> = new Map([
  ["osc-udp", "osc"],
  ["line-tcp", "lines"],
]);

const trueWire: Step = (profile) =>
  changed(profile, "wire", (wire) => changed(wire, "kind", (kind) => TRUE_WIRES.get(kind) ?? kind));

/** Where a control or a display lies was called its place, which is also what the parts of the application are called. */
const boxes: Step = (profile) => {
  const named = (items: unknown) =>
    Array.isArray(items) ? items.map((item) => (isRaw(item) ? renamed(item, "place", "box") : item)) : items;
  return changed(changed(profile, "controls", named), "displays", named);
};

/** Steps by the version they start from: the first leads from 1 to 2. */
const STEPS: Record<Format, readonly Step[]> = {
  // What a show carries is brought up to date by itself; a show is as new as the newest of it.
  [SHOW_FORMAT]: [(show) => show],
  [DESK_PROFILE_FORMAT]: [trueWire],
  [SURFACE_PROFILE_FORMAT]: [boxes],
  [TAKE_FORMAT]: [],
  [MAPPINGS_FORMAT]: [],
};

/** The newest version of each format: what is written. */
export const NEWEST = {
  [SHOW_FORMAT]: 2,
  [DESK_PROFILE_FORMAT]: 2,
  [SURFACE_PROFILE_FORMAT]: 2,
  [TAKE_FORMAT]: 1,
  [MAPPINGS_FORMAT]: 1,
} as const satisfies Record<Format, number>;

/** The steps of a format, for the test that holds them against the versions. */
export function stepsOf(format: Format): number {
  return STEPS[format].length;
}

/** A raw document with every step it lacks; one that is no document of this format is left as it is. */
export function upToDate(document: unknown, format: Format): unknown {
  if (!isRaw(document) || document.format !== format) return document;
  let now = format === SHOW_FORMAT ? withItsProfiles(document) : document;
  const { version } = now;
  if (typeof version !== "number" || !Number.isInteger(version) || version < 1) return now;
  for (const step of STEPS[format].slice(version - 1)) now = step(now);
  return version < NEWEST[format] ? { ...now, version: NEWEST[format] } : now;
}

/** The profiles that travel with a show are documents of their own. */
function withItsProfiles(show: Raw): Raw {
  const all = (format: Format) => (list: unknown) =>
    Array.isArray(list) ? list.map((profile) => upToDate(profile, format)) : list;
  return changed(show, "profiles", (profiles) =>
    isRaw(profiles)
      ? changed(changed(profiles, "desks", all(DESK_PROFILE_FORMAT)), "surfaces", all(SURFACE_PROFILE_FORMAT))
      : profiles,
  );
}

function isRaw(value: unknown): value is Raw {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

/** With one field changed, where there is such a field. */
function changed<T>(object: T, key: string, change: (value: unknown) => unknown): T {
  if (!isRaw(object) || !Object.hasOwn(object, key)) return object;
  const now = change(object[key]);
  return now === object[key] ? object : { ...object, [key]: now };
}

/** With a field under another name, in its old place among the others. */
function renamed(object: Raw, from: string, to: string): Raw {
  if (!Object.hasOwn(object, from) || Object.hasOwn(object, to)) return object;
  return Object.fromEntries(Object.entries(object).map(([key, value]) => [key === from ? to : key, value]));
}
