import { useShallow } from "zustand/react/shallow";
import { useLive } from "../live/store.ts";

/** The pages of the first desk that has any, with the one that is up. */
export function PageRibbon() {
  const pages = useLive(
    useShallow((l) => {
      const desk = l.compiled.desks.find((d) => d.page);
      const parameter = desk?.pageParameter;
      const names = desk?.states.get(parameter?.names ?? "");
      if (!desk || !parameter) return [];
      const up = l.desks[desk.id]?.page ?? null;
      return Array.from({ length: parameter.to - parameter.from + 1 }, (_, i) => {
        const name = names ? l.values[desk.id]?.value[names.base + i] : "";
        return `${parameter.from + i}|${parameter.from + i === up ? "up" : ""}|${name ?? ""}`;
      });
    }),
  );
  if (pages.length === 0) return null;
  return (
    <ol className="flex gap-[3px]" aria-label="Pages of the desk">
      {pages.map((text) => {
        const [number, up, name] = text.split("|");
        return (
          <li
            key={number}
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
