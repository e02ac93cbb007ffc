import { ROUTE_KINDS, type Route } from "../../core/format/show.ts";
import { Switch } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { Select } from "../components/Select.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { PartRow, PartSection } from "./PartRow.tsx";

const KIND_WORDS: Record<(typeof ROUTE_KINDS)[number], string> = {
  note: "notes",
  controller: "controllers",
  program: "programs",
  bend: "bends",
  pressure: "pressure",
  sysex: "SysEx",
  clock: "clock and song",
  "time-code": "time code",
  system: "tune request, sensing, reset",
};

export function RouteList() {
  const show = useLive((l) => l.show);
  const actions = useActions();
  const ends = [...show.surfaces, ...show.desks.filter((d) => d.midi !== undefined)];
  const [from, to] = [ends[0], ends[1]];
  return (
    <PartSection
      about={
        to
          ? "Passes MIDI on as it is: everything, or only what no mapping took. The way back is a route of its own."
          : "Passes MIDI on as it is. It takes two MIDI ports: add a second surface, or a desk that speaks MIDI, in Connect."
      }
      add="Add a route"
      onAdd={
        from && to
          ? () =>
              void actions.edit({
                kind: "put-route",
                item: {
                  id: newId("r"),
                  name: `Route ${(show.routes?.length ?? 0) + 1}`,
                  on: true,
                  from: from.id,
                  to: to.id,
                  pass: "unmapped",
                },
              })
          : undefined
      }
    >
      {(show.routes ?? []).map((route) => (
        <RouteRow key={route.id} route={route} ends={ends.map((e) => ({ value: e.id, label: e.name }))} />
      ))}
    </PartSection>
  );
}

/** What changes of a route; null takes it away. */
type RouteChange = Partial<Omit<Route, "id" | "kinds" | "channels">> & {
  kinds?: Route["kinds"] | null;
  channels?: Route["channels"] | null;
};

function RouteRow({ route, ends }: { route: Route; ends: { value: string; label: string }[] }) {
  const actions = useActions();
  const put = (set: RouteChange) => void actions.edit({ kind: "change-part", list: "routes", id: route.id, set });
  const kinds = route.kinds ?? ROUTE_KINDS;
  return (
    <PartRow list="routes" id={route.id} name={route.name} onRename={(name) => put({ name })}>
      <Switch label="on" checked={route.on} onChange={(on) => put({ on })} />
      from
      <Select label="From" value={route.from} options={ends} onChange={(f) => put({ from: f })} />
      to
      <Select label="To" value={route.to} options={ends} onChange={(t) => put({ to: t })} />
      <Select
        label="What passes"
        value={route.pass}
        options={[
          { value: "unmapped", label: "only what no mapping took" },
          { value: "all", label: "everything" },
        ]}
        onChange={(p) => put({ pass: p === "all" ? "all" : "unmapped" })}
      />
      <span className="flex basis-full flex-wrap items-center gap-x-3 gap-y-1">
        {ROUTE_KINDS.map((kind) => (
          <label key={kind} className="flex cursor-pointer items-center gap-1.5">
            <input
              type="checkbox"
              checked={kinds.includes(kind)}
              className="accent-brass-400"
              onChange={(e) => {
                const next = ROUTE_KINDS.filter((k) => (k === kind ? e.target.checked : kinds.includes(k)));
                if (next.length === ROUTE_KINDS.length) put({ kinds: null });
                else if (next.length > 0) put({ kinds: next });
              }}
            />
            {KIND_WORDS[kind]}
          </label>
        ))}
        <ChannelsField
          route={route}
          onCommit={(channels) => put({ channels: channels.length > 0 ? channels : null })}
        />
      </span>
    </PartRow>
  );
}

type Channels = NonNullable<Route["channels"]>;

/** "1 to 5, 2 to 6"; null where the text is anything else. */
function readChannels(text: string): Channels | null {
  if (text === "") return [];
  const pairs = text.split(",").map((t) => /^\s*(\d+)\s+to\s+(\d+)\s*$/.exec(t));
  return pairs.every((m) => m !== null) ? pairs.map((m) => ({ from: Number(m[1]), to: Number(m[2]) })) : null;
}

/** Channels that leave as others; empty = as they are. */
function ChannelsField({ route, onCommit }: { route: Route; onCommit(channels: Channels): void }) {
  return (
    <span className="flex items-center gap-1.5">
      channels
      <DraftField
        label="Channels"
        placeholder="as they are"
        title="Such as “1 to 5, 2 to 6”"
        className="w-[110px] font-mono"
        value={(route.channels ?? []).map((c) => `${c.from} to ${c.to}`).join(", ")}
        accepts={(text) => readChannels(text) !== null}
        onCommit={(text) => onCommit(readChannels(text)!)}
      />
    </span>
  );
}
