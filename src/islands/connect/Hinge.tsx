import { ArrowRight, Cpu, Network, Waves } from "lucide-react";
import type { PortRef } from "../../core/format/show.ts";
import type { Stranger } from "../../core/live/protocol.ts";
import { troubleWords } from "../../words/troubles.ts";
import { DraftField } from "../components/DraftField.tsx";
import { type PageStore, useLive, useLiveEqual, usePageStore } from "../live/store.ts";
import { BrowserDevices } from "./BrowserDevices.tsx";
import { HingeAction, HingeGroup, HingeNothing, HingeRow } from "./HingeRow.tsx";
import { NetworkMidi } from "./NetworkMidi.tsx";
import { portWords } from "./ports.ts";
import { isPort, type Looking } from "./use-looking.ts";

/** Where it is listened first: a port that many programs send OSC to. */
const FIRST_LISTENED = 9000;

/** What lies between hands and desks: everything that is plugged in or speaks, and who uses it. */
export function Hinge({ looking }: { looking: Looking }) {
  return (
    <>
      <div className="flex items-center gap-2 px-1 text-small">
        <h1 className="flex-1 font-semibold text-ink-300">Plugged in and on the network</h1>
        <span className="text-cool">in</span>
        <span className="text-warm">out</span>
      </div>
      <BrowserDevices />
      <ComputerDevices />
      <OnTheNetwork looking={looking} />
      <Universes looking={looking} />
      <StraightThrough />
    </>
  );
}

/** Counts of what came and went by the ports of surfaces and desks. */
function countOf(store: PageStore, ids: readonly string[]) {
  const sum = (way: "in" | "out") => () => {
    const { surfaces, desks } = store.getState().live;
    return ids.reduce((n, id) => n + (surfaces[id]?.[way] ?? desks[id]?.[way] ?? 0), 0);
  };
  return { in: sum("in"), out: sum("out") };
}

/** Names and ids of surfaces and MIDI desks with a port like this. */
function useUsers(isIt: (port: PortRef) => boolean) {
  return useLiveEqual((l) =>
    [...l.show.surfaces, ...l.show.desks.flatMap((d) => (d.midi ? [{ id: d.id, name: d.name, ...d.midi }] : []))]
      .filter((s) => isIt(s.in) || isIt(s.out))
      .map(({ id, name }) => ({ id, name })),
  );
}

/** Devices of the computer that the program runs on, which play without any browser. */
function ComputerDevices() {
  const { state, detail, inputs, outputs } = useLive((l) => l.computerMidi);
  const names = [...new Set([...inputs, ...outputs])];
  return (
    <HingeGroup icon={Cpu} title="This computer" about="where the program runs">
      {state === "not-looked" ? (
        <HingeNothing>What is plugged in there plays without any browser.</HingeNothing>
      ) : state === "none" ? (
        <HingeNothing>No MIDI is to be had there: {detail}. Browsers and the network work all the same.</HingeNothing>
      ) : names.length === 0 ? (
        <HingeNothing>Nothing is plugged in there.</HingeNothing>
      ) : (
        names.map((name) => <ComputerDevice key={name} name={name} />)
      )}
    </HingeGroup>
  );
}

function ComputerDevice({ name }: { name: string }) {
  const store = usePageStore();
  const users = useUsers((p) => p.kind === "computer-midi" && p.device === name);
  const isOffered = useLive((l) => l.strangers.some((s) => s.kind === "computer-device" && s.device === name));
  const ids = users.map((u) => u.id);
  const used = countOf(store, ids);
  const stranger = strangerCount(store, (s) => s.kind === "computer-device" && s.device === name);
  return (
    <HingeRow
      name={name}
      used={users.map((u) => u.name).join(", ") || (isOffered ? "nobody yet" : "free")}
      isOffered={isOffered}
      count={{ in: () => used.in() + stranger(), out: used.out }}
    />
  );
}

/** How many messages of strangers came. */
function strangerCount(store: PageStore, isIt: (stranger: Stranger) => boolean): () => number {
  return () => store.getState().live.strangers.reduce((n, s) => n + (s.kind !== "closed" && isIt(s) ? s.in : 0), 0);
}
const NONE = () => 0;

const HERE = /^(127\.|localhost$|::1$)/;

/** Where desks are, and MIDI sessions. */
function OnTheNetwork({ looking }: { looking: Looking }) {
  const store = usePageStore();
  const hosts = useLiveEqual((l) => {
    const all = new Map<string, { ids: string[]; names: string[] }>();
    for (const d of l.show.desks) {
      if (d.midi) continue;
      const host = HERE.test(d.host) ? "this machine" : d.host;
      const at = all.get(host) ?? { ids: [], names: [] };
      at.ids.push(d.id);
      at.names.push(d.name);
      all.set(host, at);
    }
    return [...all].map(([host, at]) => ({ host, ...at }));
  });
  return (
    <NetworkMidi
      group={(rows, action) => (
        <HingeGroup
          icon={Network}
          title="Network"
          about=""
          action={
            <>
              <ListenAction looking={looking} />
              {action}
            </>
          }
        >
          {hosts.map(({ host, ids, names }) => (
            <HingeRow
              key={host}
              name={host}
              used={names.join(", ")}
              title={names.join(", ")}
              count={countOf(store, ids)}
            />
          ))}
          <Senders />
          <ListenRow looking={looking} />
          {rows}
        </HingeGroup>
      )}
    />
  );
}

/** Who speaks to a port of ours and is no desk. */
function Senders() {
  const store = usePageStore();
  const senders = useLiveEqual((l) =>
    l.strangers.flatMap((s) =>
      s.kind === "sender"
        ? [{ name: s.carrier === "udp" ? `${s.host}, port ${s.port}` : s.host, to: s.listenPort }]
        : [],
    ),
  );
  return senders.map(({ name, to }) => (
    <HingeRow
      key={`${name} ${to}`}
      name={name}
      used="nobody yet"
      isOffered
      title={`speaks to port ${to}`}
      count={{
        in: strangerCount(store, (s) => s.kind === "sender" && s.listenPort === to && name.startsWith(s.host)),
        out: NONE,
      }}
    />
  ));
}

function ListenAction({ looking: { wanted, want } }: { looking: Looking }) {
  return wanted.port === null ? <HingeAction onClick={() => want({ port: FIRST_LISTENED })}>Listen</HingeAction> : null;
}

/** A port at which anybody is heard, while Connect is open. */
function ListenRow({ looking: { wanted, want } }: { looking: Looking }) {
  const trouble = useLiveEqual((l) => l.strangers.find((s) => s.kind === "closed" && s.what === "udp"));
  if (wanted.port === null) return null;
  return (
    <div className="grid gap-1 rounded-md px-1.5 py-0.5 text-small">
      <div className="flex min-h-[28px] items-center gap-2">
        <span className="flex-1 text-ink-300">Anybody is heard at UDP port</span>
        <DraftField
          label="UDP port at which anybody is heard"
          value={String(wanted.port)}
          inputMode="numeric"
          accepts={(text) => isPort(Number(text))}
          onCommit={(text) => want({ port: Number(text) })}
          className="h-[26px] w-[64px] !text-small rounded-md bg-velvet-950 px-1.5 text-right tabular-nums"
        />
        <HingeAction onClick={() => want({ port: null })}>Stop</HingeAction>
      </div>
      {trouble?.kind === "closed" ? <span className="text-care">{troubleWords(trouble.trouble)}</span> : null}
    </div>
  );
}

function Universes({ looking: { wanted, want } }: { looking: Looking }) {
  const store = usePageStore();
  const surfaces = useLiveEqual((l) =>
    l.show.surfaces.flatMap(({ id, name, in: port }) =>
      port.kind === "dmx" ? [{ id, name, words: portWords(port) }] : [],
    ),
  );
  const strangers = useLiveEqual((l) =>
    l.strangers.flatMap((s) =>
      s.kind === "universe" ? [{ protocol: s.protocol, universe: s.universe, name: s.name }] : [],
    ),
  );
  const closed = useLiveEqual((l) => l.strangers.filter((s) => s.kind === "closed" && s.what !== "udp"));
  return (
    <HingeGroup
      icon={Waves}
      title="Universes"
      about="DMX"
      action={
        <HingeAction onClick={() => want({ universes: !wanted.universes })}>
          {wanted.universes ? "Stop looking" : "Look"}
        </HingeAction>
      }
    >
      {surfaces.map(({ id, name, words }) => (
        <HingeRow key={id} name={words} used={name} title={words} count={countOf(store, [id])} />
      ))}
      {strangers.map(({ protocol, universe, name }) => (
        <HingeRow
          key={`${protocol} ${universe}`}
          name={`${protocol === "sacn" ? "sACN" : "Art-Net"} universe ${universe}`}
          used="nobody yet"
          isOffered
          title={`from ${name}`}
          count={{
            in: strangerCount(
              store,
              (s) => s.kind === "universe" && s.protocol === protocol && s.universe === universe,
            ),
            out: NONE,
          }}
        />
      ))}
      {closed.map((c) =>
        c.kind === "closed" ? (
          <p key={c.what} className="px-1.5 py-1 text-small text-care">
            {c.what === "sacn" ? "sACN" : "Art-Net"} is not looked for: {troubleWords(c.trouble)}
          </p>
        ) : null,
      )}
      {surfaces.length + strangers.length + closed.length === 0 ? (
        <HingeNothing>
          {wanted.universes ? "None is heard. They are looked for while this is open." : "None is listened to."}
        </HingeNothing>
      ) : null}
    </HingeGroup>
  );
}

/** Routes: what passes without a mapping. */
function StraightThrough() {
  const store = usePageStore();
  const routes = useLiveEqual((l) => {
    const nameOf = (id: string) => [...l.show.surfaces, ...l.show.desks].find((x) => x.id === id)?.name ?? id;
    return (l.show.routes ?? []).map((r) => ({
      id: r.id,
      name: `${nameOf(r.from)} to ${nameOf(r.to)}`,
      used: r.on ? (r.pass === "all" ? "everything" : "what is not mapped") : "off",
    }));
  });
  return (
    <HingeGroup
      icon={ArrowRight}
      title="Straight through"
      about="without a mapping"
      action={<HingeAction onClick={() => store.setState({ partsOpen: true })}>Routes</HingeAction>}
    >
      {routes.length === 0 ? (
        <HingeNothing>Nothing passes straight through.</HingeNothing>
      ) : (
        routes.map((r) => <HingeRow key={r.id} name={r.name} used={r.used} />)
      )}
    </HingeGroup>
  );
}
