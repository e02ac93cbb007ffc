/**
 * Which layers are up: those that are locked, one for each group of controls they cover, and over them those that are
 * held. A layer that is held lets the one below it come back when it is let go.
 */

export interface LayersUp {
  /** Ids of locked layers, the lowest first. */
  readonly locked: readonly string[];
  /** Ids of layers that are held, the newest last. */
  readonly held: readonly string[];
}

/** What the layers know of each other. */
export interface LayerFacts {
  readonly id: string;
  /** The group it covers; undefined = everything. */
  readonly group?: string | undefined;
}

export const NO_LAYERS: LayersUp = { locked: [], held: [] };

/** All layers that are up, the lowest first. */
export function layerStack({ locked, held }: LayersUp): string[] {
  return [...locked.filter((l) => !held.includes(l)), ...held];
}

export function isUp({ locked, held }: LayersUp, layer: string): boolean {
  return held.includes(layer) || locked.includes(layer);
}

export function enter(up: LayersUp, layer: string): LayersUp {
  return { ...up, held: [...up.held.filter((l) => l !== layer), layer] };
}

export function leave(up: LayersUp, layer: string): LayersUp {
  return { ...up, held: up.held.filter((l) => l !== layer) };
}

/** Locks a layer in the place of the one that is locked for the same controls; the base only takes that one away. */
export function lock(up: LayersUp, layer: string, layers: readonly LayerFacts[], base: string): LayersUp {
  const own = layers.find((l) => l.id === layer);
  const others = up.locked.filter((id) => layers.find((l) => l.id === id)?.group !== own?.group);
  return { ...up, locked: layer === base ? others : [...others, layer] };
}

export function unlock(up: LayersUp, layer: string): LayersUp {
  return { ...up, locked: up.locked.filter((l) => l !== layer) };
}

/** Steps through the layers that cover everything, around the end. */
export function step(up: LayersUp, by: 1 | -1, layers: readonly LayerFacts[], base: string): LayersUp {
  const whole = layers.filter((l) => l.group === undefined).map((l) => l.id);
  const now = up.locked.find((id) => whole.includes(id)) ?? base;
  const at = whole.indexOf(now);
  const next = whole[(at + by + whole.length) % whole.length];
  return next === undefined ? up : lock(up, next, layers, base);
}

/** Without the layers that are no longer there. */
export function keepLayers(up: LayersUp, layers: readonly LayerFacts[]): LayersUp {
  const there = (id: string) => layers.some((l) => l.id === id);
  return { locked: up.locked.filter(there), held: up.held.filter(there) };
}
