/** Controls are added to a surface as they are touched: to its own kind, which one that ships becomes first. */
import type { PageActions } from "./actions.ts";
import type { PageStore } from "./store.ts";

/** Goes to where it is touched. A kind that ships stays as it is: this surface gets one of its own, like it. */
export async function teachSurface(store: PageStore, actions: PageActions, surface: string): Promise<void> {
  const { live } = store.getState();
  const unit = live.show.surfaces.find((s) => s.id === surface);
  const kind = unit && live.surfaceProfiles.get(unit.profile);
  if (!unit || !kind) return;
  if (!live.show.profiles?.surfaces.some((p) => p.id === kind.id)) {
    const own = { ...structuredClone(kind), id: `${kind.id}-of-${surface}`.slice(0, 60), name: `${kind.name}, ours` };
    const becomes = Object.fromEntries(kind.controls.map((c) => [c.id, c.id]));
    const done = await actions.edit({
      kind: "together",
      does: `make ${kind.name} a kind of our own`,
      edits: [
        { kind: "put-surface-profile", profile: own },
        { kind: "replace-surface", id: surface, profile: own.id, becomes },
      ],
    });
    if (!done) return;
  }
  store.setState({ adding: surface, armed: null, learning: false, chosen: { surface, control: "" } });
  actions.go("map");
}
