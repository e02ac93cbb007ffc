/**
 * Releases that may have come while nobody listened: an engine was dead, or the whole server. What is held where that may
 * be is let go, once the desks it belongs to can be told, or after a while in any case: what is on by mistake is worse than
 * what goes off too early.
 */
import type { World } from "../core/run-state/world.ts";
import type { Missed } from "../core/translate/taking-over.ts";

/** They are let go by then, even where a desk is not there to hear it, in ms. */
const LET_GO_WITHIN_MS = 3000;

export class MissedReleases {
  #surfaces: readonly string[] = [];
  #untilMs = 0;

  /** An engine begins with what another one held. */
  begin({ held, surfaces }: World, missed: Missed, atMs: number): void {
    const holding = [...new Set(held.list().map((h) => h.surface))];
    this.#surfaces = holding.filter((id) => {
      const from = surfaces.find((s) => s.id === id)?.compiled.surface.in.kind;
      return missed === "all" || (from !== "screen" && from !== "browser-midi");
    });
    this.#untilMs = atMs + LET_GO_WITHIN_MS;
  }

  /** Surfaces of which what is held is to be let go now. `isOpen`: whether a desk can be told. */
  take({ held }: World, isOpen: (desk: string) => boolean, atMs: number): readonly string[] {
    if (this.#surfaces.length === 0) return this.#surfaces;
    const surfaces = this.#surfaces;
    const releases = held.list().flatMap((h) => (surfaces.includes(h.surface) ? h.releases : []));
    if (atMs < this.#untilMs && !releases.every((r) => isOpen(r.desk))) return [];
    this.#surfaces = [];
    return surfaces;
  }
}
