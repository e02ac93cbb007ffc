/** Where everything of a show that has an id stands in its compiled tables. */
import type { CompiledDesk } from "../desk/compile-desk.ts";
import type { Show } from "../format/show.ts";
import type { CompiledSurface } from "../surface/compile-surface.ts";
import type { ActionNames } from "./compile-actions.ts";

export class ShowIndexes implements ActionNames {
  readonly show: Show;
  readonly surfaces: readonly CompiledSurface[];
  readonly desks: readonly CompiledDesk[];
  readonly surfaceIndex: ReadonlyMap<string, number>;
  readonly deskIndex: ReadonlyMap<string, number>;
  readonly layerOf: ReadonlyMap<string, number>;
  /** Bundles that are switched off, with all their mappings. */
  readonly bundlesOff: ReadonlySet<string>;
  readonly controlCount: number;
  /** Controls with a motor, among all of the show. */
  readonly motors = new Set<number>();

  constructor(show: Show, surfaces: readonly CompiledSurface[], desks: readonly CompiledDesk[]) {
    this.show = show;
    this.surfaces = surfaces;
    this.desks = desks;
    this.surfaceIndex = indexes(surfaces);
    this.deskIndex = indexes(desks);
    this.layerOf = indexes(show.layers);
    this.bundlesOff = new Set(show.bundles?.flatMap((b) => (b.on ? [] : [b.id])));
    this.controlCount = surfaces.reduce((n, s) => n + s.profile.controls.length, 0);
    for (const s of surfaces)
      s.profile.controls.forEach((c, i) => {
        if (c.motor) this.motors.add(s.firstControl + i);
      });
  }

  controlAt(surface: string, control: string): number {
    const s = this.surfaces[this.surfaceIndex.get(surface)!];
    const own = s?.indexOf.get(control);
    return s && own !== undefined ? s.firstControl + own : -1;
  }
}

function indexes(list: readonly { id: string }[]): Map<string, number> {
  return new Map(list.map((x, i) => [x.id, i]));
}
