/** Which kind a device was given, by its name: a unit that was seen before gets its old kind, also in another show. */
import type { SurfaceProfile } from "../../core/format/surface-profile.ts";

const KEY = "velvet-hinge.kinds";
/** Devices that are remembered, the newest last. */
const MOST = 40;

/** A kind that ships by its id; one of somebody's own with all that it is. It is checked where it comes into a show. */
export type RememberedKind = string | SurfaceProfile;

export function rememberedKinds(storage: Pick<Storage, "getItem">): Readonly<Record<string, RememberedKind>> {
  try {
    const read: unknown = JSON.parse(storage.getItem(KEY) ?? "{}");
    if (typeof read !== "object" || read === null) return {};
    return Object.fromEntries(Object.entries(read).filter((e): e is [string, RememberedKind] => isKind(e[1])));
  } catch {
    return {}; // a browser that keeps nothing, or what another program wrote there
  }
}

function isKind(value: unknown): boolean {
  if (typeof value === "string") return true;
  const { id, name, controls } = (value ?? {}) as Partial<SurfaceProfile>;
  return typeof id === "string" && typeof name === "string" && Array.isArray(controls);
}

export function rememberKind(
  storage: Pick<Storage, "getItem" | "setItem">,
  device: string,
  kind: RememberedKind,
): void {
  const { [device]: _, ...others } = rememberedKinds(storage);
  const all = [...Object.entries(others), [device, kind] as const].slice(-MOST);
  try {
    storage.setItem(KEY, JSON.stringify(Object.fromEntries(all)));
  } catch {
    // There is no room: it is a help and no more.
  }
}
