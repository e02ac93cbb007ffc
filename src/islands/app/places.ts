/** The places of the application, in the order of the work. */
export const PLACES = [
  { id: "connect", name: "Connect", key: "1" },
  { id: "map", name: "Map", key: "2" },
  { id: "run", name: "Run", key: "3" },
] as const;

export type Place = (typeof PLACES)[number]["id"];

export function isPlace(text: string): text is Place {
  return PLACES.some((p) => p.id === text);
}
