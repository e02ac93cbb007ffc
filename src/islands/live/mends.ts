/** What ends the reason that stands in the bottom line: one press beside each. */
import type { Mapping } from "../../core/format/show.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import { parseHexBytes } from "../../core/midi/hex.ts";
import { OUTCOME, outcomeOf } from "../../core/trace/outcome.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import { type NearMiss, nearMisses } from "../../core/translate/near-miss.ts";
import type { PageActions } from "./actions.ts";
import type { LiveState } from "./apply-changes.ts";
import type { PageStore } from "./store.ts";
import { teachSurface } from "./teach-surface.ts";

export interface Mend {
  readonly words: string;
  act(store: PageStore, actions: PageActions): void;
}

/** Shows a mapping on the Map. */
function show(surface: string, control: string, mapping: string | null): Mend["act"] {
  return (store, actions) => {
    actions.choose(surface, control);
    store.setState({ chosenMapping: mapping, armed: null, adding: null });
    actions.go("map");
  };
}

/** The buttons beside the newest reason, the likeliest first; none where there is nothing to be done. */
export function mendsOf(live: LiveState, row: TrafficEntry): Mend[] {
  const { device: surface } = row;
  const control = row.control;
  const mapping = live.show.mappings.find((m) => m.id === row.mapping);
  const toMapping: Mend[] = mapping
    ? [{ words: "Go to it", act: show(mapping.surface, mapping.control, mapping.id) }]
    : [];
  switch (outcomeOf(row.code)) {
    case "noControl":
      return live.show.surfaces.some((s) => s.id === surface)
        ? [
            ...nearMends(live, row),
            { words: "Add this control", act: (store, actions) => void teachSurface(store, actions, surface) },
          ]
        : [];
    case "noMapping":
      return control
        ? [
            ...nearMends(live, row),
            {
              words: "Say what it does",
              act: (store, actions) => {
                show(surface, control, null)(store, actions);
                requestAnimationFrame(() => document.getElementById("function-search")?.focus());
              },
            },
          ]
        : [];
    case "mappingOff": {
      const isOff = (m: Mapping) => !m.on || live.compiled.mappingOn[live.compiled.mappingOf.get(m.id) ?? -1] === 0;
      const off = mapping ?? live.show.mappings.find((m) => m.surface === surface && m.control === control && isOff(m));
      const bundle = off?.on ? live.show.bundles?.find((b) => b.id === off.bundle && !b.on) : undefined;
      if (bundle)
        return [
          {
            words: `Switch on “${bundle.name}”`,
            act: (_, actions) =>
              void actions.edit({ kind: "change-part", list: "bundles", id: bundle.id, set: { on: true } }),
          },
        ];
      return off
        ? [
            {
              words: "Switch it on",
              act: (_, actions) => void actions.edit({ kind: "change-mapping", id: off.id, set: { on: true } }),
            },
          ]
        : [];
    }
    case "notHere":
      return [...elsewhere(live, row), ...toMapping];
    case "bypassed":
      if (control && live.show.surfaces.find((s) => s.id === surface)?.asleep?.includes(control))
        return [
          {
            words: "Wake it",
            act: (_, actions) => void actions.edit({ kind: "set-asleep", id: surface, control, on: false }),
          },
        ];
      return control
        ? [{ words: "End the bypass", act: (_, actions) => actions.send({ kind: "end-bypass", surface, control }) }]
        : [];
    case "keptForDesk":
    case "deskSilent":
    case "pageUnknown":
    case "selectionUnknown":
    case "valueUnknown":
      return [
        ...[...new Set(mapping?.actions.map((a) => a.desk))].slice(0, 1).map((desk): Mend => {
          const name = live.show.desks.find((d) => d.id === desk)?.name ?? "the desk";
          return {
            words: `Open ${name}`,
            act: (_, actions) => {
              actions.send({ kind: "try-desk", desk });
              actions.go("connect");
            },
          };
        }),
        ...toMapping,
      ];
    case "looped":
      return [{ words: "Close it again", act: (_, actions) => actions.send({ kind: "rearm", id: surface }) }];
    case "waitingToCatch":
      return mapping
        ? [
            {
              words: "Jump instead",
              act: (_, actions) =>
                void actions.edit({ kind: "change-mapping", id: mapping.id, set: { takeover: "jump" } }),
            },
          ]
        : [];
    case "unheard": {
      const desk = live.show.desks.find((d) => d.id === surface);
      const isOwn = live.show.profiles?.desks.some((p) => p.id === desk?.profile);
      return isOwn ? [{ words: "Use it", act: (_, actions) => actions.go("map") }] : [];
    }
    case "waitingForGesture": {
      // Something is mapped to it, but not to this: a hold where it was tapped.
      const other = live.show.mappings.find((m) => m.surface === surface && m.control === control);
      return other ? [{ words: "Go to it", act: show(other.surface, other.control, other.id) }] : [];
    }
    default:
      return toMapping;
  }
}

/** A mapping that waits for another channel or number: of a kind of one's own the control can be told. */
function nearMends(live: LiveState, row: TrafficEntry): Mend[] {
  const near = nearOf(live, row);
  const mapping = live.show.mappings.find((m) => m.id === near?.mapping);
  const unit = live.show.surfaces.find((s) => s.id === mapping?.surface);
  const kind = live.show.profiles?.surfaces.find((p) => p.id === unit?.profile);
  const control = kind?.controls.find((c) => c.id === mapping?.control);
  const bytes = parseHexBytes(row.hex);
  if (!near || !mapping || !bytes) return [];
  const goTo: Mend = { words: "Go to that one", act: show(mapping.surface, mapping.control, mapping.id) };
  if (!kind || !control || near.differs !== "channel") return row.code === OUTCOME.noControl ? [goTo] : [];
  const channel = (bytes[0]! & 15) + 1;
  const set: Partial<Control> = { sends: { ...control.sends, channel } as Control["sends"] };
  if (control.light) set.light = { ...control.light, channel };
  return [
    {
      words: `Use channel ${channel}`,
      act: (_, actions) => void actions.edit({ kind: "change-control", profile: kind.id, id: control.id, set }),
    },
  ];
}

/** The mapping that would have taken it holds on a layer or page that is not up. */
function elsewhere(live: LiveState, row: TrafficEntry): Mend[] {
  const near = nearOf(live, row);
  const isMeant = near?.differs === "layer" || near?.differs === "page";
  const mapping = live.show.mappings.find((m) => m.id === (row.mapping ?? (isMeant ? near.mapping : undefined)));
  if (!mapping) return [];
  return [
    {
      words: "Let it hold everywhere",
      act: (_, actions) =>
        void actions.edit({ kind: "change-mapping", id: mapping.id, set: { layers: [], pages: null } }),
    },
  ];
}

function nearOf(live: LiveState, row: TrafficEntry): NearMiss | undefined {
  const surface = live.compiled.surfaces.findIndex((s) => s.id === row.device);
  const bytes = parseHexBytes(row.hex);
  return surface < 0 || !bytes ? undefined : nearMisses(live.context, surface, bytes)[0];
}
