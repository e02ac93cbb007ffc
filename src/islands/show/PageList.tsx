import { DraftField } from "../components/DraftField.tsx";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { NoteField } from "./NoteField.tsx";

/** Pages of the desks that have any, with the names and notes that people gave them. */
export function PageList() {
  const desks = useLive((l) => l.compiled.desks).filter((d) => d.pageParameter);
  const values = useLive((l) => l.values);
  const actions = useActions();
  if (desks.length === 0) return <p className="text-ink-300">No desk of this show has pages.</p>;
  return (
    <div className="grid gap-4">
      <p className="text-small text-ink-500">
        A page is called as its desk calls it, or as it is called here. A note is shown in the Map while the page is up.
      </p>
      {desks.map(({ id, desk, states, pageParameter }) => {
        const { from, to, names } = pageParameter!;
        const base = states.get(names ?? "")?.base;
        return (
          <section key={id} className="grid gap-1.5" aria-label={`Pages of ${desk.name}`}>
            <h3 className="font-semibold">
              <bdi>{desk.name}</bdi>
            </h3>
            {Array.from({ length: to - from + 1 }, (_, i) => {
              const page = from + i;
              const own = desk.pages?.[String(page)];
              const told = base === undefined ? "" : values[id]?.value[base + i];
              const change = (set: { name?: string | null; note?: string | null }) =>
                void actions.edit({ kind: "name-page", id, page, set });
              return (
                <div key={page} className="flex items-center gap-3 text-small">
                  <b className="w-8 text-right tabular-nums">{page}</b>
                  <DraftField
                    label={`Name of page ${page}`}
                    placeholder={typeof told === "string" && told !== "" ? told : "no name"}
                    maxLength={80}
                    className="w-[180px]"
                    value={own?.name ?? ""}
                    onCommit={(name) => change({ name: name || null })}
                  />
                  <NoteField of={`page ${page}`} note={own?.note} onNote={(note) => change({ note: note ?? null })} />
                </div>
              );
            })}
          </section>
        );
      })}
    </div>
  );
}
