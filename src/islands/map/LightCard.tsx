import { X } from "lucide-react";
import { useShallow } from "zustand/react/shallow";
import { REPORTED } from "../../core/desk/state-store.ts";
import type { Mapping } from "../../core/format/show.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import { shownAction } from "../../core/from-desk/lights.ts";
import { READY } from "../../core/run-state/context.ts";
import { DEFAULT_COLOUR } from "../../core/surface/look.ts";
import { nearestColour } from "../../core/surface/palette.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";

/** How a value is known, by its source (core/desk/state-store.ts). */
const KNOWN: readonly string[] = ["not heard yet", "assumed, not reported", "reported"];

function howKnown(source: number, saidAtMs: number): string {
  const at =
    source === REPORTED && saidAtMs > 0 ? ` ${new Date(saidAtMs).toLocaleTimeString([], { hour12: false })}` : "";
  return `${KNOWN[source] ?? ""}${at}`;
}

/** What comes back to the hands: whose state the light shows, how it is known, and in which colour. */
export function LightCard({ mapping, control }: { mapping: Mapping; control: Control }) {
  const actions = useActions();
  const facts = useLive(
    useShallow((l) => {
      const m = l.show.mappings.indexOf(mapping);
      const a = m < 0 ? -1 : shownAction(l.context, m);
      const action = a < 0 ? undefined : l.compiled.actions[a];
      const state = action?.fn.state;
      const ready = a >= 0 && l.context.look(a) === READY;
      const index = ready ? l.context.table.state(a) : -1;
      const deskColour = ready ? l.context.sibling(a, "colour") : -1;
      const colour = deskColour >= 0 && action ? l.values[action.desk.id]?.value[deskColour] : undefined;
      return {
        shows: state && action ? `${action.desk.desk.name} ${state.state.name}` : "",
        source: index >= 0 && action ? (l.values[action.desk.id]?.source[index] ?? 0) : -1,
        saidAtMs: index >= 0 && action ? (l.values[action.desk.id]?.saidAtMs[index] ?? 0) : 0,
        deskColour: typeof colour === "string" ? colour : "",
        surfaceIndex: l.compiled.surfaces.findIndex((s) => s.id === mapping.surface),
      };
    }),
  );
  const palette = useLive((l) => {
    const surface = l.compiled.surfaces[facts.surfaceIndex];
    return surface?.lightPalette[surface.indexOf.get(control.id) ?? -1] ?? null;
  });
  if (!palette || mapping.actions.length === 0) return null;
  const own = mapping.look.colour;
  const wanted = own ?? (facts.deskColour || DEFAULT_COLOUR);
  const shown = nearestColour(palette, wanted);
  const known = facts.shows ? howKnown(facts.source, facts.saidAtMs) : "sent; nobody can know";
  return (
    <div className="grid grid-cols-[76px_1fr] gap-2.5">
      <b className="pt-[9px] text-right text-[12.5px] font-semibold text-cool">Light</b>
      <div className="grid gap-1.5 rounded-[9px] border-l-[3px] border-cool bg-cool-ground py-2 pr-2.5 pl-3.5">
        <div className="flex items-center gap-2">
          <span className="line-clamp-2 min-w-0 flex-1 font-semibold">
            {facts.shows ? `shows ${facts.shows}` : "lit while it is pressed"}
          </span>
          <span className="shrink-0 text-right font-mono text-small text-cool">{known ? `← ${known}` : ""}</span>
        </div>
        <div className="flex flex-wrap items-center gap-1.5 text-small text-ink-300">
          <Swatch colour={shown.colour} word={facts.shows ? "on" : "pressed"} look="full" />
          <Swatch colour={shown.colour} word={facts.shows ? "off" : "waiting"} look="dim" />
          <Swatch colour={shown.colour} word="no answer" look="pulse" />
        </div>
        <div className="flex flex-wrap items-center gap-1.5 text-small text-ink-500">
          <label className="flex cursor-pointer items-center gap-2">
            colour
            <input
              type="color"
              aria-label="Colour of the light"
              value={wanted}
              onChange={(e) =>
                void actions.edit({ kind: "change-mapping", id: mapping.id, set: { look: { colour: e.target.value } } })
              }
              className="h-[20px] w-[30px] cursor-pointer rounded border border-velvet-600 bg-transparent p-0"
            />
          </label>
          {own ? (
            <button
              type="button"
              onClick={() => void actions.edit({ kind: "change-mapping", id: mapping.id, set: { look: {} } })}
              className="inline-flex items-center gap-1 rounded px-1 hover:text-ink-100"
            >
              <X size={11} aria-hidden /> its own; take the desk’s
            </button>
          ) : (
            <span>{facts.deskColour ? "the desk’s" : "brass: the desk has none"}</span>
          )}
          <span>· nearest here: {shown.name}</span>
        </div>
      </div>
    </div>
  );
}

function Swatch({ colour, word, look }: { colour: string; word: string; look: "full" | "dim" | "pulse" }) {
  const style =
    look === "dim"
      ? { background: `color-mix(in oklab, ${colour} 42%, var(--color-velvet-950))` }
      : look === "pulse"
        ? { background: `repeating-linear-gradient(90deg, ${colour} 0 4px, transparent 4px 7px)` }
        : { background: colour };
  return (
    <span className="inline-flex h-[22px] items-center gap-1.5 rounded-md bg-velvet-800 px-2">
      <i className="inline-block h-[13px] w-[13px] rounded-[3px]" style={style} />
      {word} <b className="font-semibold text-ink-100">{look === "full" ? "steady" : look}</b>
    </span>
  );
}
