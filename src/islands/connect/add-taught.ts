/** A surface of no known kind is added with a kind of its own, which grows as it is touched. */
import type { Edit } from "../../core/edit/edit-kinds.ts";
import type { PortRef } from "../../core/format/show.ts";
import { unknownKind } from "../../core/teach/board.ts";
import { newId } from "../documents/new-ids.ts";
import type { PageActions } from "../live/actions.ts";
import type { PageStore } from "../live/store.ts";

/** In the place of the id of a kind, which has no spaces: what it is shows as it is touched. */
export const TAUGHT = "as touched";

export function taughtSurface(
  name: string,
  ports: { in: PortRef; out: PortRef },
  identity?: string,
): { edit: Edit; surface: string } {
  const kind = newId("k");
  const surface = newId("s");
  return {
    surface,
    edit: {
      kind: "together",
      does: `add ${name}`,
      edits: [
        { kind: "put-surface-profile", profile: unknownKind(kind, name, identity) },
        { kind: "add-surface", surface: { id: surface, name, profile: kind, ...ports } },
      ],
    },
  };
}

/** Adds it, and goes to where it is touched. False: it was refused, which has been said. */
export async function addTaught(
  store: PageStore,
  actions: PageActions,
  name: string,
  ports: { in: PortRef; out: PortRef },
  identity?: string,
): Promise<boolean> {
  const { edit, surface } = taughtSurface(name, ports, identity);
  if (!(await actions.edit(edit))) return false;
  store.setState({
    adding: surface,
    armed: null,
    learning: false,
    chosen: { surface, control: "" },
    chosenMapping: null,
  });
  actions.go("map");
  return true;
}
