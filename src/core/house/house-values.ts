/**
 * The values the house keeps for itself: which layers are up, where banks begin, variables, bypassed groups, the
 * tempo. They are states of its profile, one value for each entity of the show, in the order of the show.
 */
import type { DeskStateStore } from "../desk/state-store.ts";
import type { Show } from "../format/show.ts";

/** Where the values are kept: the house's states and the store of its desk. */
export interface HouseValues {
  readonly states: ReadonlyMap<string, { readonly base: number }>;
  readonly store: DeskStateStore;
}

/** A value of one entity, by the entity's place in its list, counted from 0. */
export interface HouseValue {
  readonly state: string;
  readonly index: number;
  readonly value: number;
}

/** Where a value stands in the store; -1 = the house has no such state. */
export function houseIndex({ states }: HouseValues, state: string, index: number): number {
  const found = states.get(state);
  return found === undefined ? -1 : found.base + index;
}

/** A value the house keeps; undefined = not known. */
export function keptValue(house: HouseValues, state: string, index: number): number | undefined {
  const at = houseIndex(house, state, index);
  return at >= 0 && house.store.isKnown(at) ? house.store.number(at) : undefined;
}

/** What banks, variables and groups of a show start with. */
export function startValues({ banks = [], variables = [], groups = [] }: Show): HouseValue[] {
  return [
    ...banks.map(({ first }, index) => ({ state: "bank", index, value: first })),
    ...variables.map(({ start }, index) => ({ state: "variable", index, value: start })),
    ...groups.map((_, index) => ({ state: "bypass", index, value: 0 })),
  ];
}

type Named = readonly { readonly id: string }[];

/** The lists of a show whose entities have a value at the house, by state. The tempo is one, without a list. */
function entities(show: Show): Readonly<Record<"layer" | "bank" | "variable" | "bypass" | "tempo", Named>> {
  return {
    layer: show.layers,
    bank: show.banks ?? [],
    variable: show.variables ?? [],
    bypass: show.groups ?? [],
    tempo: [{ id: "" }],
  };
}

/** Shows of which this is the same have the values of the house at the same places. */
export function entityIds(show: Show): string {
  return JSON.stringify(Object.values(entities(show)).map((list) => list.map(({ id }) => id)));
}

/** A value of the house by the id of its entity, which stays when lists grow or change their order. */
export type NamedHouseValue = readonly [state: string, id: string, value: number];

export function namedValues(house: HouseValues, show: Show): NamedHouseValue[] {
  return Object.entries(entities(show)).flatMap(([state, list]) =>
    list.flatMap(({ id }, index) => {
      const value = keptValue(house, state, index);
      return value === undefined ? [] : [[state, id, value] as const];
    }),
  );
}

/** Where they stand in this show; those of entities that it has not are left out. */
export function valuesIn(show: Show, named: readonly NamedHouseValue[]): HouseValue[] {
  const known = new Map(named.map(([state, id, value]) => [`${state} ${id}`, value]));
  return Object.entries(entities(show)).flatMap(([state, list]) =>
    list.flatMap(({ id }, index) => {
      const value = known.get(`${state} ${id}`);
      return value === undefined ? [] : [{ state, index, value }];
    }),
  );
}
