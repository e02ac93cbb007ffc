/** The places of the application, in the order of the work. A new one is one more entry, and stands everywhere. */
import { type ComponentType, lazy } from "react";

/** What every place is given. */
interface PlaceProps {
  /** Goes to where mappings are made. */
  leave(): void;
}

interface PlaceEntry {
  readonly name: string;
  /** The key that goes there. */
  readonly key: string;
  /** It fills the window, and the keys of the application rest: nothing can be changed there by accident. */
  readonly locked: boolean;
  /** A control is chosen there, and keys act on it. */
  readonly chooses: boolean;
  /** Fetches what it is drawn with. */
  load(): Promise<{ readonly default: ComponentType<PlaceProps> }>;
}

/** By the last part of their address. */
export const PLACES = {
  connect: {
    name: "Connect",
    key: "1",
    locked: false,
    chooses: false,
    load: async () => ({ default: (await import("../connect/ConnectView.tsx")).ConnectView }),
  },
  map: {
    name: "Map",
    key: "2",
    locked: false,
    chooses: true,
    load: async () => ({ default: (await import("../map/MapView.tsx")).MapView }),
  },
  run: {
    name: "Run",
    key: "3",
    locked: true,
    chooses: false,
    load: async () => ({ default: (await import("../run/RunView.tsx")).RunView }),
  },
} as const satisfies Record<string, PlaceEntry>;

export type Place = keyof typeof PLACES;

/** Where a person lands first, and where a locked place is left to. */
export const FIRST_PLACE: Place = "map";

export const PLACE_LIST = Object.entries(PLACES).map(([id, entry]) => ({ id: id as Place, ...(entry as PlaceEntry) }));

export const PLACE_VIEWS = Object.fromEntries(
  PLACE_LIST.map(({ id, load }) => [id, lazy(load)]),
) as unknown as Readonly<Record<Place, ComponentType<PlaceProps>>>;

export function isPlace(text: string): text is Place {
  return Object.hasOwn(PLACES, text);
}
