import { useShallow } from "zustand/react/shallow";
import { BASE_LAYER } from "../../core/format/givens.ts";
import { pagedDesk, pageName, pageNote } from "../live/page-name.ts";
import { useLive } from "../live/store.ts";

/** The pages of the first desk that has any, with the one that is up. */
export function PageRibbon() {
  const pages = useLive(
    useShallow((l) => {
      const desk = pagedDesk(l);
      const parameter = desk?.pageParameter;
      if (!desk || !parameter) return [];
      const up = l.desks[desk.id]?.page ?? null;
      return Array.from({ length: parameter.to - parameter.from + 1 }, (_, i) => {
        const page = parameter.from + i;
        return [page, page === up ? "up" : "", pageName(l, desk, page).replaceAll("|", "/"), pageNote(desk, page)].join(
          "|",
        );
      });
    }),
  );
  if (pages.length === 0) return null;
  return (
    <ol className="flex gap-[3px]" aria-label="Pages of the desk">
      {pages.map((text) => {
        const [number, up, name, ...note] = text.split("|");
        return (
          <li
            key={number}
            title={note.join("|") || undefined}
            aria-current={up ? "page" : undefined}
            className={`narrow h-[38px] min-w-0 flex-1 overflow-hidden rounded-t-md border-b-2 px-1.5 py-[3px] text-tiny leading-tight whitespace-nowrap ${
              up ? "border-cool bg-velvet-700 text-ink-100" : "border-transparent bg-velvet-850 text-ink-500"
            } ${name ? "grow-[2]" : ""}`}
          >
            <b className={`block font-semibold ${up ? "text-bright" : "text-ink-300"}`}>{number}</b>
            <span className="block overflow-hidden text-ellipsis">{name || "—"}</span>
          </li>
        );
      })}
    </ol>
  );
}

/** Notes on the page and the layers that are up. */
export function NotesOfNow() {
  const notes = useLive(
    useShallow((l) => {
      const desk = pagedDesk(l);
      const page = desk ? (l.desks[desk.id]?.page ?? null) : null;
      const ofPage = desk && page !== null ? pageNote(desk, page) : "";
      const up = l.layers.length > 0 ? l.layers : [BASE_LAYER];
      const ofLayers = l.show.layers.flatMap((x) => (up.includes(x.id) && x.note ? [`${x.name}: ${x.note}`] : []));
      return ofPage ? [`Page ${page}: ${ofPage}`, ...ofLayers] : ofLayers;
    }),
  );
  if (notes.length === 0) return null;
  return <p className="-mt-1.5 line-clamp-2 text-small text-ink-300">{notes.join(" · ")}</p>;
}
