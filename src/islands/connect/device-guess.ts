/** What a device that nobody uses yet may be: one guess, and everything else to choose from. Pure. */
import type { SurfaceProfile } from "../../core/format/surface-profile.ts";
import type { HeardMessage } from "../../core/surface/learn.ts";
import { fits } from "../../core/teach/fits.ts";
import { sameIdentity } from "../../core/teach/identity.ts";
import type { Option } from "../components/Select.tsx";
import { TAUGHT } from "./add-taught.ts";

/** From here what was heard speaks for a kind. */
const FITS = 0.9;
/** Fewer different messages than this speak for nothing. */
const FEWEST = 3;

export interface Known {
  readonly name: string;
  readonly heard: readonly HeardMessage[];
  /** What it answered to an identity request. */
  readonly identity: string | undefined;
  /** The kind that a device of this name had before. */
  readonly before: string | undefined;
}

export interface Guess {
  readonly kind: string;
  readonly options: readonly Option[];
}

const AS_TOUCHED = "a surface I teach as I touch";

export function guessKind(device: Known, profiles: readonly SurfaceProfile[]): Guess {
  const fit = new Map(fits(profiles, device.heard).map((f) => [f.profile, f.share]));
  const best = [...fit].find(([, share]) => share >= FITS);
  const different = new Set(device.heard.map((m) => `${m.bytes[0]} ${m.bytes[1]}`)).size;
  const byIdentity = profiles.find((p) => p.identity && device.identity && sameIdentity(p.identity, device.identity));
  const before = profiles.find((p) => p.id === device.before);
  const byName = profiles.find((p) => isCalled(device.name, p.name));
  const kind = (byIdentity ?? before ?? byName)?.id ?? (best && different >= FEWEST ? best[0] : TAUGHT);
  const why = (p: SurfaceProfile) => {
    if (p === byIdentity) return ", it says so itself";
    if (p === before) return ", as before";
    const share = fit.get(p.id);
    return share === undefined ? "" : `, fits ${Math.round(share * 100)} %`;
  };
  return {
    kind,
    options: [
      { value: TAUGHT, label: AS_TOUCHED },
      ...profiles.map((p) => ({ value: p.id, label: `${p.name}${why(p)}` })),
    ],
  };
}

/** "Tide strips MK2" is a "Tide strips". */
function isCalled(device: string, kind: string): boolean {
  const plain = (text: string) =>
    text
      .toLowerCase()
      .replaceAll(/[^\p{L}\p{N}]+/gu, " ")
      .trim();
  const [d, k] = [plain(device), plain(kind)];
  return k.length > 2 && (d === k || d.startsWith(`${k} `));
}
