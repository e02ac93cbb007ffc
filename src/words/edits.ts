/** Edits in words. */
import type { Edit, PartList } from "../core/edit/edit-kinds.ts";
import type { Show } from "../core/format/show.ts";

/** What history, undo and the notice after an edit call it. */
export function editLabel(edit: Edit, show: Show): string {
  const surface = (id: string) => show.surfaces.find((s) => s.id === id)?.name ?? id;
  const desk = (id: string) => show.desks.find((d) => d.id === id)?.name ?? id;
  const mapping = (id: string) => {
    const m = show.mappings.find((x) => x.id === id);
    return m ? m.name || m.control : id;
  };
  const ownSurface = (id: string) => show.profiles?.surfaces.find((p) => p.id === id);
  const control = (profile: string, id: string) => ownSurface(profile)?.controls.find((c) => c.id === id)?.name ?? id;
  const controlOf = (id: string, of: string) => {
    const it = show.surfaces.find((s) => s.id === id);
    return `${it?.controls?.[of]?.name ?? control(it?.profile ?? "", of)} of ${surface(id)}`;
  };
  switch (edit.kind) {
    case "rename-show":
      return `name the show ${edit.name}`;
    case "set-middle-c":
      return `call note 60 ${edit.middleC}`;
    case "add-surface":
      return `add ${edit.surface.name}`;
    case "rename-surface":
      return `rename ${surface(edit.id)}`;
    case "set-surface-ports":
      return `change the ports of ${surface(edit.id)}`;
    case "set-asleep":
      return `${edit.on ? "let" : "wake"} ${controlOf(edit.id, edit.control)}${edit.on ? " sleep" : ""}`;
    case "name-control":
      return edit.set.name
        ? `call ${controlOf(edit.id, edit.control)} ${edit.set.name}`
        : `note of ${controlOf(edit.id, edit.control)}`;
    case "name-page":
      return edit.set.name
        ? `call page ${edit.page} of ${desk(edit.id)} ${edit.set.name}`
        : `note of page ${edit.page} of ${desk(edit.id)}`;
    case "remove-surface":
      return `remove ${surface(edit.id)}`;
    case "add-desk":
      return `add ${edit.desk.name}`;
    case "rename-desk":
      return `rename ${desk(edit.id)}`;
    case "set-desk-address":
      return `change the address of ${desk(edit.id)}`;
    case "set-desk-midi":
      return `change the ports of ${desk(edit.id)}`;
    case "replace-surface":
      return `replace ${surface(edit.id)}`;
    case "replace-desk":
      return `replace ${desk(edit.id)}`;
    case "set-desk-when-silent":
      return `change what ${desk(edit.id)} is sent while it is silent`;
    case "put-desk-profile":
    case "put-surface-profile":
      return `change the profile ${edit.profile.name}`;
    case "remove-desk-profile":
      return `remove the profile ${show.profiles?.desks.find((p) => p.id === edit.id)?.name ?? edit.id}`;
    case "remove-surface-profile":
      return `remove the profile ${show.profiles?.surfaces.find((p) => p.id === edit.id)?.name ?? edit.id}`;
    case "add-functions":
      return `add ${edit.functions[0]?.name ?? edit.states[0]?.name ?? "nothing"} to ${show.profiles?.desks.find((p) => p.id === edit.profile)?.name ?? edit.profile}`;
    case "add-control":
      return `add ${edit.control.name}`;
    case "change-control":
      return `change ${edit.set.name ?? control(edit.profile, edit.id)}`;
    case "remove-control":
      return `take off ${control(edit.profile, edit.id)}`;
    case "change-surface-profile":
      return `change the profile ${edit.set.name ?? ownSurface(edit.id)?.name ?? edit.id}`;
    case "together":
      return edit.does;
    case "remove-desk":
      return `remove ${desk(edit.id)}`;
    case "add-layer":
      return `add the layer ${edit.layer.name}`;
    case "set-times":
      return "change the times of hold and double tap";
    case "set-takeover":
      return "change how new mappings take over";
    case "put-layer":
    case "put-group":
    case "put-bank":
    case "put-variable":
    case "put-bundle":
    case "put-route":
    case "put-session": {
      const list: readonly { id: string }[] = show[`${edit.kind.slice(4)}s` as PartList] ?? [];
      return `${list.some((x) => x.id === edit.item.id) ? "change" : "add"} ${edit.item.name}`;
    }
    case "change-part":
      return `change ${edit.set.name ?? show[edit.list]?.find((x) => x.id === edit.id)?.name ?? edit.id}`;
    case "remove-part":
      return `remove ${show[edit.list]?.find((x) => x.id === edit.id)?.name ?? edit.id}`;
    case "add-mapping":
      return `map ${edit.mapping.control}`;
    case "change-mapping":
      return `change ${mapping(edit.id)}`;
    case "remove-mapping":
      return `unmap ${mapping(edit.id)}`;
    case "add-action":
      return `add an action to ${mapping(edit.mapping)}`;
    case "change-action":
      return `change an action of ${mapping(edit.mapping)}`;
    case "move-action":
      return `put the actions of ${mapping(edit.mapping)} in another order`;
    case "remove-action":
      return `remove an action of ${mapping(edit.mapping)}`;
    default:
      return edit satisfies never;
  }
}
