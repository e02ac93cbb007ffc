/** The names that rows of traffic are told with, as the show and its desks have them now. */
import type { DeviceNames, MappingNames, PlainNames, RowNames } from "../../words/traffic.ts";
import type { LiveState } from "./apply-changes.ts";
import { mappingLabel } from "./mapping-label.ts";

type Named = Pick<LiveState, "show" | "compiled" | "context" | "values">;

/** Each name is looked up when it is asked for: a page with one row needs a few of ten thousand. */
export function liveNames(live: Named): RowNames {
  const { show, compiled } = live;
  return {
    middleC: show.settings.middleC,
    device: (id) => deviceNames(live, id),
    mapping: (id) => {
      const m = compiled.mappingOf.get(id);
      return m === undefined ? undefined : mappingNames(live, m);
    },
  };
}

/** All of them at once, to go to another thread. */
export function plainNames(live: Named): PlainNames {
  const { show } = live;
  const devices = [...show.surfaces, ...show.desks].map(({ id }) => [id, deviceNames(live, id)!] as const);
  return {
    middleC: show.settings.middleC,
    devices: Object.fromEntries(devices),
    mappings: Object.fromEntries(show.mappings.map(({ id }, m) => [id, mappingNames(live, m)])),
  };
}

function deviceNames({ show, compiled }: Named, id: string): DeviceNames | undefined {
  const surface = show.surfaces.find((s) => s.id === id);
  if (surface) return { name: surface.name, wire: "midi" };
  const desk = compiled.desks.find((d) => d.id === id);
  return desk && { name: desk.desk.name, wire: desk.profile.wire.kind };
}

function mappingNames(live: Named, m: number): MappingNames {
  const { compiled, show } = live;
  const mapping = show.mappings[m]!;
  const desk = (id: string) => compiled.desks.find((d) => d.id === id);
  const functionOf = (a: (typeof mapping.actions)[number]) => desk(a.desk)?.functions.get(a.function);
  const [first] = mapping.actions;
  return {
    label: mappingLabel(live, m),
    parameters: (first && functionOf(first)?.parameters.map((p) => p.name)) ?? [],
    chord: mapping.whileHeld ? controlName(live, mapping.whileHeld.surface, mapping.whileHeld.control) : "",
    conditions: (mapping.when ?? []).map((c) => {
      const state = desk(c.desk)?.states.get(c.state)?.state;
      const range = state?.value.kind === "number" ? state.value.range : null;
      const whole = state?.value.kind === "whole" ? { from: c.from, to: c.to, unit: "none" as const } : null;
      return { state: (state?.name ?? c.state).toLowerCase(), from: c.from, to: c.to, range: range ?? whole };
    }),
    actions: Object.fromEntries(
      mapping.actions.flatMap((a) => {
        const fn = functionOf(a);
        if (!fn) return [];
        const { state } = fn;
        const parameters = state?.parameters.map(({ from, to }) => ({ from, to })) ?? [];
        const counts = state && { base: state.base, count: state.count, parameters };
        return [[a.id, { function: fn.fn.name, state: counts }] as const];
      }),
    ),
  };
}

export function controlName({ compiled }: Pick<Named, "compiled">, surface: string, control: string): string {
  const own = compiled.surfaces.find((s) => s.id === surface);
  return own?.profile.controls[own.indexOf.get(control) ?? -1]?.name ?? control;
}
