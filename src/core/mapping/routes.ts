/** Routes: MIDI that is passed on as it is, with its channels changed and some kinds left out. */
import type { ROUTE_KINDS, Route } from "../format/show.ts";

export type RouteKind = (typeof ROUTE_KINDS)[number];

export interface CompiledRoute {
  readonly route: Route;
  /** Exactly one of the two is not -1. */
  readonly fromSurface: number;
  readonly fromDesk: number;
  readonly toSurface: number;
  readonly toDesk: number;
  readonly onlyUnmapped: boolean;
  /** Channel 0..15 to channel 0..15. */
  readonly channels: Uint8Array;
  readonly kinds: ReadonlySet<RouteKind> | null;
}

export function compileRoutes(
  routes: readonly Route[],
  surfaceOf: ReadonlyMap<string, number>,
  deskOf: ReadonlyMap<string, number>,
): CompiledRoute[] {
  return routes
    .filter((r) => r.on)
    .map((route) => {
      const channels = Uint8Array.from({ length: 16 }, (_, i) => i);
      for (const c of route.channels ?? []) channels[c.from - 1] = c.to - 1;
      return {
        route,
        fromSurface: surfaceOf.get(route.from) ?? -1,
        fromDesk: surfaceOf.has(route.from) ? -1 : (deskOf.get(route.from) ?? -1),
        toSurface: surfaceOf.get(route.to) ?? -1,
        toDesk: surfaceOf.has(route.to) ? -1 : (deskOf.get(route.to) ?? -1),
        onlyUnmapped: route.pass === "unmapped",
        channels,
        kinds: route.kinds ? new Set(route.kinds) : null,
      };
    });
}

/** The kind of a message by its status. */
function routeKind(status: number): RouteKind {
  switch (status & 0xf0) {
    case 0x80:
    case 0x90:
      return "note";
    case 0xa0:
    case 0xd0:
      return "pressure";
    case 0xb0:
      return "controller";
    case 0xc0:
      return "program";
    case 0xe0:
      return "bend";
    default:
      break;
  }
  if (status === 0xf0) return "sysex";
  if (status === 0xf1) return "time-code";
  return status === 0xf2 || status === 0xf3 || (status >= 0xf8 && status <= 0xfc) ? "clock" : "system";
}

/** The status byte as the route sends it on, or 0 where it does not pass this message. */
export function routedStatus(route: CompiledRoute, status: number, mapped: boolean): number {
  if (mapped && route.onlyUnmapped) return 0;
  const kind = routeKind(status);
  if (route.kinds && !route.kinds.has(kind)) return 0;
  return status < 0xf0 ? (status & 0xf0) | route.channels[status & 15]! : status;
}
