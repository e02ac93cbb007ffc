/** Copy, cut, paste and duplicate in the Map: mappings as text on the clipboard, in the open format. */
import { useEffect } from "react";
import type { PasteInto, PasteTarget } from "../../core/edit/pasting.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import { MAPPINGS_FORMAT } from "../../core/format/versions.ts";
import { type CopiedMappings, mappingsDocument, writeMappings } from "../../core/format/write-mappings.ts";
import { alikeOf, placesOf } from "../../core/mapping/series.ts";
import { isTyping } from "../components/typing.ts";
import { newId } from "../documents/new-ids.ts";
import { type PageState, type PageStore, usePageStore } from "../live/store.ts";
import { toast } from "../live/toast.ts";

/** The word that something was copied. */
const COPIED = "copied";

const asTheyLie = (controls: readonly Control[]) => placesOf(controls, "as-they-lie").map((p) => p.control.id);

/** The controls that are chosen, as they lie. */
export function chosenControls({ many, chosen, live }: PageState): { surface: string; controls: string[] } | null {
  if (many) {
    const profile = live.compiled.surfaces.find((s) => s.id === many.surface)?.profile;
    const controls = many.controls.flatMap((id) => profile?.controls.find((c) => c.id === id) ?? []);
    return { surface: many.surface, controls: asTheyLie(controls) };
  }
  return chosen && chosen.control !== "" ? { surface: chosen.surface, controls: [chosen.control] } : null;
}

/** The mappings of the chosen controls; null where they have none. */
export function copiedOf(state: PageState): CopiedMappings | null {
  const from = chosenControls(state);
  if (!from) return null;
  const { show } = state.live;
  const mappings = show.mappings.filter((m) => m.surface === from.surface && from.controls.includes(m.control));
  if (mappings.length === 0) return null;
  const named = new Set(mappings.flatMap((m) => m.actions.map((a) => a.desk)));
  return {
    controls: from.controls.map((control) => ({ surface: from.surface, control })),
    mappings,
    desks: show.desks.filter((d) => named.has(d.id)).map(({ id, profile }) => ({ id, profile })),
  };
}

/** Copies or cuts what is chosen; the text for the clipboard, or null where there is nothing. */
export function copy(store: PageStore, isCut: boolean): string | null {
  const document = copiedOf(store.getState());
  if (!document) {
    toast("Nothing to copy: what is chosen does nothing.");
    return null;
  }
  const text = writeMappings(document);
  const count = document.mappings.length;
  store.setState({ copied: { text, cut: isCut ? document.mappings.map((m) => m.id) : [] } });
  const what = count === 1 ? "1 mapping" : `${count} mappings`;
  toast(
    isCut
      ? `${what} cut: they go from here once they are put in elsewhere.`
      : `${what} copied. Choose where, and put them in with Ctrl V.`,
    { id: COPIED },
  );
  return text;
}

/** Copies by a button: without the browser's own event, the clipboard has to be asked, and may say no. */
export async function toClipboard(store: PageStore): Promise<void> {
  const text = copy(store, false);
  if (text === null) return;
  try {
    await navigator.clipboard.writeText(text);
  } catch {
    // It can still be put in here.
  }
}

/** Shows what the text would become on the chosen controls; nothing is done before it is applied. */
export async function paste(store: PageStore, text: string): Promise<void> {
  // To read them takes all that a show is made of, which nothing else of the Map needs.
  const { readMappings } = await import("../../core/format/mappings-document.ts");
  const read = readMappings(text);
  if (!read.ok) {
    const isOurs = text.includes(MAPPINGS_FORMAT);
    toast.error("Not put in", {
      description: isOurs
        ? "The text is cut off, or changed by hand. Copy the mappings again."
        : "What was copied are no mappings. Copy a control first, with Ctrl C.",
    });
    return;
  }
  if (!chosenControls(store.getState())) {
    toast("Choose first where it should go.");
    return;
  }
  const { copied } = store.getState();
  const cut = copied?.text === text ? copied.cut : [];
  toast.dismiss(COPIED); // it would lie over what is asked now
  store.setState({ pasting: { document: read.value, cut, moveOn: 0 }, series: null, strips: false, tableOpen: false });
}

/** Copies what is chosen to the next controls of its kind that are free, with the numbers moved on. */
export function duplicate(store: PageStore): void {
  const state = store.getState();
  const from = chosenControls(state);
  const document = copiedOf(state);
  if (!from || !document) {
    toast("Nothing to duplicate: what is chosen does nothing.");
    return;
  }
  const next = nextFree(state, from);
  if (next.length < from.controls.length) {
    toast(
      "There are not enough free controls of this kind behind it. Copy with Ctrl C, and choose where it should go.",
    );
    return;
  }
  const first = next[0]!;
  store.setState({
    chosen: { surface: from.surface, control: first },
    many: next.length > 1 ? { surface: from.surface, controls: next } : null,
    pasting: { document: mappingsDocument(document), cut: [], moveOn: from.controls.length },
    series: null,
    strips: false,
    tableOpen: false,
  });
}

function nextFree(
  { live }: PageState,
  { surface, controls }: { surface: string; controls: readonly string[] },
): string[] {
  const all = live.compiled.surfaces.find((s) => s.id === surface)?.profile.controls ?? [];
  const last = all.find((c) => c.id === controls.at(-1));
  if (!last) return [];
  const lie = asTheyLie(alikeOf(all, last));
  const taken = new Set(live.show.mappings.filter((m) => m.surface === surface).map((m) => m.control));
  return lie
    .slice(lie.indexOf(last.id) + 1)
    .filter((id) => !taken.has(id))
    .slice(0, controls.length);
}

/** What of the show decides about what is put in. */
export function pasteInto({ live: { show, compiled } }: Pick<PageState, "live">): PasteInto {
  return {
    show,
    functionOf: (desk, id) => compiled.desks.find((d) => d.id === desk)?.functions.get(id),
    deskOfKind: (profile) => show.desks.find((d) => d.profile === profile)?.id,
    hasControl: (surface, control) => compiled.surfaces.find((s) => s.id === surface)?.indexOf.has(control) ?? false,
    pageDesk: compiled.desks.find((d) => d.page)?.id,
    newId,
  };
}

/**
 * Where it goes: the chosen controls as they lie; of a single one, as many as were copied, from it on along those that are
 * like it.
 */
export function targetsOf(state: PageState, count: number): PasteTarget[] {
  const to = chosenControls(state);
  if (!to) return [];
  const { live } = state;
  const all = live.compiled.surfaces.find((s) => s.id === to.surface)?.profile.controls ?? [];
  let ids: readonly string[] = to.controls;
  const first = all.find((c) => c.id === ids[0]);
  if (ids.length === 1 && count > 1 && first) {
    const lie = asTheyLie(alikeOf(all, first));
    ids = lie.slice(lie.indexOf(first.id)).slice(0, count);
  }
  return ids.flatMap((id) => {
    const control = all.find((c) => c.id === id);
    const has = live.show.mappings.filter((m) => m.surface === to.surface && m.control === id);
    return control ? [{ surface: to.surface, control, has }] : [];
  });
}

/** While the Map is shown, the clipboard's own events copy and put in: they need nobody's leave. */
export function useClipboard(): void {
  const store = usePageStore();
  useEffect(() => {
    const copying = (isCut: boolean) => (e: ClipboardEvent) => {
      if (isTyping(e.target) || !getSelection()?.isCollapsed) return;
      const text = copy(store, isCut);
      if (text === null) return;
      e.clipboardData?.setData("text/plain", text);
      e.preventDefault();
    };
    const [onCopy, onCut] = [copying(false), copying(true)];
    const onPaste = (e: ClipboardEvent) => {
      if (isTyping(e.target)) return;
      void paste(store, e.clipboardData?.getData("text/plain") ?? "");
      e.preventDefault();
    };
    document.addEventListener("copy", onCopy);
    document.addEventListener("cut", onCut);
    document.addEventListener("paste", onPaste);
    return () => {
      document.removeEventListener("copy", onCopy);
      document.removeEventListener("cut", onCut);
      document.removeEventListener("paste", onPaste);
    };
  }, [store]);
}
